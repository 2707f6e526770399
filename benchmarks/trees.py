"""A made-up page as the element trees of four ways to build an app, each with its own habits of what it tells."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from xml.sax.saxutils import quoteattr

from .apps import ACTING, Page, Part

WIDE = 600  # dp from which a page has two columns, and its rows one line
DPI = 320
Box = tuple[float, float, float, float]


@dataclass
class Node:
    """An element of a dump; `uid` of the part that it is, 0 for what only holds others."""

    uid: int
    cls: str
    box: Box
    text: str = ""
    desc: str = ""
    id: str = ""
    clickable: bool = False
    checkable: bool = False
    scrollable: bool = False
    children: list[Node] = field(default_factory=list)


def boxes(page: Page) -> dict[int, Box]:
    """Where each part is, dp: one column or two, rows of one line where there is room."""
    found: dict[int, Box] = {}
    wide = page.width >= WIDE
    columns = [(16.0, page.width / 2 - 8.0), (page.width / 2 + 8.0, page.width - 16.0)] if wide else [(16.0, page.width - 16.0)]
    tops = [72.0] * len(columns)
    for part in page.flat():
        at = tops.index(min(tops)) if part.kind != "list" else 0
        left, right = columns[at] if part.kind != "list" else (0.0, float(page.width))
        top = tops[at] if part.kind != "list" else max(tops)
        bottom = _place(part, left, top, right, wide, found)
        tops[at] = bottom + 8
    return found


def _place(part: Part, left: float, top: float, right: float, wide: bool, found: dict[int, Box]) -> float:
    tall = {"heading": 28.0, "text": 20.0, "row": 56.0 if wide else 76.0}.get(part.kind, 48.0)
    if part.kind == "list":
        y = top
        for row in part.children:
            y = _place(row, left, y, right, wide, found)
        found[part.uid] = (left, top, right, max(y, top + 48))
        return found[part.uid][3]
    if part.kind in {"field", "slider"}:
        found[-part.uid] = (left, top, right, top + 18)  # the caption
        found[part.uid] = (left, top + 20, right, top + 64)
        return top + 64
    if part.kind == "switch":
        found[-part.uid] = (left, top + 12, right - 72, top + 36)
        found[part.uid] = (right - 56, top + 4, right, top + 44)
        return top + 48
    found[part.uid] = (left, top, right, top + tall)
    if part.kind == "pair":
        for child in part.children:
            found[child.uid] = (left, top + 14, right - 120, top + 34) if child.kind == "text" else (right - 104, top, right, top + 48)
    elif part.kind == "row":
        middle = (left + right) / 2
        spots = {
            "thumb": (left + 16, top + 8, left + 56, top + 48),
            "title": (left + 72, top + 8, middle if wide else right - 130, top + 28),
            "subtitle": (left + 72, top + 30, middle if wide else right - 130, top + 46),
            "meta": (middle + 8, top + 18, right - 130, top + 36) if wide else (left + 72, top + 50, right - 130, top + 66),
            "action": (right - 112, top + 4, right - 8, top + 52),
            "more": (right - 56, top + 4, right - 8, top + 52),
        }
        for child in part.children:
            found[child.uid] = spots[child.kind]
    return top + tall


def nested(page: Page, chance: random.Random) -> list[Node]:
    """Groups in groups, ids, a class for every control: as views of the platform's own toolkit."""
    where = boxes(page)
    classes = {"button": "Button", "icon": "ImageButton", "field": "EditText", "switch": "Switch", "slider": "SeekBar",
               "action": "Button", "more": "ImageButton", "thumb": "ImageView", "list": "RecyclerView", "row": "LinearLayout",
               "pair": "LinearLayout"}  # fmt: skip

    def node(part: Part) -> Node:
        made = Node(part.uid, classes.get(part.kind, "TextView"), where[part.uid], id=part.id, clickable=part.kind in ACTING - {"thumb"})
        made.checkable, made.scrollable = part.kind == "switch", part.kind == "list"
        if part.kind == "icon":
            made.desc = part.words
        elif part.kind not in {"field", "switch", "slider"}:
            made.text = part.words
        inner = [node(child) for child in part.children]
        said = [n for n, p in zip(inner, part.children, strict=True) if p.kind in {"title", "subtitle", "meta"}]
        if part.kind == "row":
            column = Node(0, "LinearLayout", _around(said), children=said) if said else None
            inner = [*[n for n in inner[:1] if n not in said], *([column] if column else []), *[n for n in inner[1:] if n not in said]]
        made.children = inner
        if part.kind in {"field", "slider", "switch"}:
            caption = Node(0, "TextView", where[-part.uid], part.words)
            return Node(0, "LinearLayout", _around([caption, made]), children=[caption, made])
        return made

    return [node(part) for part in page.flat()]


