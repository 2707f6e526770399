"""Signals that ask a command to end: what it has changed on devices is put back first, and what it found out is written."""

from __future__ import annotations

import contextlib
import signal
import threading
from collections.abc import Callable, Iterator
from types import FrameType

from .terminal import say

SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
STOPPING = "Stopping: restoring the devices and writing the results."
STILL = "Still stopping. To end immediately, kill the process; the next run will restore the devices."


@contextlib.contextmanager
def stopping(stop: Callable[[], object]) -> Iterator[None]:
    """Meanwhile Ctrl+C, SIGTERM and SIGHUP call `stop`, and end nothing by themselves."""
    if threading.current_thread() is not threading.main_thread():
        yield  # only the main thread hears signals
        return
    asked = 0

    def heard(_number: int, _frame: FrameType | None) -> None:
        nonlocal asked
        asked += 1
        stop()
        say(STOPPING if asked == 1 else STILL)

    before = {number: signal.signal(number, heard) for number in SIGNALS}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler if handler is not None else signal.SIG_DFL)
