"""Writing a run down for others: one HTML page, or JUnit XML."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ..files.places import Place
from ..files.writing import write_whole
from ..report.junit import junit
from ..report.page import write_page
from .judging import JudgedRun, judged

PAGE = "report.html"


def write_report(
    run: Place,
    out: Place | None = None,
    *,
    baseline: Place | None = None,
    project: Path | None = None,
    beside: bool = False,
    progress: Callable[[float], None] = lambda share: None,
) -> Place:
    """Write a run as one page, into the run's folder unless `out` names another file. Returns the file.

    For `baseline` and `project` see `judged`. `beside` puts pictures in a folder beside the page instead of in it. `progress` is called
    with the share that is done, 0..1. Raises FileTrouble.
    """
    found, path = judged(run, baseline, project), out or run / PAGE
    write_page(path, found.record, found.lanes, found.known, beside=beside, progress=progress)
    return path


def write_junit(path: Path, run: JudgedRun, covers: tuple[str, ...]) -> None:
    """Write JUnit XML. `covers`: test cases elsewhere that the script is about. Raises FileTrouble."""
    write_whole(path, junit(run.lanes, run.record.script, covers, run.known))
