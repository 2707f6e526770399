"""Time, injected wherever it is read or waited for."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager
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


class ComputerShare:
    """Measures how much the computer slows the calling thread down, by comparing wall time with processor time during pure computation.

    Other programs, and other threads of this one, hold a thread up. That time belongs to none of the things that the thread waits for.
    """

    _ENOUGH_S = 0.05  # seconds of processor time that are needed to tell: threads take turns of some milliseconds
    _LEAST_S = 0.02  # seconds lost that any computer loses now and then

    def __init__(self) -> None:
        self._own = self._wall = 0.0
        self._spent = time.thread_time()

    @contextmanager
    def working(self) -> Iterator[None]:
        """Measure what is done inside; it must not wait for a wire, a lock or a clock."""
        wall, own = time.perf_counter(), time.thread_time()
        yield
        self._own, self._wall = self._own + time.thread_time() - own, self._wall + time.perf_counter() - wall
        if self._own > 2 * self._ENOUGH_S:  # older measurements fade
            self._own, self._wall = self._own / 2, self._wall / 2

    @property
    def slower(self) -> float:
        """How many times longer the thread's work takes than it would alone; 1 until that is known."""
        return max(1.0, self._wall / self._own) if self._own >= self._ENOUGH_S else 1.0

    def lost(self) -> float:
        """Seconds by which the thread's work was delayed since the last call."""
        before, self._spent = self._spent, time.thread_time()
        lost = (self._spent - before) * (self.slower - 1.0)
        return lost if lost > self._LEAST_S else 0.0
