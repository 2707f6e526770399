"""What other ways to build an app leave of its element tree: the same page, told otherwise. A model's TOML chooses the way.

`views` is the platform's own. `flat` leaves one level of unnamed views with text only, `merged` rows that say all of it in one sentence,
`page` a page within a web view, its ids made anew at every start, `drawn` nothing but a root.
"""

from __future__ import annotations

import random
from collections.abc import Callable

from lxml import etree

TOOLKITS = ("views", "flat", "merged", "page", "drawn")
_VIEW = "android.view.View"
_CONTAINERS = ("LinearLayout", "FrameLayout", "ViewGroup")
_PAGED = {
    "RecyclerView": "android.widget.ListView",
    "ScrollView": _VIEW,
    "ImageView": "android.widget.Image",
    "Switch": "android.widget.CheckBox",
}


def told(root: etree._Element, toolkit: str, start: int) -> None:
    """Change the tree under `root` (the hierarchy) into what that way leaves of it. `start` tells one start of the app from another."""
    change: Callable[[etree._Element, int], None] | None = {"flat": _flat, "merged": _merged, "page": _page, "drawn": _drawn}.get(toolkit)
    if change is not None and len(root):
        change(root[0], start)


def _kind(node: etree._Element) -> str:
    return str(node.get("class", "")).rpartition(".")[2]


def _acts(node: etree._Element) -> bool:
    return any(node.get(name) == "true" for name in ("clickable", "checkable", "scrollable", "long-clickable"))


def _says(node: etree._Element) -> str:
    return str(node.get("text") or node.get("content-desc") or "")


def _plain(node: etree._Element) -> None:
    """Without id, and without a class where it is no control that the platform has to know."""
    node.set("resource-id", "")
    if _kind(node) not in {"EditText", "SeekBar", "Spinner", "CheckedTextView", "NumberPicker"}:
        node.set("class", _VIEW)


def _flat(top: etree._Element, _start: int) -> None:
    kept = []
    for node in list(top.iter("node"))[1:]:
        if _says(node) or _acts(node) or _kind(node) in {"EditText", "SeekBar", "ImageView", "Spinner"}:
            kept.append(node)
    for node in kept:
        parent = node.getparent()
        if parent is not None:
            parent.remove(node)
    for child in list(top):
        top.remove(child)
    for node in kept:
        for child in list(node):
            node.remove(child)
        _plain(node)
        node.set("text", _says(node))
        node.set("content-desc", "")
        top.append(node)


def _merged(top: etree._Element, _start: int) -> None:
    for node in list(top.iter("node"))[1:]:
        inside = [each for each in node.iter("node") if each is not node]
        rows = node.get("clickable") == "true" and _kind(node) in _CONTAINERS and inside
        if rows:
            node.set("content-desc", ", ".join(said for each in inside if not _acts(each) and (said := _says(each))))
            for each in inside:
                parent = each.getparent()
                if parent is not None and not _acts(each) and not any(_acts(other) for other in each.iter("node")):
                    parent.remove(each)
        elif _kind(node) in {"TextView", "ImageView"}:
            node.set("content-desc", _says(node))
            node.set("text", "")
        if _kind(node) not in {"RecyclerView", "ScrollView", "Button", "Switch", "RadioButton", "RadioGroup"}:
            _plain(node)
        node.set("resource-id", "")


def _page(top: etree._Element, start: int) -> None:
    chance = random.Random(start)
    number = chance.randrange(100)
    view = etree.SubElement(top, "node", {str(name): str(value) for name, value in top.items()})
    view.set("class", "android.webkit.WebView")
    view.set("scrollable", "false")
    for child in list(top)[:-1]:
        view.append(child)
    for node in view.iter("node"):
        if node is view:
            continue
        number += 1
        node.set("resource-id", f"r{number}" if _acts(node) else "")
        kind = _kind(node)
        node.set("class", _PAGED.get(kind, _VIEW if kind in {*_CONTAINERS, "TextView"} else str(node.get("class"))))


def _drawn(top: etree._Element, _start: int) -> None:
    for child in list(top):
        top.remove(child)
