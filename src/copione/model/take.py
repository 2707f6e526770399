"""The name of a take within its run."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, order=True)
class TakeName:
    """The device's name, the data row (from 1), and, where several devices of a run have one name, which of them (from 1)."""

    device: str
    row: int = 1
    which: int = 1
