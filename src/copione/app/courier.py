"""Results of other threads, brought to Qt's thread in order; and work that Qt's thread must not do itself, done aside."""

from __future__ import annotations

import logging
import sys
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ThreadPoolExecutor
from typing import TypeVar

from PySide6.QtCore import QObject, Qt, Signal, Slot

from ..model.errors import CopioneError

LOG = logging.getLogger(__name__)
T = TypeVar("T")
SWITCH_S = 0.002  # Qt's thread lets go of Python at every call of Qt's: it must not wait long for those that think
THINKERS = 3  # a report that takes a minute, or a server that does not answer, holds up nothing else


def _ignore(_error: CopioneError) -> None:
    """Nobody is told."""


class Courier(QObject):
    """`bring` may be called from any thread; the call is made on the thread this object lives in.

    Files are read and written one after the other on a thread of their own, so what was written first is there first; what reads much, and
    what only takes thinking, has others, and where something newer was asked for meanwhile, the older question is not answered any more.
    """

    _arrived = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._open = True
        sys.setswitchinterval(SWITCH_S)
        self._files = ThreadPoolExecutor(1, "files")
        self._reading = ThreadPoolExecutor(1, "reading")
        self._thinking = ThreadPoolExecutor(THINKERS, "thinking")
        self._newest: dict[str, int] = {}
        self._arrived.connect(self._make, Qt.ConnectionType.QueuedConnection)

    def bring(self, call: Callable[[], object]) -> None:
        """Make a call on Qt's thread."""
        if self._open:
            self._arrived.emit(call)

    def with_files(
        self, job: Callable[[], T], done: Callable[[T], object] = lambda result: None, failed: Callable[[CopioneError], object] = _ignore
    ) -> None:
        """Read or write files, in order."""
        if self._open:
            self.deliver(self._files.submit(job), done, failed)

    def read(
        self, job: Callable[[], T], done: Callable[[T], object] = lambda result: None, failed: Callable[[CopioneError], object] = _ignore
    ) -> None:
        """Read what takes long (a run, the list of them) after all that was written before; what is written next need not wait for it."""
        if self._open:
            self._files.submit(lambda: self.deliver(self._reading.submit(job), done, failed))

    def files_done(self) -> None:
        """Wait until every file that was asked for so far is read or written. Not on Qt's thread while the window is open."""
        if self._open:
            self._files.submit(lambda: None).result()

    def think(self, job: Callable[[], T], done: Callable[[T], object], failed: Callable[[CopioneError], object] = _ignore) -> None:
        """Work out something that takes a while."""
        if self._open:
            self.deliver(self._thinking.submit(job), done, failed)

    def think_newest(self, about: str, job: Callable[[], T], done: Callable[[T], object]) -> None:
        """The same, unless something newer of that name is asked for before it is done."""
        number = self._newest[about] = self._newest.get(about, 0) + 1

        def current() -> bool:
            return self._newest[about] == number

        self.think(lambda: job() if current() else None, lambda found: done(found) if found is not None and current() else None)

    def close(self) -> None:
        """Bring nothing any more; files that were to be written are written first."""
        self._open = False
        for others in (self._reading, self._thinking):
            others.shutdown(wait=False, cancel_futures=True)
        self._files.shutdown(wait=True)

    @Slot(object)
    def _make(self, call: Callable[[], object]) -> None:
        if not self._open:
            return
        try:
            call()
        except RuntimeError as error:
            if "already deleted" not in str(error):  # as Qt says it: a dialog that asked is closed, and needs no answer
                raise

    def deliver(self, future: Future[T], done: Callable[[T], object], failed: Callable[[CopioneError], object]) -> None:
        """Call `done` with the result, or `failed` with the error, on Qt's thread; what is not our error is told as one of the program."""
        future.add_done_callback(lambda future: self.bring(lambda: self._hand_on(future, done, failed)))

    @staticmethod
    def _hand_on(future: Future[T], done: Callable[[T], object], failed: Callable[[CopioneError], object]) -> None:
        try:
            result = future.result()
        except CancelledError:
            failed(CopioneError("The device was disconnected before it was done."))
        except CopioneError as error:
            failed(error)
        except Exception as error:
            LOG.exception("an error of the program on another thread")
            failed(CopioneError(f"This is an error in Copione: {type(error).__name__}: {error}"))
        else:
            done(result)
