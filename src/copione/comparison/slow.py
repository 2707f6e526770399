"""Slow beside the others: when a step took one device so much longer that it is worth saying."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median

AMONG, TIMES, MORE_S = 4, 2.0, 2.0  # among so many devices; so many times the median, and so much more in seconds


def usual_beside(seconds: float, others: Sequence[float]) -> float | None:
    """What a step usually takes, when `seconds` is slow beside the others; None when it is not, or when there are too few to tell."""
    if len(others) < AMONG - 1:
        return None
    usual = median([seconds, *others])
    return usual if is_slow(seconds, usual) else None


def is_slow(seconds: float, usual: float) -> bool:
    """Is it slow where a step usually takes that long?"""
    return seconds > TIMES * usual and seconds > usual + MORE_S
