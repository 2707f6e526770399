"""Takes as lanes: rows of outcomes, step by step, with checks that span devices judged; one result is folded in at a time."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..files.places import Place
from ..model.action import Action
from ..model.address import Address
from ..model.device import DeviceProfile
from ..model.likeness import is_another
from ..model.outcome import Outcome, Result
from ..model.take import TakeName
from .judging import DeviceReading, judged, spans_devices

OWN_S = 5.0  # more than that says something of a step, and not of the device


@dataclass(frozen=True)
class LaneColumn:
    """One execution of one step: where it stands in the script, and as some take did it. `number` counts the columns from 1."""

    number: int
    address: Address
    scene: str
    words: str
    action: Action | None = None


@dataclass(frozen=True)
class Cell:
    """One result's place."""

    take: TakeName
    address: Address


@dataclass(frozen=True)
class Lane:
    """One take. `own` are its results as the take gave them, `judged` those that the other devices' readings made another.

    `folder` is the take's, where its pictures are; None where nothing is kept. `own_s`: how many steps were done, and the sum of the
    times that they took beside the app's own, each no more than OWN_S.
    """

    name: TakeName
    device: DeviceProfile
    own: Mapping[Address, Result] = field(default_factory=dict)
    judged: Mapping[Address, Result] = field(default_factory=dict)
    folder: Place | None = None
    build: str = ""
    seconds: float = 0.0
    own_s: tuple[int, float] = (0, 0.0)

    @classmethod
    def of(cls, name: TakeName, device: DeviceProfile, results: Iterable[Result], folder: Place | None = None, build: str = "") -> Lane:
        """A lane of results that are there."""
        own = {result.address: result for result in results}
        seconds = sum(result.seconds for result in own.values())
        times = [_beside(result) for result in own.values() if result.outcome.good]
        return cls(name, device, own, {}, folder, build, seconds, (len(times), sum(times)))

    @property
    def row(self) -> int:
        """The data row."""
        return self.name.row

    def result(self, address: Address) -> Result | None:
        """What became of that step there; None while it has not been done."""
        return self.judged.get(address) or self.own.get(address)

    def results(self) -> Iterator[Result]:
        """Every result, as they came."""
        return (self.judged.get(address, result) for address, result in self.own.items())


@dataclass(frozen=True)
class Lanes:
    """All takes of a run, the lead's first, and the union of what they did in the order of the script.

    `counts` of outcomes; `wrong`: for each address how many takes did not do it; `longest` of all steps, in seconds; `changed`: the cells
    in which this differs from the lanes that it was made of.
    """

    columns: tuple[LaneColumn, ...] = ()
    lanes: tuple[Lane, ...] = ()
    counts: Mapping[Outcome, int] = field(default_factory=dict)
    wrong: Mapping[Address, int] = field(default_factory=dict)
    longest: float = 0.0
    changed: tuple[Cell, ...] = ()
    places: Mapping[TakeName, int] = field(default_factory=dict, repr=False)
    numbers: Mapping[Address, int] = field(default_factory=dict, repr=False)

    def lane(self, name: TakeName) -> Lane | None:
        """The lane of a take."""
        place = self.places.get(name)
        return self.lanes[place] if place is not None else None

    def column(self, address: Address) -> LaneColumn | None:
        """The column of an address."""
        number = self.numbers.get(address)
        return self.columns[number] if number is not None else None

    @property
    def done(self) -> int:
        """How many results there are."""
        return sum(self.counts.values())

    def cells(self, address: Address) -> list[tuple[Lane, Result]]:
        """What became of one step in each take that has come to it."""
        return [(lane, result) for lane in self.lanes if (result := lane.result(address)) is not None]

    def with_take(self, name: TakeName, folder: Place, build: str) -> Lanes:
        """A take has begun: where its pictures are, and the app's build."""
        place = self.places[name]
        lane = replace(self.lanes[place], folder=folder, build=build)
        return replace(self, lanes=(*self.lanes[:place], lane, *self.lanes[place + 1 :]), changed=())

    def with_result(self, name: TakeName, result: Result) -> Lanes:
        """One more result of a take that is here. What it costs does not depend on how many there are."""
        place, address = self.places[name], result.address
        old = self.lanes[place]
        times = (old.own_s[0] + 1, old.own_s[1] + _beside(result)) if result.outcome.good else old.own_s
        lane = replace(old, own={**old.own, address: result}, seconds=old.seconds + result.seconds, own_s=times)
        lanes = list(self.lanes)
        lanes[place] = lane
        changed = [Cell(name, address)]
        before = {place: old.result(address)}
        if spans_devices(result):
            for other in [i for i, each in enumerate(lanes) if each.row == lane.row]:
                before.setdefault(other, lanes[other].result(address))
            for other, changed_lane in _judge(lanes, address, lane.row).items():
                lanes[other] = changed_lane
                if other != place:
                    changed.append(Cell(changed_lane.name, address))
        counts, wrong = Counter(self.counts), self.wrong.get(address, 0)
        for other, was in before.items():
            now = lanes[other].result(address)
            for each, step in ((was, -1), (now, 1)):
                if each is not None:
                    counts[each.outcome] += step
                    wrong += step * each.outcome.bad
        made = replace(
            self,
            lanes=tuple(lanes),
            counts=counts,
            wrong={**self.wrong, address: wrong},
            longest=max(self.longest, result.seconds),
            changed=tuple(changed),
        )
        number = self.numbers.get(address)
        if number is None:
            return _with_columns(made, [*self.columns, _column(result)])
        if place == 0 and self.columns[number].words != result.step:  # the lead says it with its data
            told = replace(self.columns[number], words=result.step, action=result.action)
            return replace(made, columns=(*self.columns[:number], told, *self.columns[number + 1 :]))
        return made


