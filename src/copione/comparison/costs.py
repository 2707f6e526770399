"""What takes cost their devices: told for each, and remarked on where it is more than it should be. Pure."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from statistics import median

from ..model import remark_kinds as kinds
from ..model.address import Address
from ..model.cost import Cost, CostSummary
from ..model.device import DeviceProfile
from ..model.remark import Remark
from ..model.take import TakeName

DEVICES = 5  # with fewer of a platform it is not known what a device of its class needs
TIMES, MORE_KB = 1.6, 60_000.0  # heavier by both: many times of little is little
TURNS, GROWN, GROWN_KB = 6, 0.15, 20_000.0  # a loop's turns that tell; growth by both
STEADY = 0.7  # share of the turns from one to the next at which it grew
GOES_ON = 0.3  # of the growth is in the second half: what fills up once is a cache


@dataclass(frozen=True)
class Stretch:
    """When a step was done, seconds since the epoch."""

    address: Address
    begin: float
    end: float


@dataclass(frozen=True)
class TakeCosts:
    """What is known of one take."""

    name: TakeName
    device: DeviceProfile
    costs: Sequence[Cost]
    steps: Sequence[Stretch] = ()


def summed(costs: Sequence[Cost]) -> CostSummary:
    """What a take cost all in all."""
    memory = [float(c.memory_kb) for c in costs if c.memory_kb is not None]
    seconds = costs[-1].at - costs[0].at if len(costs) > 1 else 0.0
    cpu, frames, late = (_gained(costs, name) for name in ("cpu_s", "frames", "late"))
    received, sent, warmer = (_changed(costs, name) for name in ("received", "sent", "warmth"))
    return CostSummary(
        memory_kb=median(memory) if memory else None,
        peak_kb=max(memory, default=None),
        processor=cpu / seconds if cpu is not None and seconds > 0 else None,
        late=late / frames if frames and late is not None else None,
        received=max(0, round(received)) if received is not None else None,
        sent=max(0, round(sent)) if sent is not None else None,
        warmer=warmer,
    )


def _gained(costs: Sequence[Cost], name: str) -> float | None:
    """By how much a count of the app's went up; what was counted when it was started anew begins at nought."""
    told = [c for c in costs if getattr(c, name) is not None]
    if len(told) < 2:
        return None
    return float(sum(getattr(now, name) - (0 if _anew(before, now) else getattr(before, name)) for before, now in pairwise(told)))


def _anew(before: Cost, now: Cost) -> bool:
    """Was the app started anew in between? Then all that is counted of it is less."""
    pairs = ((before.cpu_s, now.cpu_s), (before.frames, now.frames), (before.late, now.late))
    return any(then is not None and later is not None and later < then for then, later in pairs)


def _changed(costs: Sequence[Cost], name: str) -> float | None:
    """What the whole device had in the end beyond what it had at the beginning."""
    told = [value for c in costs if (value := getattr(c, name)) is not None]
    return float(told[-1] - told[0]) if len(told) > 1 else None


def cost_remarks(takes: Sequence[TakeCosts]) -> list[Remark]:
    """Takes that are heavier than others, and those in which the memory grows from turn to turn."""
    return [*_heavier(takes), *_growing(takes)]


def _heavier(takes: Sequence[TakeCosts]) -> list[Remark]:
    """More memory than devices of its class need: a line through memory over pixels of the screen, of the same platform and data row."""
    found = []
    for row in sorted({take.name.row for take in takes}):
        for platform in sorted({take.device.platform for take in takes}):
            known = {
                take.name: (take.device.width_px * take.device.height_px, memory, take)
                for take in takes
                if (take.name.row, take.device.platform) == (row, platform) and (memory := summed(take.costs).memory_kb) is not None
            }
            usual = _line([(pixels, memory) for pixels, memory, _ in known.values()]) if len(known) >= DEVICES else None
            if usual is None:
                continue
            beyond = {name for name, (pixels, memory, _) in known.items() if _is_more(memory, usual(pixels))}
            if len(beyond) * 2 >= len(known):
                continue  # then it is not known which are usual
            fine = tuple(name for name in known if name not in beyond)
            for name in sorted(beyond):
                pixels, memory, take = known[name]
                here, there = _mb(memory), f"about {_mb(usual(pixels))} for such a screen"
                found.append(Remark(kinds.HEAVIER, "memory", "memory", here, there, name, _last(take), fine=fine))
    return found


def _is_more(memory: float, usual: float) -> bool:
    return memory > TIMES * usual and memory - usual > MORE_KB


def _line(points: Sequence[tuple[float, float]]):  # type: ignore[no-untyped-def]
    """A line through points that a few of them do not move: the median of all slopes (Theil and Sen), never downwards."""
    slopes = [(y2 - y1) / (x2 - x1) for (x1, y1), (x2, y2) in combinations(points, 2) if x1 != x2]
    slope = max(0.0, median(slopes)) if slopes else 0.0
    level = median(y - slope * x for x, y in points)
    return lambda x: max(1.0, level + slope * x)


def _growing(takes: Sequence[TakeCosts]) -> list[Remark]:
    found = []
    grown = {take.name: _grown(take) for take in takes}
    for take in takes:
        told = grown[take.name]
        if told is None:
            continue
        address, begin, end, turns = told
        fine = tuple(t.name for t in takes if t.name.row == take.name.row and grown[t.name] is None and t.costs)
        here = f"{_mb(end)} after {turns} turns, {_mb(begin)} after the first"
        found.append(
            Remark(
                kinds.GROWS,
                f"memory {address[-1].line}",
                "memory",
                here,
                "the same from turn to turn",
                take.name,
                address,
                fine=fine,
            )
        )
    return found


def _grown(take: TakeCosts) -> tuple[Address, float, float, int] | None:
    """The loop in which memory grows without end, what it was after the first turn and the last, and how many turns there were."""
    for loop, turns in _loops(take.steps).items():
        memory = [m for n in sorted(turns) if (m := _within(take.costs, *turns[n])) is not None][1:]  # what the first turn needs, stays
        if len(memory) < TURNS:
            continue
        half = len(memory) // 2
        begin, middle, end = median(memory[:2]), median(memory[half - 1 : half + 1]), median(memory[-2:])
        ups = sum(later > before for before, later in pairwise(memory))
        much = end - begin > GROWN_KB and end > (1 + GROWN) * begin
        if much and ups >= STEADY * (len(memory) - 1) and end - middle > GOES_ON * (end - begin):
            return loop, begin, end, max(turns)
    return None


def _loops(steps: Sequence[Stretch]) -> Mapping[Address, dict[int, tuple[float, float]]]:
    """Of each outermost loop when each of its turns began and ended."""
    found: dict[Address, dict[int, tuple[float, float]]] = {}
    for step in steps:
        place = next((n for n, part in enumerate(step.address) if part.turn), None)
        if place is None:
            continue
        loop, turn = Address((*step.address[:place], step.address[place]._replace(turn=0))), step.address[place].turn
        begin, end = found.setdefault(loop, {}).get(turn, (step.begin, step.end))
        found[loop][turn] = min(begin, step.begin), max(end, step.end)
    return found


def _within(costs: Sequence[Cost], begin: float, end: float) -> float | None:
    told = [float(c.memory_kb) for c in costs if begin <= c.at <= end and c.memory_kb is not None]
    return told[-1] if told else None


def _last(take: TakeCosts) -> Address:
    return take.steps[-1].address if take.steps else Address.of(1)


def _mb(kb: float) -> str:
    return f"{kb / 1000:.0f} MB"
