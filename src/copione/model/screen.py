"""A screen as columns, and one element as a view on a row."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, fields
from enum import IntFlag
from functools import cached_property, wraps
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from .geometry import Box
from .roles import role_word

T = TypeVar("T")


class Flag(IntFlag):
    """What the tree says of an element, as bits."""

    CLICKABLE = 1
    CHECKABLE = 2
    CHECKED = 4
    ENABLED = 8
    FOCUSED = 16
    SCROLLABLE = 32
    HOLDABLE = 64
    PASSWORD = 128
    SELECTED = 256
    GUESSED = 512  # not told: no class says its role, it was concluded from what it does
    MESSAGE = 1024  # what is said in it goes again by itself, as the platform tells
    ACROSS = 4096  # it is scrolled sideways
    EDITABLE = 2048  # letters go into it, whatever it is called
    CUT = 16384  # a browser's window shows only a part of it: more of it lies above or below
    TURNS = 8192  # a page's choice that turns under a finger, with what is chosen in its middle


def subtree_ends(parents: npt.NDArray[np.int32]) -> tuple[int, ...]:
    """For elements in tree order, given each one's parent (-1 for a root), the row behind each one's last descendant."""
    ends = list(range(1, len(parents) + 1))
    rows = parents.tolist()
    for row in range(len(rows) - 1, 0, -1):
        parent = rows[row]
        if parent >= 0 and ends[row] > ends[parent]:
            ends[parent] = ends[row]
    return tuple(ends)


@dataclass(frozen=True)
class Overlay:
    """What stands over a page's flow: its box (dp), its first row and the one behind its last, whether it stays as the flow is scrolled."""

    box: Box
    first: int
    end: int
    stays: bool


@dataclass(frozen=True, eq=False)
class Screen:
    """One device screen, normalised. n elements in tree order.

    `boxes`: float64 (n, 4), dp, left top right bottom, as the tree gives them. `parents`: int32 (n,), -1 for a root.
    `flags`: int32 (n,) of `Flag`. `roles` are WAI-ARIA role names; `names` what a person would call each element, `also` what else: its
    label, its words, its hint, its caption; empty where that is not known. `covers`: of each
    element the row of what is drawn over its middle, -1 for nothing; empty where the device does not tell, and the order has to.
    `scrolled`: by the rows of containers, how far (dp) each is from its beginning; `limits`: by the rows of
    sliders, the least and the most they can hold; both where the device tells. `stops`: rows in the order in which a keyboard's focus comes
    to them, for each layer that stands over others; empty where the device does not tell. `overlays`: what stands over the
    flow of the page; None where the device does not tell. `painted`: of each element its place in the order of painting; empty where that
    is the tree's, or is not told. `spots`: by the rows of what a finger does not hit in its middle, where (dp) it does, or None for
    nowhere. `read`: it was read from its picture, which shows what is
    written and no labels. `language` is what the page says of itself, BCP 47; empty where it does not;
    `locale` is the device's, empty where it is not known.
    """

    width: float
    height: float
    app: str
    activity: str
    keyboard: Box | None
    roles: tuple[str, ...]
    names: tuple[str, ...]
    texts: tuple[str, ...]
    labels: tuple[str, ...]
    ids: tuple[str, ...]
    boxes: npt.NDArray[np.float64]
    parents: npt.NDArray[np.int32]
    flags: npt.NDArray[np.int32]
    rotation: int = 0
    covers: tuple[int, ...] = ()
    scrolled: Mapping[int, float] = field(default_factory=dict)
    limits: Mapping[int, tuple[float, float]] = field(default_factory=dict)
    stops: tuple[tuple[int, ...], ...] = ()
    overlays: tuple[Overlay, ...] | None = None
    painted: tuple[int, ...] = ()
    spots: Mapping[int, tuple[float, float] | None] = field(default_factory=dict)
    also: tuple[tuple[str, ...], ...] = ()
    read: bool = False
    language: str = ""
    locale: str = ""
    kept: dict[Any, Any] = field(default_factory=dict, init=False, repr=False)  # what was found out about it: see `of_screen`

    def __getstate__(self) -> dict[str, Any]:
        """What was found out about it is found out again where it is pickled."""
        return {each.name: getattr(self, each.name) for each in fields(self)} | {"kept": {}}

    def __len__(self) -> int:
        return len(self.roles)

    def __iter__(self) -> Iterator[Element]:
        return (Element(self, i) for i in range(len(self)))

    def element(self, row: int) -> Element:
        """The element in a row."""
        return Element(self, row)

    @cached_property
    def children(self) -> tuple[tuple[int, ...], ...]:
        """Rows of each element's children."""
        lists: list[list[int]] = [[] for _ in self.roles]
        for row, parent in enumerate(self.parents.tolist()):
            if parent >= 0:
                lists[parent].append(row)
        return tuple(tuple(rows) for rows in lists)

    @cached_property
    def rects(self) -> tuple[Box, ...]:
        """The boxes as such."""
        return tuple(Box(*sides) for sides in self.boxes.tolist())

    @cached_property
    def holders(self) -> tuple[int, ...]:
        """The parents as plain numbers."""
        return tuple(self.parents.tolist())

    @cached_property
    def bits(self) -> tuple[int, ...]:
        """The flags as plain numbers."""
        return tuple(self.flags.tolist())

    @cached_property
    def ends(self) -> tuple[int, ...]:
        """For each element the row behind its last descendant: in tree order a subtree is one stretch of rows."""
        return subtree_ends(self.parents)

    @cached_property
    def signature(self) -> tuple[object, ...]:
        """Equal for two screens on which a person would see the same elements at the same places."""
        return (self.app, self.roles, self.texts, self.labels, self.boxes.round().tobytes(), self.flags.tobytes(), self.keyboard)

    @property
    def is_web(self) -> bool:
        """Is it a page in a browser?"""
        return self.app.startswith(("http:", "https:"))

    def at(self, x: float, y: float) -> Iterator[Element]:
        """Elements over a point, topmost (painted last) first."""
        b = self.boxes
        inside = (b[:, 0] <= x) & (x < b[:, 2]) & (b[:, 1] <= y) & (y < b[:, 3])
        rows: list[int] = np.flatnonzero(inside)[::-1].tolist()
        if self.painted:
            rows.sort(key=self.painted.__getitem__, reverse=True)
        return (Element(self, row) for row in rows)


