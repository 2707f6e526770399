"""Signals that ask a command to end: what it has changed on devices is put back first, and what it found out is written."""

from __future__ import annotations

import contextlib
import signal
import threading
from collections.abc import Callable, Iterator
from types import FrameType

from .terminal import say

SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
STOPPING = "Stopping. The devices are put back as they were, and the results are written."
STILL = "Still stopping. To end at once all the same, kill the process; the next run puts the devices back."


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
