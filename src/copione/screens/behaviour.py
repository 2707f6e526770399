"""Roles where the class of an element tells none: by what it does, what is in it, and what stands beside it like it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ..model.screen import Flag

Boxes = npt.NDArray[np.float64]
Rows = npt.NDArray[np.int32]
_CLICKABLE, _CHECKABLE, _SCROLLABLE = int(Flag.CLICKABLE), int(Flag.CHECKABLE), int(Flag.SCROLLABLE)
SLACK = 1.0  # dp by which what stands in a group may reach out of it
GROUP_SHARE = 0.5  # of the screen's height: what is taller and empty is a page's ground or a dialog's, not a row
ALIKE = 0.6  # of what a scrolling container holds that is made alike: it is a list


def nested_by_place(parents: Rows, boxes: Boxes, blank: Sequence[bool], flags: Rows, height: float) -> Rows:
    """Parents, where what a flat tree puts behind an empty group or container, and within its box, stands in that.

    `blank`: takes touches or scrolls, says nothing and holds nothing. Lists and rows that a toolkit leaves flat become such again.
    """
    if not any(blank):
        return parents
    found = parents.copy()
    n = len(parents)
    for row in (r for r in range(n) if blank[r]):
        left, top, right, bottom = boxes[row].tolist()
        if bottom - top > GROUP_SHARE * height and not flags[row] & _SCROLLABLE:
            continue
        parent = int(found[row])
        inner = row + 1
        while inner < n and (found[inner] == parent or found[inner] > row):
            box = boxes[inner].tolist()
            above, below = (box[3], box[1]) if flags[row] & _SCROLLABLE else (box[1], box[3] - SLACK)  # it may be cut off there
            inside = left - SLACK <= box[0] and top - SLACK < above and box[2] <= right + SLACK and below < bottom
            if not inside or box == [left, top, right, bottom]:
                break
            if found[inner] == parent:
                found[inner] = row
            inner += 1
    return found


def blanks(texts: Sequence[str], labels: Sequence[str], flags: Rows, parents: Rows) -> list[bool]:
    """Which elements take touches or scroll, say nothing and hold nothing."""
    holders = set(parents.tolist())
    acts = (flags & (_CLICKABLE | _SCROLLABLE)) > 0
    return [bool(acts[row]) and not text and not labels[row] and row not in holders for row, text in enumerate(texts)]


def by_behaviour(
    roles: Sequence[str], texts: Sequence[str], labels: Sequence[str], flags: Rows, parents: Rows, boxes: Boxes
) -> tuple[tuple[str, ...], Rows]:
    """Roles, and the flags with those marked as guessed that no class told.

    What is checkable is a checkbox; what scrolls over things made alike is a list, what stands in it its items, what scrolls else a
    region; what takes touches and holds no other words or controls is a button; what
    only says something is a text.
    """
    found = list(roles)
    children: list[list[int]] = [[] for _ in roles]
    for row, parent in enumerate(parents.tolist()):
        if parent >= 0:
            children[parent].append(row)
    guessed: set[int] = set()
    for row, role in enumerate(roles):
        flag = int(flags[row])
        unknown = role == "generic" or (role == "text" and bool(flag & _CHECKABLE))
        if not unknown:
            continue
        if flag & _CHECKABLE:
            found[row] = "checkbox"
        elif flag & _SCROLLABLE:
            items = _items(row, roles, flags, children)
            found[row] = "list" if items else "region"
            for item in items:
                if roles[item] in {"generic", "text"} and (children[item] or texts[item] or labels[item]):
                    found[item] = "listitem"
                    guessed.add(item)
        elif found[row] == "generic" and flag & _CLICKABLE and not children[row] and not _large(boxes[row]):
            found[row] = "button"
        elif found[row] == "generic" and labels[row] and not (children[row] or flag & _CLICKABLE or parents[row] < 0 or _large(boxes[row])):
            found[row] = "text"
        if found[row] != role:
            guessed.add(row)
    marked = flags.copy()
    marked[sorted(guessed)] |= int(Flag.GUESSED)
    return tuple(found), marked


def as_written(roles: Sequence[str], texts: Sequence[str], labels: Sequence[str]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Texts and labels, where what is nothing but words has them as its text, whichever of the two a toolkit puts them in."""
    moved = [role == "text" and not text for role, text in zip(roles, texts, strict=True)]
    said = tuple(label if move else text for text, label, move in zip(texts, labels, moved, strict=True))
    return said, tuple("" if move else label for label, move in zip(labels, moved, strict=True))


def _large(box: npt.NDArray[np.float64]) -> bool:
    return bool(min(box[2] - box[0], box[3] - box[1]) >= 100.0)


def _items(row: int, roles: Sequence[str], flags: Rows, children: list[list[int]]) -> list[int]:
    """What a scrolling container holds, where most of it is made alike: directly, or in the only thing that it holds."""
    held = children[row]
    while len(held) == 1 and len(children[held[0]]) > 1 and not flags[held[0]] & _CLICKABLE:
        held = children[held[0]]
    if len(held) < 2:
        return []
    shapes = [(roles[r], bool(flags[r] & _CLICKABLE), frozenset(roles[c] for c in children[r])) for r in held]
    shape, count = Counter(shapes).most_common(1)[0]
    fits = shape[0] == "generic" and (shape[1] or shape[2]) and not shape[2] & {"textbox", "slider"}
    return [r for r, each in zip(held, shapes, strict=True) if each == shape] if fits and count >= max(2, ALIKE * len(held)) else []
