"""The XML source of a native app behind WebDriver into a `Screen`: typed elements with label, value and frame in points."""

from __future__ import annotations

import numpy as np
from lxml import etree

from ..model.errors import TreeUnreadable
from ..model.geometry import Box
from ..model.screen import Flag, Screen
from .behaviour import as_written, blanks, by_behaviour, nested_by_place
from .names import name_all, with_canvases, with_steppers
from .source import dots, frame, not_too_many, root_of, text, without_passwords

#: Element types (their last part) to WAI-ARIA roles.
ROLES = {
    "Alert": "dialog",
    "Button": "button",
    "Cell": "listitem",
    "CheckBox": "checkbox",
    "CollectionView": "list",
    "Image": "img",
    "DatePicker": "combobox",
    "Link": "link",
    "Menu": "list",
    "MenuItem": "option",
    "Picker": "combobox",
    "PickerWheel": "combobox",
    "ProgressIndicator": "progressbar",
    "RadioButton": "radio",
    "RadioGroup": "radiogroup",
    "ScrollView": "region",
    "SearchField": "textbox",
    "SecureTextField": "textbox",
    "Sheet": "dialog",
    "Slider": "slider",
    "StaticText": "text",
    "Switch": "switch",
    "Tab": "tab",
    "TabBar": "tablist",
    "Table": "list",
    "TextField": "textbox",
    "TextView": "textbox",
    "Toggle": "switch",
    "WebView": "document",
}
_CLICKABLE = frozenset({"button", "checkbox", "combobox", "link", "listitem", "radio", "slider", "switch", "tab", "textbox"})
_SCROLLABLE = frozenset({"list", "region"})


def _kind(element: etree._Element) -> str:
    """The type without the framework's prefix: the longest known ending, else the whole."""
    words = str(element.get("type") or element.tag)
    return max((known for known in (*ROLES, "Keyboard") if words.endswith(known)), key=len, default=words)


def read_native(source: bytes, width: float, height: float, locale: str = "") -> Screen:
    """The screen of a source document; `width`, `height` in dp of the upright screen; `locale`: the device's. Elements that are not
    visible are left out.

    Raises TreeUnreadable when it is not well-formed XML, or holds no element.
    """
    root = root_of(source)
    left, top, right, bottom = next((box for e in root.iter("*") if (box := _frame(e))[2] > box[0]), (0.0, 0.0, 0.0, 0.0))
    rotation = int((right - left > bottom - top) != (width > height))
    if rotation:
        width, height = height, width
    rows: list[tuple[etree._Element, int, str]] = []
    keyboard: Box | None = None
    pending: list[tuple[etree._Element, int]] = [(root, -1)]
    while pending:
        element, parent = pending.pop()
        if not isinstance(element.tag, str) or element.get("visible") == "false":
            continue
        kind = _kind(element)
        if kind == "Keyboard":
            keyboard = Box(*_frame(element))
            continue
        rows.append((element, parent, kind))
        here = len(rows) - 1
        pending.extend((child, here) for child in reversed(element))
    if len(rows) < 2:
        raise TreeUnreadable("The device's element tree is empty.")
    not_too_many(len(rows))
    roles = tuple(ROLES.get(kind, "generic") for _, _, kind in rows)
    hints = tuple(text(e.get("placeholderValue")) for e, _, _ in rows)
    values = ["" if hint and e.get("value") == hint else _value(e) for (e, _, _), hint in zip(rows, hints, strict=True)]
    said = [text(e.get("label")) for e, _, _ in rows]
    texts = tuple(_text(role, label, value) for role, label, value in zip(roles, said, values, strict=True))
    labels = tuple("" if role == "text" else label for role, label in zip(roles, said, strict=True))
    flags = np.array([_flags(e, kind, role) for (e, _, kind), role in zip(rows, roles, strict=True)], np.int32)
    boxes = np.array([_frame(e) for e, _, _ in rows], np.float64).reshape(len(rows), 4)
    parents = np.array([parent for _, parent, _ in rows], np.int32)
    parents = nested_by_place(parents, boxes, blanks(texts, labels, flags, parents), flags, height)
    boxes = _clipped(boxes, parents, roles, width, height)
    roles, flags = by_behaviour(roles, texts, labels, flags, parents, boxes)
    texts, labels = as_written(roles, texts, labels)
    roles = with_canvases(roles, labels, boxes, parents)
    roles = with_steppers(roles, texts, boxes, parents, (flags & Flag.CLICKABLE) > 0)
    names, also = name_all(roles, texts, labels, hints, boxes, parents, (flags & Flag.CLICKABLE) > 0, locale)
    return Screen(
        width=width,
        height=height,
        rotation=rotation,
        app=_app(root),
        activity="",
        keyboard=keyboard,
        roles=roles,
        names=names,
        also=also,
        texts=texts,
        labels=labels,
        ids=tuple("" if parent < 0 else _id(e) for e, parent, _ in rows),
        boxes=boxes,
        parents=parents,
        flags=flags,
        locale=locale,
    )


