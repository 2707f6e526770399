"""What a take is given: what to do, and to whom it tells what became of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from ..model.outcome import Result
from ..model.portrait import Portrait
from ..model.secrecy import Redactor
from ..model.step import Script
from ..project.archive import TakeWriter
from .pace import Pace


@dataclass(frozen=True)
class TakePlan:
    """What is replayed: a script with one data row, on a device that has the app as `package` and speaks by `phrases`.

    `secrets` are values that are typed and never written: `redactor` takes them out of whatever is told. `frames` is the folder of the
    recorded pictures.
    """

    script: Script
    package: str = ""
    values: Mapping[str, str] = field(default_factory=dict)
    secrets: Mapping[str, str] = field(default_factory=dict)
    portraits: Mapping[str, tuple[Portrait, ...]] = field(default_factory=dict)
    phrases: Mapping[str, str] = field(default_factory=dict)
    frames: Path | None = None
    redactor: Redactor = field(default_factory=Redactor)


@dataclass(frozen=True)
class TakePorts:
    """Where results go: the archive first, then whoever listens; `cancelled` is asked at every look."""

    archive: TakeWriter
    told: Callable[[Result], None] = lambda result: None
    cancelled: Callable[[], bool] = lambda: False
    pace: Pace = field(default_factory=Pace)
