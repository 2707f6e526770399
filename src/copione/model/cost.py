"""What an app costs its device."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Cost:
    """What an app has cost by `at` (seconds since the epoch): memory now (KB), processor seconds, frames drawn and those that came late,
    bytes that the whole device received and sent, its battery (percent) and how warm that is (°C). None for what is not told.
    """

    at: float
    memory_kb: int | None = None
    cpu_s: float | None = None
    frames: int | None = None
    late: int | None = None
    received: int | None = None
    sent: int | None = None
    battery: int | None = None
    warmth: float | None = None


@dataclass(frozen=True)
class CostSummary:
    """What a take cost: the median and the peak of its memory (KB), its share of one processor, the share of frames that came late, bytes
    in and out, and by how much the battery became warmer (°C). None for what is not known.
    """

    memory_kb: float | None = None
    peak_kb: float | None = None
    processor: float | None = None
    late: float | None = None
    received: int | None = None
    sent: int | None = None
    warmer: float | None = None
