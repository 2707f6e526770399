"""Two pictures held together by their fingerprints: a few bytes each, made by `recognition.fingerprint`."""

from __future__ import annotations

from functools import lru_cache
from statistics import StatisticsError, correlation

LEVELS = 4  # of each colour channel
GRID = 5  # parts across and down
ANOTHER = 0.3  # from here on two pictures are not the same
FINE = 12  # parts across and down, in grey: which way round a picture is
TURNED, BY = 0.85, 0.3  # how alike one has to be with the other's mirror image (correlation), and by how much more than with itself
LIKE_SHAPE = 1.25  # proportions that differ less are compared part by part too
_COLOURS = slice(2, 2 + LEVELS**3)
_FINE = 2 + LEVELS**3 + 3 * GRID**2  # where the fine parts begin; older fingerprints end there


def unlike(one: str, other: str) -> float:
    """How unlike two fingerprints are, 0..1; 1 where one of them is none.

    Half the sum of differences between the shares of colours, and, of pictures of one shape, the mean of the parts that differ most.
    """
    if not one or not other:
        return 1.0
    if one == other:
        return 0.0
    a, b = (bytes.fromhex(each)[:_FINE] for each in (one, other))
    if len(a) != len(b):
        return 1.0
    by_colour = sum(abs(x - y) for x, y in zip(a[_COLOURS], b[_COLOURS], strict=True)) / 2 / 255
    shapes = sorted(each[0] * 256 + each[1] for each in (a, b))
    if shapes[1] > LIKE_SHAPE * max(1, shapes[0]):
        return min(1.0, by_colour)
    parts = [abs(x - y) for x, y in zip(a[_COLOURS.stop :], b[_COLOURS.stop :], strict=True)]
    worst = sorted((max(parts[i : i + 3]) for i in range(0, len(parts), 3)), reverse=True)[:GRID]
    return min(1.0, max(by_colour, sum(worst) / len(worst) / 255))


def is_another(one: str, other: str) -> bool:
    """Are they two pictures, or one and its mirror image?"""
    return unlike(one, other) >= ANOTHER or mirrored(one, other)


@lru_cache(maxsize=4096)
def mirrored(one: str, other: str) -> bool:
    """Is one of them the other the other way round, from side to side or upside down?"""
    a, b = (list(bytes.fromhex(each)[_FINE:]) for each in (one, other))
    if len(a) != FINE**2 or len(b) != FINE**2:
        return False
    rows = [b[place : place + FINE] for place in range(0, FINE**2, FINE)]
    aside, down = [v for row in rows for v in reversed(row)], [v for row in reversed(rows) for v in row]
    turned = max(_alike(a, aside), _alike(a, down))
    return turned >= TURNED and turned - _alike(a, b) >= BY


def _alike(one: list[int], other: list[int]) -> float:
    """Pearson's correlation; 0 where one of them is all the same."""
    try:
        return correlation(one, other)
    except StatisticsError:
        return 0.0
