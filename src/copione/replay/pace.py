"""What the takes of a run tell one another: how long each step took, so that a slow one is known the moment it is done."""

from __future__ import annotations

import threading

from ..comparison.slow import usual_beside
from ..model.address import Address
from ..model.outcome import Result


class Pace:
    """Shared by the takes of one run, from all their threads."""

    def __init__(self) -> None:
        self._seconds: dict[Address, list[float]] = {}
        self._lock = threading.Lock()

    def usual(self, result: Result) -> float:
        """Take a step's time in; seconds it usually takes where it was slow beside the takes that have done it before, else 0.

        A step that scrolled to its target went another way: its time says nothing of the others'.
        """
        if not result.outcome.good or result.scrolled:
            return 0.0
        with self._lock:
            others = self._seconds.setdefault(result.address, [])
            usual = usual_beside(result.seconds, others)
            others.append(result.seconds)
        return usual or 0.0
