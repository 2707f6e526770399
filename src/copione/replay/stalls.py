"""When this computer stood still for a while: what the devices were asked meanwhile took no longer because of them."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Callable

from ..model.clock import Clock

EVERY_S = 0.05
LATE_S = 0.2  # so much later than it wanted to be woken: the computer had something else to do
MOST = 1000  # that are remembered


class Stalls:
    """A thread that wants to be woken all the time, and notes when it was not. `wait` is told for how long, and says when it is over."""

    def __init__(self, clock: Clock, wait: Callable[[float], bool] | None = None) -> None:
        self._clock = clock
        self._over = threading.Event()
        self._wait = wait or self._over.wait
        self._found: deque[tuple[float, float]] = deque(maxlen=MOST)

    def start(self) -> None:
        """Begin to watch."""
        threading.Thread(target=self.watch, name="stalls", daemon=True).start()

    def close(self) -> None:
        """Nothing more is timed."""
        self._over.set()

    def watch(self) -> None:
        """Until it is over."""
        since = self._clock.now()
        while not self._wait(EVERY_S):
            now = self._clock.now()
            if now - since > EVERY_S + LATE_S:
                self._found.append((since + EVERY_S, now))
            since = now

    def lost(self, since: float, until: float) -> float:
        """For how many seconds between two instants of the clock it stood still."""
        return sum(max(0.0, min(until, end) - max(since, begin)) for begin, end in list(self._found))
