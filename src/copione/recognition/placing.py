"""Which elements of a screen a target's words allow: by a name that varies, by what is in them, by the heading over them; page titles."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from ..model.relation import like
from ..model.screen import Element, Screen, of_screen
from ..model.target import Naming, Target
from .evidence import fold, lasting_id

Mask = npt.NDArray[np.bool_]
LEVEL = 24.0  # dp: titles that stand side by side stand no farther apart in height
TITLE_TOP = 160.0  # dp within which a page has its title


def fitting(screen: Screen, target: Target) -> Mask:
    """The elements whose name fits the target's, where that is not what they are called."""
    if target.naming is Naming.LIKE:
        said = fold(target.name)
        return np.array([bool(n or t) and (like(said, fold(n)) or like(said, fold(t))) for n, t in _names(screen)], bool)
    part = fold(target.name)
    holds = np.array([part in fold(name) or part in fold(text) for name, text in _names(screen)], bool)
    found = holds.copy()
    for row in np.flatnonzero(holds).tolist():
        parent = int(screen.parents[row])
        while parent >= 0 and not found[parent]:
            found[parent] = True
            parent = int(screen.parents[parent])
    return found


def _names(screen: Screen) -> list[tuple[str, str]]:
    return list(zip(screen.names, screen.texts, strict=True))


def section(screen: Screen, heading: str, wanted: Mask) -> Mask | str:
    """The elements that stand under a heading, up to the next one like it; why not, where it cannot be told which heading is meant.

    `wanted` are those that could be the target: the heading and they stand in one thing.
    """
    said = fold(heading)
    found = [e for e in screen if said in (fold(e.text), fold(e.label)) and (e.text or e.label)]
    found = [e for e in found if not any(o != e and o.within(e) for o in found)]
    if not found:
        return f"no heading “{heading}” is on this screen"
    if len(found) > 1:
        return f"{len(found)} things say “{heading}”"
    head = found[0]
    rows = np.arange(len(screen))
    for holder in head.ancestors():
        inside = (rows > head.row) & (rows < screen.ends[holder.row])
        if (inside & wanted).any():
            after = min((e.row for e in _alike(head) if e.row > head.row), default=len(screen))
            return inside & (rows < after)
    return np.zeros(len(screen), bool)


def _alike(head: Element) -> list[Element]:
    """The other headings of its kind: by id, else by how they are set."""

    def same(other: Element) -> bool:
        if other.row == head.row or other.role != head.role or not (other.text or other.label):
            return False
        if lasting_id(head):
            return lasting_id(other) == lasting_id(head)
        return abs(other.box.left - head.box.left) < 4 and abs(other.box.height - head.box.height) < 4

    return [e for e in head.screen if same(e)]


@of_screen
def titles(screen: Screen) -> tuple[Element, ...]:
    """What names the page: its topmost headings, else the topmost words; several where panes stand side by side."""
    for roles in (("heading",), ("text",)):
        found = [e for e in screen if e.role in roles and e.text and e.box.top < TITLE_TOP]
        if found:
            top = min(e.box.centre[1] for e in found)
            return tuple(e for e in found if e.box.centre[1] - top <= LEVEL)
    return ()
