"""What the pointer does on the mirror, as a function of plain events: a finger's contact, or nothing."""

from __future__ import annotations

from dataclasses import dataclass, field

from ...model.gesture import Contact
from ...touch.making import two_fingers
from ...touch.thresholds import HOLD_S, SLOP

WHEEL_DP = 90.0  # a notch of the wheel scrolls so far
WHEEL_S = 0.25
PINCH_ARM, PINCH_DP = 90.0, 120.0  # dp from the middle to a finger; dp of dragging that doubles or halves


@dataclass
class PointerStroke:
    """Collects a press, its moves and its release; x, y in dp, t in seconds."""

    path: list[tuple[float, float, float]] = field(default_factory=list)

    @property
    def down(self) -> bool:
        return bool(self.path)

    def press(self, t: float, x: float, y: float) -> None:
        self.path = [(t, x, y)]

    def move(self, t: float, x: float, y: float) -> None:
        if self.path:
            self.path.append((t, x, y))

    def release(self, t: float, x: float, y: float) -> Contact | None:
        """The contact, its times from nought; None when nothing was pressed."""
        if not self.path:
            return None
        begin = self.path[0][0]
        path = [(p[0] - begin, p[1], p[2]) for p in self.path]
        if (x, y) != path[-1][1:]:
            path.append((t - begin, x, y))
        self.path = []
        return Contact(0, tuple(path), max(0.02, t - begin))


def is_tap(contact: Contact) -> bool:
    """Short, and in one place?"""
    (x0, y0), (x1, y1) = contact.begin, contact.end
    return contact.seconds < HOLD_S and all(abs(x - x0) + abs(y - y0) <= SLOP for _, x, y in (*contact.path, (0.0, x1, y1)))


def pinch(x: float, y: float, end: tuple[float, float]) -> list[Contact]:
    """Ctrl-drag: two fingers about the place where it began; upwards or to the right they go apart, a hand's width doubles."""
    away = (end[0] - x) - (end[1] - y)
    return two_fingers((x, y), PINCH_ARM, 2.0 ** max(-2.0, min(2.0, away / PINCH_DP)))


def wheel(x: float, y: float, notches: float, height: float) -> Contact:
    """A turn of the wheel as a stroke about the pointer that stays on the screen; forward (positive) brings up what is above."""
    length = max(-height * 0.6, min(height * 0.6, notches * WHEEL_DP))
    y0 = min(height - 8, max(8.0, y - length / 2))
    y1 = min(height - 8, max(8.0, y0 + length))
    steps = 8
    path = tuple((WHEEL_S * i / steps, x, y0 + (y1 - y0) * i / steps) for i in range(steps + 1))
    return Contact(0, path, WHEEL_S + 0.15)
