"""In which order a page is read: one part of a wide page after the other, and each of them line by line."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from ..model.geometry import Box

LINE_DP = 8.0  # what stands so close in height is of one line
BESIDE_DP = 2.0  # the same, for what one row of a table holds
GAP_DP = 12.0  # between two parts of a page, which nothing crosses
FEWEST = 3  # things in a part
ACROSS = 0.85  # share of the page's width from which on something goes across all of it
ALIGNED = 0.7  # share of what stands in one line with what is beside it: then it is a table, and no part of its own


def parts_of(boxes: Sequence[Box]) -> list[list[int]]:
    """Numbers of the boxes by the parts of the page that they stand side by side in, from the left.

    A vertical gap parts the page where nothing crosses it, several things stand on both sides, and these are not the lines of one table.
    """
    order = sorted(range(len(boxes)), key=lambda i: boxes[i].left)
    parts: list[list[int]] = []
    right = float("-inf")
    for number in order:
        if boxes[number].left - right >= GAP_DP or not parts:
            parts.append([])
        parts[-1].append(number)
        right = max(right, boxes[number].right)
    done: list[list[int]] = []
    for part in parts:
        if done and (min(len(part), len(done[-1])) < FEWEST or _aligned(boxes, done[-1], part)):
            done[-1] += part
        else:
            done.append(part)
    return done


def _aligned(boxes: Sequence[Box], one: Sequence[int], other: Sequence[int]) -> bool:
    heights = sorted(boxes[i].centre[1] for i in one)
    near = sum(any(abs(boxes[i].centre[1] - height) < BESIDE_DP for height in heights) for i in other)
    return near >= ALIGNED * min(len(one), len(other))


def reading_order(boxes: Sequence[Box], leaves: Sequence[bool], wide: bool, from_right: bool) -> list[tuple[int, int]]:
    """Places of the boxes in the order in which they are read, each with the number of its part; a narrow page has one.

    What goes across nearly all of a wide page, as a bar does, ends the parts above it. What holds other boxes (none of `leaves`) parts
    nothing, and stands where its middle is.
    """
    if not wide:
        return [(i, 0) for i in _by_line(boxes, range(len(boxes)), from_right)]
    parts: list[list[int]] = []
    for band in _bands(boxes, [i for i in range(len(boxes)) if leaves[i]]):
        found = [[band[place] for place in part] for part in parts_of([boxes[i] for i in band])]
        parts += reversed(found) if from_right else found
    spans = [(min(boxes[i].left for i in part), max(boxes[i].right for i in part)) for part in parts]
    for holder in (i for i in range(len(boxes)) if not leaves[i]):
        (x, y) = boxes[holder].centre
        near = [part for part, (left, right) in zip(parts, spans, strict=False) if left <= x <= right]
        best = min(near or parts, key=lambda part: min(abs(boxes[i].centre[1] - y) for i in part), default=None)
        if best is None:
            parts.append([holder])
        else:
            best.append(holder)
    return [(i, number) for number, part in enumerate(parts) for i in _by_line(boxes, part, from_right)]


def _by_line(boxes: Sequence[Box], some: Iterable[int], from_right: bool) -> list[int]:
    return sorted(some, key=lambda i: (round(boxes[i].centre[1] / LINE_DP), -boxes[i].right if from_right else boxes[i].left))


def _bands(boxes: Sequence[Box], some: Sequence[int]) -> list[list[int]]:
    across = max((boxes[i].right for i in some), default=0.0) - min((boxes[i].left for i in some), default=0.0)
    bands: list[list[int]] = [[]]
    for number in sorted(some, key=lambda i: boxes[i].centre[1]):
        if boxes[number].width >= ACROSS * across:
            bands += [[number], []]
        else:
            bands[-1].append(number)
    return [band for band in bands if band]
