"""How easy an element will be to find again: its portrait is looked up in its own screen, and in mildly changed copies of it."""

from __future__ import annotations

import threading
import weakref
from dataclasses import replace

from ..model.portrait import Portrait, Sighting
from ..model.screen import Element, Screen, of_element
from ..model.target import Target
from .sighting import sight

NARROWER, TALLER = 0.85, 1.1


def without_ids(screen: Screen) -> Screen:
    """As a build without ids would have it."""
    return replace(screen, ids=("",) * len(screen))


def translated(screen: Screen) -> Screen:
    """As another language would have it: every letter another one; numbers and ids stay."""

    def said(words: str) -> str:
        return "".join(chr(ord("a") + (ord(c) * 7 + 3) % 26) if c.isalpha() else c for c in words.casefold())

    columns = (tuple(map(said, column)) for column in (screen.texts, screen.labels, screen.names))
    texts, labels, names = columns
    return replace(screen, texts=texts, labels=labels, names=names)


def moved(screen: Screen) -> Screen:
    """As a narrower device with another order might have it: mirrored from side to side, and taller."""
    width = screen.width * NARROWER
    boxes = screen.boxes[:, [2, 1, 0, 3]] * (-NARROWER, TALLER, -NARROWER, TALLER) + (width, 0.0, width, 0.0)
    return replace(screen, width=width, height=screen.height * TALLER, boxes=boxes)


class _Changed:
    """The changed copies of the screen that was asked about last: a pointer asks about one element of it after the other."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._of: weakref.ref[Screen] | None = None
        self._copies: tuple[Screen, Screen, Screen] | None = None

    def copies(self, screen: Screen) -> tuple[Screen, Screen, Screen]:
        """Moved, without ids, translated."""
        with self._lock:
            if self._copies is None or self._of is None or self._of() is not screen:
                self._of = weakref.ref(screen, self._gone)
                self._copies = moved(screen), without_ids(screen), translated(screen)
            return self._copies

    def _gone(self, of: weakref.ref[Screen]) -> None:
        if self._of is of:
            self._copies = None


_changed = _Changed()


@of_element
def ease(element: Element) -> int:
    """1 to 3 bars: found only here at best; found in another layout, and without ids or in another language; found in all of these."""
    screen = element.screen
    portrait = Portrait(screen, element.row)
    elsewhere, bare, foreign = _changed.copies(screen)
    if not _found(screen, portrait) or not _found(elsewhere, portrait):
        return 1
    return 1 + _found(bare, portrait) + _found(foreign, portrait)


def _found(screen: Screen, portrait: Portrait) -> bool:
    """Is it found, and is it the right one (or what stands in it, or around it)?"""
    found = sight(screen, Target("", ""), (), (portrait,))
    if not isinstance(found, Sighting):
        return False
    meant = screen.element(portrait.row)
    return found.element.within(meant) or meant.within(found.element)


def advice(element: Element) -> str:
    """What would make an element easier to find, in a sentence; empty where nothing is wanting."""
    if ease(element) == 3:
        return ""
    if not element.id and not element.name:
        return "Known by its place only: an id or an accessibility label in the app would help."
    if not element.id:
        return "It has no id: in another language only the phrasebook finds it."
    if not element.name:
        return "It has no name: without its id it is lost. A label would help."
    return "Others on this screen say the same: a unique id or label would help."
