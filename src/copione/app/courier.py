"""Results of the devices' threads, brought to Qt's thread in order."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ThreadPoolExecutor
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal, Slot

from ..model.errors import CopioneError


class Courier(QObject):
    """`bring` may be called from any thread; the call is made on the thread this object lives in."""

    _arrived = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._open = True
        self._aside: ThreadPoolExecutor | None = None
        self._arrived.connect(self._make, Qt.ConnectionType.QueuedConnection)

    def bring(self, call: Callable[[], None]) -> None:
        if self._open:
            self._arrived.emit(call)

    def aside(
        self, job: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[CopioneError], None] = lambda error: None
    ) -> None:
        """Do something that takes a while, and no device, on a thread of its own; one after the other."""
        if self._aside is None:
            self._aside = ThreadPoolExecutor(1, "aside")
        self.follow(self._aside.submit(job), done, failed)

    def close(self) -> None:
        self._open = False
        if self._aside is not None:
            self._aside.shutdown(wait=False, cancel_futures=True)

    @Slot(object)
    def _make(self, call: Callable[[], None]) -> None:
        if self._open:
            call()

    def follow(self, future: Future[Any], done: Callable[[Any], None], failed: Callable[[CopioneError], None]) -> None:
        """Call `done` with the result, or `failed` with the error, on this thread. Errors that are not ours surface in Qt's thread."""

        def arrived(future: Future[Any]) -> None:
            self.bring(lambda: self._hand_on(future, done, failed))

        future.add_done_callback(arrived)

    @staticmethod
    def _hand_on(future: Future[Any], done: Callable[[Any], None], failed: Callable[[CopioneError], None]) -> None:
        try:
            result = future.result()
        except CancelledError:
            return
        except CopioneError as error:
            failed(error)
        else:
            done(result)
