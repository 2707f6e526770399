"""Contacts and gestures: what the hand did."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Contact:
    """One finger from touch to lift. `path`: (t, x, y) in seconds and dp, oldest first, at least one; `lift` the lift's own time."""

    finger: int
    path: tuple[tuple[float, float, float], ...]
    lift: float

    @property
    def begin(self) -> tuple[float, float]:
        return self.path[0][1], self.path[0][2]

    @property
    def end(self) -> tuple[float, float]:
        return self.path[-1][1], self.path[-1][2]

    @property
    def since(self) -> float:
        return self.path[0][0]

    @property
    def seconds(self) -> float:
        return self.lift - self.since


@dataclass(frozen=True)
class Gesture:
    """A reading of contacts. `kind`: tap, hold or swipe; `confidence` 0..1; `second` the next likely kind, if any."""

    kind: str
    contacts: tuple[Contact, ...]
    confidence: float = 1.0
    second: str = ""

    @property
    def begin(self) -> tuple[float, float]:
        return self.contacts[0].begin

    @property
    def end(self) -> tuple[float, float]:
        return self.contacts[0].end

    @property
    def seconds(self) -> float:
        return self.contacts[0].seconds

    @property
    def shift(self) -> tuple[float, float]:
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
    def length(self) -> float:
        return math.hypot(*self.shift)
