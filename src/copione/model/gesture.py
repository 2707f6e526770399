"""Contacts and gestures: what the hand did."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol


class Finger(Protocol):
    """One finger from touch to lift, however it is kept: times in seconds, places in dp."""

    @property
    def finger(self) -> int:
        """Which finger: a number of its own while it is down."""
        ...

    @property
    def path(self) -> tuple[tuple[float, float, float], ...]:
        """(t, x, y) in seconds and dp, oldest first."""
        ...

    @property
    def begin(self) -> tuple[float, float]:
        """Where it began: x, y in dp."""
        ...

    @property
    def end(self) -> tuple[float, float]:
        """Where it ended: x, y in dp."""
        ...

    @property
    def since(self) -> float:
        """When it touched, seconds."""
        ...

    @property
    def lift(self) -> float:
        """When it lifted, seconds."""
        ...


@dataclass(frozen=True)
class Contact:
    """One finger from touch to lift. `path`: (t, x, y) in seconds and dp, oldest first, at least one; `lift` the lift's own time."""

    finger: int
    path: tuple[tuple[float, float, float], ...]
    lift: float

    @property
    def begin(self) -> tuple[float, float]:
        """Where it began: x, y in dp."""
        return self.path[0][1], self.path[0][2]

    @property
    def end(self) -> tuple[float, float]:
        """Where it ended: x, y in dp."""
        return self.path[-1][1], self.path[-1][2]

    @property
    def since(self) -> float:
        """When it touched, seconds."""
        return self.path[0][0]

    @property
    def seconds(self) -> float:
        """From touch to lift."""
        return self.lift - self.since


@dataclass(frozen=True)
class Gesture:
    """A reading of contacts.

    `kind`: tap, double-tap, hold, swipe, fling, drag, hold-drag, draw of one finger; pinch, twist, pan of several. `confidence` 0..1;
    `second` the next likely kind, if any. `scale` and `angle` (degrees, clockwise) are those of several fingers, `ends` where their middle
    began and ended.
    """

    kind: str
    contacts: tuple[Finger, ...]
    confidence: float = 1.0
    second: str = ""
    scale: float = 1.0
    angle: float = 0.0
    ends: tuple[tuple[float, float], tuple[float, float]] | None = None

    @property
    def begin(self) -> tuple[float, float]:
        """Where it began: x, y in dp."""
        return self.ends[0] if self.ends else self.contacts[0].begin

    @property
    def end(self) -> tuple[float, float]:
        """Where it ended: x, y in dp."""
        return self.ends[1] if self.ends else self.contacts[-1].end

    @property
    def since(self) -> float:
        """When it touched, seconds."""
        return min(contact.since for contact in self.contacts)

    @property
    def until(self) -> float:
        """The last lift."""
        return max(contact.lift for contact in self.contacts)

    @property
    def seconds(self) -> float:
        """From touch to lift."""
        return self.until - self.since

    @property
    def fingers(self) -> int:
        """How many fingers did it."""
        return 1 if self.kind == "double-tap" else len(self.contacts)

    @property
    def trace(self) -> tuple[tuple[float, float], ...]:
        """What is drawn of it, dp: a place, a begin and an end, both for each of several fingers, or the whole line of a drawing."""
        if self.kind == "draw":
            path = self.contacts[0].path
            return tuple((x, y) for _, x, y in path[:: max(1, len(path) // 60)])
        if self.fingers > 1:
            return tuple(place for contact in self.contacts[:2] for place in (contact.begin, contact.end))
        return (self.begin, self.end) if self.moves else (self.begin,)

    @property
    def moves(self) -> bool:
        """Does it go from one place to another?"""
        return self.kind in {"swipe", "fling", "drag", "hold-drag", "pan", "draw"}

    @property
    def shift(self) -> tuple[float, float]:
        """From begin to end: dx, dy in dp."""
        (x0, y0), (x1, y1) = self.begin, self.end
        return x1 - x0, y1 - y0

    @property
    def direction(self) -> str:
        """up, down, left or right: where the finger went."""
        dx, dy = self.shift
        if abs(dx) > abs(dy):
            return "right" if dx > 0 else "left"
        return "down" if dy > 0 else "up"

    @property
    def direction_deg(self) -> float:
        """Where it went: 0 right, 90 down, 180 left, 270 up."""
        dx, dy = self.shift
        return math.degrees(math.atan2(dy, dx)) % 360.0

    @property
    def length(self) -> float:
        """How far it went straight on, dp."""
        return math.hypot(*self.shift)
