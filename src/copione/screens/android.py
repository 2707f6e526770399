"""The element tree of Android into a `Screen`: as `uiautomator dump` prints it, or as a remote end gives it, with classes for tags."""

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
    "Tab": "tab",
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
END = b"</hierarchy>"
NEARLY = 0.02  # of a side of the screen: a root may stop short of the system's bars
_BOUNDS = re.compile(r"\[(-?\d{1,6}),(-?\d{1,6})\]\[(-?\d{1,6}),(-?\d{1,6})\]", re.A)


def document_of(dump: bytes) -> bytes:
    """The XML document in what a dump printed, unread. Raises TreeUnreadable when there is no whole one in it."""
    end = dump.rfind(END)
    begin = dump.find(b"<")
    if end < 0 or begin < 0:
        said = dump[:2000].decode("utf-8", "replace").strip().splitlines()
        raise TreeUnreadable(f"The device gave no element tree: {said[0][:120].rstrip('.') if said else 'it printed nothing'}.")
    return dump[begin : end + len(END)]


def read_android(
    dump: bytes, width_px: int, height_px: int, dpi: int, *, activity: str = "", keyboard_px: Box | None = None, locale: str = ""
) -> Screen:
    """The screen of a dump as printed: XML, then perhaps a line that is not XML. `width_px`, `height_px`: the upright screen;
    `locale`: the device's.

    Raises TreeUnreadable when there is no whole XML document in it, or one without elements.
    """
    return _read(root_of(document_of(dump)), width_px, height_px, dpi, activity, keyboard_px, locale)


def read_android_source(source: bytes, width_px: int, height_px: int, dpi: int, *, locale: str = "") -> Screen:
    """The screen of a source that a remote end gave, in pixels or in dp: told by what reaches beyond a screen of so many dp.

    Raises TreeUnreadable.
    """
    return _read(root_of(document_of(source) if END in source else source), width_px, height_px, dpi, "", None, locale, perhaps_dp=True)


def _read(
    root: etree._Element,
    width_px: int,
    height_px: int,
    dpi: int,
    activity: str,
    keyboard_px: Box | None,
    locale: str,
    perhaps_dp: bool = False,
) -> Screen:
    density = dpi / 160.0
    every = root.iter("node", "*")
    rows: list[etree._Element] = [e for e in every if isinstance(e.tag, str) and (e is not root or e.get("bounds") is not None)]
    rotation = _rotation(root, rows, width_px > height_px)
    if not rows:
        raise TreeUnreadable("The device's element tree is empty.")
    not_too_many(len(rows))
    place = {node: row for row, node in enumerate(rows)}
    parents = np.array([place.get(parent, -1) if (parent := node.getparent()) is not None else -1 for node in rows], np.int32)
    boxes = np.array([_bounds(str(node.get("bounds", ""))) for node in rows], np.float64).reshape(len(rows), 4)
    if not (perhaps_dp and _in_dp(boxes, width_px / density, height_px / density)):
        boxes /= density
    flags = np.array([sum(flag for name, flag in _FLAGS.items() if node.get(name) == "true") for node in rows], np.int32)
    classes = [_class(node) for node in rows]
    aside = np.array([bool(_SIDEWAYS.search(each)) for each in classes]) & ((flags & Flag.SCROLLABLE) > 0)
    flags = np.where(aside, flags & ~int(Flag.SCROLLABLE) | int(Flag.ACROSS), flags).astype(np.int32)
    hints = tuple(text(node.get("hint")) for node in rows)
    told = ("" if hint and node.get("text") == hint else text(node.get("text")) for node, hint in zip(rows, hints, strict=True))
    texts = tuple(dots(said) if _is_secret(node) else said for node, said in zip(rows, told, strict=True))
    labels = tuple(text(node.get("content-desc")) for node in rows)
    ids = tuple(text(node.get("resource-id")).rpartition("/")[2] for node in rows)
    width, height = (height_px, width_px) if rotation % 2 else (width_px, height_px)
    parents = nested_by_place(parents, boxes, blanks(texts, labels, flags, parents), flags, height / density)
    roles = _roles(classes, texts, parents)
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


def _class(node: etree._Element) -> str:
    """The class of a widget: an attribute, or the tag itself."""
    return str(node.get("class") or ("" if node.tag == "node" else node.tag))


def _rotation(root: etree._Element, rows: list[etree._Element], wide: bool) -> int:
    """How the screen is turned: what the tree says, else whether its root lies otherwise than an upright screen does."""
    turns = root.get("rotation", "")
    if turns in ("0", "1", "2", "3"):
        return int(turns)
    left, top, right, bottom = _bounds(str(rows[0].get("bounds", ""))) if rows else (0, 0, 0, 0)
    return int((right - left > bottom - top) != wide) if right > left and bottom > top else 0


def _in_dp(boxes: np.ndarray, width: float, height: float) -> bool:
    """Are these dp of a screen of that size? Then the root fills it, either way up."""
    wide, tall = (float(boxes[0, 2] - boxes[0, 0]), float(boxes[0, 3] - boxes[0, 1]))
    return any(abs(wide - w) <= NEARLY * w and tall <= h * (1 + NEARLY) for w, h in ((width, height), (height, width)))


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
