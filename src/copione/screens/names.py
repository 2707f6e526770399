"""What a person would call each element: its label, else its text, else the caption beside or above it, else what is inside."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ..model.direction import leftwards
from ..model.roles import VALUED
from ..model.screen import subtree_ends
from ..model.sentences import pieces_of

#: Roles that are called by a caption when they say nothing themselves.
CAPTIONED = VALUED | {"switch", "checkbox", "radiogroup", "list", "img", "tablist"}
_MEASURE = re.compile(r"[-+−]?\d[\d.,]*\s?[^\d\s]{1,3}")
#: Roles called by what is inside them.
FILLED = frozenset({"listitem", "button", "link", "tab", "option", "generic", "dialog"})
ASKED_FOR = frozenset({"radiogroup", "combobox"})  # called by the dialog that asks for it, when nothing else names it
FIELDS = frozenset({"textbox", "combobox"})
CANVAS = 100.0  # dp each way
PRESSED = frozenset({"button", "text", "generic"})  # what a button may be told as, where it takes touches
STEP_GAP = 24.0  # dp between a stepper's value and the buttons beside it, at most
CAPTION_GAP = 28.0  # dp between a caption's lower edge and what it is over; a line of text at most
ROW_GAP = 64.0  # dp between a caption and what it stands before
LIST_GAP = 40.0  # a list may stand lower under the heading of its page: the bar's padding is between


def name_all(
    roles: Sequence[str],
    texts: Sequence[str],
    labels: Sequence[str],
    hints: Sequence[str],
    boxes: npt.NDArray[np.float64],
    parents: npt.NDArray[np.int32],
    clickable: npt.NDArray[np.bool_],
    locale: str = "",
    layers: Sequence[int] = (),
) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """Names of n elements in tree order, and what else each may be called; the arguments are `Screen`'s columns, the placeholder hints,
    the device's locale, and optionally, for each element, the number of the page layer that it is in.

    What the platform tells goes before what is guessed. A container without a role of its own is called by what is inside only where it
    takes touches.
    """
    said = [text or label for text, label in zip(texts, labels, strict=True)]
    captions = np.array([i for i, role in enumerate(roles) if role == "text" and not clickable[i] and _is_words(said[i])], np.int32)
    backwards = leftwards(said, boxes, locale)
    words = boxes[captions]
    ends = subtree_ends(parents)
    ends_of_captions = np.array(ends, np.int32)[captions]
    controls = np.cumsum([0, *(role in CAPTIONED for role in roles)])  # so many before each element
    with_control = controls[ends_of_captions] > controls[captions + 1]
    names: list[str] = []
    also: list[tuple[str, ...]] = []
    inside = _first_inside(roles, texts, labels, boxes, parents, clickable)
    layer = np.array(layers or [0] * len(roles), np.int32)
    items, dialogs = _around(roles, parents, "listitem"), np.array(_around(roles, parents, "dialog"), np.int32)
    pressed = _pressed_around(parents, clickable)
    holders = pressed[captions]  # what takes the touches of a caption
    ends_of_holders = np.array(ends, np.int32)[holders] if len(captions) else holders
    for row, role in enumerate(roles):
        own, others = labels[row] or ("" if role in VALUED else texts[row]), [labels[row], hints[row]]
        if role not in VALUED:
            others.append(texts[row])
        if not own and role in CAPTIONED:
            near = (words[:, 3] > boxes[row, 1] - LIST_GAP - 1) & (words[:, 1] < boxes[row, 3])
            near &= (captions < row) | (captions >= ends[row])
            if (item := items[row]) >= 0:
                near &= (captions > item) & (captions < ends[item])  # what is over a list is no caption of what is in its rows
            near &= (dialogs[captions] == dialogs[row]) & (layer[captions] == layer[row])  # what lies under it names nothing in it
            near &= ~with_control | (captions < row) & (ends_of_captions > row)  # what has a control of its own in it names that
            near &= (holders < 0) | ((holders <= row) & (ends_of_holders > row))  # what is on another button names that
            picked = np.flatnonzero(near)
            caption = _caption(role, boxes[row], captions[picked], words[picked], backwards, said)
            own = hints[row] or caption
            others.append(caption)
        if not own and role in ASKED_FOR and dialogs[row] >= 0:
            own = names[dialogs[row]]
        if not own and role in FILLED and (role != "generic" or clickable[row]):
            own = inside[row]
        names.append(" ".join(own.split()))
        also.append(tuple(dict.fromkeys(words for words in others if words and words != own)))
    return _by_titles(roles, texts, labels, names), tuple(also)


def _pressed_around(parents: npt.NDArray[np.int32], clickable: npt.NDArray[np.bool_]) -> npt.NDArray[np.int32]:
    """For each element the row of the innermost thing round it, or itself, that takes touches; -1 for none."""
    found: list[int] = []
    for row, parent in enumerate(parents.tolist()):
        found.append(row if clickable[row] else found[parent] if parent >= 0 else -1)
    return np.array(found, np.int32)


def _around(roles: Sequence[str], parents: npt.NDArray[np.int32], role: str) -> list[int]:
    """For each element the row of the innermost one of a role that it stands in; -1 in none."""
    found: list[int] = []
    for parent in parents.tolist():
        found.append(-1 if parent < 0 else parent if roles[parent] == role else found[parent])
    return found


def _by_titles(roles: Sequence[str], texts: Sequence[str], labels: Sequence[str], names: list[str]) -> tuple[str, ...]:
    """Names, where an item whose label says all of it in one sentence is called by its beginning, unless another begins so too."""
    merged = {row: pieces_of(labels[row])[0] for row, role in enumerate(roles) if role == "listitem" and len(pieces_of(labels[row])) > 1}
    counts = Counter(merged.values())
    return tuple(merged[row] if row in merged and counts[merged[row]] == 1 else name for row, name in enumerate(names))


def _is_words(text: str) -> bool:
    """Can it be a caption? A number with its unit is a value."""
    return len(text) < 60 and any(c.isalpha() for c in text) and not _MEASURE.fullmatch(text)


def _first_inside(
    roles: Sequence[str],
    texts: Sequence[str],
    labels: Sequence[str],
    boxes: npt.NDArray[np.float64],
    parents: npt.NDArray[np.int32],
    clickable: npt.NDArray[np.bool_],
) -> list[str]:
    """For each element the first words within it, reading from the top left: what is written, else on a button, else a picture's."""
    best: list[tuple[int, float, float, str] | None] = [None] * len(roles)
    above, places, acts = parents.tolist(), boxes[:, :2].tolist(), clickable.tolist()
    for row in range(len(roles)):
        words = labels[row] or ("" if roles[row] in VALUED else texts[row])
        if not words:
            continue
        left, top = places[row]
        entry = (2 if roles[row] == "img" else int(acts[row]), top, left, words)
        parent = above[row]
        while parent >= 0:
            held = best[parent]
            if held is None or entry[:3] < held[:3]:
                best[parent] = entry
            if acts[parent] and not entry[0]:
                entry = (1, *entry[1:])  # what is on a button in a row says less of the row than what is written beside it
            parent = above[parent]
    return [entry[3] if entry else "" for entry in best]


