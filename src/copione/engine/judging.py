"""Judging a run: its findings, which of them are expected, and which are new since an earlier run."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path

from ..comparison.finding import Finding
from ..comparison.findings import findings
from ..comparison.lanes import Lane, Lanes, lay
from ..comparison.standing import Allowance, Assessed, assess
from ..files.places import Place
from ..model.clock import Clock, SystemClock, today
from ..project.allowances import read_allowances
from ..project.archive import RunRecord, read_run
from ..project.history import before
from ..project.project import Project


def lanes_of(run: RunRecord) -> Lanes:
    """The takes of a run side by side."""
    return lay((Lane.of(t.name, t.device, t.results, t.folder, t.build) for t in run.takes), run.lead)


def found_in(run: RunRecord) -> tuple[Lanes, tuple[Finding, ...]]:
    """A run as lanes, and its findings."""
    lanes = lanes_of(run)
    return lanes, findings(lanes, run.remarks)


@dataclass(frozen=True)
class JudgedRun:
    """A run with its takes side by side, and its findings as they stand."""

    record: RunRecord
    lanes: Lanes
    known: Assessed


def judged(folder: Place, baseline: Place | None = None, project: Path | None = None, clock: Clock | None = None) -> JudgedRun:
    """Judge a run of the archive: what is new since `baseline`, by default the script's previous run, and what the project expects.

    `project` is the project's folder, by default the one that the run lies in. Raises FileTrouble for files that cannot be read.
    """
    record = read_run(folder)
    lanes, found = found_in(record)
    earlier = baseline or usual_baseline(record.folder, record.script)
    day = today(clock or SystemClock())
    return JudgedRun(record, lanes, assessed(project or project_of(folder), record, lanes, found, earlier, day))


def project_of(run: Place) -> Path | None:
    """The folder of the project that a run lies in; None for one that lies in no folder."""
    return Project.around(run).folder if isinstance(run, Path) else None


def allowed(project: Path | None) -> tuple[Allowance, ...]:
    """What a project expects. Raises FileTrouble."""
    return read_allowances(project) if project is not None else ()


@dataclass(frozen=True)
class Before:
    """An earlier run that another is compared with, and what people call it: its day and hour."""

    findings: tuple[Finding, ...]
    lanes: Lanes
    called: str

    @classmethod
    def of(cls, folder: Place) -> Before:
        """Raises FileTrouble."""
        run = read_run(folder)
        lanes, found = found_in(run)
        return cls(found, lanes, time.strftime("%d %b, %H:%M", time.localtime(run.started)))


def assessed(
    project: Path | None, run: RunRecord, lanes: Lanes, found: tuple[Finding, ...], baseline: Place | None, today: date
) -> Assessed:
    """The findings as they stand; without a project nothing is allowed. Raises FileTrouble for what cannot be read."""
    allowances, before = allowed(project), Before.of(baseline) if baseline is not None else None
    known = standing(run.script, lanes, found, allowances, before, today)
    return known if run.complete else replace(known, stale=())  # what was not come to may match yet


def standing(
    script: str, lanes: Lanes, found: tuple[Finding, ...], allowances: Sequence[Allowance], before: Before | None, today: date
) -> Assessed:
    """The same of what has been read already."""
    known = (before.findings, before.lanes) if before is not None else None
    return assess(found, lanes, script, allowances, today, known, before.called if before is not None else "")


def usual_baseline(folder: Place, script: str) -> Place | None:
    """The complete run of the same script before one, where there is one beside it. Raises FileTrouble."""
    return before(folder.parent, script, folder)
