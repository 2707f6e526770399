"""Time, injected wherever it is read or waited for."""

from __future__ import annotations

import time
from datetime import date, datetime
from typing import Protocol


class Clock(Protocol):
    """Seconds. `wall` is since the epoch; `now` only ever grows."""

    def wall(self) -> float:
        """The time of day, seconds since the epoch."""
        ...

    def now(self) -> float:
        """Seconds since some instant."""
        ...

    def sleep(self, seconds: float) -> None:
        """Wait so long."""
        ...


def today(clock: Clock) -> date:
    """The day it is here."""
    return datetime.fromtimestamp(clock.wall()).date()


class SystemClock:
    """The computer's own clock."""

    def wall(self) -> float:
        """Seconds since the epoch."""
        return time.time()

    def now(self) -> float:
        """Seconds that only ever grow."""
        return time.monotonic()

    def sleep(self, seconds: float) -> None:
        """Wait so many seconds."""
        time.sleep(seconds)


class SteppedClock:
    """A clock for tests: sleeping only moves its hands."""

    def __init__(self, now: float = 1000.0) -> None:
        self._now = now

    def wall(self) -> float:
        """Seconds since the epoch."""
        return self._now

    def now(self) -> float:
        """Seconds that only ever grow."""
        return self._now

    def sleep(self, seconds: float) -> None:
        """Wait so many seconds."""
        self._now += seconds
