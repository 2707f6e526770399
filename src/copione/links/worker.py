"""The one thread that owns a device's link."""

from __future__ import annotations

import contextlib
import queue
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Future
from typing import TypeVar

from ..model.errors import CopioneError, DeviceGone
from .link import Capability, Link

T = TypeVar("T")
CLOSE_S = 10.0


class Through:
    """A link whose every call is made on its device's own thread, and waited for: others may use the device in between."""

    def __init__(self, worker: DeviceWorker) -> None:
        object.__setattr__(self, "_worker", worker)

    def able(self, kind: type[Capability]) -> object:
        """See `Link.able`; what it does is done on the device's thread too."""
        self.__getattr__("able")(kind)  # type: ignore[operator]
        return self

    def __getattr__(self, name: str) -> object:
        worker: DeviceWorker = object.__getattribute__(self, "_worker")
        value = getattr(worker.link, name)
        if not callable(value):
            return value

        def call(*args: object, **more: object) -> object:
            try:
                return worker.submit(lambda link: getattr(link, name)(*args, **more)).result()
            except CancelledError as error:
                raise DeviceGone("The device was disconnected.") from error

        return call

    def __setattr__(self, name: str, value: object) -> None:
        setattr(object.__getattribute__(self, "_worker").link, name, value)


class DeviceWorker:
    """Runs jobs on one link, in order, on its own thread. Closing lets the job in hand end and cancels the rest."""

    def __init__(self, name: str, link: Link) -> None:
        self.link = link
        self._jobs: queue.SimpleQueue[tuple[Future[object], Callable[[], object]] | None] = queue.SimpleQueue()
        self._lock = threading.Lock()
        self._closed = False
        self._thread = threading.Thread(target=self._run, name=f"device {name}", daemon=True)
        self._thread.start()

    def submit(self, job: Callable[[Link], T]) -> Future[T]:
        """Queue a job; its result or error comes in the future, which is cancelled when the worker is closed first."""
        future: Future[T] = Future()
        with self._lock:
            if not self._closed:
                self._jobs.put((future, lambda: job(self.link)))  # type: ignore[arg-type]
                return future
        future.cancel()
        future.set_running_or_notify_cancel()
        return future

    def stop(self) -> None:
        """Take no more jobs; returns at once."""
        with self._lock:
            self._closed = True
        self._jobs.put(None)

    def close(self, wait: float = CLOSE_S) -> None:
        """Take no more jobs, and wait so many seconds for the one in hand."""
        self.stop()
        if threading.current_thread() is not self._thread:
            self._thread.join(wait)

    def _run(self) -> None:
        while (entry := self._jobs.get()) is not None:
            future, job = entry
            if self._closed:
                future.cancel()
            if future.set_running_or_notify_cancel():  # or whoever waits for it hears that it is not done
                try:
                    future.set_result(job())
                except BaseException as error:
                    future.set_exception(error)
        with contextlib.suppress(CopioneError):
            self.link.close()
