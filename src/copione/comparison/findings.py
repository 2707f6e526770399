"""Differences explained: which step, which devices, which outcome, and what sets those devices apart."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from statistics import median

from ..model.device import DeviceProfile
from ..model.outcome import Outcome, Result
from .lanes import Lane, Lanes

SLOW_AMONG, SLOW_TIMES, SLOW_S = 4, 2.0, 2.0  # among so many devices; so many times the median, and so much more in seconds


@dataclass(frozen=True)
class Finding:
    """One explained difference. `title` and `detail` are sentences; `apart` says what only the failing devices are, or is empty."""

    number: int
    outcome: Outcome
    step: str
    title: str
    detail: str
    apart: str
    lanes: tuple[Lane, ...]
    passing: tuple[Lane, ...]


def findings(lanes: Lanes) -> list[Finding]:
    """Stuck, differing and slow steps gathered over devices and rows, worst first, then by step."""
    groups: dict[tuple[int, Outcome, str], list[Lane]] = {}
    for lane in lanes.lanes:
        for result in lane.results:
            if result.outcome in (Outcome.STUCK, Outcome.DIFFERS):
                groups.setdefault((result.number, result.outcome, _kind(result)), []).append(lane)
    found = [_finding(lanes, number, outcome, failing) for (number, outcome, _), failing in groups.items()]
    order = [Outcome.STUCK, Outcome.DIFFERS, Outcome.HELD]
    return sorted([*found, *_slow(lanes)], key=lambda f: (order.index(f.outcome), f.number, -len(f.lanes)))


def slow_beside(seconds: float, others: Sequence[float]) -> float | None:
    """What a step usually takes, when `seconds` is slow beside the others; None when it is not, or when there are too few to tell."""
    if len(others) < SLOW_AMONG - 1:
        return None
    usual = median([seconds, *others])
    return usual if seconds > SLOW_TIMES * usual and seconds > usual + SLOW_S else None


def _slow(lanes: Lanes) -> list[Finding]:
    """Steps that were done, and took one device several times as long as the others."""
    found = []
    for index, column in enumerate(lanes.columns):
        timed = [
            (lane, lane.results[index].seconds) for lane in lanes.lanes if index < len(lane.results) and lane.results[index].outcome.good
        ]
        every = [seconds for _, seconds in timed]
        slow = [(lane, seconds) for i, (lane, seconds) in enumerate(timed) if slow_beside(seconds, every[:i] + every[i + 1 :]) is not None]
        if slow:
            usual = median(every)
            rest = tuple(lane for lane, _ in timed if lane not in [each for each, _ in slow])
            names = list(dict.fromkeys(lane.device.name for lane, _ in slow))
            apart = what_sets_apart([lane.device for lane, _ in slow], [lane.device for lane in rest])
            detail = f"Step {column.number} took {max(s for _, s in slow):.1f} s, {usual:.1f} s elsewhere."
            title = f"Slow on {_and(names)}: {column.words}"
            found.append(Finding(column.number, Outcome.HELD, column.words, title, detail, apart, tuple(lane for lane, _ in slow), rest))
    return found


def _kind(result: Result) -> str:
    """Reasons that differ only in what was read are one finding."""
    return result.reason if result.outcome is Outcome.STUCK else "differs"


def _finding(lanes: Lanes, number: int, outcome: Outcome, failing: Sequence[Lane]) -> Finding:
    first = failing[0].results[number - 1]
    names = list(dict.fromkeys(lane.device.name for lane in failing))
    tried = [lane for lane in lanes.lanes if len(lane.results) >= number and lane.results[number - 1].outcome is not Outcome.UNREACHED]
    passing = tuple(lane for lane in tried if lane.results[number - 1].outcome.good)
    devices = len({lane.device.name for lane in tried})
    rows = {lane.row for lane in lanes.lanes}
    where = f"{len(names)} of {devices} devices" if devices > 1 else "the only device"
    if len(rows) > 1:
        where += f", {len({lane.row for lane in failing})} of {len(rows)} data rows"
    verb = "Stuck" if outcome is Outcome.STUCK else "Differs"
    return Finding(
        number=number,
        outcome=outcome,
        step=first.step,
        title=f"{verb} on {_and(names)}: {first.step}",
        detail=f"Step {number}, on {where}. {_sentence(first.reason)}",
        apart=what_sets_apart([lane.device for lane in failing], [lane.device for lane in passing]),
        lanes=tuple(failing),
        passing=passing,
    )


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
            parts.append(_apart(trait, max(bad), len(set(bad)) > 1, min(good), len(set(good)) > 1, ("or less", "and more")))
        elif min(bad) > max(good):
            parts.append(_apart(trait, min(bad), len(set(bad)) > 1, max(good), len(set(good)) > 1, ("or more", "and less")))
    for name, value in _WORDS.items():
        bad_words, good_words = {value(d) for d in failing}, {value(d) for d in passing}
        if len(bad_words) == 1 and not bad_words & good_words:
            parts.append(f"{name} {next(iter(bad_words))}")
    if not parts:
        return ""
    who = "The only device" if len({d.name for d in failing}) == 1 else "The only devices"
    return f"{who} with: {'; '.join(parts[:MOST_TRAITS])}."


def _apart(trait: _Trait, bad: float, bad_spread: bool, good: float, good_spread: bool, words: tuple[str, str]) -> str:
    """`text at 130 % (the others 100 %)`."""
    failing = trait.words(bad) + (f" {words[0]}" if bad_spread else "")
    passing = trait.words(good).removeprefix("text at ") + (f" {words[1]}" if good_spread else "")
    return f"{failing} (the others {passing})"


def _and(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:] + ("" if words.endswith(".") else ".") if words else ""
