"""Slow beside the others: when the app took so much longer on some devices to show what a step caused that it is worth saying.

What is compared is the app's own time (`Result.answer`), not what Copione did meanwhile. Pure.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from statistics import median

AMONG = 3  # devices from which on one can be told from the others
TIMES, MORE_S = 2.5, 1.5  # so many times what it takes elsewhere, and so much more in seconds: for one sample of a device
QUIET_S = 0.7  # the same where the devices answer all other steps alike
NOISES = 5.0  # a delay five times the usual difference between devices is no noise
ENOUGH = 20  # answers to other steps that are needed to know that difference
AGAIN_S = 0.8  # the same where a device has shown it more than once
MOST_STRAIN = 1.5  # a device that takes longer at everything is taken to be slower by no more
PAIR = 2.0  # of two devices one has to be slower by so many times that


def usual_beside(seconds: float, others: Sequence[float]) -> float | None:
    """What a step usually takes, when `seconds` is slow beside the others; None when it is not, or when there are too few to tell."""
    if len(others) < AMONG:
        return None
    usual = median(others)
    return usual if is_slow(seconds, usual) else None


def is_slow(seconds: float, usual: float, more: float = MORE_S) -> bool:
    """Is it slow where a step usually takes that long?"""
    return seconds > TIMES * usual and seconds > usual + more


def least_more(others: Sequence[Sequence[float]]) -> float:
    """How many seconds longer than usual a step has to take to count as slow.

    `others` are the answers (seconds) of the same devices to other steps. Their noise is the 95th percentile of how far answers lie from
    the median of their step.
    """
    apart = sorted(abs(each - median(answers)) for answers in others for each in answers)
    if len(apart) < ENOUGH:
        return MORE_S
    return min(MORE_S, max(QUIET_S, NOISES * apart[len(apart) * 19 // 20]))


def slow_ones(samples: Sequence[Sequence[float]], strain: Sequence[float] = (), once: float = MORE_S) -> tuple[list[int], float]:
    """Which of some devices are slow at a step, by their place, and what it takes on the others; none where that cannot be told.

    `samples` are the seconds of each device, one or more; `strain` is how many times slower each device is at all steps (1 for as fast
    as the others): a device, or a computer, that is slow at everything is not slow at this; `once` what one answer of a device has to take
    more, in seconds. Devices part where the gap is widest; more
    may be slow than are not only where they are few.
    """
    times = [median(each) / max(1.0, strain[i] if strain else 1.0) for i, each in enumerate(samples)]
    order = sorted(range(len(times)), key=times.__getitem__)
    gaps = [times[b] - times[a] for a, b in pairwise(order)]
    if not gaps:
        return [], 0.0
    place = gaps.index(max(gaps)) + 1
    quick, slow = order[:place], order[place:]
    usual = median([times[i] for i in quick])
    if len(slow) > len(quick) and len(times) > AMONG + 1:
        return [], usual
    least = min(slow, key=times.__getitem__)
    more = min(AGAIN_S, once) if all(len(samples[i]) > 1 for i in slow) else once
    more *= PAIR if len(times) < AMONG else 1.0
    top = max(times[i] for i in quick)
    return (slow, usual) if is_slow(times[least], usual, more) and times[least] > top + more / 2 else ([], usual)
