"""The element tree as the first platform's `uiautomator dump` prints it."""

from __future__ import annotations

from lxml import etree

from .model import Model
from .toolkit.node import Box, Node

CLASSES = {
    "column": "android.widget.LinearLayout",
    "row": "android.widget.LinearLayout",
    "flow": "android.widget.LinearLayout",
    "bar": "android.view.ViewGroup",
    "stack": "android.widget.FrameLayout",
    "shifted": "android.widget.FrameLayout",
    "text": "android.widget.TextView",
    "heading": "android.widget.TextView",
    "button": "android.widget.Button",
    "radio": "android.widget.RadioButton",
    "radiogroup": "android.widget.RadioGroup",
    "switch": "android.widget.Switch",
    "slider": "android.widget.SeekBar",
    "field": "android.widget.EditText",
    "canvas": "android.view.View",
    "image": "android.widget.ImageView",
    "tabs": "android.widget.TabWidget",
    "tab": "androidx.appcompat.app.ActionBar$Tab",
    "combo": "android.widget.Spinner",
    "date": "android.widget.Spinner",
    "choice": "android.widget.CheckedTextView",
    "menu": "android.widget.ListView",
    "wheel": "android.widget.NumberPicker",
    "handle": "android.widget.ImageView",
    "lens": "android.widget.ImageButton",
    "progress": "android.widget.ProgressBar",
    "dialog": "android.widget.FrameLayout",
    "list": "androidx.recyclerview.widget.RecyclerView",
    "scroll": "android.widget.ScrollView",
    **dict.fromkeys(("group", "group_scroll", "group_check", "group_button"), "android.view.View"),
    "web_view": "android.webkit.WebView",
    "page_list": "android.widget.ListView",
    "page_image": "android.widget.Image",
    "check": "android.widget.CheckBox",
}

ROWS = 3  # that a wheel shows
SCROLLS = frozenset({"list", "scroll", "group_scroll", "page_list"})


def dump(root: Node, package: str, model: Model, focused: str | None, rotation: int = 0) -> bytes:
    """The whole document, UTF-8. Nodes outside the screen or their container are left out, as on a phone."""
    top = etree.Element("hierarchy", rotation=str(rotation))
    _add(top, root, 0, package, model, focused)
    return bytes(etree.tostring(top, xml_declaration=True, encoding="UTF-8", standalone=True))


def _flag(value: bool) -> str:
    return "true" if value else "false"


def _add(parent: etree._Element, node: Node, index: int, package: str, model: Model, focused: str | None) -> None:
    seen = node.seen
    if seen.empty or node.kind == "space" or node.untold:
        return
    k = model.density
    words = node.text
    if node.kind == "slider" and int(model.release.split(".")[0]) >= 10:
        words = f"{float(node.value)}"
    checkable = node.checked is not None
    element = etree.SubElement(
        parent,
        "node",
        {
            "index": str(index),
            "text": words,
            "resource-id": f"{package}:id/{node.id}" if node.id else "",
            "class": model.classes.get(node.kind, CLASSES[node.kind]),
            "package": package,
            "content-desc": node.desc,
            "checkable": _flag(checkable),
            "checked": _flag(bool(node.checked)),
            "clickable": _flag(bool(node.on_tap or node.on_double)),
            "enabled": _flag(node.enabled),
            "focusable": _flag(node.kind in {"field", "slider", "switch", "button", "radio", "combo", "tab"} or bool(node.on_tap)),
            "focused": _flag(bool(node.key) and node.key == focused),
            "scrollable": _flag(node.kind in SCROLLS and node.reach > 0.5),
            "long-clickable": _flag(bool(node.on_hold)),
            "password": _flag(node.password),
            "selected": _flag(node.selected),
            "bounds": f"[{round(seen.left * k)},{round(seen.top * k)}][{round(seen.right * k)},{round(seen.bottom * k)}]",
        },
    )
    inside = node.children
    if node.kind in {"combo", "date"}:  # its value is a line of text inside
        element.set("text", "")
        inside = [Node("text", text=node.text, box=node.box, clip=node.clip)]
    if node.kind == "wheel" and "wheel" not in model.classes:  # the platform's own tells its middle row, one that an app draws does not
        tall = node.box.height / ROWS
        middle = Box(node.box.left, node.box.top + tall, node.box.right, node.box.bottom - tall)
        inside = [Node("text", id="", text=node.options[int(node.value)], box=middle, clip=node.clip)]
    for position, child in enumerate(inside):
        _add(element, child, position, package, model, focused)
