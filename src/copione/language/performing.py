"""Which scenes perform which: those that lead back to themselves, how many steps they come to, how deep they go."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..model.action import Perform
from ..model.library import Library, ScenePlace

MOST_STEPS = 20_000  # of a script, its performed scenes counted each time they are performed
DEEPEST = 100  # scenes performed by one another


@dataclass(frozen=True)
class PerformExtent:
    """What comes of performing a scene: its steps and those of what it performs, how many scenes deep, and the names on a way that never
    ends, empty where there is none. Steps and depth are counted up to one more than they may be."""

    steps: int
    depth: int
    circle: tuple[str, ...] = ()


_Key = tuple[str, int]


class Performing:
    """Looks at every scene once, whoever performs it; without recursion, for a script may say any chain."""

    def __init__(self, library: Library) -> None:
        self._library = library
        self._known: dict[_Key, PerformExtent] = {}

    def of(self, place: ScenePlace) -> PerformExtent:
        """What comes of performing that scene."""
        if _key(place) not in self._known:
            self._walk(place)
        return self._known[_key(place)]

    def _walk(self, start: ScenePlace) -> None:
        path: list[tuple[ScenePlace, Iterator[ScenePlace]]] = [(start, iter(self._next(start)))]
        at = {_key(start): 0}  # of those on the path, their number
        circles: dict[_Key, tuple[str, ...]] = {}
        while path:
            here, following = path[-1]
            there = next(following, None)
            if there is None:
                path.pop()
                del at[_key(here)]
                self._known[_key(here)] = self._reach(here, circles.pop(_key(here), ()))
            elif _key(there) in at:
                names = tuple(each.scene.name for each, _ in path[at[_key(there)] :])
                circles.setdefault(_key(here), (*names, there.scene.name))
            elif _key(there) not in self._known:
                at[_key(there)] = len(path)
                path.append((there, iter(self._next(there))))

    def _reach(self, here: ScenePlace, circle: tuple[str, ...]) -> PerformExtent:
        """From what is known of those that it performs; one that is not known yet counts as nothing."""
        inner = [self._known[_key(there)] for there in self._next(here) if _key(there) in self._known]
        steps = min(MOST_STEPS + 1, len(here.scene.steps) + sum(each.steps for each in inner))
        depth = min(DEEPEST + 1, 1 + max((each.depth for each in inner), default=0))
        return PerformExtent(steps, depth, circle or next((each.circle for each in inner if each.circle), ()))

    def _next(self, here: ScenePlace) -> list[ScenePlace]:
        named = (self._library.scene(here.file, s.action.scene) for s in here.scene.steps if isinstance(s.action, Perform))
        return [there for there in named if there is not None]


def _key(place: ScenePlace) -> _Key:
    return place.file, place.scene.line
