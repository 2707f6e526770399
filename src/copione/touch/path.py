"""What a finger traced as SVG path data, with no more places than it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..model.strokes import Point

FINE = 0.012  # of the box: what a simplified line may be away from the traced one
GRAIN = 0.005  # of the box: what is kept of a place; two dp of a wide canvas, less than a finger can aim


def svg_words(points: Sequence[Point]) -> str:
    """One stroke as path data, simplified."""
    kept = simplified(list(points), FINE)
    return "M " + " L ".join(f"{_short(x)} {_short(y)}" for x, y in kept)


def _short(value: float) -> str:
    words = f"{round(value / GRAIN) * GRAIN:.3f}".rstrip("0").rstrip(".")
    words = words.replace("0.", ".", 1) if words.startswith(("0.", "-0.")) else words
    return "0" if words in {"", "-0", "-"} else words


def simplified(points: list[Point], fine: float) -> list[Point]:
    """Fewer points, none of the others farther than `fine` from the line (Ramer 1972, Douglas and Peucker 1973)."""
    if len(points) < 3:
        return points
    (x0, y0), (x1, y1) = points[0], points[-1]
    length = math.hypot(x1 - x0, y1 - y0)

    def away(point: Point) -> float:
        if length < 1e-9:
            return math.hypot(point[0] - x0, point[1] - y0)
        return abs((x1 - x0) * (point[1] - y0) - (y1 - y0) * (point[0] - x0)) / length

    far = max(range(1, len(points) - 1), key=lambda i: away(points[i]))
    if away(points[far]) <= fine:
        return [points[0], points[-1]]
    return simplified(points[: far + 1], fine)[:-1] + simplified(points[far:], fine)
