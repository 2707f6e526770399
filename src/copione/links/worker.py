"""The one thread that owns a device's link."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from concurrent.futures import Future
from typing import TypeVar

from .link import Link

T = TypeVar("T")


class DeviceWorker:
    """Runs jobs on one link, in order, on its own thread. `close` lets the job in hand end and drops the rest."""

    def __init__(self, name: str, link: Link) -> None:
        self.link = link
        self._jobs: queue.SimpleQueue[tuple[Future[object], Callable[[], object]] | None] = queue.SimpleQueue()
        self._closed = False
        self._thread = threading.Thread(target=self._run, name=f"device {name}", daemon=True)
        self._thread.start()

    def submit(self, job: Callable[[Link], T]) -> Future[T]:
        """Queue a job; its result or error comes in the future."""
        future: Future[T] = Future()
        if self._closed:
            future.cancel()
            return future
        self._jobs.put((future, lambda: job(self.link)))  # type: ignore[arg-type]
        return future

    def close(self, wait: float = 10.0) -> None:
        self._closed = True
        self._jobs.put(None)
        if threading.current_thread() is not self._thread:
            self._thread.join(wait)

    def _run(self) -> None:
        while (entry := self._jobs.get()) is not None:
            future, job = entry
            if self._closed:
                future.cancel()
            elif future.set_running_or_notify_cancel():
                try:
                    future.set_result(job())
                except BaseException as error:
                    future.set_exception(error)
        self.link.close()
