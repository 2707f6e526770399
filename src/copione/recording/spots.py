"""Gestures on a page that gives no tree: kept by the picture of what was touched, and its place. Pure."""

from __future__ import annotations

from collections.abc import Iterable

from ..model.action import Action, Direction, DragBy, Tap
from ..model.geometry import Box
from ..model.gesture import Gesture
from ..model.portrait import Portrait
from ..model.screen import Moment, Screen, bare
from ..model.step import Step
from ..model.target import AREA, Target
from ..recognition.pictures import Picture, decode, thing_at
from .intent import POINTED, STROKES, Meaning, pinched, pressed_together, twisted

SAME_SPOT = 0.3  # overlap from which a touch within a spot is on that spot; what is drawn there may change
PAGE = Target(AREA, "Whole page")


def page_of(moment: Moment, width: float, height: float, app: str) -> tuple[Screen, Picture | None]:
    """The screen and the picture of a moment without a tree; `width` and `height` of the upright screen, dp."""
    picture = decode(moment.png, width)
    if picture is not None and picture.size[0] > picture.size[1] and width < height:
        picture = decode(moment.png, height)
        return bare(height, width, app, rotation=1), picture
    return bare(width, height, app), picture


def on_picture(gesture: Gesture, page: Screen, picture: Picture | None, known: Iterable[tuple[Target, Portrait]]) -> Meaning:
    """The gesture on what stands there in the picture. `known`: portraits of the recording so far, to call a spot as it was called."""
    whole = page.element(0).box
    if gesture.moves or gesture.kind in ("pinch", "twist"):
        return Meaning(Step(_moved(gesture, page)), ((PAGE, Portrait(page, 0, part=Box(0.0, 0.0, 1.0, 1.0))),), page.element(0))
    box = thing_at(picture, *gesture.begin) if picture is not None else Box(*gesture.begin, *gesture.begin)
    spots = [(target, p) for target, p in known if target.role == AREA and target != PAGE and p.row == 0 and p.part is not None]
    x, y = gesture.begin
    again = next((target for target, p in spots if p.box.contains(x, y) and p.box.overlap(box) >= SAME_SPOT), None)
    target = again or Target(AREA, f"Spot {len({target for target, _ in spots}) + 1}")
    action = pressed_together(gesture, target) if gesture.fingers > 1 else POINTED.get(gesture.kind, Tap)(target)
    return Meaning(Step(action), ((target, Portrait(page, 0, part=whole.shares(box))),), page.element(0))


def _moved(gesture: Gesture, page: Screen) -> Action:
    if gesture.kind == "pinch":
        return pinched(gesture, PAGE)
    if gesture.kind == "twist":
        return twisted(gesture, PAGE)
    if gesture.kind in STROKES:
        return STROKES[gesture.kind](Direction(gesture.direction), PAGE)
    dx, dy = gesture.shift
    return DragBy(PAGE, round(dx / page.width, 2), round(dy / page.height, 2), gesture.fingers)


def by_place_only(meaning: Meaning) -> bool:
    """Has its target neither an id nor a name to be known by?"""
    if not meaning.portraits:
        return False
    first = meaning.portraits[0][1]
    return not (first.element.id or first.element.name)