def bare(width: float, height: float, app: str = "", spots: tuple[tuple[Box, str, str], ...] = (), rotation: int = 0) -> Screen:
    """A screen of which there is no tree: the whole as one element, and in it `spots` (box, role, name) known from the picture alone."""
    whole = Box(0.0, 0.0, width, height)
    n = 1 + len(spots)
    names = ("", *(name for _, _, name in spots))
    return Screen(
        width=width,
        height=height,
        app=app,
        activity="",
        keyboard=None,
        roles=("generic", *(role for _, role, _ in spots)),
        names=names,
        texts=("",) * n,
        labels=names,
        ids=("",) * n,
        boxes=np.array([whole, *(box for box, _, _ in spots)], np.float64).reshape(n, 4),
        parents=np.array([-1] + [0] * len(spots), np.int32),
        flags=np.full(n, Flag.ENABLED, np.int32),
        rotation=rotation,
    )


@dataclass(frozen=True)
class Element:
    """A view on one row of a `Screen`."""

    screen: Screen
    row: int

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Element) and other.screen is self.screen and other.row == self.row

    def __hash__(self) -> int:
        return hash((id(self.screen), self.row))

    @property
    def role(self) -> str:
        """WAI-ARIA role."""
        return self.screen.roles[self.row]

    @property
    def name(self) -> str:
        """What a person would call it."""
        return self.screen.names[self.row]

    @property
    def text(self) -> str:
        """Its own words."""
        return self.screen.texts[self.row]

    @property
    def label(self) -> str:
        """Its accessibility label."""
        return self.screen.labels[self.row]

    @property
    def also(self) -> tuple[str, ...]:
        """What else a person may call it."""
        return self.screen.also[self.row] if self.screen.also else ()

    @property
    def id(self) -> str:
        """The platform's id, without the package."""
        return self.screen.ids[self.row]

    @property
    def box(self) -> Box:
        """Where it is, dp, as the tree gives it."""
        return self.screen.rects[self.row]

    @property
    def parent(self) -> Element | None:
        """What it stands in; None for a root."""
        row = self.screen.holders[self.row]
        return Element(self.screen, row) if row >= 0 else None

    @property
    def children(self) -> list[Element]:
        """What stands directly in it, in tree order."""
        return [Element(self.screen, row) for row in self.screen.children[self.row]]

    def has(self, flag: Flag) -> bool:
        """Does the tree say that of it?"""
        return bool(self.screen.bits[self.row] & flag._value_)

    def ancestors(self) -> Iterator[Element]:
        """Parent first, root last."""
        holders = self.screen.holders
        row = holders[self.row]
        while row >= 0:
            yield Element(self.screen, row)
            row = holders[row]

    def descendants(self) -> Iterator[Element]:
        """In tree order, without the element itself."""
        return (Element(self.screen, row) for row in range(self.row + 1, self.screen.ends[self.row]))

    @property
    def called(self) -> str:
        """What it is called wherever people read of it: the script's word for its kind, and its name."""
        word = role_word(self.role)
        return f"{word} “{self.name}”" if self.name else word

    def within(self, other: Element) -> bool:
        """Is it `other` or inside `other`?"""
        return self.screen is other.screen and other.row <= self.row < self.screen.ends[other.row]


@dataclass(frozen=True)
class Moment:
    """One device screen at one instant: its picture as the device sent it (PNG) and its tree, taken together.

    `screen` is None where the device gave no tree, `png` empty where it gave no sound picture; `trouble` then says why. `at` is seconds
    since the epoch. `tree` is the raw dump. `lag` is for how many seconds the tree had been there already when the moment was whole.
    """

    at: float
    png: bytes
    screen: Screen | None
    trouble: str = ""
    tree: bytes = b""
    lag: float = 0.0
    kept: dict[Any, Any] = field(default_factory=dict, init=False, repr=False, compare=False)  # what was found out about its picture

    def __getstate__(self) -> dict[str, Any]:
        return {each.name: getattr(self, each.name) for each in fields(self)} | {"kept": {}}


def of_screen(ask: Callable[[Screen], T]) -> Callable[[Screen], T]:
    """Ask once for each screen; the answer lives as long as the screen. It must not hold the screen, or it would never go."""

    @wraps(ask)
    def asked(screen: Screen) -> T:
        found: T | None = screen.kept.get(ask)
        if found is None:
            found = screen.kept[ask] = ask(screen)
        return found

    return asked


def of_element(ask: Callable[[Element], T]) -> Callable[[Element], T]:
    """Ask once for each element; the answer lives as long as its screen. It must not hold the screen or an element of it."""

    @wraps(ask)
    def asked(element: Element) -> T:
        answers: dict[int, T] | None = element.screen.kept.get(ask)
        if answers is None:
            answers = element.screen.kept.setdefault(ask, {})
        if element.row not in answers:
            answers[element.row] = ask(element)
        return answers[element.row]

    return asked
