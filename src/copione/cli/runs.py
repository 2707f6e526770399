"""Commands about runs that were made: report, compare, reindex."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..model.clock import SystemClock, today
from .exits import DIFFER
from .terminal import json_text, tell

if TYPE_CHECKING:
    from ..comparison.change import Change

_run = click.Path(path_type=Path, file_okay=False)


@click.command()
@click.argument("run", type=_run)
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where to write it (default: report.html in the run's folder)."
)
@click.option("--folder", is_flag=True, help="Pictures beside the page, in a folder, instead of in it.")
@click.option("--baseline", type=_run, metavar="RUN", help="What is new is told beside this earlier run.")
@click.pass_obj
def report(redactor: object, run: Path, out: Path | None, folder: bool, baseline: Path | None) -> None:
    """One HTML page of RUN that works by keyboard and can be printed."""
    from ..project.archive import read_run
    from ..project.assessing import assessed, found_in, usual_baseline
    from ..project.project import Project
    from ..report.page import write_page

    record = read_run(run)
    lanes, found = found_in(record)
    project = Project.around(run)
    known = assessed(project.folder, record, lanes, found, baseline or usual_baseline(record.folder, record.script), today(SystemClock()))
    path = out or run / "report.html"
    write_page(path, record, lanes, known, beside=folder)
    tell(f"Written to {path}")


@click.command()
@click.argument("earlier", type=_run)
@click.argument("later", type=_run)
@click.option("--json", "as_json", is_flag=True, help="One JSON object a finding that is new or gone, and a step that is otherwise.")
@click.pass_context
def compare(context: click.Context, earlier: Path, later: Path, as_json: bool) -> None:
    """What is otherwise in the run LATER than it was in EARLIER; exit code 3 where something is worse."""
    from ..comparison.change import changes
    from ..comparison.telling import told
    from ..project.allowances import read_allowances
    from ..project.archive import read_run
    from ..project.assessing import Before, found_in, standing
    from ..project.project import Project

    before, now = Before.of(earlier), read_run(later)
    lanes, found = found_in(now)
    known = standing(now.script, lanes, found, read_allowances(Project.around(later).folder), before, today(SystemClock()))
    otherwise = changes(before.lanes, lanes)
    new = [each for each in known.standing if each.new]
    if as_json:
        for each in new:
            click.echo(json_text({"new": told(each.finding, each)}))
        for finding in known.gone:
            click.echo(json_text({"gone": told(finding)}))
        for change in otherwise:
            click.echo(json_text({"otherwise": _told(change)}))
    else:
        for title, lines in (
            ("New", [each.finding.title for each in new]),
            ("Gone", [finding.title for finding in known.gone]),
            ("Otherwise", [_words(change) for change in otherwise]),
        ):
            tell(f"{title}: {len(lines) or 'nothing'}")
            for line in lines:
                tell(f"  {line}")
    worse = any(change.worse for change in otherwise) or any(not each.expected for each in new)
    context.exit(DIFFER if worse else 0)


def _words(change: Change) -> str:
    return f"{change.take.device}: {change.step}: {change.said}"


def _told(change: Change) -> dict[str, object]:
    return {
        "device": change.take.device,
        "row": change.take.row,
        "step": change.step,
        "before": change.before.outcome.value,
        "now": change.now.outcome.value,
        "worse": change.worse,
        "said": change.said,
    }


@click.command()
@click.argument("project", type=click.Path(path_type=Path, file_okay=False), default=Path())
def reindex(project: Path) -> None:
    """Make the index of PROJECT's runs anew from their folders."""
    from ..project.history import Index
    from ..project.project import Project

    runs = Project(project).runs_folder
    tell(f"{Index(runs).rebuild()} runs in {runs}")