def lay(lanes: Iterable[Lane], lead: str, planned: Iterable[Result] = ()) -> Lanes:
    """The lanes with the lead's first and cross-device checks judged row by row. `planned`: columns that are there before any result."""
    ordered = sorted(lanes, key=lambda lane: lane.name.device != lead)
    found: dict[Address, Result] = {}
    for result in (*planned, *(result for lane in ordered for result in lane.own.values())):
        found.setdefault(result.address, result)
    for address in [address for address, result in found.items() if spans_devices(result)]:
        for row in {lane.row for lane in ordered}:
            for place, lane in _judge(ordered, address, row).items():
                ordered[place] = lane
    every = [result for lane in ordered for result in lane.results()]
    laid = Lanes(
        lanes=tuple(ordered),
        counts=Counter(result.outcome for result in every),
        wrong=Counter(result.address for result in every if result.outcome.bad),
        longest=max((result.seconds for result in every), default=0.0),
        places={lane.name: place for place, lane in enumerate(ordered)},
    )
    return _with_columns(laid, [_column(result) for result in found.values()])


def _beside(result: Result) -> float:
    return min(max(0.0, result.seconds - result.answer), OWN_S)


def _column(result: Result) -> LaneColumn:
    return LaneColumn(0, result.address, result.scene, result.step, result.action)


def _with_columns(lanes: Lanes, columns: Iterable[LaneColumn]) -> Lanes:
    """In the order of the script, counted anew."""
    ordered = tuple(replace(c, number=n) for n, c in enumerate(sorted(columns, key=lambda c: c.address), 1))
    return replace(lanes, columns=ordered, numbers={column.address: place for place, column in enumerate(ordered)})


def _judge(lanes: Sequence[Lane], address: Address, row: int) -> dict[int, Lane]:
    """The lanes of a row whose result is now judged otherwise, by their place."""
    there = [(place, lane, lane.own[address]) for place, lane in enumerate(lanes) if lane.row == row and address in lane.own]
    told = judged(
        [DeviceReading(place, lane.device.name, own) for place, lane, own in there], lambda one, other: not is_another(one, other)
    )
    found = {}
    for place, lane, _ in there:
        now = {a: r for a, r in lane.judged.items() if a != address}
        if place in told:
            now[address] = told[place]
        if now != lane.judged:
            found[place] = replace(lane, judged=now)
    return found
