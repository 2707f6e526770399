"""What became otherwise between two runs: the same step on the same device, held against each other. Pure."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.likeness import is_another
from ..model.outcome import Outcome, Result
from ..model.reading import InState, Looked, Said
from ..model.take import TakeName
from .lanes import Lanes
from .slow import is_slow


@dataclass(frozen=True)
class StepChange:
    """One step on one device in the earlier run and in the later."""

    take: TakeName
    step: str
    before: Result
    now: Result

    @property
    def worse(self) -> bool:
        """Does it go wrong now, and did it not?"""
        return _badness(self.now.outcome) > _badness(self.before.outcome)

    @property
    def said(self) -> str:
        """What is otherwise, in words."""
        if self.before.outcome is not self.now.outcome:
            return f"{self.before.outcome.value} then, {self.now.outcome.value} now. {self.now.reason}".strip()
        if _looks_otherwise(self.before, self.now):
            return "looks otherwise now"
        if self.before.read != self.now.read:
            return f"read “{self.before.read}” then, “{self.now.read}” now"
        return f"took the app {self.before.answer:.1f} s then, {self.now.answer:.1f} s now"


def _badness(outcome: Outcome) -> tuple[bool, bool]:
    return outcome.bad, outcome is Outcome.ADAPTED


def _looks_otherwise(was: Result, now: Result) -> bool:
    one, other = was.reading, now.reading
    return isinstance(one, Looked) and isinstance(other, Looked) and is_another(one.fingerprint, other.fingerprint)


def _otherwise(was: Result, now: Result) -> bool:
    """Did it end otherwise, read or look otherwise, or take the app much longer?"""
    if was.outcome is not now.outcome or _looks_otherwise(was, now):
        return True
    if isinstance(was.reading, Said | InState) and type(was.reading) is type(now.reading) and was.read != now.read:
        return True
    return is_slow(now.answer, was.answer)


def changes(before: Lanes, now: Lanes) -> tuple[StepChange, ...]:
    """Steps that ended otherwise, the worse ones first. Steps are the same by their words, the nearest by line; devices by their names."""
    found = []
    for lane in now.lanes:
        earlier = before.lane(lane.name)
        if earlier is None:
            continue
        for column in now.columns:
            result = lane.result(column.address)
            same = [r for each in before.columns if (r := earlier.result(each.address)) is not None and r.step == column.words]
            if result is None or not same:
                continue
            was = min(same, key=lambda r: abs(r.address.line - column.address.line))
            if _otherwise(was, result):
                found.append(StepChange(lane.name, column.words, was, result))
    return tuple(sorted(found, key=lambda change: not change.worse))
