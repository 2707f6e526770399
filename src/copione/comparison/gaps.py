"""What stands on one device between two things that stand next to each other on another. Pure."""

from __future__ import annotations

from collections.abc import Container, Iterable, Sequence

from ..model.geometry import Box
from .views import SeenElement, View


def gaps(here: View, there: View) -> Iterable[list[SeenElement]]:
    """What stands there between two neighbours that both show, and stand next to each other, here: a list for each such gap.

    Only what shows whole counts, and only what holds nothing else. What was last of a page that does not scroll is a gap where there is
    room for it.
    """
    panes: dict[tuple[Box | None, int], list[SeenElement]] = {}
    for each in there.elements:
        if each.alone and each.leaf and not each.cut:
            panes.setdefault((each.pane, each.part), []).append(each)
    for common in panes.values():
        yield from _runs_in(here, common)


def _runs_in(here: View, common: Sequence[SeenElement]) -> Iterable[list[SeenElement]]:
    run: list[SeenElement] = []
    before: SeenElement | None = None
    for each in common:
        own = here.by_key.get(each.key)
        if own is None:
            if each.key not in here.keys:
                run.append(each)
            continue
        if run and before is not None and not own.cut and _adjacent(here, before, own):
            yield run
        run, before = [], own if not own.cut else None
    if run and before is not None and not run[-1].scrolls and not before.scrolls and _room_behind(here, before, run):
        yield run


def _adjacent(view: View, first: SeenElement, last: SeenElement) -> bool:
    """Does the one stand right behind the other, with nothing between them?"""
    places = view.order[first.key], view.order[last.key]
    if (first.pane, first.part) != (last.pane, last.part):  # the end of what scrolls lies between them
        return False
    return places[0] < places[1] and not any(e.leaf and e.pane == first.pane for e in view.elements[places[0] + 1 : places[1]])


def _room_behind(view: View, last: SeenElement, run: Sequence[SeenElement]) -> bool:
    behind = any(e.leaf and e.part == last.part for e in view.elements[view.order[last.key] + 1 :])
    return not behind and view.room.bottom - last.box.bottom > sum(e.box.height + 24 for e in run) + 40


def replaced(here: View, there: View) -> Iterable[tuple[SeenElement, SeenElement]]:
    """Pairs of texts, one here and one there, that stand between the same two neighbours and are each shown on one side only."""
    for neighbours, seen in here.between.items():
        other = there.between.get(neighbours)
        if other is not None and seen.key not in there.keys and other.key not in here.keys:
            yield seen, other


def told_of(runs: Iterable[Sequence[SeenElement]], keys: Container[str]) -> Iterable[tuple[SeenElement, frozenset[str]]]:
    """One of each gap stands for all in it that are meant: what can be touched, else the first. With the keys of them all."""
    for run in runs:
        meant = [each for each in run if each.key in keys]
        if meant:
            yield next((each for each in meant if each.tappable), meant[0]), frozenset(each.key for each in meant)
