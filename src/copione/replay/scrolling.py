"""Scrolling a container on replay: one stroke within its clear part that the app cannot take for anything else."""

from __future__ import annotations

from ..model.geometry import Box
from ..model.screen import Element, Flag, Screen
from ..recognition.evidence import visible
from ..recognition.reach import clear_area, scroller_of
from ..touch.making import drag
from .watch import ScreenWatch

STROKE = 0.55  # share of a container's height that one scroll moves: overlap, so that nothing is passed over
DRAGGED = frozenset({"slider", "canvas", "combobox"})  # a stroke that begins there is theirs
WHEEL_TALL = 72.0  # dp: a choice that high is a wheel
EDGE, INWARDS = 1.3, 0.3  # of an item's height from the edge that is near; share of the container it is brought in by
LEAST, SLACK_DP = 0.12, 24.0  # share of a container that a stroke moves at least; how far beyond the edge a target is brought in


def scroll(watch: ScreenWatch, scroller: Element, down: bool, share: float = STROKE) -> bool:
    """One stroke over `share` of the container's height; did anything move? `down` brings up what is below."""
    area = visible(scroller).clipped(clear_area(scroller.screen))
    length = area.height * share * (-1 if down else 1)
    x, y = _clear_start(scroller.screen, area, length)
    before = watch.signature()
    watch.link.touch([drag(x, y, x, y + length)])
    watch.look()
    return watch.signature() != before


def scroll_towards(watch: ScreenWatch, element: Element, scroller: Element) -> bool:
    """Bring an element that stands outside its container's clear part in; did anything move?"""
    area = visible(scroller).clipped(clear_area(scroller.screen))
    box = element.box
    below = (box.top + box.bottom) / 2 > (area.top + area.bottom) / 2
    away = box.bottom - area.bottom if below else area.top - box.top
    return scroll(watch, scroller, below, min(STROKE, max(LEAST, (away + box.height + SLACK_DP) / max(1.0, area.height))))


def bring_inwards(watch: ScreenWatch, element: Element) -> None:
    """Move what stands at the edge of its container further in: what is next to it, perhaps its twin, is to be seen too."""
    scroller = scroller_of(element)
    if scroller is None:
        return
    area, box = visible(scroller).clipped(clear_area(scroller.screen)), element.box
    if area.bottom - box.bottom < box.height * EDGE:
        scroll(watch, scroller, True, INWARDS)
    elif box.top - area.top < box.height * EDGE:
        scroll(watch, scroller, False, INWARDS)


def same_container(holder: Element, screen: Screen | None) -> Element | None:
    """The container on a later screen of the same page."""
    now = screen.element(holder.row) if screen is not None and holder.row < len(screen) else None
    return now if now is not None and now.role == holder.role and now.id == holder.id and now.has(Flag.SCROLLABLE) else None


def _clear_start(screen: Screen, area: Box, length: float) -> tuple[float, float]:
    """Where a stroke of that length down may begin so that the container takes it: not on what is itself dragged."""
    room = max(0.0, area.height - abs(length))
    low = area.top + max(0.0, -length)
    across = (0.5, 0.3, 0.7, 0.15, 0.85)
    for share in (0.5, 0.35, 0.65, 0.2, 0.8, 0.05, 0.95):
        for place in across:
            x, y = area.left + place * area.width, low + share * room
            if not any(e.role in DRAGGED and (e.role != "combobox" or e.box.height >= WHEEL_TALL) for e in screen.at(x, y)):
                return x, y
    return area.centre[0], low + room / 2
