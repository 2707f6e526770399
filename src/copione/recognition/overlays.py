"""What stands over what is scrolled: bars, floating buttons, sheets. What lies under one of them shows only in part."""

from __future__ import annotations

import re
from collections.abc import Iterator

import numpy as np

from ..model.geometry import Box
from ..model.screen import Element, Flag, Overlay, Screen, of_element, of_screen
from .reach import scroller_of

CLOSE_DP = 2.0  # what reaches only so far under another shows whole

_MESSAGE = re.compile(r"snack|toast|banner|popup|tooltip|notif|message", re.I)


@of_element
def called_message(element: Element) -> bool:
    """Is it a part of what the platform or an id calls a message?"""
    return any(e.has(Flag.MESSAGE) or _MESSAGE.search(e.id) for e in (element, *element.ancestors()))


@of_element
def lies_under(element: Element) -> bool:
    """Does something that stands lie over a part of it?

    What would be scrolled along with it does not: that the two lie over each other there tells of the page.
    """
    row, end, scroller = element.row, element.screen.ends[element.row], scroller_of(element)
    flow = (scroller.row, element.screen.ends[scroller.row]) if scroller is not None else None
    own = max((each.first for each in _overlays(element.screen) if each.first <= row < each.end), default=-1)
    return any(
        each.first > own
        and not row <= each.first < end
        and (each.stays or flow is None or not flow[0] < each.first < flow[1])
        and _overlap(element.box, each.box)
        for each in _overlays(element.screen)
    )


def _overlap(one: Box, other: Box) -> bool:
    both = one.clipped(other)
    return not both.empty and both.width > CLOSE_DP and both.height > CLOSE_DP


@of_screen
def _overlays(screen: Screen) -> tuple[Overlay, ...]:
    """As the device tells; else what is drawn later than something that scrolls, and over a part of it."""
    return screen.overlays if screen.overlays is not None else tuple(_over_scrollers(screen))


def _over_scrollers(screen: Screen) -> Iterator[Overlay]:
    for scroller in np.flatnonzero(screen.flags & Flag.SCROLLABLE).tolist():
        box = screen.element(scroller).box
        row = screen.ends[scroller]
        while row < len(screen):
            other = screen.element(row).box
            if _overlap(box, other) and other.clipped(box).area < box.area:
                yield Overlay(other, row, screen.ends[row], False)
                row = screen.ends[row]
            else:
                row += 1
