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
        """Right less left."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Bottom less top."""
        return self.bottom - self.top

    @property
    def area(self) -> float:
        """Width times height; 0 for an empty box."""
        return max(0.0, self.width) * max(0.0, self.height)

    @property
    def centre(self) -> tuple[float, float]:
        """The middle: x, y."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    @property
    def empty(self) -> bool:
        """Is there nothing in it?"""
        return self.right <= self.left or self.bottom <= self.top

    def contains(self, x: float, y: float) -> bool:
        """Is a point in it? Left and top edges belong to it, the others do not."""
        return self.left <= x < self.right and self.top <= y < self.bottom

    def clipped(self, other: Box) -> Box:
        """What both share; empty where they do not meet."""
        return Box(max(self.left, other.left), max(self.top, other.top), min(self.right, other.right), min(self.bottom, other.bottom))

    def moved(self, right: float, down: float) -> Box:
        """The same box elsewhere."""
        return Box(self.left + right, self.top + down, self.right + right, self.bottom + down)

    def part(self, shares: Box) -> Box:
        """The part of this box that `shares` (0..1 of its width and height) tells of."""
        width, height = self.width, self.height
        return Box(
            self.left + shares.left * width,
            self.top + shares.top * height,
            self.left + shares.right * width,
            self.top + shares.bottom * height,
        )

    def shares(self, inner: Box) -> Box:
        """A box as shares of this one; the reverse of `part`."""
        width, height = max(1e-9, self.width), max(1e-9, self.height)
        return Box(
            (inner.left - self.left) / width,
            (inner.top - self.top) / height,
            (inner.right - self.left) / width,
            (inner.bottom - self.top) / height,
        )

    def overlap(self, other: Box) -> float:
        """What both share, over what either covers: 0 apart, 1 the same."""
        both = self.clipped(other)
        shared = 0.0 if both.empty else both.area
        return shared / max(1e-9, self.area + other.area - shared)
