"""Gestures on a target."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from ...model import action as a
from ...model.geometry import Box
from ...model.gesture import Contact
from ...model.outcome import Cause
from ...model.screen import Element
from ...model.strokes import Point
from ...recognition.evidence import visible
from ...recognition.pictures import look_for
from ...recognition.reach import DISABLED, Reach, in_sight, reach
from ...touch import making
from ..context import StepContext
from ..found import Found
from .registry import performs

PASSING_ON = frozenset({"text", "heading", "img", "generic", "listitem"})
HALF_SWIPE, HALF_FLING = 0.35, 0.4  # of the target's size, each way from its middle
ARM = 0.38  # of the target's smaller side: how far two fingers begin from its middle
AROUND = 56.0  # dp each way: of what was drawn round a tap on a canvas
SAME_SIZE = 0.02  # share by which two sizes may differ and be the same
_WAYS = {a.Direction.LEFT: (-1, 0), a.Direction.RIGHT: (1, 0), a.Direction.UP: (0, -1), a.Direction.DOWN: (0, 1)}


@performs(a.Tap)
def tap(context: StepContext, action: a.Tap) -> None:
    """One short touch, or several, each looked at."""
    found = context.find()
    for turn in range(action.times):
        if turn:
            again = context.again()
            there = reach(again) if again is not None else None
            if again is None or there is None or there.point is None:
                why = f"{there.why.words}: " if there is not None and there.why is not None else ""
                context.stuck(Cause.PASSED, f"{why}it was there for {turn} of {action.times} taps")
                return
            found = Found(replace(found.sighting, element=again), there.point, found.scrolled) if found else None
        if not found:
            return
        context.mark = (found.point,)
        if not _together(context, found, making.tap(*found.point), action.fingers):
            return


def _together(context: StepContext, found: Found, contact: Contact, fingers: int) -> bool:
    """One finger's gesture by several at once; False, and the step is stuck, where they do not fit on the target or it did not stay."""
    box = visible(found.element)
    contacts = making.with_fingers(contact, fingers, box.width, box.height)
    if contacts is None:
        context.stuck(Cause.CUT, f"it is too small for {fingers} fingers: {box.width:.0f} × {box.height:.0f} dp", element=found.element)
        return False
    return context.gesture(contacts, found.element)


@performs(a.Hold)
def hold(context: StepContext, action: a.Hold) -> None:
    """A long press."""
    found = context.find()
    if found:
        context.mark = (found.point,)
        _together(context, found, making.hold(*found.point), action.fingers)


@performs(a.DoubleTap)
def double_tap(context: StepContext, _action: a.DoubleTap) -> None:
    """Two short touches."""
    found = context.find()
    if found:
        context.mark = (found.point,)
        context.gesture(making.double_tap(*found.point), found.element)


@performs(a.Find)
def find(context: StepContext, _action: a.Find) -> None:
    """Scrolled to and in reach."""
    context.see(eager=True, reachable=reach)


def _struck(element: Element) -> Reach:
    """Words and pictures hand a stroke on to what holds them, whether they take part themselves or not."""
    there = reach(element)
    return in_sight(element) if there.why is DISABLED and element.role in PASSING_ON else there


@performs(a.Swipe)
def swipe(context: StepContext, action: a.Swipe) -> None:
    """A stroke across the target that ends at rest."""
    found = context.find(reachable=_struck)
    if found:
        begin, end = _across(visible(found.element), found.point, action.direction, HALF_SWIPE)
        context.mark = (begin, end)
        context.gesture([making.swipe(*begin, *end)], found.element)


@performs(a.Fling)
def fling(context: StepContext, action: a.Fling) -> None:
    """A stroke across the target that still moves at its lift."""
    found = context.find(reachable=_struck)
    if found:
        begin, end = _across(visible(found.element), found.point, action.direction, HALF_FLING)
        context.mark = (begin, end)
        context.gesture([making.fling(*begin, *end)], found.element)