def keepable(source: bytes) -> bytes:
    """A source without what password fields hold."""
    return without_passwords(source, b"SecureTextField", _is_secret, "value")


def _app(root: etree._Element) -> str:
    """The app in front: of several that are shown over one another the first."""
    told = next((e for e in root.iter("*") if isinstance(e.tag, str) and _kind(e).endswith("Application")), root)
    return text(next(filter(None, (e.get(name) for e in (told, root) for name in ("bundle", "bundleId", "identifier"))), ""))


def _id(element: etree._Element) -> str:
    """Its identifier: told as such, or as a `name` that is not what people read on it."""
    name = element.get("name") or ""
    return text(element.get("identifier") or ("" if name in {element.get("label"), element.get("value"), element.get("title")} else name))


def _value(element: etree._Element) -> str:
    said = text(element.get("value"))
    return dots(said) if _is_secret(element) else said


def _is_secret(element: etree._Element) -> bool:
    return _kind(element) == "SecureTextField"


def _text(role: str, label: str, value: str) -> str:
    if role == "text":
        return label or value
    return value if role in {"textbox", "slider", "combobox", "progressbar"} else ""


def _flags(element: etree._Element, kind: str, role: str) -> int:
    flags = 0 if element.get("enabled") == "false" else int(Flag.ENABLED)
    if role in _CLICKABLE:
        flags |= Flag.CLICKABLE
    if role in _SCROLLABLE:
        flags |= Flag.SCROLLABLE
    if role in {"switch", "checkbox", "radio"}:
        flags |= Flag.CHECKABLE
        if element.get("value") in {"1", "true"} or element.get("selected") == "true":
            flags |= Flag.CHECKED
    if element.get("selected") == "true":
        flags |= Flag.SELECTED
    if element.get("focused") == "true":
        flags |= Flag.FOCUSED
    if _is_secret(element):
        flags |= Flag.PASSWORD
    return int(flags)


def _frame(element: etree._Element) -> tuple[float, float, float, float]:
    return frame([element.get(name) for name in ("x", "y", "width", "height")])


def _clipped(boxes: np.ndarray, parents: np.ndarray, roles: tuple[str, ...], width: float, height: float) -> np.ndarray:
    """Frames reach out of their scroll containers; what shows of them is what a finger can touch."""
    clips = np.empty_like(boxes)
    shown = boxes.copy()
    for row, parent in enumerate(parents.tolist()):
        clips[row] = clips[parent] if parent >= 0 else (0.0, 0.0, width, height)
        low, high = clips[row][:2], clips[row][2:]
        if parent >= 0 and _inside_scroller(row, parents, roles):
            shown[row, :2] = np.minimum(np.maximum(boxes[row, :2], low), high)
            shown[row, 2:] = np.maximum(np.minimum(boxes[row, 2:], high), low)
        if roles[row] in _SCROLLABLE:
            clips[row, :2] = np.maximum(clips[row, :2], boxes[row, :2])
            clips[row, 2:] = np.minimum(clips[row, 2:], boxes[row, 2:])
    return shown


def _inside_scroller(row: int, parents: np.ndarray, roles: tuple[str, ...]) -> bool:
    parent = int(parents[row])
    while parent >= 0:
        if roles[parent] in _SCROLLABLE:
            return True
        parent = int(parents[parent])
    return False
