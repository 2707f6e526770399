"""Gestures as contacts for any screen."""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable, Sequence
from itertools import pairwise

from ..model.gesture import Contact

TAP_S = 0.06
STEP_S = 1 / 60
FINGERS_APART, FINGERS_CLOSE = 40.0, 14.0  # dp between two fingers of one hand; the least at which a panel tells them apart


def tap(x: float, y: float) -> Contact:
    """A short touch at a point, dp."""
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


def double_tap(x: float, y: float) -> list[Contact]:
    """Two taps, a tenth of a second apart: well within every platform's double-tap time."""
    again = TAP_S + 0.1
    return [tap(x, y), Contact(1, ((again, x, y),), again + TAP_S)]


def fling(x0: float, y0: float, x1: float, y1: float, seconds: float = 0.12) -> Contact:
    """A stroke that gathers speed and leaves the glass with it."""
    return _path(lambda u: (x0 + (x1 - x0) * u**1.5, y0 + (y1 - y0) * u**1.5), seconds, 10)


def hold_drag(x0: float, y0: float, x1: float, y1: float, dwell: float = 0.8, seconds: float = 0.5) -> Contact:
    """Rest past every platform's long press, then carry, and stop before the lift."""
    moving = drag(x0, y0, x1, y1, seconds)
    path = ((0.0, x0, y0), *((t + dwell, x, y) for t, x, y in moving.path))
    return Contact(0, path, moving.lift + dwell)


def freehand(points: Sequence[tuple[float, float]], speed: float = 400.0) -> Contact:
    """A traced line through points (dp) at an even speed (dp/s)."""
    lengths = [0.0]
    for (x0, y0), (x1, y1) in pairwise(points):
        lengths.append(lengths[-1] + math.hypot(x1 - x0, y1 - y0))
    path = tuple((length / speed, x, y) for length, (x, y) in zip(lengths, points, strict=True))
    return Contact(0, path, path[-1][0] + STEP_S)


def two_fingers(
    middle: tuple[float, float],
    arm: float,
    scale: float = 1.0,
    angle: float = 0.0,
    shift: tuple[float, float] = (0.0, 0.0),
    seconds: float = 0.5,
) -> list[Contact]:
    """Two fingers `arm` dp from their middle each: spread by `scale`, turned by `angle` degrees clockwise, moved by `shift`.

    They start apart on a diagonal; the arm is made shorter first where the spread would take them more than twice as far.
    """
    start = arm / max(1.0, scale)

    def finger(side: int) -> Callable[[float], tuple[float, float]]:
        def at(u: float) -> tuple[float, float]:
            turned = cmath.rect(start * (1 + (scale - 1) * u), math.radians(-45 + angle * u))
            return middle[0] + shift[0] * u + side * turned.real, middle[1] + shift[1] * u + side * turned.imag

        return at

    return [_path(finger(side), seconds, 24, number) for number, side in enumerate((-1, 1))]


def with_fingers(contact: Contact, count: int, width: float, height: float) -> list[Contact] | None:
    """The same contact by several fingers side by side, along the longer side of a box of that size (dp) about where it began.

    None where the box is too small to hold them apart.
    """
    apart = min(FINGERS_APART, max(width, height) / (count + 1))
    if count == 1:
        return [contact]
    if apart < FINGERS_CLOSE:
        return None
    dx, dy = (apart, 0.0) if width >= height else (0.0, apart)
    found = []
    for number in range(count):
        away = number - (count - 1) / 2
        found.append(Contact(number, tuple((t, x + away * dx, y + away * dy) for t, x, y in contact.path), contact.lift))
    return found


def _path(at: Callable[[float], tuple[float, float]], seconds: float, steps: int, finger: int = 0) -> Contact:
    return Contact(finger, tuple((seconds * i / steps, *at(i / steps)) for i in range(steps + 1)), seconds + STEP_S)
