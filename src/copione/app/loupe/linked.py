"""The same element on every device of a step: found in the trees that a run keeps, read beside Qt's thread."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from ...comparison.lanes import Lane
from ...model.geometry import Box
from ...model.outcome import Result
from ...model.take import TakeName

if TYPE_CHECKING:
    from ...model.screen import Element, Screen
    from ..courier import Courier


class Linked:
    """The screens of the step that is shown; none before they are read."""

    def __init__(self, courier: Courier) -> None:
        self._courier = courier
        self._screens: dict[TakeName, Screen] = {}
        self._turn = 0

    def read(self, shown: Sequence[tuple[Lane, Result]], done: Callable[[], object]) -> None:
        """Read the trees of a step; `done` when they are there."""
        self._turn += 1
        self._screens, turn, pairs = {}, self._turn, tuple(shown)

        def reading() -> dict[TakeName, Screen]:
            from ...project.portraying import screen_of

            found = {lane.name: screen_of(lane.folder, lane.device, result) for lane, result in pairs if lane.folder is not None}
            return {name: screen for name, screen in found.items() if screen is not None}

        def have(screens: dict[TakeName, Screen]) -> None:
            if turn == self._turn:
                self._screens = screens
                done()

        self._courier.think(reading, have, lambda error: None)

    def under(self, take: TakeName, x: float, y: float) -> dict[TakeName, Box]:
        """Where the element under a point (dp) of one device is on all of them; none where nothing is known there."""
        screen = self._screens.get(take)
        element = _at(screen, x, y) if screen is not None else None
        if element is None:
            return {}
        key = _key(element)
        found = {}
        for name, other in self._screens.items():
            same = element if name == take else next((e for e in other if _key(e) == key), None)
            if same is not None:
                found[name] = same.box
        return found


def _key(element: Element) -> tuple[str, str]:
    from ...recognition.evidence import fold, lasting_id

    own = lasting_id(element)
    return ("id", own) if own else (element.role, fold(element.name))


def _at(screen: Screen, x: float, y: float) -> Element | None:
    """The smallest element under a point that has something to be known by."""
    over = [e for e in screen.at(x, y) if any(_key(e)[1:]) and e.parent is not None]
    return min(over, key=lambda e: e.box.area, default=None)
