"""Setting a slider by value: act, read back, correct."""

from __future__ import annotations

from collections.abc import Callable

TRIES = 4
SAME_PLACE = 0.02  # of a slider's length: two fingers so near set the same value


def aim(wanted: float, known: list[tuple[float, float]]) -> float:
    """Where along the slider (0..1) to put the finger for `wanted`, from (share, value) pairs seen so far, newest last.

    With two different values a straight line through the two nearest ones; with one above nought, the range is taken to begin there.
    """
    distinct: dict[float, float] = {}
    for share, value in known:
        distinct[value] = share
    if len(distinct) >= 2:
        (v0, s0), (v1, s1) = sorted(distinct.items(), key=lambda pair: abs(pair[0] - wanted))[:2]
        return min(1.0, max(0.0, s0 + (wanted - v0) * (s1 - s0) / (v1 - v0)))
    if distinct:
        value, share = next(iter(distinct.items()))
        if value > 0 and share > 0 and wanted >= 0:
            return min(1.0, max(0.0, share * wanted / value))
        return 0.95 if wanted > value else 0.05  # a second point far from the first, to draw the line through
    return 0.5


def _measured(wanted: float, limits: tuple[float, float], slide: Callable[[float], float | None]) -> tuple[float | None, int]:
    least, most = limits
    share = (wanted - least) / (most - least)
    for attempt in range(1, TRIES + 1):
        share = min(1.0, max(0.0, share))
        read = slide(share)
        if read is None or read == wanted:
            return read, attempt
        share += (wanted - read) / (most - least)
    return read, TRIES


def settle(
    wanted: float, known: list[tuple[float, float]], slide: Callable[[float], float | None], limits: tuple[float, float] | None = None
) -> tuple[float | None, int]:
    """Slide until the reading is `wanted`, at most `TRIES` times. Returns the last reading and how often it was tried.

    `limits`: the least and the most it can hold, where that is known; then each try is put right by what it was off.
    """
    if limits is not None:
        return _measured(wanted, limits, slide)
    pairs = list(known)
    read: float | None = None
    for attempt in range(1, TRIES + 1):
        share = aim(wanted, pairs)
        if pairs and len(pairs) > 1 and any(abs(share - s) < 0.004 for s, v in pairs[-1:] if v != wanted):
            share = min(1.0, max(0.0, share + (0.02 if pairs[-1][1] < wanted else -0.02)))
        read = slide(share)
        if read is None or read == wanted:
            return read, attempt
        pairs = [p for p in pairs if abs(p[0] - share) > SAME_PLACE]  # a slider may run the other way here than where it was recorded
        if len(pairs) < len(known):
            pairs = []
        pairs.append((share, read))
    return read, TRIES
