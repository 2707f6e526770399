"""Targets that the tree does not know: by how they looked, by the text in the picture, and areas of an element or of a page."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache

from ..model.geometry import Box
from ..model.portrait import Portrait, Sighting
from ..model.screen import Element, bare
from ..model.step import Target
from ..recognition.pictures import Picture, decode
from ..recognition.reach import Reach, reach
from ..recognition.seeing import by_picture, by_text, opaque, patch_of, spot
from ..recognition.sighting import sight
from ..recognition.text import can_read, said_in
from .looking import Eye, Found, Lost

Frames = Callable[[Portrait], Picture | None]
AREA = "area"
WHOLE = Box(0.0, 0.0, 1.0, 1.0)
PLACE = "by its place alone"


def whole_page(portrait: Portrait) -> bool:
    """Is an area one of the whole screen, not of an element on it?"""
    return portrait.row == 0


def look_unaided(eye: Eye, target: Target, portraits: Sequence[Portrait], frames: Frames, *, read: bool) -> Found | None:
    """One look at the newest picture, for how a target looked; `read`: for its words too, which takes a second or two."""
    picture = _picture(eye)
    if picture is None:
        return None
    screen = eye.moment.screen
    for portrait in portraits:
        known = portrait.element.name
        if target.role != AREA and known and target.name != known:
            continue  # filled in from data: it looks like another one
        found = by_picture(picture, screen, portrait, frames(portrait))
        if isinstance(found, Sighting) and (there := reach(found.element)).point is not None:
            return Found(found, there.point)
    if read and can_read() and (screen is None or opaque(screen)):
        seen = by_text(picture, screen, _words(target, portraits, frames))
        if isinstance(seen, Sighting):
            return Found(seen, seen.element.box.centre)
    return None


def _words(target: Target, portraits: Sequence[Portrait], frames: Frames) -> str:
    """What is written on a target: its name; of an area what its picture says."""
    if target.role != AREA:
        return target.name
    return next((_said_on(p, frame) for p in portraits if (frame := frames(p)) is not None), "")


@lru_cache(maxsize=64)
def _said_on(portrait: Portrait, frame: Picture) -> str:
    patch = patch_of(portrait, frame)
    return said_in(patch) if patch is not None else ""


def _picture(eye: Eye) -> Picture | None:
    moment = eye.moment
    profile = eye.link.profile()
    if moment.screen is not None:
        return decode(moment.png, moment.screen.width)
    picture = decode(moment.png, profile.width)
    if picture is not None and picture.pixels.shape[1] > picture.pixels.shape[0] and profile.width < profile.height:
        return decode(moment.png, profile.height)  # held on its side
    return picture


def find_area(eye: Eye, target: Target, portraits: Sequence[Portrait], patience: float, frames: Frames, *, read: bool) -> Found | Lost:
    """An area: within its element where it has one; else by the words that name it, by its picture, by what is written on it."""
    if not portraits:
        return Lost("there is no record of this area: record it again")
    if not whole_page(portraits[0]):
        return _within(eye, portraits[0], patience)
    if portraits[0].part == WHOLE:
        return at_place(eye, portraits)
    deadline = eye.clock.now() + patience
    while True:
        screen = eye.moment.screen
        if screen is not None:
            seen = sight(screen, Target("", target.name), ())
            if isinstance(seen, Sighting) and (there := reach(seen.element)).point is not None:
                return Found(replace(seen, weaker="by its words"), there.point)
        late = eye.clock.now() >= deadline
        found = look_unaided(eye, target, portraits, frames, read=read and late)
        if found is not None:
            return found
        if late:
            return Lost("nothing on the screen looks like it")
        eye.pause()
        eye.look()


def _within(eye: Eye, portrait: Portrait, patience: float) -> Found | Lost:
    assert portrait.part is not None
    found = eye.find(Target("", ""), (replace(portrait, part=None),), patience, reachable=_seen)
    if isinstance(found, Lost):
        return found
    holder = found.element
    box = holder.box.part(portrait.part)
    here = bare(holder.screen.width, holder.screen.height, holder.screen.app, ((box, "img", holder.name),)).element(1)
    return Found(replace(found.sighting, element=here), box.centre, found.route)


def _seen(element: Element) -> Reach:
    there = reach(element)
    return Reach(element.box.centre) if there.point is None and there.reason == "disabled" else there


def at_place(eye: Eye, portraits: Sequence[Portrait]) -> Found | Lost:
    """Where a target was recorded, in shares of the screen: only where the script allows it, and nothing else was found."""
    picture = _picture(eye)
    if picture is None or not portraits:
        return Lost("there is no record of its place")
    recorded = portraits[0].screen
    box = Box(0.0, 0.0, *picture.size).part(Box(0.0, 0.0, recorded.width, recorded.height).shares(portraits[0].box))
    alone = "" if portraits[0].part == WHOLE else PLACE
    return Found(Sighting(spot(picture, box, "img", ""), ("place",), 0.0, 0.0, alone), box.centre)


def area_picture(eye: Eye, box: Box) -> Picture | None:
    """What the newest moment shows within a box, dp."""
    picture = _picture(eye)
    return picture.cut(box) if picture is not None else None
