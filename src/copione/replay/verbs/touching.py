"""Gestures on a target."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from ...model.geometry import Box
from ...model.gesture import Contact
from ...model.outcome import Outcome
from ...model.screen import Element
from ...model.step import Step
from ...recognition.evidence import visible
from ...touch import making
from ...touch.path import svg_strokes
from ..act import Act

if TYPE_CHECKING:
    from ..take import Take


def tap(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if found:
        take.touch(act, found.point)


def hold(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if found:
        act.mark = (found.point,)
        take.gesture([making.hold(*found.point)])


def swipe(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    act.mark = _across(visible(found.element), found.point, step.value, 0.35)
    take.gesture([making.swipe(*act.mark[0], *act.mark[1])])


def find(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene, eager=True)
    if found and found.route:
        act.notes.remove(found.route)  # scrolling is what the step says


def double_tap(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if found:
        act.mark = (found.point,)
        take.gesture(making.double_tap(*found.point))


def fling(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if found:
        act.mark = _across(visible(found.element), found.point, step.value, 0.4)
        take.gesture([making.fling(*act.mark[0], *act.mark[1])])


def _across(area: Box, point: tuple[float, float], direction: str, share: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """From one side of a point to the other, `share` of the area's size each way."""
    dx, dy = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}[direction]
    x, y = point
    away_x, away_y = area.width * share * dx, area.height * share * dy
    return (x - away_x, y - away_y), (x + away_x, y + away_y)


def drag(take: Take, step: Step, act: Act, scene: str) -> None:
    """Carry a target onto another, above or below another of its list, or by shares of its own size."""
    found = take.find_target(step, act, scene)
    if not found:
        return
    x, y = found.point
    if step.relation == "by":
        dx, dy = (float(word) for word in step.value.split())
        box = visible(found.element)
        act.mark = ((x - dx * box.width / 2, y - dy * box.height / 2), (x + dx * box.width / 2, y + dy * box.height / 2))
        take.gesture([making.drag(*act.mark[0], *act.mark[1])])
        return
    there = take.find_other(step, act, scene)
    if there is None:
        return
    handle = _handle(found.element, take.handle_of(step, scene))
    begin = visible(handle).centre if handle else (x, y)
    end = there.box.centre[1] if step.relation == "onto" else _slot(found.element, there, step.relation)
    act.mark = (begin, (there.box.centre[0] if step.relation == "onto" else begin[0], end))
    carry = making.drag if handle and handle.role == "img" else making.hold_drag
    take.gesture([carry(*act.mark[0], *act.mark[1])])
    if step.relation != "onto" and not _lies(take, step, scene):
        act.outcome, act.reason = (
            Outcome.STUCK,
            f"it does not lie {step.relation} {step.onto.words() if step.onto else 'it'} after the drag",
        )


def _handle(item: Element, recorded: Element | None) -> Element | None:
    """The part by which an item was carried, on this screen: the one like it, or the only picture in the item."""
    parts = list(item.descendants())
    like = [e for e in parts if recorded is not None and (e.role, e.id, e.label) == (recorded.role, recorded.id, recorded.label)]
    found = like or [e for e in parts if e.role == "img"]
    return found[0] if len(found) == 1 else None


def _slot(item: Element, other: Element, relation: str) -> float:
    """The y to which an item's middle is carried to lie above or below another of the same list."""
    mine, theirs = item.box.centre[1], other.box.centre[1]
    ahead = sorted(e.box.centre[1] for e in item.screen if e.role == item.role and e.parent == item.parent)
    pitch = min((b - a for a, b in pairwise(ahead)), default=item.box.height)
    downwards = theirs > mine
    if relation == "below":
        return theirs if downwards else theirs + pitch
    return theirs - pitch if downwards else theirs


def _lies(take: Take, step: Step, scene: str) -> bool:
    """Is the item now the neighbour of the other, on the side the step says?"""
    item, other = take.again(step, scene), take.other_again(step, scene)
    if item is None or other is None:
        return False
    order = sorted((e for e in item.screen if e.role == item.role and e.parent == item.parent), key=lambda e: e.box.top)
    if item not in order or other not in order:
        return False
    return order.index(item) - order.index(other) == (1 if step.relation == "below" else -1)


def pinch(take: Take, step: Step, act: Act, scene: str) -> None:
    _two(take, step, act, scene, scale=float(step.value))


def twist(take: Take, step: Step, act: Act, scene: str) -> None:
    _two(take, step, act, scene, angle=float(step.value))


def _two(take: Take, step: Step, act: Act, scene: str, scale: float = 1.0, angle: float = 0.0) -> None:
    found = take.find_target(step, act, scene)
    if found:
        box = visible(found.element)
        arm = 0.38 * min(box.width, box.height)
        fingers = making.two_fingers(box.centre, arm, scale, angle)
        act.mark = tuple(place for finger in fingers for place in (finger.begin, finger.end))
        take.gesture(fingers)


def draw(take: Take, step: Step, act: Act, scene: str) -> None:
    """A path in shares of the target's box, one stroke for each of its parts."""
    found = take.find_target(step, act, scene)
    if found:
        box = visible(found.element)
        for stroke in svg_strokes(step.value):
            places = [(box.left + x * box.width, box.top + y * box.height) for x, y in stroke]
            act.mark += tuple(places)
            take.gesture([_line(places)])


def _line(places: list[tuple[float, float]]) -> Contact:
    return making.freehand(places) if len(places) > 1 else making.tap(*places[0])
