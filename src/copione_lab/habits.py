"""What other ways to build an app leave of its element tree: the same page, told otherwise. A model's TOML chooses the way.

`views` is the platform's own. `flat` leaves one level of unnamed groups with text only, `merged` rows that say all of it in one sentence,
`page` a page within a web view, its ids made anew at every start, `drawn` nothing but a root.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import replace

from .toolkit.node import Node

TOOLKITS = ("views", "flat", "merged", "page", "drawn")
#: What the platform has to know whatever an app is built with: a keyboard, a slider's actions, a picker's.
_KNOWN = frozenset({"field", "slider", "wheel"})
_HOLDERS = frozenset({"column", "row", "flow", "bar", "stack", "shifted", "dialog", "tabs"})
_PAGED = {"list": "page_list", "scroll": "group_scroll", "image": "page_image", "handle": "page_image", "switch": "check", "text": "group"}


def told(root: Node, toolkit: str, start: int) -> Node:
    """The placed tree of a page as that way of building leaves it. `start` tells one start of the app from another."""
    change: Callable[[Node, int], Node] | None = {"flat": _flat, "merged": _merged, "page": _page, "drawn": _drawn}.get(toolkit)
    return change(root, start) if change is not None else root


def _acts(node: Node) -> bool:
    scrolls = node.kind in {"list", "scroll"} and node.reach > 0.5
    return bool(node.on_tap or node.on_double or node.on_hold or node.on_value) or node.checked is not None or scrolls


def _inside(node: Node) -> Iterator[Node]:
    return (each for each in node.walk() if each is not node and not each.untold)


def _says(node: Node) -> str:
    return node.desc or node.text


def _flat(root: Node, _start: int) -> Node:
    kept = []
    for node in _inside(root):
        if node.seen.empty or not (_says(node) or _acts(node) or node.kind in _KNOWN or node.kind == "image"):
            continue
        said, drawn = _says(node), node.kind in {"canvas", "image"}  # of what is drawn a label tells, and no text
        kind = node.kind if node.kind in _KNOWN else _group(node)
        kept.append(replace(node, kind=kind, id="", children=[], text="" if drawn else said, desc=said if drawn else ""))
    return replace(root, kind="group", children=kept)


def _group(node: Node) -> str:
    """What a view without a class is, by what it does."""
    if node.kind in {"list", "scroll"}:
        return "group_scroll"
    return "group_check" if node.checked is not None else "group_button" if node.on_tap and not node.children else "group"


def _merged(root: Node, start: int) -> Node:
    if root.on_tap and root.kind in _HOLDERS and root.children:
        own = [each for each in _inside(root) if not _acts(each) and _says(each) and not each.seen.empty]
        left = [_merged(each, start) for each in _inside(root) if _acts(each)]
        return replace(root, kind="group", id="", desc=", ".join(map(_says, own)), children=left)
    kind = root.kind
    if kind in {"text", "heading", "image", "combo", "date", "tab", "choice"}:
        return replace(root, kind=_group(root), id="", text="", desc=_says(root), children=[])
    inside = [_merged(each, start) for each in root.children if not each.seen.empty]
    return replace(root, kind="group" if kind in _HOLDERS or kind in {"menu", "canvas"} else kind, id="", children=inside)


def _page(root: Node, start: int) -> Node:
    number = random.Random(start).randrange(100)

    def paged(node: Node) -> Node:
        nonlocal number
        number += 1
        kind = "group" if node.kind in _HOLDERS else _PAGED.get(node.kind, node.kind)
        id = f"r{number}" if _acts(node) else ""
        return replace(node, kind=kind, id=id, children=[paged(each) for each in node.children if not each.seen.empty])

    return replace(root, children=[replace(root, kind="web_view", children=[paged(each) for each in root.children])])


def _drawn(root: Node, _start: int) -> Node:
    return replace(root, children=[])
