"""The declared tree: what an app page is made of.

Pages are functions that return a fresh tree of nodes. What must survive a rebuild (scroll offsets, focus) is kept by
the phone under the node's `key`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import NamedTuple


class Box(NamedTuple):
    """Left, top, right, bottom in dp of the screen."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        return self.right - self.left

    @property
    def height(self) -> float:
        return self.bottom - self.top

    def contains(self, x: float, y: float) -> bool:
        return self.left <= x < self.right and self.top <= y < self.bottom

    def mirrored(self, about: Box) -> Box:
        """Seen in a mirror that stands in the middle of `about`."""
        turn = about.left + about.right
        return Box(turn - self.right, self.top, turn - self.left, self.bottom)

    def clipped(self, other: Box) -> Box:
        return Box(max(self.left, other.left), max(self.top, other.top), min(self.right, other.right), min(self.bottom, other.bottom))

    @property
    def empty(self) -> bool:
        return self.right <= self.left or self.bottom <= self.top


EMPTY = Box(0, 0, 0, 0)


@dataclass(slots=True)
class Node:
    """One widget.

    `kind` chooses its class name on the platform, its measure and its paint. Sizes are in dp, `size` of text in sp.
    `grow` shares the room that is left along the parent's direction.
    """

    kind: str
    id: str = ""
    text: str = ""
    desc: str = ""
    children: list[Node] = field(default_factory=list)
    key: str = ""
    # look
    pad: tuple[float, float] = (0, 0)  # horizontal, vertical
    gap: float = 0
    width: float | None = None
    height: float | None = None
    grow: float = 0
    fill: str | None = None
    ink: str = "#22301F"
    border: str | None = None
    radius: float = 0
    size: float = 15
    weight: str = "Regular"
    align: str = "left"
    # state
    enabled: bool = True
    checked: bool | None = None
    selected: bool = False
    password: bool = False
    untold: bool = False  # painted, and not in the tree
    value: float = 0
    least_value: float = 0
    top_value: float = 10
    options: tuple[str, ...] = ()  # of a wheel; `value` is the one in the middle
    # behaviour
    on_tap: Callable[[], object] | None = None
    on_hold: Callable[[], None] | None = None
    on_value: Callable[[float], None] | None = None
    on_touch: Callable[[str, int, float, float], None] | None = None  # every finger's action, x and y as shares of the box
    drawn: list[tuple[list[tuple[float, float]], bool]] = field(default_factory=list)  # strokes, or dots, as shares of the box
    on_away: Callable[[], object] | None = None  # swiped sideways, far enough
    on_double: Callable[[], object] | None = None
    on_pull: Callable[[], object] | None = None  # a list at its beginning, pulled down and let go
    on_drop: Callable[[float], object] | None = None  # carried by its handle, or after a long press: how far down, dp
    on_text: Callable[[str], None] | None = None
    # set by layout
    box: Box = EMPTY
    clip: Box = EMPTY
    lines: list[str] = field(default_factory=list)
    reach: float = 0  # how far a scroll can go, dp
    offset: float = 0  # how far it has gone
    mirrored: bool = False  # laid out from right to left

    def walk(self) -> Iterator[Node]:
        yield self
        for child in self.children:
            yield from child.walk()

    @property
    def share(self) -> float:
        """How far a slider's value is between its ends, 0..1."""
        return (self.value - self.least_value) / (self.top_value - self.least_value)

    @property
    def seen(self) -> Box:
        return self.box.clipped(self.clip)


def column(*children: Node, **more: object) -> Node:
    return Node("column", children=list(children), **more)  # type: ignore[arg-type]


def row(*children: Node, kind: str = "row", **more: object) -> Node:
    return Node(kind, children=list(children), **more)  # type: ignore[arg-type]


def text(words: str, **more: object) -> Node:
    return Node("text", text=words, **more)  # type: ignore[arg-type]


def spacer(height: float) -> Node:
    return Node("space", height=height)
