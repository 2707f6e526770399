"""How far each container of a device has been scrolled from its beginning, as seen from one look to the next.

A list that stands at its beginning is never dragged down: apps take that for the wish to load anew. So upwards is searched only as far
as content was seen to move.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from statistics import median

from ..model.screen import Element, Flag, Screen
from ..recognition.evidence import fold, lasting_id
from ..recognition.placing import titles
from .presence import Key, key_of

WHOLE_DP = 1.5  # an element that close to its container's edge may be cut by it
ALIKE_DP = 3.0  # what moves together, moves equally far
TOGETHER = 0.7  # share of what is in both looks that must move together to be a scroll
LOW = 96.0  # dp; what is lower is no list that is searched

Name = tuple[str, str, str, str, str, int]
Items = dict[Key, tuple[float, float]]


def containers(screen: Screen) -> list[Element]:
    """What scrolls, and is high enough to be searched."""
    return [e for e in screen if e.has(Flag.SCROLLABLE) and e.box.height >= LOW]


def kind_of(container: Element) -> tuple[str, str]:
    """Its role and id. Whether what scrolls is a list is guessed by what it shows, and may change from one look to the next."""
    return "list" if container.role == "region" else container.role, lasting_id(container)


def _named(screen: Screen) -> Iterator[tuple[Name, Element]]:
    """Every container with a name that it has on each look at its page: pages without ids are told apart by what names them."""
    title = next((fold(e.text) for e in titles(screen) if not any(a.has(Flag.SCROLLABLE) for a in e.ancestors())), "")
    count: dict[tuple[str, str], int] = {}
    for element in screen:
        if element.has(Flag.SCROLLABLE):
            kind = kind_of(element)
            count[kind] = count.get(kind, 0) + 1
            yield (screen.app, screen.activity, title if not kind[1] else "", *kind, count[kind]), element


def _rows(container: Element) -> list[Element]:
    """What it scrolls: its children, or those of the only one it has."""
    rows = container.children
    while len(rows) == 1 and rows[0].children:
        rows = rows[0].children
    return [row for row in rows if not row.box.empty]


def _items(container: Element) -> Items:
    """Top and bottom of its rows, dp, of those that say something and are there once."""
    found: Items = {}
    twice = set()
    for row in _rows(container):
        said = " ".join(words for e in (row, *row.descendants()) if (words := key_of(e)[2]))
        key = row.role, lasting_id(row), said
        if key in found:
            twice.add(key)
        if any(c.isalnum() for c in said):  # a sign is no name: every row has the same
            found[key] = row.box.top, row.box.bottom
    return {key: place for key, place in found.items() if key not in twice}


def cut_above(container: Element) -> bool:
    """Is its first item cut off by its upper edge, as far as the tree tells: lower than those after it?"""
    boxes = [row.box for row in _rows(container)]
    if len(boxes) < 3:
        return False
    first, lowest = boxes[0], min(box.height for box in boxes[1:-1])
    at_edge = first.top <= container.box.top + WHOLE_DP
    return first.top < container.box.top - WHOLE_DP or (at_edge and first.height < 0.9 * lowest)


@dataclass
class _Known:
    """One container: how far it has been scrolled, what it showed last, and where what it has shown stands from its beginning."""

    above: float = 0.0
    certain: bool = True
    items: Items = field(default_factory=dict)
    places: dict[Key, float] = field(default_factory=dict)
    end: float = 0.0  # of what it has shown
    moved: float = 0.0  # between the newest two looks, either way
    begins: bool = False  # it was pulled down and did not move: above it there is nothing


class Displacement:
    """What is known of one device's containers."""

    def __init__(self) -> None:
        self._known: dict[Name, _Known] = {}
        self._shown: frozenset[Name] = frozenset()

    def seen(self, screen: Screen | None, stroke: float = 0.0) -> None:
        """A look. `stroke`: how far (dp, down is positive) the finger went since the one before, for content that has moved altogether."""
        now = dict(_named(screen)) if screen is not None else {}
        for name, container in now.items():
            items = _items(container)
            known = self._known.get(name)
            moved = shift(known.items, items, container) if known is not None else None
            if known is None or (name not in self._shown and (moved is None or abs(moved) > ALIKE_DP)):
                known = self._known[name] = _Known()  # the page was opened anew
            else:
                before = known.above
                _go_on(known, items, container, moved, stroke)
                known.moved = abs(moved if moved is not None else known.above - before)
            known.items = items
            top = container.box.top - known.above
            if known.certain:
                known.places.update((key, begin - top) for key, begin in _whole(items, container))
            known.end = max(known.end, max((end - top for _, end in items.values()), default=0.0))
        self._shown = frozenset(now)

    def above(self, container: Element) -> float:
        """How far (dp) it has been scrolled from where it began: as the device tells, else as far as seen."""
        if self.is_reported(container):
            return container.screen.scrolled[container.row]
        known = self._of(container)
        return known.above if known is not None else 0.0

    @staticmethod
    def is_reported(container: Element) -> bool:
        """Does the device itself report how far it has been scrolled?"""
        return container.row in container.screen.scrolled

    def certain(self, container: Element) -> bool:
        """Is that more than a guess?"""
        known = self._of(container)
        return self.is_reported(container) or known is None or known.certain

    def moved(self, container: Element, before: float) -> float:
        """How far (dp) it moved at the newest look, either way; `before`: how far it had been scrolled until then."""
        known = self._of(container)
        told = self.is_reported(container) or known is None
        return abs(self.above(container) - before) if told or known is None else known.moved

    def begins(self, container: Element) -> bool:
        """Is it known to be at its beginning? A page may be opened with a list that is scrolled."""
        known = self._of(container)
        return self.above(container) <= 0 and (self.is_reported(container) or (known is not None and known.begins))

    def note_beginning(self, container: Element) -> None:
        """It was pulled down a little, and stayed: that is its beginning."""
        known = self._of(container)
        if known is not None:
            known.begins = True

    def away(self, container: Element, words: str) -> float | None:
        """How far (dp) below its upper edge a row that says these words would stand now, by where it was seen; negative above the edge.

        None where no such row has been seen.
        """
        known, said = self._of(container), fold(words)
        if known is None or not said:
            return None
        return next((place - known.above for key, place in known.places.items() if said in key[2]), None)

    def _of(self, container: Element) -> _Known | None:
        return self._known.get(next(name for name, each in _named(container.screen) if each == container))

    def measured(self, container: Element) -> bool:
        """Is anything in it by which a move can be told?"""
        return self.is_reported(container) or bool(_items(container))


