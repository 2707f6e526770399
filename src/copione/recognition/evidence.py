"""The pieces of evidence about an element, and how rare each is on its own screen."""

from __future__ import annotations

import math
import re
from collections import Counter
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from ..model.geometry import Box
from ..model.portrait import Portrait
from ..model.screen import Element, Flag, Screen, of_element, of_screen
from ..model.words import plain

NEAR_LIMIT = 160.0  # dp: words farther away say little about a place
NEAR_COUNT = 4
COUNTED, COUNTED_ON_PAGES = 3, 2  # elements whose ids are the same but for figures: they are counted, not named; libraries count more
LETTERS = 3  # an id with fewer names nothing
_FIGURES = re.compile(r"(?=[a-f]*\d[a-f\d]*)[a-f\d]{6,}|\d+")


@lru_cache(maxsize=16384)
def fold(words: str) -> str:
    """Case and white space folded, and the digits of every script: how words are compared."""
    return plain(words).casefold()


_MARKS = re.compile(r"^[*＊]\s*|\s*(?:[*＊:：]|\((?:required|optional)\))+$")


@lru_cache(maxsize=16384)
def undecorated(words: str) -> str:
    """Folded, without the marks that forms put to names: asterisks of what is required, colons."""
    return _MARKS.sub("", fold(words)).strip()


@lru_cache(maxsize=16384)
def plain_id(id: str) -> str:
    """An id without the custom of its platform: save_inspection and saveInspection are one."""
    return "".join(c for c in id.casefold() if c.isalnum())


def words_of_id(id: str) -> str:
    """What a script calls an element that has an id and no name."""
    return id.replace("_", " ")


@of_screen
def stable_ids(screen: Screen) -> tuple[str, ...]:
    """Each element's id without its platform's custom; empty where there is none, and where it is only counted or drawn by lot.

    Such an id is another one at the next start: one whose letters alone name nothing, or that three and more share but for its figures;
    on a page, two: components number what they make in the order in which it happens to be loaded.
    """
    plain = [plain_id(id) for id in screen.ids]
    stems = {id: _FIGURES.sub("#", id) for id in set(plain) if any(c.isdigit() for c in id)}
    alike = Counter(stems.values())
    many = COUNTED_ON_PAGES if screen.is_web else COUNTED
    passing = {id for id, stem in stems.items() if alike[stem] >= many or sum(c.isalpha() for c in stem) < LETTERS}
    return tuple("" if id in passing else id for id in plain)


def lasting_id(element: Element) -> str:
    """Its id by `stable_ids`: empty where there is none that is the same at the next look."""
    return stable_ids(element.screen)[element.row]


def same_id(one: Element, other: Element) -> bool:
    """Do both have an id that lasts, and is it the same but for its platform's custom?"""
    own = lasting_id(one)
    return bool(own) and own == lasting_id(other)


def rarity(count: int, total: int) -> float:
    """1 for the only one, 0 for what every element has: inverse document frequency (Spärck Jones 1972), scaled."""
    if total <= 1 or count <= 0:
        return 1.0
    return max(0.0, math.log(total / count) / math.log(total))


@of_screen
def word_rows(screen: Screen) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.float64], float]:
    """Rows of the elements that have words of their own and are not fields: what neighbourhoods are told by, from the top down.

    Their boxes, (4, n), and the height of the tallest.
    """
    rows = np.array([i for i, t in enumerate(screen.texts) if t and screen.roles[i] in {"text", "heading"}], np.int32)
    rows = rows[np.argsort(screen.boxes[rows, 1], kind="stable")]
    boxes = np.ascontiguousarray(screen.boxes[rows].T)
    return rows, boxes, float((boxes[3] - boxes[1]).max()) if len(rows) else 0.0


@of_element
def neighbours(element: Element) -> tuple[str, ...]:
    """Folded words near an element and not inside it, nearest first; of a list's item what it says besides its name.

    The rows next to an item are no evidence: lists are sorted anew.
    """
    screen = element.screen
    if element.role == "listitem":
        return tuple(fold(d.text) for d in element.descendants() if d.text and fold(d.text) != fold(element.name))[:NEAR_COUNT]
    rows, boxes, tallest = word_rows(screen)
    left, top, right, bottom = screen.boxes[element.row].tolist()
    first, last = boxes[1].searchsorted((top - NEAR_LIMIT - tallest, bottom + NEAR_LIMIT)).tolist()
    if first == last:
        return ()
    rows, (lefts, tops, rights, bottoms) = rows[first:last], boxes[:, first:last]
    dx = np.maximum(np.maximum(left - rights, lefts - right), 0.0)
    dy = np.maximum(np.maximum(top - bottoms, tops - bottom), 0.0)
    away = np.hypot(dx, dy)
    words: list[str] = []
    end, own = screen.ends[element.row], fold(element.name)
    nearest = np.lexsort((rows, away))[: NEAR_COUNT * 3]
    for row, far in zip(rows[nearest].tolist(), away[nearest].tolist(), strict=True):
        if far > NEAR_LIMIT or len(words) >= NEAR_COUNT:
            break
        said = fold(screen.texts[row])
        if not element.row <= row < end and said != own:
            words.append(said)
    return tuple(words)


@of_element
def chain(element: Element) -> frozenset[str]:
    """Roles and ids of the ancestors."""
    return frozenset(word for a in element.ancestors() for word in (a.id and f"#{a.id}", a.role if a.role != "generic" else "") if word)


@dataclass(frozen=True)
class Piece:
    """One line of a portrait as shown to a person: which evidence, its value, how many on that screen share it."""

    kind: str
    value: str
    count: int

    @property
    def uniqueness(self) -> str:
        """How unique, in words."""
        if self.kind == "place":
            return "last resort"
        if self.kind == "size":
            return ""
        if self.kind == "picture" and self.count > 1:
            return "another looks alike"
        return "only one" if self.count <= 1 else f"1 of {self.count} here"


def pieces(portrait: Portrait) -> list[Piece]:
    """The evidence of a portrait, strongest first, with how unique each is on the recorded screen."""
    element, screen = portrait.element, portrait.screen
    found: list[Piece] = []
    for kind, value, column in (
        ("id", element.id, screen.ids),
        ("label", element.label, screen.labels),
        ("text", element.text, screen.texts),
    ):
        if value:
            found.append(Piece(kind, value, column.count(value)))
    if element.name and element.name not in {element.label, element.text}:
        found.append(Piece("name", element.name, screen.names.count(element.name)))
    guessed = " (guessed from what it does)" if element.has(Flag.GUESSED) else ""
    found.append(Piece("role", element.role + guessed, screen.roles.count(element.role)))
    near = neighbours(element)
    if near:
        count = sum(1 for other in screen if other.role == element.role and neighbours(other)[:1] == near[:1])
        found.append(Piece("near", _as_written(screen, near[0]), count))
    box = element.box
    found.append(Piece("size", f"{box.width:.0f} × {box.height:.0f} dp", 1))
    x, y = box.centre
    found.append(Piece("place", f"{x / screen.width:.0%}, {y / screen.height:.0%} of the screen", 1))
    return found


def _as_written(screen: Screen, folded: str) -> str:
    return next((t for t in screen.texts if fold(t) == folded), folded)


def visible(element: Element) -> Box:
    """The part of an element that is on the screen."""
    return element.box.clipped(Box(0, 0, element.screen.width, element.screen.height))
