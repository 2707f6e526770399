"""Targets that the tree does not know: by how they looked, by the text in the picture, and areas of an element or of a page."""

from __future__ import annotations

from collections.abc import Sequence

from ..model.geometry import Box
from ..model.outcome import Cause, Evidence, Reason
from ..model.portrait import NotFound, Portrait, Sighting
from ..model.screen import Screen
from ..model.target import AREA, Target
from ..recognition.evidence import visible
from ..recognition.gate import known_as
from ..recognition.pictures import Picture, picture_of
from ..recognition.reach import reach
from ..recognition.seeing import by_picture, by_text, has_looks, opaque, patch_of, spot
from ..recognition.text import can_read, said_in
from .evidence import RecordedEvidence, WantedTarget
from .found import Found, Lost, sight_on
from .watch import ScreenWatch

READ_S = 1.5  # that reading a picture may take longer than its step has
WHOLE = Box(0.0, 0.0, 1.0, 1.0)
PLACE = "by its place alone"


def whole_page(portrait: Portrait) -> bool:
    """Is an area one of the whole screen, not of an element on it?"""
    return portrait.row == 0


def look_by_picture(watch: ScreenWatch, recorded: RecordedEvidence, wanted: WantedTarget, *, read: bool) -> Found | None:
    """One look at the newest picture, for how a target looked; `read`: for its words too, which takes a second or two."""
    target, screen = wanted.target, watch.moment.screen
    within: Box | None = None
    if target.inside is not None and target.part is None and screen is not None:
        holder = sight_on(screen, WantedTarget(target.inside, wanted.holders))
        if isinstance(holder, NotFound):
            return None
        within = visible(holder.element)
    looks = [p for p in wanted.portraits if has_looks(p) and _looks_like(target, p)]
    written = read and _may_be_written(screen)
    picture = screen_picture(watch) if looks or written else None
    if picture is None:
        return None
    for portrait in looks:
        found = by_picture(picture, screen, portrait, recorded.frame(portrait), within)
        if isinstance(found, Sighting) and (there := reach(found.element)).point is not None:
            return Found(found, there.point)
    if written and watch.readings.in_time(watch.moment.png, picture, watch.left + READ_S):
        seen = by_text(picture, screen, _words(wanted, recorded))
        if isinstance(seen, Sighting):
            return Found(seen, seen.element.box.centre)
    return None


def read_ahead(watch: ScreenWatch, wanted: WantedTarget) -> None:
    """Begin to read the newest picture while a target is waited for that nothing else has found, if it may be written there."""
    picture = screen_picture(watch) if wanted.target.name and _may_be_written(watch.moment.screen) else None
    if picture is not None:
        watch.readings.begin(watch.moment.png, picture)


def _may_be_written(screen: Screen | None) -> bool:
    """Is there a part of the screen that only a picture tells of, and can pictures be read?"""
    return can_read() and (screen is None or bool(opaque(screen)))


def _looks_like(target: Target, portrait: Portrait) -> bool:
    """One that is filled in from data looks like another one."""
    known = portrait.element.name
    return target.role == AREA or not known or target.name == known


def _words(wanted: WantedTarget, recorded: RecordedEvidence) -> str:
    """What is written on a target: its name; of an area what its picture says."""
    if wanted.target.role != AREA:
        return wanted.target.name
    return next((_said_on(p, frame) for p in wanted.portraits if (frame := recorded.frame(p)) is not None), "")


def _said_on(portrait: Portrait, frame: Picture) -> str:
    """What is written within a portrait's box on its frame; read once."""
    if portrait.box not in frame.kept:
        patch = patch_of(portrait, frame)
        frame.kept[portrait.box] = said_in(patch) if patch is not None else ""
    return str(frame.kept[portrait.box])


def screen_picture(watch: ScreenWatch) -> Picture | None:
    """The newest moment's picture; None where there is none."""
    moment = watch.moment
    profile = watch.link.profile()
    if moment.screen is not None:
        return picture_of(moment, moment.screen.width)
    picture = picture_of(moment, profile.width)
    if picture is not None and picture.pixels.shape[1] > picture.pixels.shape[0] and profile.width < profile.height:
        return picture_of(moment, profile.height)  # held on its side
    return picture


def at_place(watch: ScreenWatch, portraits: Sequence[Portrait]) -> Found | Lost:
    """Where a target was recorded, in shares of the screen: only where the script allows it, and nothing else was found."""
    picture = screen_picture(watch)
    if picture is None or not portraits:
        return Lost(Reason(Cause.NO_RECORD, "there is no record of its place"))
    recorded = portraits[0].screen
    box = Box(0.0, 0.0, *picture.size).part(Box(0.0, 0.0, recorded.width, recorded.height).shares(portraits[0].box))
    if portraits[0].part == WHOLE:
        alone = ""
    else:
        alone, screen = PLACE, watch.moment.screen
        there = next((e for e in screen.at(*box.centre) if e.name or e.id), None) if screen is not None else None
        if there is not None and known_as(there, portraits[0].element) is not None:
            return Lost(Reason(Cause.NOT_HERE, f"{there.called} is there instead, and was recorded as something else", there.called))
    return Found(Sighting(spot(picture, box, "img", ""), (Evidence.PLACE,), 0.0, 0.0, alone), box.centre)
