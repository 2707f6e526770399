"""What became of a step in a take."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from .geometry import Box


class Outcome(Enum):
    """held: done as recorded; adapted: by weaker evidence or another route; differs: a check read something else;
    stuck: the target was not found, not reachable or ambiguous, nothing was touched; unreached: never tried."""

    HELD = "held"
    ADAPTED = "adapted"
    DIFFERS = "differs"
    STUCK = "stuck"
    UNREACHED = "unreached"

    @property
    def good(self) -> bool:
        return self in (Outcome.HELD, Outcome.ADAPTED)


@dataclass(frozen=True)
class Result:
    """One step of one take. `number` counts steps from 1; `seconds` is from looking for the target to the act's end.

    `box` is the target in dp of that screen. `read` is what a check or slider read. `before` and `after` are file names of pictures.
    `begin` and `end` are seconds since the epoch. `mark` is the gesture: (x, y) pairs in dp.
    """

    number: int
    line: int
    scene: str
    step: str
    verb: str
    target: str
    outcome: Outcome
    by: str = ""
    seconds: float = 0.0
    reason: str = ""
    read: str = ""
    box: Box | None = None
    before: str = ""
    after: str = ""
    tree: str = ""
    begin: float = 0.0
    end: float = 0.0
    mark: tuple[tuple[float, float], ...] = ()
