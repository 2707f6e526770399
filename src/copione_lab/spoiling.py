"""Faults that any page of any stand-in app can have: a fault's TOML names the page and the element, and this spoils what the app says.

What an app does wrong of its own accord (`kind` of the older faults) is in the app; what is laid out, worded or painted wrongly is here.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Protocol, cast

from .app import App, Surroundings
from .toolkit.node import Node, column, row, text
from .toolkit.paint import LEAF

SLOW_S, LATE_S = 3.0, 1.2  # what a slow page takes, and one that is only late
MESSAGE_S = 3.0  # how long a message stays over something
TAKES_TOUCHES = True  # does the message take the touches, or what is under it?
TINY = 14.0  # dp
PALE = 0.22  # of the way from the ground to the ink is left
GROUND = "#F6F3EC"
ANOTHER = "#B03A2E"


class Named(Protocol):
    """What is known of a fault here."""

    @property
    def kind(self) -> str: ...

    @property
    def page(self) -> str: ...

    @property
    def at(self) -> str: ...


@dataclass(frozen=True)
class Found:
    """A node with what it stands in, outermost first."""

    node: Node
    around: tuple[Node, ...]

    @property
    def holder(self) -> Node:
        return self.around[-1]

    @property
    def place(self) -> int:
        return next(i for i, child in enumerate(self.holder.children) if child is self.node)

    @property
    def ground(self) -> str:
        """The colour behind it."""
        fills = [each.fill for each in (*self.around, self.node) if each.fill]
        return fills[-1] if fills else GROUND


def _find(root: Node, id: str, around: tuple[Node, ...] = ()) -> Found | None:
    if root.id == id and around:
        return Found(root, around)
    for child in root.children:
        found = _find(child, id, (*around, root))
        if found is not None:
            return found
    return None


def _button(id: str, words: str, tap: Callable[[], object]) -> Node:
    look: dict[str, Any] = {"border": LEAF, "ink": LEAF, "radius": 24, "align": "centre", "pad": (20, 12)}
    return Node("button", id=id, text=words, on_tap=tap, **look)


def _gone(found: Found) -> None:
    """It is not there; nor is the row that held nothing but its caption."""
    beside = [child for child in found.holder.children if child is not found.node]
    lone = found.holder.kind == "row" and len(beside) == 1 and beside[0].kind == "text" and not beside[0].id and len(found.around) > 1
    if lone:
        found.around[-2].children.remove(found.holder)
    else:
        found.holder.children.remove(found.node)


def _added(found: Found) -> None:
    """A button behind it that is nowhere else."""
    extra = Node(
        "button", id="offer", text="Try the queen finder", border="#2F6B3A", ink="#2F6B3A", radius=24, align="centre", pad=(20, 12)
    )
    extra.on_tap = lambda: None
    holder = found.holder if found.holder.kind in {"column", "scroll", "list"} else found.around[-2]
    child = found.node if holder is found.holder else found.holder
    holder.children.insert(next(i for i, each in enumerate(holder.children) if each is child) + 1, extra)


def _clipped(found: Found) -> None:
    words = found.node.text
    found.node.text = words[: max(3, len(words) * 3 // 5)].rstrip() + "…"


def _tiny(found: Found) -> None:
    found.node.height, found.node.pad = TINY, (found.node.pad[0], 0)


def _squeezed(found: Found) -> None:
    """Its words have half the height that they take."""
    found.node.height, found.node.pad = found.node.size * 0.55, (found.node.pad[0], 0)


def _over(found: Found) -> None:
    """It lies over what stands beside it."""
    holder, place = found.holder, found.place
    other = holder.children[place + 1] if place + 1 < len(holder.children) else holder.children[place - 1]
    if other is found.node:
        return
    both = Node("stack", children=[other, found.node], height=56, grow=found.node.grow or other.grow)
    holder.children[place] = both
    holder.children.remove(other)


def _off(found: Found) -> None:
    """It lies beyond the edge of the screen."""
    found.holder.children[found.place] = Node("shifted", children=[found.node], height=52)


def _figures(found: Found) -> None:
    """Numbers as another country writes them."""
    found.node.text = found.node.text.translate(str.maketrans(".,", ",."))


def _another_picture(found: Found) -> None:
    found.node.ink = ANOTHER


def _pale(found: Found) -> None:
    found.node.ink = _mixed(found.ground, found.node.ink)


def _mixed(ground: str, ink: str) -> str:
    parts = [(int(ground[i : i + 2], 16), int(ink[i : i + 2], 16)) for i in (1, 3, 5)]
    return "#" + "".join(f"{round(g + PALE * (n - g)):02X}" for g, n in parts)


def _reworded(found: Found) -> None:
    found.node.text = "Elsewhere"


def _flipped(found: Found) -> None:
    found.node.checked = not found.node.checked


def _in_capitals(found: Found) -> None:
    found.node.text = found.node.text.upper()


def _misspelt(found: Found) -> None:
    """Two letters of it have changed places."""
    words = found.node.text
    found.node.text = f"{words[:1]}{words[2:3]}{words[1:2]}{words[3:]}"


def _doubled(found: Found) -> None:
    found.node.text = f"{found.node.text} {found.node.text}"


def _emptied(found: Found) -> None:
    found.node.text = ""


def _disabled(found: Found) -> None:
    found.node.enabled = False


def _counted_on(found: Found) -> None:
    """One more than there is."""
    found.node.text = str(int(found.node.text) + 1)


def _cut_off(found: Found) -> None:
    """The end of it is not there, and no sign says so."""
    found.node.text = found.node.text[: max(2, len(found.node.text) * 3 // 5)]


def _turned_round(found: Found) -> None:
    """What stands beside one another stands the other way round."""
    found.holder.children.reverse()


def _another_ground(found: Found) -> None:
    found.holder.fill = ANOTHER


def _swapped(rows: list[Node]) -> None:
    """Of each two, one says what the other one should."""
    for one, other in zip(rows[::2], rows[1::2], strict=False):
        one.text, other.text = other.text, one.text


def _shifted(rows: list[Node]) -> None:
    """Each says what the one before it should."""
    said = [each.text for each in rows]
    for each, words in zip(rows, said[-1:] + said[:-1], strict=True):
        each.text = words


def _under_a_message(found: Found) -> None:
    """Words lie over it that take what is touched there."""
    words = Node("text", id="notice", text="Synchronised", fill="#3A3A34", ink="#FFFFFF", align="centre")
    words.on_tap = (lambda: None) if TAKES_TOUCHES else None
    found.holder.children[found.place] = Node("stack", children=[found.node, words], height=56, grow=found.node.grow)


#: What goes wrong with all that have an id, one a row.
OF_ROWS: dict[str, Callable[[list[Node]], None]] = {"rows-swapped": _swapped, "rows-shifted": _shifted}
SPOILS: dict[str, Callable[[Found], None]] = {
    "gone": _gone,
    "added": _added,
    "clipped": _clipped,
    "tiny": _tiny,
    "squeezed": _squeezed,
    "over": _over,
    "off": _off,
    "figures": _figures,
    "another-picture": _another_picture,
    "pale": _pale,
    "reworded": _reworded,
    "flipped": _flipped,
    "capitals": _in_capitals,
    "misspelt": _misspelt,
    "doubled": _doubled,
    "emptied": _emptied,
    "disabled": _disabled,
    "counted-on": _counted_on,
    "cut-off": _cut_off,
    "other-choice": _reworded,
    "turned-round": _turned_round,
    "another-ground": _another_ground,
}
#: What happens when a page is come to; `at` is not asked for.
EVENTS = frozenset({"slow-page", "late-page", "dialog-page", "crash-page"})
#: A message lies over it for a while when its page is come to.
MESSAGE = "message-over"
#: Words that stay in the language they were written in.
UNTRANSLATED = "english"
KINDS = frozenset({*SPOILS, *OF_ROWS, *EVENTS, UNTRANSLATED, MESSAGE})


class Spoilt:
    """An app with faults: whatever is asked of it is asked of the app, but for its page."""

    def __init__(self, app: Any, faults: Sequence[Named], phone: Any) -> None:
        self._app, self._faults, self._phone = app, faults, phone
        self._dialog = False
        self._until = 0.0  # a message lies over something so long
        if hasattr(app, "go"):
            self._go, app.go = app.go, self._come

    def __getattr__(self, name: str) -> Any:
        return getattr(self._app, name)

    def _come(self, place: str) -> None:
        self._go(place)
        self._dialog = False
        for fault in self._faults:
            if fault.page != place:
                continue
            if fault.kind in ("slow-page", "late-page"):
                self._phone.busy(SLOW_S if fault.kind == "slow-page" else LATE_S)
            elif fault.kind == MESSAGE:
                self._until = self._phone.now() + MESSAGE_S
            elif fault.kind == "dialog-page":
                self._dialog = True
            elif fault.kind == "crash-page":
                self._phone.crash(f"java.lang.IllegalStateException: page {place}")

    def next_change(self) -> float | None:
        own = self._app.next_change()
        mine = self._until if self._phone.now() < self._until else None
        return min((at for at in (own, mine) if at is not None), default=None)

    def back(self) -> bool:
        if self._dialog:
            self._dialog = False
            return True
        return bool(self._app.back())

    def page(self, around: Surroundings) -> Node:
        page: Node = self._app.page(around)
        if self._dialog:
            return self._over(page)
        for fault in self._faults:
            if fault.page != self._app.place or fault.kind in EVENTS:
                continue
            if fault.kind in OF_ROWS:
                rows = [node for node in page.walk() if node.id == fault.at]
                if len(rows) > 1:
                    OF_ROWS[fault.kind](rows)
                continue
            found = _find(page, fault.at)
            if found is None:
                continue
            if fault.kind == MESSAGE:
                if self._phone.now() < self._until:
                    _under_a_message(found)
            elif fault.kind == UNTRANSLATED:
                self._stays(found, around)
            else:
                SPOILS[fault.kind](found)
        return page

    def _stays(self, found: Found, around: Surroundings) -> None:
        """Its words as the app says them in English."""
        plain = _find(self._app.page(replace(around, locale="en-GB")), found.node.id)
        if plain is not None:
            found.node.text = plain.node.text
        self._app.page(around)  # leaves its surroundings as they are

    def _over(self, page: Node) -> Node:
        """A dialog over the page, of which its head is left."""

        def close() -> None:
            self._dialog = False

        later = Node(
            "button", id="later", text="Not now", border="#2F6B3A", ink="#2F6B3A", radius=24, align="centre", pad=(20, 12), on_tap=close
        )
        words = text("Share your harvest", weight="Medium", size=18)
        plate = column(words, later, fill="#FFFFFF", border="#C9D2C2", radius=14, pad=(16, 16), gap=14)
        middle = row(Node("space", width=20), column(plate, grow=1), Node("space", width=20), kind="dialog")
        head = page.children[:1] if len(page.children) > 1 else []  # a wide page is one row
        return column(*head, column(Node("space", height=56), middle, grow=1), fill=page.fill)


def spoiled(app: App, faults: Sequence[Named], phone: Any) -> App:
    """The app with those faults; itself where there are none."""
    return cast("App", Spoilt(app, faults, phone)) if faults else app
