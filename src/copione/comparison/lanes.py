"""Takes as lanes: rows of outcomes, step by step, with checks that span devices judged."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from ..model.device import DeviceProfile
from ..model.outcome import Outcome, Result

SAME = "reads the same on every device"


@dataclass(frozen=True)
class Column:
    """One step of the script, as the lead did it."""

    number: int
    scene: str
    verb: str
    words: str


@dataclass(frozen=True)
class Lane:
    """One take: its device, row, and a result a step; fewer while it runs. `place` tells where its pictures are."""

    device: DeviceProfile
    row: int
    results: tuple[Result, ...]
    place: object = None
    build: str = ""

    @property
    def seconds(self) -> float:
        return sum(r.seconds for r in self.results)


@dataclass(frozen=True)
class Lanes:
    columns: tuple[Column, ...]
    lanes: tuple[Lane, ...]

    def counts(self) -> Counter[Outcome]:
        return Counter(r.outcome for lane in self.lanes for r in lane.results)


def lay(lanes: Iterable[Lane], lead: str) -> Lanes:
    """The lanes in order, the lead's first, with cross-device checks judged row by row."""
    ordered = sorted(lanes, key=lambda lane: lane.device.name != lead)
    judged = _judged(ordered)
    longest = max(judged, key=lambda lane: len(lane.results), default=None)
    columns = tuple(Column(r.number, r.scene, r.verb, r.step) for r in longest.results) if longest else ()
    return Lanes(columns, tuple(judged))


def _judged(lanes: Sequence[Lane]) -> list[Lane]:
    """Readings of a `the same on every device` check against the first lane's of that row."""
    reference: dict[tuple[int, int], tuple[str, str]] = {}
    done = []
    for lane in lanes:
        results = []
        for result in lane.results:
            if result.step.endswith(SAME) and result.outcome.good:
                read, where = reference.setdefault((lane.row, result.number), (result.read, lane.device.name))
                if read != result.read:
                    said = f"reads “{result.read}” here, “{read}” on {where}"
                    result = replace(result, outcome=Outcome.DIFFERS, reason=said)
            results.append(result)
        done.append(replace(lane, results=tuple(results)))
    return done
