"""What the takes of a run tell one another: how long each step took, so that a slow one is known the moment it is done."""

from __future__ import annotations

import threading

from ..comparison.findings import slow_beside
from ..model.outcome import Result


class Pace:
    """Shared by the takes of one run, from all their threads."""

    def __init__(self) -> None:
        self._seconds: dict[int, list[float]] = {}
        self._lock = threading.Lock()

    def remark(self, result: Result) -> str:
        """Take a step's time in; says when it was slow beside the takes that have done the same step before."""
        if not result.outcome.good:
            return ""
        with self._lock:
            others = self._seconds.setdefault(result.number, [])
            usual = slow_beside(result.seconds, others)
            others.append(result.seconds)
        return f"slow: {result.seconds:.1f} s, {usual:.1f} s elsewhere" if usual is not None else ""
