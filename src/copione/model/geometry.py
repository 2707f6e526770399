"""Boxes in dp."""

from __future__ import annotations

from typing import NamedTuple


class Box(NamedTuple):
    """Left, top, right, bottom; dp of the screen unless a name says otherwise."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        return self.right - self.left

    @property
    def height(self) -> float:
        return self.bottom - self.top

    @property
    def area(self) -> float:
        return max(0.0, self.width) * max(0.0, self.height)

    @property
    def centre(self) -> tuple[float, float]:
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    @property
    def empty(self) -> bool:
        return self.right <= self.left or self.bottom <= self.top

    def contains(self, x: float, y: float) -> bool:
        return self.left <= x < self.right and self.top <= y < self.bottom

    def clipped(self, other: Box) -> Box:
        return Box(max(self.left, other.left), max(self.top, other.top), min(self.right, other.right), min(self.bottom, other.bottom))
