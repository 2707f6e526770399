"""What the takes of a run tell one another: how long each step took, so that a slow one is known the moment it is done."""

from __future__ import annotations

import threading

from ..comparison.slow import usual_beside
from ..model.address import Address
from ..model.outcome import Result

LEAST_S = 0.1  # what is told of steps that are done at once: nothing would mean that it was not slow


class Pace:
    """Shared by the takes of one run, from all their threads."""

    def __init__(self) -> None:
        self._seconds: dict[Address, list[float]] = {}
        self._lock = threading.Lock()

    def usual(self, result: Result) -> float:
        """Take a step's time in; seconds it usually takes where it was slow beside the takes that have done it before, else 0.

        What is compared is the app's own time: see `Result.answer`.
        """
        if not result.outcome.good:
            return 0.0
        with self._lock:
            others = self._seconds.setdefault(result.address, [])
            usual = usual_beside(result.answer, others)
            others.append(result.answer)
        return max(LEAST_S, usual) if usual is not None else 0.0
