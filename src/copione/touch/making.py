"""Gestures as contacts for any screen."""

from __future__ import annotations

from ..model.gesture import Contact

TAP_S = 0.06
STEP_S = 1 / 60


def tap(x: float, y: float) -> Contact:
    return Contact(0, ((0.0, x, y),), TAP_S)


def hold(x: float, y: float, seconds: float = 0.8) -> Contact:
    """Well past every platform's long press."""
    return Contact(0, ((0.0, x, y),), seconds)


def swipe(x0: float, y0: float, x1: float, y1: float, seconds: float = 0.3) -> Contact:
    """A straight stroke at even speed, dp and seconds."""
    steps = max(2, round(seconds / STEP_S))
    path = tuple((seconds * i / steps, x0 + (x1 - x0) * i / steps, y0 + (y1 - y0) * i / steps) for i in range(steps + 1))
    return Contact(0, path, seconds)


def drag(x0: float, y0: float, x1: float, y1: float, seconds: float = 0.4, rest: float = 0.2) -> Contact:
    """A stroke that stops before it lifts, so that nothing is flung."""
    steps = 8
    path = tuple((seconds * i / steps, x0 + (x1 - x0) * i / steps, y0 + (y1 - y0) * i / steps) for i in range(steps + 1))
    return Contact(0, path, seconds + rest)
