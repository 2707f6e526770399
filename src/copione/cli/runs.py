"""Commands about runs that were made: report, compare, reindex."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from .exits import DIFFER
from .terminal import json_text, tell

if TYPE_CHECKING:
    from ..comparison.change import StepChange

_run = click.Path(path_type=Path, file_okay=False)


@click.command()
@click.argument("run", type=_run)
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="The file to write (default: report.html in the run's folder)."
)
@click.option("--folder", is_flag=True, help="Put pictures in a folder beside the page instead of inside it.")
@click.option("--baseline", type=_run, metavar="RUN", help="The earlier run that new findings are judged against.")
@click.pass_obj
def report(redactor: object, run: Path, out: Path | None, folder: bool, baseline: Path | None) -> None:
    """Write RUN as one HTML page that works by keyboard and prints well."""
    from ..engine.reporting import write_report

    path = write_report(run, out, baseline=baseline, beside=folder)
    tell(f"Written to {path}")


@click.command()
@click.argument("earlier", type=_run)
@click.argument("later", type=_run)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object per new or gone finding and per changed step.")
@click.pass_context
def compare(context: click.Context, earlier: Path, later: Path, as_json: bool) -> None:
    """Compare two runs of a script: what is new in LATER, what is gone, and which steps ended differently.

    Exit code 3 if anything is worse."""
    from ..comparison.telling import to_dict
    from ..engine.comparing import compared

    found = compared(earlier, later)
    if as_json:
        for each in found.new:
            click.echo(json_text({"new": to_dict(each.finding, each)}))
        for finding in found.gone:
            click.echo(json_text({"gone": to_dict(finding)}))
        for change in found.changes:
            click.echo(json_text({"otherwise": _told(change)}))
    else:
        for title, lines in (
            ("New", [each.finding.title for each in found.new]),
            ("Gone", [finding.title for finding in found.gone]),
            ("Otherwise", [_words(change) for change in found.changes]),
        ):
            tell(f"{title}: {len(lines) or 'nothing'}")
            for line in lines:
                tell(f"  {line}")
    context.exit(DIFFER if found.worse else 0)


def _words(change: StepChange) -> str:
    return f"{change.take.device}: {change.step}: {change.said}"


def _told(change: StepChange) -> dict[str, object]:
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
    """Rebuild the index of PROJECT's runs from their folders."""
    from ..project.history import RunIndex
    from ..project.project import Project

    runs = Project(project).runs_folder
    tell(f"{RunIndex(runs).rebuild()} runs in {runs}")
