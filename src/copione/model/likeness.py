"""Two pictures held together by their fingerprints: a few bytes each, made by `recognition.fingerprint`."""

from __future__ import annotations

LEVELS = 4  # of each colour channel
GRID = 5  # parts across and down
ANOTHER = 0.3  # from here on two pictures are not the same
LIKE_SHAPE = 1.25  # proportions that differ less are compared part by part too
_COLOURS = slice(2, 2 + LEVELS**3)


def unlike(one: str, other: str) -> float:
    """How unlike two fingerprints are, 0..1; 1 where one of them is none.

    Half the sum of differences between the shares of colours, and, of pictures of one shape, the mean of the parts that differ most.
    """
    if not one or len(one) != len(other):
        return 1.0
    if one == other:
        return 0.0
    a, b = bytes.fromhex(one), bytes.fromhex(other)
    by_colour = sum(abs(x - y) for x, y in zip(a[_COLOURS], b[_COLOURS], strict=True)) / 2 / 255
    shapes = sorted(each[0] * 256 + each[1] for each in (a, b))
    if shapes[1] > LIKE_SHAPE * max(1, shapes[0]):
        return min(1.0, by_colour)
    parts = [abs(x - y) for x, y in zip(a[_COLOURS.stop :], b[_COLOURS.stop :], strict=True)]
    worst = sorted((max(parts[i : i + 3]) for i in range(0, len(parts), 3)), reverse=True)[:GRID]
    return min(1.0, max(by_colour, sum(worst) / len(worst) / 255))


def is_another(one: str, other: str) -> bool:
    """Are they two pictures?"""
    return unlike(one, other) >= ANOTHER
