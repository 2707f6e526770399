"""Where a keyboard's focus leaves the order in which a page is read (WCAG 2.2, success criterion 2.4.3)."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence

from ..model.geometry import Box
from .reading_order import by_columns, reading_order

FEWEST = 3  # things that the focus comes to, for their order to tell something


def jumps(boxes: Sequence[Box], names: Sequence[str], ranks: Sequence[int], wide: bool, from_right: bool) -> Mapping[int, str]:
    """Numbers of those that the focus comes to too early or too late, and before or after what, in words.

    `ranks` are places in the order of the focus. Silent where the order follows the page line by line, or column by column; else the
    fewest are told without which it does.
    """
    if len(boxes) < FEWEST:
        return {}
    by_line = [number for number, _ in reading_order(boxes, [True] * len(boxes), wide, from_right)]
    found = [_out_of_order(order, names, ranks) for order in (by_line, by_columns(boxes, from_right))]
    return min(found, key=len)


def _out_of_order(order: Sequence[int], names: Sequence[str], ranks: Sequence[int]) -> dict[int, str]:
    steady = _longest_rising([ranks[number] for number in order])
    told = {}
    for place, number in enumerate(order):
        if place in steady:
            continue
        passed = next((other for other in order[:place] if ranks[other] > ranks[number]), None)
        late = next((other for other in order[place + 1 :] if ranks[other] < ranks[number]), None)
        told[number] = f"before “{names[passed]}”" if passed is not None else f"after “{names[late]}”" if late is not None else ""
    return told


def _longest_rising(values: Sequence[int]) -> frozenset[int]:
    """Places of a longest rising part (patience sorting: the least last value for each length, and what came before each)."""
    lengths: list[int] = []  # places
    tails: list[int] = []
    before: list[int] = []
    for place, value in enumerate(values):
        at = bisect_left(tails, value)
        before.append(lengths[at - 1] if at else -1)
        lengths[at : at + 1], tails[at : at + 1] = [place], [value]
    found = set()
    place = lengths[-1] if lengths else -1
    while place >= 0:
        found.add(place)
        place = before[place]
    return frozenset(found)
