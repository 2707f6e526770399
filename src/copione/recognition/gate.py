"""One gate for every way in which a target is found: nothing is taken that was recorded beside it as something else."""

from __future__ import annotations

from collections.abc import Sequence

from ..model.outcome import Cause, Reason
from ..model.portrait import NotFound, Portrait, Sighting
from ..model.screen import Element, Flag, Screen, of_screen
from .evidence import fold, lasting_id, same_id, stable_ids
from .scoring import kinship


def passed(found: Sighting | NotFound, portraits: Sequence[Portrait], name: str = "") -> Sighting | NotFound:
    """What was found, if it is not known as something else from the recording. `name`: what the target is called now, where the script
    fills that in: what is called so is meant, whatever it was when it was recorded.
    """
    if isinstance(found, NotFound):
        return found
    pick = found.element
    if name and fold(pick.name) == fold(name) and all(fold(p.element.name) != fold(name) for p in portraits):
        return found
    for portrait in portraits:
        other = known_as(pick, portrait.element)
        if other is not None:
            words = f"{pick.called} stands where it could be, and was recorded as something else"
            return NotFound(Reason(Cause.NOT_HERE, words, pick.called), found.score, found.margin, pick)
    return found


def known_as(pick: Element, known: Element) -> Element | None:
    """The recorded element that a pick is, where that is another than the target: by its id, or by words that it alone has there."""
    if _is(pick, known):
        return None
    home = known.screen
    rows = {*_by_id(home).get(lasting_id(pick), ()), *_by_name(home).get(fold(pick.name), ())} if pick.name or pick.id else set()
    others = [other for row in sorted(rows) if _is(pick, other := home.element(row))]
    if any(other.within(known) or known.within(other) for other in others):
        return None
    return others[0] if others else None


def _is(pick: Element, known: Element) -> bool:
    """Are both the same thing, as far as ids and words tell?"""
    if lasting_id(pick) and lasting_id(known):
        return same_id(pick, known)
    if not pick.name or fold(pick.name) != fold(known.name):
        return False
    return kinship(known.role, pick.role) > 0 or (pick.has(Flag.CLICKABLE) and known.has(Flag.CLICKABLE))


@of_screen
def _by_id(screen: Screen) -> dict[str, list[int]]:
    return _rows([(id, row) for row, id in enumerate(stable_ids(screen)) if id])


@of_screen
def _by_name(screen: Screen) -> dict[str, list[int]]:
    return _rows([(fold(name), row) for row, name in enumerate(screen.names) if name])


def _rows(pairs: list[tuple[str, int]]) -> dict[str, list[int]]:
    found: dict[str, list[int]] = {}
    for words, row in pairs:
        found.setdefault(words, []).append(row)
    return found
