"""Comparing two runs of a script: which findings are new, which are gone, and which steps ended differently."""

from __future__ import annotations

from dataclasses import dataclass

from ..comparison.change import StepChange, changes
from ..comparison.finding import Finding
from ..comparison.lanes import Lanes
from ..comparison.standing import FindingStanding
from ..files.places import Place
from ..model.clock import Clock, SystemClock, today
from ..project.archive import read_run
from .judging import Before, allowed, found_in, lanes_of, project_of, standing


@dataclass(frozen=True)
class Comparison:
    """`new` findings of the later run, those of the earlier one that are `gone`, and the steps that ended differently."""

    new: tuple[FindingStanding, ...]
    gone: tuple[Finding, ...]
    changes: tuple[StepChange, ...]

    @property
    def worse(self) -> bool:
        """Did a step end worse than before, or is there a new finding that nobody expects?"""
        return any(change.worse for change in self.changes) or any(not each.expected for each in self.new)


def compared(earlier: Place, later: Place, clock: Clock | None = None) -> Comparison:
    """Two runs of the archive. Raises FileTrouble for files that cannot be read."""
    before, now = Before.of(earlier), read_run(later)
    lanes, found = found_in(now)
    allowances = allowed(project_of(later))
    known = standing(now.script, lanes, found, allowances, before, today(clock or SystemClock()))
    return Comparison(tuple(each for each in known.standing if each.new), tuple(known.gone), changes(before.lanes, lanes))


def changes_since(earlier: Place, lanes: Lanes) -> tuple[StepChange, ...]:
    """The steps of these lanes that ended differently than in a run of the archive. Raises FileTrouble."""
    return changes(lanes_of(read_run(earlier)), lanes)
