"""A control that its recorded caption names, where a toolkit has put its value in its words: known by the caption it stands under."""

from __future__ import annotations

from ..model.geometry import Box
from ..model.outcome import Evidence
from ..model.portrait import Portrait, Sighting
from ..model.roles import role_word
from ..model.screen import Element, Flag, Screen
from .evidence import fold
from .reach import scroller_of

GAP = 28.0  # dp between a caption and what it is over: a line of text at most
EDGE = 4.0  # dp by which their edges on one side may differ
TALL = 1.7  # times as tall as recorded, or so much less tall, is another kind of control
SPOKEN = frozenset({"button", "generic", "link", "text"})


def by_caption(screen: Screen, portrait: Portrait, name: str) -> Sighting | None:
    """The only control under the only caption `name` on a screen, for a choice that was called by its caption; else None.

    The control takes touches, says something else, stands right under the caption along one edge, and is about as tall as recorded.
    """
    known = portrait.element
    if known.role != "combobox" or known.label or not name:
        return None
    captions = [e for e in screen if fold(e.text) == fold(name) and e.role in {"text", "heading"} and not e.has(Flag.CLICKABLE)]
    if len(captions) != 1:
        return None
    under = [e for e in screen if e.has(Flag.CLICKABLE) and not e.has(Flag.CHECKABLE) and _under(captions[0].box, e.box)]
    found = min(under, key=lambda e: e.box.top, default=None)
    if found is None or found.role not in SPOKEN or not _as_tall(known, found) or fold(found.name) == fold(name):
        return None
    if scroller_of(found) != scroller_of(captions[0]):
        return None  # what the caption is of is scrolled away behind an edge between them
    return Sighting(found, (Evidence.NEAR,), 0.7, 1.0, f"it is {role_word(found.role)} here, known by the words over it")


def _under(caption: Box, box: Box) -> bool:
    gap = box.top - caption.bottom
    return -EDGE <= gap <= GAP and (abs(box.left - caption.left) <= EDGE or abs(box.right - caption.right) <= EDGE)


def _as_tall(known: Element, found: Element) -> bool:
    return known.box.height / TALL <= found.box.height <= known.box.height * TALL