def flat(page: Page, chance: random.Random) -> list[Node]:
    """One level of unnamed groups with text only."""
    where = boxes(page)

    def nodes(part: Part) -> Iterator[Node]:
        if part.kind in {"field", "slider", "switch"}:
            yield Node(0, "View", where[-part.uid], part.words)
        cls = {"field": "EditText", "slider": "SeekBar"}.get(part.kind, "View")
        said = "" if part.kind in {"field", "slider", "switch"} else part.words
        if part.kind not in {"pair", "list"}:
            yield Node(part.uid, cls, where[part.uid], said, clickable=part.kind in ACTING - {"thumb"}, checkable=part.kind == "switch")
        for child in part.children:
            yield from nodes(child)

    return [node for part in page.flat() for node in nodes(part)]


def merged(page: Page, chance: random.Random) -> list[Node]:
    """Rows are one element whose label says all of it in a sentence; captions are labels."""
    where = boxes(page)

    def nodes(part: Part) -> Iterator[Node]:
        if part.kind == "list":
            yield Node(part.uid, "View", where[part.uid], scrollable=True, children=[n for row in part.children for n in nodes(row)])
        elif part.kind == "row":
            said = ", ".join(p.words for p in part.children if p.kind in {"title", "subtitle", "meta"})
            inner = [n for p in part.children if p.kind in {"action", "more"} for n in nodes(p)]
            yield Node(part.uid, "View", where[part.uid], desc=said, clickable=True, children=inner)
        elif part.kind == "pair":
            yield from (n for p in part.children for n in nodes(p))
        elif part.kind == "thumb":
            return
        else:
            cls = {"field": "EditText", "slider": "SeekBar", "button": "Button", "action": "Button", "more": "Button"}.get(
                part.kind, "View"
            )
            yield Node(part.uid, cls, where[part.uid], desc=part.words, clickable=part.kind in ACTING, checkable=part.kind == "switch")

    return [node for part in page.flat() for node in nodes(part)]


def paged(page: Page, chance: random.Random) -> list[Node]:
    """A page inside a web view, its ids made anew at every start."""
    where = boxes(page)
    count = iter(range(chance.randrange(40), 10_000))
    classes = {"button": "Button", "icon": "Button", "field": "EditText", "switch": "CheckBox", "slider": "SeekBar", "action": "Button",
               "more": "Button", "thumb": "Image", "list": "ListView"}  # fmt: skip

    def node(part: Part) -> list[Node]:
        acts = part.kind in ACTING - {"thumb"}
        made = Node(part.uid, classes.get(part.kind, "View"), where[part.uid], "" if part.kind in {"field", "slider"} else part.words)
        made.id, made.clickable, made.checkable = f"r{next(count)}" if acts else "", acts, part.kind == "switch"
        if part.kind in {"row", "pair"}:
            made.clickable = part.kind == "row"
        made.children = [n for child in part.children for n in node(child)]
        caption = [Node(0, "TextView", where[-part.uid], part.words)] if part.kind in {"field", "slider"} else []
        return [*caption, made]

    inner = [n for part in page.flat() for n in node(part)]
    return [
        Node(0, "WebView", (0, 56, page.width, page.height), children=[Node(0, "View", (0, 56, page.width, page.height), children=inner)])
    ]


KINDS: dict[str, Callable[[Page, random.Random], list[Node]]] = {"nested": nested, "flat": flat, "merged": merged, "in a web view": paged}


def _around(nodes: list[Node]) -> Box:
    lefts, tops, rights, bottoms = zip(*(n.box for n in nodes), strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)


def dump(page: Page, kind: str, chance: random.Random) -> tuple[bytes, dict[int, int]]:
    """The page as `uiautomator dump` prints it, and the row of each part by its uid."""
    whole = Node(0, "FrameLayout", (0, 0, page.width, page.height), children=KINDS[kind](page, chance))
    rows: dict[int, int] = {}
    lines = ['<?xml version="1.0" encoding="UTF-8"?><hierarchy rotation="0">']
    row = iter(range(1_000_000))

    def told(node: Node) -> None:
        at = next(row)
        if node.uid:
            rows[node.uid] = at
        lines.append(_open(node))
        for child in node.children:
            told(child)
        lines.append("</node>")

    told(whole)
    return ("".join(lines) + "</hierarchy>").encode(), rows


def _open(node: Node) -> str:
    package = {"RecyclerView": "androidx.recyclerview.widget.", "View": "android.view.", "WebView": "android.webkit."}.get(
        node.cls, "android.widget."
    )
    left, top, right, bottom = (round(v * DPI / 160) for v in node.box)
    tap = str(node.clickable).lower()
    resource = f"org.example.made_up:id/{node.id}" if node.id else ""
    return (
        f'<node index="0" text={quoteattr(node.text)} resource-id="{resource}" class="{package}{node.cls}" package="org.example.made_up" '
        f'content-desc={quoteattr(node.desc)} checkable="{str(node.checkable).lower()}" checked="false" clickable="{tap}" enabled="true" '
        f'focusable="{tap}" focused="false" scrollable="{str(node.scrollable).lower()}" '
        f'long-clickable="false" password="false" selected="false" '
        f'bounds="[{left},{top}][{right},{bottom}]">'
    )
