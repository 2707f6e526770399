"""Whether a finger can reach an element, and where."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.geometry import Box
from ..model.outcome import Cause, Reason
from ..model.screen import Element, Flag, Screen
from .evidence import visible

ENOUGH = 0.5  # share of an element that must show before it is touched
EDGE_DP = 1.5  # what ends so close to its container's edge may go on behind it
WHOLLY = 0.9  # share of what shows of something, where words lie over all of it
TALL_ENOUGH = 24.0  # dp; or so much of it in each direction: a finger's width

OFF_SCREEN = Reason(Cause.OFF_SCREEN, "off the screen")
UNDER_KEYBOARD = Reason(Cause.UNDER_KEYBOARD, "covered by the keyboard")
SCROLLED_AWAY = Reason(Cause.SCROLLED_AWAY, "scrolled out of sight")
CUT = Reason(Cause.CUT, "only a strip of it shows")
BEHIND = Reason(Cause.COVERED, "what it stands in takes what is touched there")
DISABLED = Reason(Cause.DISABLED, "disabled")


@dataclass(frozen=True)
class Reach:
    """`point` in dp, or None and why. `scroller` is the container that may bring it out.

    With both a point and a reason it can be touched, but should be brought further in first, since its container's edge may cut it off, or
    waited for, since words lie over it. `cover` is what takes the touches that are meant for it.
    """

    point: tuple[float, float] | None
    why: Reason | None = None
    scroller: Element | None = None
    cover: Element | None = None

    @property
    def reason(self) -> str:
        """Why not, in words; empty where it can be reached."""
        return self.why.words if self.why is not None else ""


def clear_area(screen: Screen) -> Box:
    """The screen without its keyboard."""
    bottom = screen.keyboard.top if screen.keyboard else screen.height
    return Box(0, 0, screen.width, bottom)


def scroller_of(element: Element) -> Element | None:
    """The innermost container around an element that scrolls."""
    return next((a for a in element.ancestors() if a.has(Flag.SCROLLABLE)), None)


def reach(element: Element) -> Reach:
    """Where to touch an element, or what keeps a finger from it: off the screen, the keyboard, something over it, disabled."""
    screen = element.screen
    scroller = scroller_of(element)
    shown = visible(element)
    if shown.empty or shown.width < 2 or shown.height < 2:
        return Reach(None, OFF_SCREEN, scroller)
    free = shown.clipped(clear_area(screen))
    if free.empty or not _enough(free, element.box):
        if screen.keyboard is not None and shown.bottom > screen.keyboard.top:
            return Reach(None, UNDER_KEYBOARD, scroller)
        return Reach(None, OFF_SCREEN, scroller)
    x, y = free.centre
    if scroller is not None:
        holder = scroller.box.clipped(clear_area(screen))
        if not holder.contains(x, y):
            return Reach(None, SCROLLED_AWAY, scroller)
    cover = _cover(element, x, y)
    if cover is not None:
        called, name = _title(cover)
        return Reach(None, Reason(Cause.COVERED, f"covered by {called}", name), scroller, cover)
    if not element.has(Flag.ENABLED):
        return Reach(None, DISABLED)
    if element.row in screen.spots:
        spot = screen.spots[element.row]
        return Reach(spot) if spot is not None and free.contains(*spot) else Reach(None, BEHIND, scroller)
    over = _words_over(element, free)
    if over is not None:
        return Reach((x, y), Reason(Cause.COVERED, f"{over.called} lies over it", over.name))
    if scroller is not None and _cut(shown, scroller.box.clipped(clear_area(screen)), element.box):
        return Reach((x, y), CUT, scroller)
    return Reach((x, y))


def in_sight(element: Element) -> Reach:
    """Where an element can be seen: as `reach`, but a disabled one can be, and one that a finger does not hit."""
    there = reach(element)
    if there.why is DISABLED or there.why is BEHIND:
        return Reach(element.box.centre)
    return Reach(there.point) if there.point is not None else there


def can_be_seen(element: Element) -> bool:
    """Does any of an element show: within its containers, above the keyboard, not wholly under something else?"""
    shown = visible(element)
    free = shown.clipped(clear_area(element.screen))
    if free.empty or free.width < 2 or free.height < 2:
        return False
    cover = _cover(element, *free.centre)
    return cover is None or visible(cover).clipped(free) != free


def _words_over(element: Element, free: Box) -> Element | None:
    """Other words than its own, drawn over all that shows of it: platforms do not tell whether such take what is touched there."""
    if element.screen.covers or not element.name:  # where they do; and what has no name may be called by them
        return None
    own = {element.name, *(e.name for e in element.descendants())}
    for other in element.screen.at(*free.centre):
        if other.row == element.row or other.within(element) or element.within(other):
            return None
        if other.text and other.name not in own and visible(other).clipped(free).area >= WHOLLY * free.area:
            return other
    return None


def _title(cover: Element) -> tuple[str, str]:
    """What lies over something, as a person would say it, and its name: its own, or that of what stands in it."""
    inside = next((e for e in cover.descendants() if e.name), None) if not cover.name else None
    return (f"what holds {inside.called}", inside.name) if inside is not None else (cover.called, cover.name)


def _enough(free: Box, box: Box) -> bool:
    if free.area >= ENOUGH * box.area:
        return True
    return free.width >= min(TALL_ENOUGH, box.width) and free.height >= min(TALL_ENOUGH, box.height)


def _cut(shown: Box, holder: Box, box: Box) -> bool:
    """Is less than a finger's width of it to be seen, at the edge of its container or beyond? Trees give what shows, not what there is."""
    at_edge = shown.top <= holder.top + EDGE_DP or shown.bottom >= holder.bottom - EDGE_DP
    return at_edge and (shown.height < TALL_ENOUGH or shown.height < ENOUGH * box.height)


def _cover(element: Element, x: float, y: float) -> Element | None:
    """What is drawn over the point and is neither in the element nor around it: as the device tells, else something clickable."""
    if element.screen.covers:
        over = element.screen.covers[element.row]
        return element.screen.element(over) if over >= 0 else None
    for other in element.screen.at(x, y):
        if other.within(element) or element.within(other):
            return None
        if other.has(Flag.CLICKABLE):
            return other
    return None