def _whole(items: Items, container: Element) -> Iterator[tuple[Key, float]]:
    """Where those begin that are not cut off by the container's upper edge."""
    return ((key, begin) for key, (begin, _) in items.items() if begin > container.box.top + WHOLE_DP)


def _go_on(known: _Known, items: Items, container: Element, moved: float | None, stroke: float) -> None:
    """How far a container has been scrolled now; at least, where it shows nothing of what it has shown before: that is not certain then."""
    at = [known.places[key] - (begin - container.box.top) for key, begin in _whole(items, container) if key in known.places]
    if moved is not None and known.certain:
        known.above -= moved
        if known.above < 0:  # it did not begin where it stood when it was first seen
            known.places = {key: place - known.above for key, place in known.places.items()}
            known.end -= known.above
            known.above = 0.0
    elif at:
        known.above, known.certain = max(0.0, median(at)), True
    elif moved is not None:
        known.above = max(0.0, known.above - moved)
    elif stroke < 0 and known.items:
        known.above, known.certain = max(known.end, known.above + container.box.height / 2), False
    elif stroke > 0 and known.items and not known.certain:
        known.above = max(0.0, known.above - stroke)
    else:
        known.above, known.certain = 0.0, True


def shift(before: Items, after: Items, container: Element) -> float | None:
    """How far (dp, down is positive) content moved between two looks: 0 where it did not move together, None where nothing is in both."""
    top, bottom = container.box.top, container.box.bottom
    moves = []
    for key, (a, b) in before.items():
        if key in after:
            c, d = after[key]
            if min(a, c) > top + WHOLE_DP:
                moves.append(c - a)
            elif max(b, d) < bottom - WHOLE_DP:
                moves.append(d - b)
    if not moves:
        return None
    if container.has(Flag.GUESSED) and container.role == "region":  # where it ends is guessed too: what stays may stand beside it
        moves = [move for move in moves if abs(move) > ALIKE_DP] or moves
    middle = median(moves)
    alike = sum(abs(each - middle) <= ALIKE_DP for each in moves)
    return middle if alike >= TOGETHER * len(moves) else 0.0
