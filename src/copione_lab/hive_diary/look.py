"""The app's own widgets: how Hive Diary composes the toolkit's nodes on each platform."""

from __future__ import annotations

from collections.abc import Callable

from ..app import System
from ..toolkit.node import Node, column, row, text
from ..toolkit.paint import AMBER, LEAF, LEAF_PALE, PAPER, WHITE

QUIET = "#6B7267"


def dialog(*children: Node, gap: float = 10) -> Node:
    """A plate over the page; the page behind is not there meanwhile."""
    plate = column(*children, fill=WHITE, border=LEAF_PALE, radius=14, pad=(16, 16), gap=gap)
    middle = row(Node("space", width=20), column(plate, grow=1), Node("space", width=20), kind="dialog")
    return column(Node("space", height=56), middle, grow=1)


def sign(words: str, id: str, label: str, tap: Callable[[], object]) -> Node:
    """A round button that says a sign."""
    return Node("button", id=id, text=words, desc=label, on_tap=tap, border=LEAF, radius=24, align="centre", width=48)


def bar(title: str, id: str, platform: str, back: Callable[[], object] | None = None, action: Node | None = None) -> Node:
    """The head of a page: dark, its title at the start; on the second platform pale, a way back, the title in the middle."""
    if platform == "android":
        name = Node("heading", id=id, text=title, size=19, weight="Medium", ink=WHITE, grow=1)
        return row(name, *([action] if action else []), fill=LEAF, pad=(16, 4 if action else 16), height=None)
    way = Node("space", width=48)
    if back is not None:
        way = Node("button", id="back", desc="Back", text="‹", on_tap=back, size=24, ink=LEAF, width=48)
    middle = Node("heading", id=id, text=title, size=17, weight="Medium", grow=1, align="centre")
    return row(way, middle, action or Node("space", width=48), kind="bar", fill="#E8EADD", pad=(6, 4))


def field(
    id: str, words: str, system: System, typed: Callable[[str], None], height: float | None = None, secret: bool = False, told: bool = False
) -> Node:
    """A field that takes the focus when it is tapped; a secret one shows dots, unless it is `told`."""
    return Node(
        "field",
        id=id,
        key=id,
        text="•" * len(words) if secret and not told else words,
        password=secret,
        on_tap=lambda: system.focus(id),
        on_text=typed,
        pad=(12, 10),
        height=height,
    )


def search_way(label: str, platform: str, tap: Callable[[], object]) -> Node:
    """The way to a search, at the end of a page's head."""
    return Node("lens", id="search", desc=label, on_tap=tap, ink=WHITE if platform == "android" else LEAF)


def button(words: str, id: str, tap: Callable[[], object], *, quiet: bool = False, height: float | None = None) -> Node:
    return Node(
        "button",
        id=id,
        text=words,
        on_tap=tap,
        fill=WHITE if quiet else LEAF,
        border=LEAF if quiet else None,
        ink=LEAF if quiet else WHITE,
        radius=24,
        align="centre",
        weight="Medium",
        pad=(20, 12),
        height=height,
    )


def old(page: Node) -> None:
    """The look of an old release: words on buttons in capitals, square corners, a blue bar."""
    for node in page.walk():
        node.radius = min(node.radius, 2)
        if (node.kind == "button" and node.fill == LEAF) or (node.border == LEAF and node.kind == "button"):
            node.text = node.text.upper()
        if node.fill == LEAF and node.kind == "row":
            node.fill = "#33546B"


DARK = {PAPER: "#1B201A", WHITE: "#2A3128", LEAF_PALE: "#3D463A", "#E5E4D6": "#161A15", "#E8EADD": "#232A21", "#2A2E28": "#454C42"}
DARK_INK = {LEAF: "#9CC69A", "#22301F": "#E6EADF", QUIET: "#A9B2A3", "#4B5547": "#B5BDAF"}


def dark(page: Node) -> None:
    """The same colours for the night: dark plates, pale words."""
    for node in page.walk():
        node.fill = DARK.get(node.fill or "", node.fill)
        if node.fill != LEAF:
            node.ink = DARK_INK.get(node.ink, node.ink)
            node.border = DARK_INK.get(node.border or "", node.border)


def caption(words: str) -> Node:
    return text(words, size=13, ink=QUIET)


def fact(words: str, value: str, id: str) -> Node:
    """A line of a hive's page: what it is, and its value at the end."""
    return row(text(words, grow=1), text(value, id=id, weight="Medium"), fill=WHITE, border=LEAF_PALE, radius=8, pad=(14, 12), gap=8)


def hive_row(
    name: str,
    seen: str,
    due: str,
    tap: Callable[[], object],
    hold: Callable[[], None] | None = None,
    away: Callable[[], object] | None = None,
) -> Node:
    words = column(text(name, id="hive_name", weight="Medium", size=16), text(seen, id="hive_seen", size=13, ink=QUIET), gap=2, grow=1)
    mark = [text(due, id="hive_due", size=13, ink="#9A6A00", weight="Medium")] if due else []
    return row(
        words,
        *mark,
        id="hive_row",
        on_tap=tap,
        on_hold=hold,
        on_away=away,
        fill=WHITE,
        border=LEAF_PALE,
        radius=10,
        pad=(14, 12),
        gap=8,
        height=None,
    )


def passing(words: str, undo_words: str = "", undo: Callable[[], object] | None = None) -> Node:
    """A message that passes, perhaps with a way back."""
    way = [Node("button", id="snackbar_undo", text=undo_words, ink="#E0C060", on_tap=undo, weight="Medium")] if undo else []
    return row(text(words, id="snackbar_text", ink=WHITE, grow=1), *way, id="snackbar", fill="#2A2E28", radius=6, pad=(16, 14))


__all__ = [
    "AMBER",
    "LEAF",
    "PAPER",
    "bar",
    "button",
    "caption",
    "dialog",
    "fact",
    "field",
    "hive_row",
    "old",
    "passing",
    "search_way",
    "sign",
]
