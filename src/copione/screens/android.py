"""The `uiautomator dump` of Android into a `Screen`."""

from __future__ import annotations

import re

import numpy as np
from lxml import etree

from ..model.errors import TreeUnreadable
from ..model.geometry import Box
from ..model.screen import Flag, Screen
from .behaviour import as_written, blanks, by_behaviour, nested_by_place
from .names import name_all, with_canvases, with_steppers
from .source import dots, not_too_many, root_of, text, without_passwords

#: Class names (last part) to WAI-ARIA roles. What is not listed is `generic`, or `text` when it has text of its own.
ROLES = {
    "Button": "button",
    "ImageButton": "button",
    "MaterialButton": "button",
    "FloatingActionButton": "button",
    "EditText": "textbox",
    "AutoCompleteTextView": "textbox",
    "TextView": "text",
    "CheckedTextView": "option",
    "CheckBox": "checkbox",
    "RadioButton": "radio",
    "RadioGroup": "radiogroup",
    "Switch": "switch",
    "SwitchCompat": "switch",
    "SwitchMaterial": "switch",
    "ToggleButton": "switch",
    "SeekBar": "slider",
    "Slider": "slider",
    "ProgressBar": "progressbar",
    "Spinner": "combobox",
    "ImageView": "img",
    "Image": "img",
    "RecyclerView": "list",
    "ListView": "list",
    "GridView": "list",
    "ScrollView": "region",
    "NestedScrollView": "region",
    "HorizontalScrollView": "region",
    "TabWidget": "tablist",
    "ActionBar$Tab": "tab",
    "TabView": "tab",
    "NumberPicker": "combobox",
    "DatePicker": "combobox",
    "AlertDialog": "dialog",
    "MaterialSwitch": "switch",
    "CompoundButton": "switch",
    "ImageSwitcher": "img",
    "RatingBar": "slider",
    "WebView": "document",
}
_FLAGS = {
    "clickable": Flag.CLICKABLE,
    "checkable": Flag.CHECKABLE,
    "checked": Flag.CHECKED,
    "enabled": Flag.ENABLED,
    "focused": Flag.FOCUSED,
    "scrollable": Flag.SCROLLABLE,
    "long-clickable": Flag.HOLDABLE,
    "password": Flag.PASSWORD,
    "selected": Flag.SELECTED,
}
_SIDEWAYS = re.compile(r"Horizontal|ViewPager|Carousel")  # in the names of classes that are scrolled sideways
_BOUNDS = re.compile(r"\[(-?\d{1,6}),(-?\d{1,6})\]\[(-?\d{1,6}),(-?\d{1,6})\]", re.A)


def document_of(dump: bytes) -> bytes:
    """The XML document in what a dump printed, unread. Raises TreeUnreadable when there is no whole one in it."""
    end = dump.rfind(b"</hierarchy>")
    begin = dump.find(b"<")
    if end < 0 or begin < 0:
        said = dump[:2000].decode("utf-8", "replace").strip().splitlines()
        raise TreeUnreadable(f"The device gave no element tree: {said[0][:120].rstrip('.') if said else 'it printed nothing'}.")
    return dump[begin : end + len(b"</hierarchy>")]


def read_android(
    dump: bytes, width_px: int, height_px: int, dpi: int, *, activity: str = "", keyboard_px: Box | None = None, locale: str = ""
) -> Screen:
    """The screen of a dump as printed: XML, then perhaps a line that is not XML. `width_px`, `height_px`: the upright screen;
    `locale`: the device's.

    Raises TreeUnreadable when there is no whole XML document in it, or one without elements.
    """
    root = root_of(document_of(dump))
    density = dpi / 160.0
    turns = root.get("rotation", "0")
    rotation = int(turns) if turns in ("0", "1", "2", "3") else 0
    rows: list[etree._Element] = [node for node in root.iter("node", "*") if node is not root and isinstance(node.tag, str)]
    if not rows:
        raise TreeUnreadable("The device's element tree is empty.")
    not_too_many(len(rows))
    place = {node: row for row, node in enumerate(rows)}
    parents = np.array([place.get(parent, -1) if (parent := node.getparent()) is not None else -1 for node in rows], np.int32)
    boxes = np.array([_bounds(str(node.get("bounds", ""))) for node in rows], np.float64).reshape(len(rows), 4) / density
    flags = np.array([sum(flag for name, flag in _FLAGS.items() if node.get(name) == "true") for node in rows], np.int32)
    aside = np.array([bool(_SIDEWAYS.search(str(node.get("class", "")))) for node in rows]) & ((flags & Flag.SCROLLABLE) > 0)
    flags = np.where(aside, flags & ~int(Flag.SCROLLABLE) | int(Flag.ACROSS), flags).astype(np.int32)
    hints = tuple(text(node.get("hint")) for node in rows)
    told = ("" if hint and node.get("text") == hint else text(node.get("text")) for node, hint in zip(rows, hints, strict=True))
    texts = tuple(dots(said) if _is_secret(node) else said for node, said in zip(rows, told, strict=True))
    labels = tuple(text(node.get("content-desc")) for node in rows)
    ids = tuple(text(node.get("resource-id")).rpartition("/")[2] for node in rows)
    width, height = (height_px, width_px) if rotation % 2 else (width_px, height_px)
    parents = nested_by_place(parents, boxes, blanks(texts, labels, flags, parents), flags, height / density)
    roles = _roles([str(node.get("class", "")) for node in rows], texts, parents)
    roles, flags = by_behaviour(roles, texts, labels, flags, parents, boxes)
    texts, labels = as_written(roles, texts, labels)
    roles = with_canvases(roles, labels, boxes, parents)
    roles = with_steppers(roles, texts, boxes, parents, (flags & Flag.CLICKABLE) > 0)
    names, also = name_all(roles, texts, labels, hints, boxes, parents, (flags & Flag.CLICKABLE) > 0, locale)
    return Screen(
        width=width / density,
        height=height / density,
        app=text(rows[0].get("package")),
        activity=activity,
        keyboard=Box(*(v / density for v in keyboard_px)) if keyboard_px else None,
        roles=roles,
        names=names,
        also=also,
        texts=texts,
        labels=labels,
        ids=ids,
        boxes=boxes,
        parents=parents,
        flags=flags,
        rotation=rotation,
        locale=locale,
    )


def keepable(dump: bytes) -> bytes:
    """A dump without what password fields hold."""
    return without_passwords(dump, b'password="true"', _is_secret, "text")


def _is_secret(node: etree._Element) -> bool:
    return node.get("password") == "true"


def _bounds(words: str) -> tuple[int, int, int, int]:
    match = _BOUNDS.fullmatch(words)
    if match is None:
        return (0, 0, 0, 0)
    left, top, right, bottom = map(int, match.groups())
    return left, top, right, bottom


def _roles(classes: list[str], texts: tuple[str, ...], parents: np.ndarray) -> tuple[str, ...]:
    """Roles by class; what stands directly in a list is its listitem."""
    roles: list[str] = []
    for row, name in enumerate(classes):
        role = ROLES.get(name.rpartition(".")[2], "")
        parent = int(parents[row])
        if parent >= 0 and roles[parent] == "list" and role in {"", "generic", "text"}:
            role = "listitem"
        roles.append(role or ("text" if texts[row] else "generic"))
    return tuple(roles)
