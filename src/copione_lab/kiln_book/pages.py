"""Kiln Book's pages as trees of nodes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ..toolkit.node import Node, column, row, text
from .book import AIRS, COOLEST, GLAZES, HOTTEST, STEP, TABS, Book, Firing

CLAY, CLAY_PALE, PAPER, SHEET, INK, QUIET = "#8A4B2F", "#D9C7BA", "#F7F3EE", "#FFFFFF", "#2B2320", "#6E625B"
WIDE = 600.0  # dp from which the parts of the book stand at the left
TITLES = {"firings": "Kiln Book", "new": "New firing", "shelf": "Shelf", "kiln": "Kiln"}


def whole(book: Book, passing: str) -> Node:
    """The page that is open between its head and the parts of the book; `passing`: a message over its foot."""
    said = [column(row(text(passing, id="said", ink=SHEET, grow=1), fill=INK, radius=6, pad=(16, 14)), pad=(12, 10))] if passing else []
    inner = [over(book)] if book.open else _PAGES[book.place](book)
    title = book.firing.load if book.place == "firing" and book.firing else TITLES[book.place]
    if book.around.width >= WIDE:
        parts = column(*_tabs(book, wide=True), width=148, pad=(10, 14), gap=6, fill="#EFE7DF", height=book.around.height)
        page = column(_head(book, title), *inner, *said, grow=1, height=book.around.height)
        return column(row(parts, page, grow=1), fill=PAPER)
    foot = row(*_tabs(book), kind="tabs", fill=SHEET, height=56)
    return column(_head(book, title), *inner, *said, *([] if book.around.keyboard_up else [foot]), fill=PAPER)


def _head(book: Book, title: str) -> Node:
    way = [] if book.place in TABS else [_sign("‹", "back", "Back", lambda: book.go("firings"), 24)]
    name = Node("heading", id="title", text=title, size=20, weight="Medium", ink=INK, grow=1)
    return row(*way, name, fill="#EFE7DF", pad=(16, 8 if way else 16), gap=8)


def _tabs(book: Book, *, wide: bool = False) -> list[Node]:
    more = {"pad": (12, 14)} if wide else {"align": "centre", "grow": 1}
    return [
        Node("tab", id=f"tab_{key}", text=words, selected=book.place == key, on_tap=partial(book.go, key), **more)
        for key, words in TABS.items()
    ]


def _sign(words: str, id: str, label: str, tap: Callable[[], object], size: float = 20) -> Node:
    return Node("button", id=id, text=words, desc=label, on_tap=tap, size=size, ink=CLAY, align="centre", width=48)


def _button(words: str, id: str, tap: Callable[[], object], *, quiet: bool = False) -> Node:
    fill, ink = (SHEET, CLAY) if quiet else (CLAY, SHEET)
    return Node(
        "button", id=id, text=words, on_tap=tap, fill=fill, border=CLAY, ink=ink, radius=8, align="centre", weight="Medium", pad=(18, 12)
    )


def _field(book: Book, id: str, caption: str, words: str, typed: Callable[[str], None], height: float | None = None) -> Node:
    field = Node("field", id=id, key=id, text=words, on_tap=lambda: book.system.focus(id), on_text=typed, pad=(12, 10), height=height)
    return column(text(caption, size=13, ink=QUIET), field, gap=4)


def _pot(glaze: str) -> Node:
    inks = dict(zip(GLAZES, ("#B9A08D", "#8D8F7B", "#7FA08C", "#D8CDBB", "#3B2A22"), strict=True))
    return Node("image", id="pot", width=40, height=40, radius=8, ink=inks[glaze])


def _row(book: Book, firing: Firing) -> Node:
    facts = text(f"{firing.glaze}, {firing.peak} °C", id="firing_facts", size=13, ink=QUIET)
    words = column(text(firing.load, id="firing_load", weight="Medium", size=16), facts, gap=2, grow=1)
    again = _sign("+", "fire_again", "Fire again", lambda: book.plan(firing))
    parts, tap = (_pot(firing.glaze), words, again), partial(book.show, firing)
    return row(*parts, id="firing", on_tap=tap, fill=SHEET, border=CLAY_PALE, radius=10, pad=(12, 10), gap=12)


def firings(book: Book) -> list[Node]:
    top = column(
        row(_button("New firing", "new_firing", book.begin)), _field(book, "search", "Search", book.search, book.seek), pad=(16, 12), gap=10
    )
    rows = [_row(book, firing) for firing in book.found()]
    return [top, Node("list", id="firings", key="firings", children=rows, gap=8, pad=(12, 8), grow=1)]


def form(book: Book) -> list[Node]:
    draft = book.draft
    chips = [
        Node("radio", id=f"air_{air.lower()}", text=air, checked=draft.air == air, on_tap=partial(book.set, "air", air), pad=(14, 9))
        for air in AIRS
    ]
    children = [
        _field(book, "load", "Load", draft.load, lambda said: book.set("load", said)),
        column(
            text("Glaze", size=13, ink=QUIET),
            Node("combo", id="glaze", text=draft.glaze, on_tap=lambda: book.over("glaze"), pad=(12, 10)),
            gap=4,
        ),
        column(
            row(text("Peak", grow=1), text(f"{draft.peak} °C", id="peak_value", weight="Bold"), gap=8),
            Node(
                "slider",
                id="peak",
                value=draft.peak,
                least_value=COOLEST,
                top_value=HOTTEST,
                on_value=lambda v: book.set("peak", round(v / STEP) * STEP),
            ),
            gap=2,
        ),
        column(text("Atmosphere"), Node("radiogroup", id="air", children=chips, gap=8), gap=6),
        row(
            text("Witness cones set", grow=1),
            Node("switch", id="cones", checked=draft.cones, on_tap=lambda: book.set("cones", not draft.cones)),
            pad=(0, 4),
        ),
        _field(book, "note", "Notes", draft.note, lambda said: book.set("note", said), 80),
    ]
    foot = column(_button("Save firing", "save_firing", book.save), pad=(16, 8), fill="#EFE7DF")
    return [Node("scroll", key="form", grow=1, pad=(16, 14), gap=12, children=children), foot]


def firing(book: Book) -> list[Node]:
    kept = book.firing or Firing()
    facts = {
        "Glaze": kept.glaze,
        "Peak": f"{kept.peak} °C",
        "Atmosphere": kept.air,
        "Witness cones": "Set" if kept.cones else "Not set",
        "Notes": kept.note or "None",
    }
    lines = [
        row(
            text(name, grow=1),
            text(value, id=f"fact_{name.split()[0].lower()}", weight="Medium"),
            pad=(14, 12),
            fill=SHEET,
            border=CLAY_PALE,
            radius=8,
            gap=8,
        )
        for name, value in facts.items()
    ]
    lines.append(_button("Delete", "delete", lambda: book.over("delete"), quiet=True))
    return [Node("scroll", key="firing", grow=1, pad=(16, 16), gap=8, children=lines)]


def shelf(book: Book) -> list[Node]:
    """The same button under every glaze."""
    parts: list[Node] = []
    for glaze in GLAZES[1:]:
        count = sum(f.glaze == glaze for f in book.firings)
        words = column(text(f"{count} firings", size=13, ink=QUIET), grow=1)
        parts.append(Node("heading", text=glaze, size=17, weight="Bold", ink=INK, pad=(0, 6)))
        parts.append(row(words, _button("Mix", "mix", partial(book.mix, glaze), quiet=True), gap=8))
    return [Node("scroll", key="shelf", grow=1, pad=(16, 14), gap=8, children=parts)]


def kiln(book: Book) -> list[Node]:
    state = row(text("Kiln on", grow=1), Node("switch", id="kiln_on", checked=book.kiln_on, on_tap=book.turn_kiln))
    count = row(text("Firings so far", grow=1), text(str(len(book.firings)), id="count", weight="Medium"), gap=8)
    return [column(state, count, pad=(20, 20), gap=16, grow=1)]


_PAGES: dict[str, Callable[[Book], list[Node]]] = {"firings": firings, "new": form, "firing": firing, "shelf": shelf, "kiln": kiln}


def over(book: Book) -> Node:
    """What stands over the page; the page is not there meanwhile."""
    if book.open == "glaze":
        options = [
            Node(
                "choice",
                text=each,
                checked=book.draft.glaze == each,
                on_tap=partial(book.set, "glaze", each),
                pad=(14, 12),
                height=48,
            )
            for each in GLAZES
        ]
        inner: list[Node] = [Node("menu", key="glazes", children=options)]
    elif book.open == "delete" and book.firing is not None:
        answers = row(
            _button("Keep it", "keep", lambda: book.over(""), quiet=True),
            Node("space", grow=1),
            _button("Delete it", "delete_it", book.delete),
        )
        inner = [text(f"Delete {book.firing.load}?", weight="Medium", size=18), answers]
    else:
        inner = [text("A firing needs a load.", weight="Medium", size=18), _button("Close", "close", lambda: book.over(""))]
    plate = column(*inner, fill=SHEET, border=CLAY_PALE, radius=12, pad=(16, 16), gap=14)
    middle = row(Node("space", width=20), column(plate, grow=1), Node("space", width=20), kind="dialog")
    return column(Node("space", height=48), middle, grow=1)
