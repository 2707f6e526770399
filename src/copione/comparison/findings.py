"""Differences explained: which step, which devices, which outcome, and what sets those devices apart."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from statistics import median

from ..model.address import Address
from ..model.device import DeviceProfile
from ..model.outcome import Outcome, Result
from ..model.take import TakeName
from .lanes import Column, Lane, Lanes
from .slow import AMONG, is_slow


@dataclass(frozen=True)
class Finding:
    """One explained difference at one step. `title` and `detail` are sentences; `apart`: what only the failing devices are, or empty.

    `slow`: the step was done, and took much longer than elsewhere. `takes` are those that it is about, `passing` those that did it.
    """

    address: Address
    number: int
    outcome: Outcome
    slow: bool
    step: str
    title: str
    detail: str
    apart: str
    takes: tuple[TakeName, ...]
    passing: tuple[TakeName, ...]

    @property
    def flag(self) -> str:
        """Its kind in one word."""
        return "slow" if self.slow else self.outcome.value


_ORDER = (Outcome.STUCK, Outcome.DIFFERS, Outcome.HELD)


@dataclass(frozen=True)
class Findings:
    """The findings of a run, kept by step, so that a result brings only those of its own step up to date."""

    by_step: Mapping[Address, tuple[Finding, ...]] = field(default_factory=dict)

    @classmethod
    def of(cls, lanes: Lanes) -> Findings:
        """Those of a run as it stands."""
        return cls().updated(lanes, (column.address for column in lanes.columns))

    def updated(self, lanes: Lanes, addresses: Iterable[Address]) -> Findings:
        """The same where nothing but the results of those steps has changed; columns may have been counted anew."""
        changed = dict(self.by_step)
        moved = (a for a, found in self.by_step.items() if (column := lanes.column(a)) is None or column.number != found[0].number)
        for address in {*addresses, *moved}:
            column = lanes.column(address)
            found = _at(lanes, column) if column is not None else ()
            if found:
                changed[address] = found
            else:
                changed.pop(address, None)
        return Findings(changed)

    def ordered(self) -> tuple[Finding, ...]:
        """Worst first, then by step, then by how many takes."""
        every = (finding for several in self.by_step.values() for finding in several)
        return tuple(sorted(every, key=lambda f: (_ORDER.index(f.outcome), f.number, -len(f.takes))))


def findings(lanes: Lanes) -> tuple[Finding, ...]:
    """Stuck, differing and slow steps gathered over devices and rows, worst first, then by step."""
    return Findings.of(lanes).ordered()


def _at(lanes: Lanes, column: Column) -> tuple[Finding, ...]:
    """The findings of one step."""
    cells = lanes.cells(column.address)
    groups: list[list[tuple[Lane, Result]]] = []
    for lane, result in cells:
        if result.outcome in (Outcome.STUCK, Outcome.DIFFERS):
            group = next((each for each in groups if _same_kind(each[0][1], result)), None)
            if group is None:
                groups.append([(lane, result)])
            else:
                group.append((lane, result))
    found = [_finding(lanes, column, cells, group) for group in groups]
    slow = _slow(column, cells)
    return (*found, slow) if slow is not None else tuple(found)


def _same_kind(one: Result, other: Result) -> bool:
    """One finding? What reads otherwise is one, whatever it reads; what is stuck is one where the reason is the same."""
    if one.outcome is not other.outcome:
        return False
    if one.outcome is Outcome.DIFFERS:
        return True
    return one.why is other.why or (one.why is not None and other.why is not None and one.why.same(other.why))


def _slow(column: Column, cells: Sequence[tuple[Lane, Result]]) -> Finding | None:
    """A step that was done, and took one device several times as long as the others; but not one that had to scroll."""
    timed = [(lane, result.seconds) for lane, result in cells if result.outcome.good and not result.scrolled]
    if len(timed) < AMONG:
        return None
    usual = median(seconds for _, seconds in timed)
    slow = [(lane, seconds) for lane, seconds in timed if is_slow(seconds, usual)]
    if not slow:
        return None
    late = {lane.name for lane, _ in slow}
    rest = [lane for lane, _ in timed if lane.name not in late]
    names = list(dict.fromkeys(lane.device.name for lane, _ in slow))
    return Finding(
        address=column.address,
        number=column.number,
        outcome=Outcome.HELD,
        slow=True,
        step=column.words,
        title=f"Slow on {_and(names)}: {column.words}",
        detail=f"Step {column.number} took {max(s for _, s in slow):.1f} s, {usual:.1f} s elsewhere.",
        apart=what_sets_apart([lane.device for lane, _ in slow], [lane.device for lane in rest]),
        takes=tuple(lane.name for lane, _ in slow),
        passing=tuple(lane.name for lane in rest),
    )


def _finding(lanes: Lanes, column: Column, cells: Sequence[tuple[Lane, Result]], failing: Sequence[tuple[Lane, Result]]) -> Finding:
    first = failing[0][1]
    names = list(dict.fromkeys(lane.device.name for lane, _ in failing))
    tried = [(lane, result) for lane, result in cells if result.outcome.tried]
    passing = [lane for lane, result in tried if result.outcome.good]
    devices = len({(lane.name.device, lane.name.which) for lane, _ in tried})
    rows = {lane.row for lane in lanes.lanes}
    where = (
        f"{len({(lane.name.device, lane.name.which) for lane, _ in failing})} of {devices} devices" if devices > 1 else "the only device"
    )
    if len(rows) > 1:
        where += f", {len({lane.row for lane, _ in failing})} of {len(rows)} data rows"
    verb = "Stuck" if first.outcome is Outcome.STUCK else "Differs"
    return Finding(
        address=column.address,
        number=column.number,
        outcome=first.outcome,
        slow=False,
        step=first.step,
        title=f"{verb} on {_and(names)}: {first.step}",
        detail=f"Step {column.number}, on {where}. {_sentence(first.reason)}",
        apart=what_sets_apart([lane.device for lane, _ in failing], [lane.device for lane in passing]),
        takes=tuple(lane.name for lane, _ in failing),
        passing=tuple(lane.name for lane in passing),
    )


def _devices(cells: Sequence[tuple[Lane, Result]]) -> int:
    return len({(lane.name.device, lane.name.which) for lane, _ in cells})


@dataclass(frozen=True)
class _Trait:
    """A number that devices differ by, and how it is worded."""

    value: Callable[[DeviceProfile], float]
    words: Callable[[float], str]


_NUMBERS = (
    _Trait(lambda d: d.width, lambda v: f"{v:.0f} dp wide"),
    _Trait(lambda d: d.text_scale, lambda v: f"text at {v:.0%}".replace("%", " %")),
)
MOST_TRAITS = 3
_WORDS: dict[str, Callable[[DeviceProfile], str]] = {
    "language": lambda d: d.locale,
    "platform": lambda d: d.platform,
    "release": lambda d: d.system,
}


def what_sets_apart(failing: Sequence[DeviceProfile], passing: Sequence[DeviceProfile]) -> str:
    """What holds of every failing device and of no passing one, as a sentence; empty when nothing does, or nothing passes."""
    if not passing:
        return ""
    parts = []
    for trait in _NUMBERS:
        bad, good = [trait.value(d) for d in failing], [trait.value(d) for d in passing]
        if max(bad) < min(good):
            parts.append(_beyond(trait, max(bad), len(set(bad)) > 1, min(good), len(set(good)) > 1, ("or less", "and more")))
        elif min(bad) > max(good):
            parts.append(_beyond(trait, min(bad), len(set(bad)) > 1, max(good), len(set(good)) > 1, ("or more", "and less")))
    for name, value in _WORDS.items():
        bad_words, good_words = {value(d) for d in failing}, {value(d) for d in passing}
        if len(bad_words) == 1 and not bad_words & good_words:
            parts.append(f"{name} {next(iter(bad_words))}")
    if not parts:
        return ""
    who = "The only device" if len({d.name for d in failing}) == 1 else "The only devices"
    return f"{who} with: {'; '.join(parts[:MOST_TRAITS])}."


def _beyond(trait: _Trait, bad: float, bad_spread: bool, good: float, good_spread: bool, words: tuple[str, str]) -> str:
    """`text at 130 % (the others 100 %)`."""
    failing = trait.words(bad) + (f" {words[0]}" if bad_spread else "")
    passing = trait.words(good).removeprefix("text at ") + (f" {words[1]}" if good_spread else "")
    return f"{failing} (the others {passing})"


def _and(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:] + ("" if words.endswith(".") else ".") if words else ""
