"""What became otherwise between two runs: the same step on the same device, held against each other. Pure."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.outcome import Outcome, Result
from ..model.take import TakeName
from .lanes import Lanes

#: How bad an outcome is; what is not worse and not better is no change.
_RANK = {Outcome.HELD: 0, Outcome.ADAPTED: 1, Outcome.DIFFERS: 2, Outcome.STUCK: 2, Outcome.UNREACHED: 2, Outcome.SKIPPED: 0}


@dataclass(frozen=True)
class Change:
    """One step on one device in the earlier run and in the later."""

    take: TakeName
    step: str
    before: Result
    now: Result

    @property
    def worse(self) -> bool:
        """Does it go wrong now, and did it not?"""
        return _RANK[self.now.outcome] > _RANK[self.before.outcome]


def changes(before: Lanes, now: Lanes) -> tuple[Change, ...]:
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
            if was.outcome is not result.outcome:
                found.append(Change(lane.name, column.words, was, result))
    return tuple(sorted(found, key=lambda change: not change.worse))
