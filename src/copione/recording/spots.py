"""Gestures on a page that gives no tree: kept by the picture of what was touched, and its place. Pure."""

from __future__ import annotations

from collections.abc import Iterable

from ..model.geometry import Box
from ..model.gesture import Gesture
from ..model.portrait import Portrait
from ..model.screen import Moment, Screen, bare
from ..model.step import Step, Target
from ..recognition.pictures import Picture, decode, thing_at
from .intent import Meaning, factor

SAME_SPOT = 0.3  # overlap from which a touch within a spot is on that spot; what is drawn there may change
PAGE = Target("area", "Whole page")
ONLY_PLACE = "known by its picture and place only: an id or a label in the app would help"


def page_of(moment: Moment, width: float, height: float, app: str) -> tuple[Screen, Picture | None]:
    """The screen and the picture of a moment without a tree; `width` and `height` of the upright screen, dp."""
    picture = decode(moment.png, width)
    if picture is not None and picture.size[0] > picture.size[1] and width < height:
        picture = decode(moment.png, height)
        return bare(height, width, app, rotation=1), picture
    return bare(width, height, app), picture


def on_picture(gesture: Gesture, page: Screen, picture: Picture | None, known: Iterable[tuple[str, Portrait]]) -> Meaning:
    """The gesture on what stands there in the picture. `known`: portraits of the recording so far, to call a spot as it was called."""
    whole = page.element(0).box
    if gesture.fingers > 1 or gesture.moves:
        return Meaning(_moved(gesture, page), ((PAGE.words(), Portrait(page, 0, part=Box(0.0, 0.0, 1.0, 1.0))),), page.element(0))
    box = thing_at(picture, *gesture.begin) if picture is not None else Box(*gesture.begin, *gesture.begin)
    spots = [(key, p) for key, p in known if p.row == 0 and p.part is not None and key.startswith('area "Spot')]
    x, y = gesture.begin
    again = next((key for key, p in spots if p.box.contains(x, y) and p.box.overlap(box) >= SAME_SPOT), None)
    number = len({key for key, _ in spots}) + 1
    name = again.removeprefix('area "').removesuffix('"') if again else f"Spot {number}"
    target = Target("area", name)
    kind = gesture.kind if gesture.kind in {"tap", "double-tap", "hold"} else "tap"
    step = Step(kind, target)
    return Meaning(step, ((target.words(), Portrait(page, 0, part=whole.shares(box))),), page.element(0))


def _moved(gesture: Gesture, page: Screen) -> Step:
    if gesture.kind == "pinch":
        return Step("pinch", PAGE, factor(gesture))
    if gesture.kind == "twist":
        return Step("twist", PAGE, f"{gesture.angle:.0f}")
    if gesture.kind in {"swipe", "fling"}:
        return Step(gesture.kind, PAGE, gesture.direction)
    dx, dy = gesture.shift
    return Step("drag", PAGE, f"{dx / page.width:.2f} {dy / page.height:.2f}", "by")


def by_place_only(meaning: Meaning) -> bool:
    """Has its target neither an id nor a name to be known by?"""
    if not meaning.portraits:
        return False
    first = meaning.portraits[0][1]
    return not (first.element.id or first.element.name)