def _across(area: Box, point: tuple[float, float], way: a.Direction, share: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """From one side of a point to the other, `share` of the area's size each way."""
    dx, dy = _WAYS[way]
    x, y = point
    away_x, away_y = area.width * share * dx, area.height * share * dy
    return (x - away_x, y - away_y), (x + away_x, y + away_y)


@performs(a.DragBy)
def drag_by(context: StepContext, action: a.DragBy) -> None:
    """Carry the target's middle by shares of its size."""
    found = context.find()
    if found:
        (x, y), box = found.point, visible(found.element)
        context.note_unmoved(found.element)
        away_x, away_y = action.dx * box.width / 2, action.dy * box.height / 2
        context.mark = ((x - away_x, y - away_y), (x + away_x, y + away_y))
        _together(context, found, making.drag(*context.mark[0], *context.mark[1]), action.fingers)


@performs(a.DragTo)
def drag_to(context: StepContext, action: a.DragTo) -> None:
    """Carry a target onto another, or above or below another of its list, by the part it is carried by."""
    found = context.find()
    there = context.find_other() if found else None
    if found is None or there is None:
        return
    grip = _grip(found.element, context.grip())
    begin = visible(grip).centre if grip else found.point
    onto = action.placement is a.Placement.ONTO
    end = there.box.centre if onto else (begin[0], _slot(found.element, there, action.placement))
    context.mark = (begin, end)
    carry = making.drag if grip and grip.role == "img" else making.hold_drag
    sure = context.gesture([carry(*begin, *end)], found.element)
    if sure and not onto and not _lies(context, action.placement):
        context.stuck(Cause.NOT_TAKEN, f"it does not lie {action.placement.value} {action.other.words()} after the drag")


def _grip(item: Element, recorded: Element | None) -> Element | None:
    """The part by which an item was carried, on this screen: the one like it, or the only picture in the item."""
    parts = list(item.descendants())
    like = [e for e in parts if recorded is not None and (e.role, e.id, e.label) == (recorded.role, recorded.id, recorded.label)]
    found = like or [e for e in parts if e.role == "img"]
    return found[0] if len(found) == 1 else None


def _slot(item: Element, other: Element, placement: a.Placement) -> float:
    """The y to which an item's middle is carried to lie above or below another of the same list."""
    mine, theirs = item.box.centre[1], other.box.centre[1]
    ahead = sorted(e.box.centre[1] for e in item.screen if e.role == item.role and e.parent == item.parent)
    pitch = min((b - a for a, b in pairwise(ahead)), default=item.box.height)
    downwards = theirs > mine
    if placement is a.Placement.BELOW:
        return theirs if downwards else theirs + pitch
    return theirs - pitch if downwards else theirs


def _lies(context: StepContext, placement: a.Placement) -> bool:
    """Is the item now the neighbour of the other, on that side?"""
    item, other = context.again(), context.again(1)
    if item is None or other is None:
        return False
    order = sorted((e for e in item.screen if e.role == item.role and e.parent == item.parent), key=lambda e: e.box.top)
    if item not in order or other not in order:
        return False
    return order.index(item) - order.index(other) == (1 if placement is a.Placement.BELOW else -1)


@performs(a.Pinch)
def pinch(context: StepContext, action: a.Pinch) -> None:
    """Two fingers apart or together."""
    _two_fingers(context, scale=action.factor)


@performs(a.Twist)
def twist(context: StepContext, action: a.Twist) -> None:
    """Two fingers about their middle."""
    _two_fingers(context, angle=action.degrees)


def _two_fingers(context: StepContext, scale: float = 1.0, angle: float = 0.0) -> None:
    found = context.find()
    if found:
        box = visible(found.element)
        context.note_unmoved(found.element)
        fingers = making.two_fingers(box.centre, ARM * min(box.width, box.height), scale, angle)
        context.mark = tuple(place for finger in fingers for place in (finger.begin, finger.end))
        context.gesture(fingers, found.element)


@performs(a.Draw)
def draw(context: StepContext, action: a.Draw) -> None:
    """A path in shares of the target's box, one stroke for each of its parts."""
    found = context.find()
    if found:
        box = visible(found.element)
        for stroke in action.strokes():
            places = [(box.left + x * box.width, box.top + y * box.height) for x, y in stroke]
            if len(places) == 1:
                places = [_where_drawn(context, box, stroke[0], places[0])]
            context.mark += tuple(places)
            if not context.gesture([_line(places)], found.element):
                return


def _where_drawn(context: StepContext, box: Box, share: Point, place: Point) -> Point:
    """Where to tap on a canvas of another size than the recorded one: where what was drawn round the tap is drawn, else by its share."""
    known = next((p for p in context.portraits() if p.picture), None)
    frame = context.finder.recorded.frame(known) if known is not None else None
    if known is None or frame is None:
        return place
    then, k = known.box, (box.width / known.box.width, box.height / known.box.height)
    if max(abs(k[0] - 1), abs(k[1] - 1)) < SAME_SIZE:
        return place
    x, y = then.left + share[0] * then.width, then.top + share[1] * then.height
    around = Box(x - AROUND / 2, y - AROUND / 2, x + AROUND / 2, y + AROUND / 2).clipped(then)
    patch, picture = frame.cut(around), context.picture_in(box)
    for scale in (1.0, *([k[0]] if abs(k[0] / k[1] - 1) < SAME_SIZE else [])):
        match = look_for(replace(patch, density=patch.density / scale), picture) if picture is not None else None
        if match is not None and match.sure:
            context.notes.append("placed by what is drawn there")
            at = match.box
            return (
                box.left + at.left + (x - around.left) / around.width * at.width,
                box.top + at.top + (y - around.top) / around.height * at.height,
            )
    context.notes.append("placed by its share of a canvas of another size")
    return place


def _line(places: list[tuple[float, float]]) -> Contact:
    return making.freehand(places) if len(places) > 1 else making.tap(*places[0])
