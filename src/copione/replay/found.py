"""Targets found and lost."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..model.geometry import Box
from ..model.outcome import Evidence, Reason
from ..model.portrait import NotFound, Sighting
from ..model.roles import roles_of
from ..model.screen import Element, Screen, bare
from ..model.target import AREA, Target
from ..recognition.evidence import fold
from ..recognition.rows import like
from ..recognition.sighting import called_so, sight
from ..recognition.system import as_asked
from .evidence import WantedTarget


@dataclass(frozen=True)
class Found:
    """A target that can be touched: its sighting, the point in dp, whether it had to be scrolled to, and what lay over it until it went."""

    sighting: Sighting
    point: tuple[float, float]
    scrolled: bool = False
    covered: str = ""

    @property
    def element(self) -> Element:
        """The element that was found."""
        return self.sighting.element


@dataclass(frozen=True)
class Lost:
    """Why a target cannot be acted on. `element` is set when it was seen but not reachable."""

    why: Reason
    element: Element | None = None


def sight_on(screen: Screen, wanted: WantedTarget) -> Sighting | NotFound:
    """One look at a screen for a target, within what the script says it stands in, or for what will do instead."""
    seen = _sight_on(screen, wanted)
    if isinstance(seen, NotFound) and not seen.ambiguous and wanted.instead is not None:
        other = sight_on(screen, wanted.instead)
        if isinstance(other, Sighting) and (Evidence.NEAR in other.by or not wanted.instead.near):
            return replace(other, weaker="the tree tells only of what is in it")
    return seen


def _sight_on(screen: Screen, wanted: WantedTarget) -> Sighting | NotFound:
    target = as_asked(wanted.target, screen)
    inside: Element | None = None
    if target.part is not None and target.inside is not None:
        return _part(screen, target, target.part, wanted)
    if target.inside is not None:
        holder = sight(screen, target.inside, roles_of(target.inside.role), wanted.holders)
        if isinstance(holder, NotFound):
            seen = _in_a_row(screen, target, target.inside, wanted) if not holder.ambiguous else None
            return seen or NotFound(Reason(holder.why.cause, f"{target.inside.words()}: {holder.reason}", target.inside.words()))
        inside = holder.element
    return sight(screen, target, roles_of(target.role), wanted.portraits, inside)


def named_on(screen: Screen, wanted: Target) -> list[Element]:
    """Every element on a screen that is what a target's words say to the letter, in whatever of that name it stands in."""
    target = as_asked(wanted, screen)
    if target.part is not None or target.role == AREA or not (target.name or target.inside):
        return []
    roles = roles_of(target.role)
    holders = named_on(screen, target.inside) if target.inside is not None else [None]
    return list(dict.fromkeys(e for holder in holders for e in called_so(screen, target, roles, holder)))


def _in_a_row(screen: Screen, target: Target, row: Target, wanted: WantedTarget) -> Sighting | None:
    """What stands in a recorded row, where the tree tells of no rows: its portrait knows what is beside it."""
    there = [p for p in wanted.portraits if any(fold(a.name) == fold(row.name) for a in p.element.ancestors())]
    known = tuple(p for p in there if len(like(p.element)) > 1)
    seen = sight(screen, replace(target, inside=None), roles_of(target.role), known) if known else None
    return replace(seen, weaker="the tree tells only of what is in its row") if isinstance(seen, Sighting) else None


def _part(screen: Screen, target: Target, part: Box, wanted: WantedTarget) -> Sighting | NotFound:
    """A part of an element that the script gives by its sides."""
    assert target.inside is not None
    holder = sight_on(screen, WantedTarget(target.inside, wanted.holders))
    if isinstance(holder, NotFound):
        return NotFound(Reason(holder.why.cause, f"{target.inside.words()}: {holder.reason}", target.inside.words()))
    return replace(holder, element=part_of(holder.element, part))


def part_of(holder: Element, part: Box) -> Element:
    """A part of an element, in shares of its box, as an element of its own."""
    screen = holder.screen
    return bare(screen.width, screen.height, screen.app, ((holder.box.part(part), "img", holder.name),)).element(1)