def _caption(
    role: str,
    box: npt.NDArray[np.float64],
    captions: npt.NDArray[np.int32],
    found: npt.NDArray[np.float64],
    backwards: bool,
    texts: Sequence[str],
) -> str:
    """The words of the caption of an element with that box, among `captions` (rows) with the boxes `found`."""
    if not len(captions):
        return ""
    left, top, right, bottom = box
    middle = (found[:, 1] + found[:, 3]) / 2
    within = (found[:, 0] >= left - 1) & (found[:, 2] <= right + 1) & (middle > top) & (middle < bottom)
    if role in FIELDS and within.any():  # it floats in an empty field
        return texts[int(captions[within.argmax()])]
    level = (middle > top) & (middle < bottom)
    before, after = level & (found[:, 2] <= left + 1), level & (found[:, 0] >= right - 1)
    beside = after if backwards else before
    distance = found[:, 0] - right if backwards else left - found[:, 2]
    if role in {"switch", "checkbox", "spinbutton"} and beside.any():
        return texts[int(captions[np.where(beside, distance, np.inf).argmin()])]
    spans = beside & (found[:, 1] <= top) & (found[:, 3] >= bottom) & (distance < ROW_GAP)  # both fill a row of their own
    if role in VALUED and spans.any():
        return texts[int(captions[np.where(spans, distance, np.inf).argmin()])]
    gap = top - found[:, 3]
    limit = LIST_GAP if role == "list" else CAPTION_GAP
    above = (gap > -4) & (gap <= limit) & (found[:, 0] < right) & (found[:, 2] > left)
    if above.any():
        aside = np.minimum(np.abs(found[:, 0] - left), np.abs(found[:, 2] - right))
        away = np.where(above, gap + aside * 0.5, np.inf)
        return texts[int(captions[away.argmin()])]
    if beside.any() and role != "list":
        away = np.where(beside, distance, np.inf)
        return texts[int(captions[away.argmin()])] if away.min() < 200 else ""
    return ""


def with_canvases(
    roles: Sequence[str], labels: Sequence[str], boxes: npt.NDArray[np.float64], parents: npt.NDArray[np.int32]
) -> tuple[str, ...]:
    """Roles, where what has a label, no role and nothing inside, and is larger than any control, is a canvas: drawn on or moved about."""
    parent_rows = set(parents.tolist())
    wide, tall = boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]
    large = (np.minimum(wide, tall) >= CANVAS).tolist()
    return tuple(
        "canvas" if role == "generic" and labels[row] and row not in parent_rows and large[row] else role for row, role in enumerate(roles)
    )


def with_steppers(
    roles: Sequence[str],
    texts: Sequence[str],
    boxes: npt.NDArray[np.float64],
    parents: npt.NDArray[np.int32],
    clickable: npt.NDArray[np.bool_],
    editable: npt.NDArray[np.bool_] | None = None,
) -> tuple[str, ...]:
    """Roles, where a number between two buttons of its own row is a spinbutton: what the buttons count up and down.

    It is a text, or, where it is known which fields can be typed into (`editable`), a field that cannot.
    """
    found = list(roles)
    held: dict[int, list[int]] = {}
    for row, parent in enumerate(parents.tolist()):
        held.setdefault(parent, []).append(row)
    for siblings in held.values():
        for before, row, after in zip(siblings, siblings[1:], siblings[2:], strict=False):
            fixed = roles[row] == "textbox" and editable is not None and not editable[row]
            counted = (roles[row] == "text" and not clickable[row]) or fixed
            if not counted or not _is_number(texts[row]) or not {roles[before], roles[after]} <= PRESSED:
                continue
            sides = sorted((before, after), key=lambda r: float(boxes[r, 0]))
            gaps = boxes[row, 0] - boxes[sides[0], 2], boxes[sides[1], 0] - boxes[row, 2]
            level = all(boxes[r, 1] < boxes[row, 3] and boxes[r, 3] > boxes[row, 1] for r in sides)
            if clickable[before] and clickable[after] and level and all(-1 <= gap <= STEP_GAP for gap in gaps):
                found[row] = "spinbutton"
    return tuple(found)


def _is_number(text: str) -> bool:
    return bool(text) and text.strip().lstrip("-+").replace(".", "", 1).isdecimal()
