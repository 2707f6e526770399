"""The element tree as the second platform prints it: XML of typed elements with frames in points."""

from __future__ import annotations

from lxml import etree

from .model import Model
from .toolkit.node import Box, Node

TYPES = {
    "column": "Other",
    "row": "Other",
    "flow": "Other",
    "stack": "Other",
    "shifted": "Other",
    "bar": "NavigationBar",
    "text": "StaticText",
    "heading": "StaticText",
    "button": "Button",
    "radio": "RadioButton",
    "radiogroup": "RadioGroup",
    "switch": "Switch",
    "slider": "Slider",
    "field": "TextView",
    "canvas": "Other",
    "image": "Image",
    "tabs": "TabBar",
    "tab": "Tab",
    "combo": "Picker",
    "date": "DatePicker",
    "choice": "MenuItem",
    "menu": "Menu",
    "wheel": "PickerWheel",
    "handle": "Image",
    "lens": "Button",
    "progress": "ActivityIndicator",
    "dialog": "Alert",
    "list": "Table",
    "scroll": "ScrollView",
    "group": "Other",
    "group_scroll": "ScrollView",
    "group_check": "Switch",
    "group_button": "Button",
    "web_view": "WebView",
    "page_list": "ScrollView",
    "page_image": "Image",
    "check": "Switch",
}


def identifier(id: str) -> str:
    """The second platform's developers write saveInspection where the first one's write save_inspection."""
    first, *rest = id.split("_")
    return first + "".join(part.capitalize() for part in rest)


def source(root: Node, package: str, label: str, model: Model, size: tuple[float, float], focused: str | None, keys: Node | None) -> bytes:
    """The whole document, UTF-8. `size` in points, as the phone is held."""
    top = etree.Element("Application", _facts("Application", package, label, "", Box(0, 0, *size)))
    top.set("bundle", package)
    _add(top, root, model, focused, False)
    if keys is not None:
        keyboard = etree.SubElement(top, "Keyboard", _facts("Keyboard", "", "", "", keys.box))
        for key in keys.walk():
            if key.kind == "button":
                etree.SubElement(keyboard, "Key", _facts("Key", "", key.text, "", key.box))
    return bytes(etree.tostring(top, xml_declaration=True, encoding="UTF-8"))


def _facts(kind: str, id: str, label: str, value: str, box: Box) -> dict[str, str]:
    return {
        "type": kind,
        "identifier": id,
        "label": label,
        "value": value,
        "enabled": "true",
        "visible": "true",
        "x": str(round(box.left)),
        "y": str(round(box.top)),
        "width": str(round(box.width)),
        "height": str(round(box.height)),
    }


def _add(parent: etree._Element, node: Node, model: Model, focused: str | None, in_list: bool) -> None:
    if node.kind == "space" or node.untold:
        return
    kind = "Cell" if in_list else model.classes.get(node.kind, TYPES[node.kind])
    value, label = "", node.desc or node.text
    if node.password:
        kind = "SecureTextField"
    if node.kind in {"field", "combo", "date"}:
        value, label = node.text, node.desc
    elif node.kind == "wheel":
        value = node.options[int(node.value)]
    elif node.kind == "slider":
        value = f"{round(100 * node.share)}%"
    elif node.checked is not None:
        value = "1" if node.checked else "0"
    facts = _facts(kind, identifier(node.id), label, value, node.box)
    facts["visible"] = "false" if node.seen.empty else "true"
    facts["enabled"] = "true" if node.enabled else "false"
    if node.selected:
        facts["selected"] = "true"
    if node.key and node.key == focused:
        facts["focused"] = "true"
    element = etree.SubElement(parent, kind, facts)
    for child in node.children:
        _add(element, child, model, focused, node.kind == "list")
