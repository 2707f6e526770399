"""What a step did, gathered while it does it."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..model.geometry import Box
from ..model.outcome import Outcome
from ..recognition.evidence import visible
from .looking import Found, Lost


@dataclass
class Act:
    """One step of one take."""

    outcome: Outcome = Outcome.HELD
    by: tuple[str, ...] = ()
    notes: list[str] = field(default_factory=list)
    reason: str = ""
    read: str = ""
    box: Box | None = None
    mark: tuple[tuple[float, float], ...] = ()
    before: str = ""

    def found(self, found: Found) -> None:
        self.by = found.sighting.by
        self.box = visible(found.element)
        for note in (found.sighting.weaker, found.route):
            if note:
                self.notes.append(note)

    def stuck(self, lost: Lost) -> None:
        self.outcome, self.reason = Outcome.STUCK, lost.reason
        self.box = visible(lost.element) if lost.element is not None else None
