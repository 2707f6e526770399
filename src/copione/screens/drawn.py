"""A page that tells nothing of its elements, read from its picture: what is written, and the plain shapes of controls.

Every role is a guess by how the thing looks, and marked as one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from ..model.direction import leftwards
from ..model.drawn import Plate, Shapes, Words, plain_sign
from ..model.geometry import Box
from ..model.screen import Flag, Screen
from .names import name_all

BLIND = 3  # elements at most of a tree that tells nothing: the window and what it is wrapped in
STATUS_DP = 24.0  # where the system's own line may be, and nothing of the page
HEAD = 72.0  # dp from a page's beginning within which its title stands
CAPTION_GAP = 28.0  # dp between a caption and the field under it
EDGE = 8.0  # dp by which a caption and its field may begin elsewhere: letters are found with some room around them
CENTRED = 0.12  # of a plate's width by which the middle of its words may be off its own
TALL = 34.0  # dp of a field at least
ARROW, SIGN = 40.0, 1  # dp at the end of a field where its mark is; letters that such a mark may be read as
OFF = 24.0  # of 255 by which two colours differ at least
LEAST_OPTIONS = 3  # plates in a line of which the odd one out is the chosen one
LEVEL = 4.0  # dp
FLOW = 1.5  # of a plate's height between the middles of two lines
LEAST_ROWS, ROW_ALIKE = 3, 0.8  # of a list; of the higher one's height


@dataclass(eq=False)
class _Thing:
    role: str
    box: Box
    text: str = ""
    flags: int = 0
    inside: list[_Thing] = field(default_factory=list)


def tells_nothing(screen: Screen | None) -> bool:
    """Is that a tree of a window in which all is drawn: a root or two, without words, ids or anything that takes touches?"""
    if screen is None or len(screen) > BLIND:
        return False
    touched = Flag.CLICKABLE | Flag.CHECKABLE | Flag.SCROLLABLE
    return not any(screen.texts) and not any(screen.ids) and not (screen.flags & touched).any()


def read_drawn(blind: Screen, shapes: Shapes, words: Sequence[Words]) -> Screen:
    """The screen of a picture with these shapes and words; what is known of it from `blind`, the tree that tells nothing, is kept."""
    page = Box(*blind.boxes[-1].tolist())
    low = blind.keyboard.top if blind.keyboard is not None else page.bottom
    page = Box(page.left, max(page.top, STATUS_DP), page.right, low)
    shapes = _within(shapes, page)
    words = [w for w in words if page.contains(*w.box.centre) and not _is_part(w, shapes)]
    things = _controls(shapes, words)
    things = _with_list(_nested(things))
    if any(thing.role == "list" for thing in things):
        return _screen(blind, things)
    head = [t for t in things if t.box.bottom <= page.top + HEAD]
    below = [t for t in things if t not in head]
    top = max((t.box.bottom for t in head), default=page.top)
    return _screen(blind, [*head, _Thing("region", Box(page.left, top, page.right, page.bottom), "", int(Flag.SCROLLABLE), below)])


def _within(shapes: Shapes, page: Box) -> Shapes:
    """Those in the page; of one that is cut off by its edge the part that is seen."""
    return Shapes(
        tuple(p for p in shapes.plates if page.contains(*p.box.centre) and p.box.area < 0.9 * page.area),
        tuple(p for p in shapes.pills if page.contains(*p.box.centre)),
        tuple(t for t in shapes.tracks if page.contains(*t.box.centre)),
    )


def _is_sign(text: str) -> bool:
    """Is it no word but a sign, such as stands on a button?"""
    return len(text) <= 2 and not any(c.isalnum() for c in text)


def _is_part(words: Words, shapes: Shapes) -> bool:
    """Is it a knob, or the mark at the end of a plate, that was read as a sign?"""
    if len(words.text) <= SIGN or not any(c.isalnum() for c in words.text):
        x = words.box.centre[0]
        on = [p for p in shapes.plates if p.box.contains(*words.box.centre) and p.box.height < 2 * TALL and p.box.width > 3 * p.box.height]
        if any((p.right_mark and x > p.box.right - ARROW) or (p.left_mark and x < p.box.left + ARROW) for p in on):
            return True
    boxes = [*(pill.box for pill in shapes.pills), *(track.box for track in shapes.tracks)]
    return any(box.contains(*words.box.centre) for box in boxes)


def _controls(shapes: Shapes, words: Sequence[Words]) -> list[_Thing]:
    backwards = leftwards([w.text for w in words])
    touch = int(Flag.CLICKABLE)
    found = [_Thing("button", w.box, plain_sign(w.text), touch) if _is_sign(w.text) else _Thing("text", w.box, w.text) for w in words]
    for pill in shapes.pills:
        on = int(Flag.CHECKED) if pill.right != backwards else 0
        found.append(_Thing("switch", pill.box, "", touch | int(Flag.CHECKABLE) | on))
    found += [_Thing("slider", track.box, "", touch) for track in shapes.tracks]
    chosen = _chosen(shapes.plates, words)
    for plate in shapes.plates:
        inner = [w for w in words if plate.box.contains(*w.box.centre)]
        role, flags = "generic", touch
        text = ""
        if plate in chosen:
            role, flags = "radio", touch | int(Flag.CHECKABLE) | (int(Flag.CHECKED) if chosen[plate] else 0)
        elif len(inner) == 1 and abs(inner[0].box.centre[0] - plate.box.centre[0]) <= CENTRED * plate.box.width:
            role = "button"
        elif plate.box.height >= TALL and _captioned(plate, words, shapes):
            role = "combobox" if len(inner) == 1 and (plate.left_mark if backwards else plate.right_mark) else "textbox"
            text = " ".join(w.text for w in inner)
        elif not inner:
            role, flags = "img", 0
        found.append(_Thing(role, plate.box, text, flags))
    return found


def _chosen(plates: Sequence[Plate], words: Sequence[Words]) -> dict[Plate, bool]:
    """Plates of one word each that stand in a line, and perhaps on in the next, with whether each is the chosen one: the only one of
    another colour.
    """
    named = [p for p in plates if sum(p.box.contains(*w.box.centre) for w in words) == 1]
    found: dict[Plate, bool] = {}
    for plate in named:
        flow = [p for p in named if _in_flow(p.box, plate.box)]
        odd = [p for p in flow if all(_unlike(p.fill, other.fill) for other in flow if other is not p)]
        beside = any(abs(p.box.centre[1] - q.box.centre[1]) <= LEVEL for p in flow for q in flow if p is not q)
        if len(flow) >= LEAST_OPTIONS and len(odd) == 1 and beside:
            found[plate] = plate is odd[0]
    return found


def _in_flow(one: Box, other: Box) -> bool:
    """On one level, or one on the line under the other, which an edge may cut off; and neither much wider."""
    low, high = sorted((one.height, other.height))
    narrow, wide = sorted((one.width, other.width))
    return abs(one.centre[1] - other.centre[1]) <= FLOW * high and low >= 0.6 * high and wide <= 2.2 * narrow


def _unlike(one: tuple[float, float, float], other: tuple[float, float, float]) -> bool:
    """Are they two colours?"""
    return max(abs(a - b) for a, b in zip(one, other, strict=True)) >= OFF


def _captioned(plate: Plate, words: Sequence[Words], shapes: Shapes) -> bool:
    """Does a line of words stand right over it, along one of its edges, and on no plate of its own?"""
    box = plate.box
    for each in words:
        gap = box.top - each.box.bottom
        along = abs(each.box.left - box.left) <= EDGE or abs(each.box.right - box.right) <= EDGE
        on_plate = any(p.box.contains(*each.box.centre) and not p.box.contains(*box.centre) for p in shapes.plates)
        if along and -EDGE <= gap <= CAPTION_GAP and not on_plate:
            return True
    return False


def _nested(things: list[_Thing]) -> list[_Thing]:
    """Each in the smallest that holds its middle and all but its rim; what is alike stands from the top down."""
    top: list[_Thing] = []
    fields = [t for t in things if t.role in {"textbox", "combobox"}]
    things = [t for t in things if t.role != "text" or not any(f.box.contains(*t.box.centre) for f in fields)]
    ranked = sorted(things, key=lambda t: t.box.area)
    for i, thing in enumerate(ranked):
        holders = (t for t in ranked[i + 1 :] if t.role in {"generic", "button", "radio"} and t.box.contains(*thing.box.centre))
        holder = next(holders, None)
        (holder.inside if holder is not None else top).append(thing)
    for thing in things:
        thing.inside = _in_lines(thing.inside)
        if thing.role in {"button", "radio"} and len(thing.inside) == 1 and thing.inside[0].role == "text":
            thing.text, thing.inside = thing.inside[0].text, []
    return _in_lines(top)


def _with_list(things: list[_Thing]) -> list[_Thing]:
    """What stands on a page, where most of the plates that hold several things are alike and one over the other: they are a list, and
    what stands over and under them as what is in them does are the parts of rows that are cut off.
    """
    rows = [t for t in things if t.role == "generic" and len(t.inside) > 1]
    rows = [t for t in rows if sum(_alike(t.box, other.box) for other in rows) >= LEAST_ROWS]
    if not rows or not all(_alike(t.box, rows[0].box) for t in rows):
        return things
    lefts = [each.box.left for row in rows for each in row.inside]
    box = Box(rows[0].box.left, rows[0].box.top, rows[0].box.right, rows[-1].box.bottom)
    part: list[_Thing] = []
    for way in (1, -1):
        edge = box.bottom if way > 0 else box.top
        for thing in sorted((t for t in things if t not in rows), key=lambda t: way * t.box.centre[1]):
            beyond = way * (thing.box.centre[1] - edge)
            if not 0 < beyond < rows[0].box.height:
                continue
            if all(abs(thing.box.left - left) > EDGE / 2 for left in lefts):
                break
            part.append(thing)
    for row in rows:
        row.role = "listitem"
    held = _in_lines([*rows, *part])
    boxes = [t.box for t in held]
    whole = Box(box.left, min(b.top for b in boxes), box.right, max(b.bottom for b in boxes))
    left = [t for t in things if t not in held]
    return _in_lines([*left, _Thing("list", whole, "", int(Flag.SCROLLABLE), held)])


def _alike(one: Box, other: Box) -> bool:
    """Of one width, at one edge, and about as high?"""
    along = abs(one.left - other.left) <= LEVEL and abs(one.right - other.right) <= LEVEL
    return along and min(one.height, other.height) >= ROW_ALIKE * max(one.height, other.height)


def _in_lines(things: list[_Thing]) -> list[_Thing]:
    """From the top down, those on one level from the left."""
    lines: list[list[_Thing]] = []
    for thing in sorted(things, key=lambda t: t.box.centre[1]):
        last = lines[-1][-1].box if lines else None
        if last is not None and abs(last.centre[1] - thing.box.centre[1]) < 0.5 * min(last.height, thing.box.height):
            lines[-1].append(thing)
        else:
            lines.append([thing])
    return [thing for line in lines for thing in sorted(line, key=lambda t: t.box.left)]


def _screen(blind: Screen, things: list[_Thing]) -> Screen:
    rows: list[tuple[_Thing, int]] = [(_Thing("generic", Box(0.0, 0.0, blind.width, blind.height)), -1)]

    def add(thing: _Thing, parent: int) -> None:
        rows.append((thing, parent))
        here = len(rows) - 1
        for each in thing.inside:
            add(each, here)

    for thing in things:
        add(thing, 0)
    roles = tuple(thing.role for thing, _ in rows)
    said = tuple(thing.text for thing, _ in rows)
    boxes = np.array([tuple(thing.box) for thing, _ in rows], np.float64).reshape(len(rows), 4)
    parents = np.array([parent for _, parent in rows], np.int32)
    flags = np.array([thing.flags | int(Flag.ENABLED) | int(Flag.GUESSED) for thing, _ in rows], np.int32)
    none = ("",) * len(rows)
    return Screen(
        width=blind.width,
        height=blind.height,
        app=blind.app,
        activity=blind.activity,
        keyboard=blind.keyboard,
        roles=roles,
        names=name_all(roles, said, none, none, boxes, parents, (flags & Flag.CLICKABLE) > 0)[0],
        texts=said,
        labels=none,
        ids=none,
        boxes=boxes,
        parents=parents,
        flags=flags,
        rotation=blind.rotation,
        read=True,
    )
