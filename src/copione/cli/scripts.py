"""Commands about scripts and their runs: replay, lint, report."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..model.clock import SystemClock
from ..model.errors import FileTrouble, ScriptBroken
from ..model.outcome import Outcome
from ..model.secrecy import Redactor
from .bench import Where, choose, open_bench, server_options
from .exits import DIFFER, FAILED
from .terminal import json_text, say, shown, tell

if TYPE_CHECKING:
    from ..links.bench import Device
    from ..project.loaded import Loaded
    from ..project.project import Project

NOT_THERE = frozenset({"put-aside", "runs", "recordings"})  # of a project: in these nobody looks for scripts


@click.command()
@click.argument("script", type=click.Path(path_type=Path, dir_okay=False))
@click.argument("more", nargs=-1, metavar="")
@click.option("--on", "names", multiple=True, required=True, metavar="NAME...", help="Devices by name, or all.")
@click.option("--lab", is_flag=True, help="On the stand-in phones, started for this.")
@click.option("--set", "given", multiple=True, metavar="NAME=VALUE", help="A value of the script, above the data's and the environment's.")
@click.option("--base", metavar="URL", help="Where the web app is, instead of what project.toml says.")
@click.option("--junit", type=click.Path(path_type=Path, dir_okay=False), help="Write JUnit XML here.")
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), help="Keep the run here instead of in the project's runs/.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object a step, as it happens.")
@click.option(
    "--busy",
    type=click.Choice(["tell", "wait", "take"]),
    default="tell",
    help="About a device that another Copione uses: say so, wait until it is free, or take it over.",
)
@server_options
@click.pass_context
def replay(
    context: click.Context,
    script: Path,
    more: tuple[str, ...],
    names: tuple[str, ...],
    where: Where,
    base: str | None,
    given: tuple[str, ...],
    junit: Path | None,
    out: Path | None,
    as_json: bool,
    busy: str,
) -> None:
    """Replay SCRIPT on devices, all at once."""
    from ..links.endpoints import checked
    from ..project.project import Project

    project = Project.around(script, context.obj)
    if base is not None:
        project.say_address(checked(base))
    loaded = _sound(project, script, given)
    for note in loaded.notes:
        say(note)
    with open_bench(replace(where, only=(*names, *more)), offer=not as_json) as bench:
        chosen = choose(bench.look(), [*names, *more])
        context.exit(_replay(project, loaded, chosen, junit, out, as_json, busy))


def _with_answers(loaded: Loaded) -> Loaded:
    """At a terminal: the values that nothing gives, not even a default; secret ones are typed unseen."""
    if not sys.stdin.isatty():
        return loaded
    known = loaded.secret_names | set(loaded.needs)
    asked = [n for n in loaded.asked if n.default is None and (n.name in known or not loaded.script.data)]
    return loaded.given({need.name: click.prompt(need.name, hide_input=need.secret) for need in asked})


def _with_given(loaded: Loaded, given: Iterable[str]) -> Loaded:
    """With what `--set` says. Raises UsageError for what is no NAME=VALUE, or a name that the script does not use."""
    values = {}
    known = {*loaded.needs, *loaded.rows[0], *(need.name for need in loaded.asked)}
    for each in given:
        name, sign, value = each.partition("=")
        if not sign or name not in known:
            asks = f"It takes {', '.join(sorted(known))}." if known else "It takes none."
            raise click.UsageError(f"--set {each!r}: the script takes no value of that name. {asks}" if sign else "--set NAME=VALUE")
        values[name] = value
    return loaded.given(values, over=True)


def _sound(project: Project, script: Path, given: Iterable[str] = ()) -> Loaded:
    """The script, ready to run. Raises FileTrouble, ScriptBroken."""
    loaded = _with_answers(_with_given(project.load(script), given))
    problems = loaded.problems()
    missing = [need.name for need in loaded.asked if need.default is None and need.name in loaded.needs]
    if missing and not problems:
        ways = (f"{name} in the environment" if loaded.needs[name].secret else f"--set {name}=..." for name in missing)
        raise FileTrouble(f"{script.name} needs {', '.join(missing)}: give {', '.join(ways)}.")
    if problems:
        many = f"{len(problems)} problems" if len(problems) > 1 else "a problem"
        raise ScriptBroken(f"{script.name} has {many}; nothing was run.", tuple(problems))
    return loaded


def _replay(
    project: Project, loaded: Loaded, chosen: list[Device], junit_path: Path | None, out: Path | None, as_json: bool, busy: str
) -> int:
    from ..comparison.findings import findings
    from ..links.claims import Busy
    from ..project.archive import read_run
    from ..project.files import write_whole
    from ..replay.run import Run
    from ..report.junit import junit
    from ..report.lanes_of import lanes_of
    from .console import Console, print_table

    console = Console(loaded, as_json)
    run = Run(project, loaded, chosen, console, SystemClock(), out, Busy(busy))
    try:
        with console.progress:
            run.start()
            run.wait()
    except KeyboardInterrupt:
        run.cancel()
        run.wait()
    lanes = lanes_of(read_run(run.folder))
    if junit_path is not None:
        write_whole(junit_path, junit(lanes, loaded.script.name, loaded.script.covers))
    if not as_json:
        print_table(lanes, findings(lanes), run.folder)
    counts = lanes.counts
    if run.none_began:
        return FAILED
    return DIFFER if any(counts.get(o) for o in Outcome if o.bad) else 0


@click.command()
@click.argument("paths", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="PATH...")
@click.option("--json", "as_json", is_flag=True, help="One JSON object a problem.")
@click.pass_context
def lint(context: click.Context, paths: tuple[Path, ...], as_json: bool) -> None:
    """Problems of scripts, without running them; of every script in a folder."""
    failed = False
    scripts = list(_scripts_in(paths))
    for script in scripts:
        problems = _linted(script, context.obj, as_json)
        failed = failed or problems
    if not scripts:
        raise FileTrouble(f"There is no script in {', '.join(map(str, paths))}.")
    context.exit(FAILED if failed else 0)


def _linted(script: Path, redactor: Redactor, as_json: bool) -> bool:
    """Tell the problems of one script; were there any?"""
    from ..project.project import Project

    loaded = Project.around(script, redactor).load(script)
    remarks = loaded.remarks(asking=True)
    problems = [problem for problem in remarks if not problem.hint]
    if as_json:
        for problem in remarks:
            facts = {
                "file": str(script),
                "line": problem.line,
                "column": problem.column,
                "length": problem.length,
                "message": problem.sentence,
                "hint": problem.hint,
            }
            click.echo(json_text(facts))
        return bool(problems)
    for note in loaded.notes:
        say(note)
    if problems:
        many = f"{len(problems)} problems" if len(problems) > 1 else "a problem"
        say(f"{script.name} has {many}.")
        for problem in problems:
            click.echo(shown(problem.pointed(), lines=True), err=True)
    else:
        steps = len(list(loaded.script.steps()))
        tell(f"{script.name}: {steps} steps in {len(loaded.script.scenes)} scenes, no problems.")
    for hint in (remark for remark in remarks if remark.hint):
        click.echo(shown(f"hint: {hint.pointed()}", lines=True), err=True)
    return bool(problems)


@click.command("format")
@click.argument("paths", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="PATH...")
@click.option("--check", is_flag=True, help="Change nothing; exit code 1 where something would be changed.")
@click.pass_context
def format_scripts(context: click.Context, paths: tuple[Path, ...], check: bool) -> None:
    """Put scripts into their canonical spacing; lines with a problem stay as they are."""
    from ..language.document import formatted
    from ..project.files import read_text, write_whole

    changed = 0
    for script in _scripts_in(paths):
        before = read_text(script)
        after = formatted(before)
        if after == before:
            continue
        changed += 1
        if not check:
            write_whole(script, after.encode())
        tell(f"{'Would be changed' if check else 'Changed'}: {script}")
    context.exit(FAILED if check and changed else 0)


def _scripts_in(paths: Iterable[Path]) -> Iterator[Path]:
    """The scripts that are named, and those in the folders that are."""
    for path in paths:
        if not path.is_dir():
            yield path
            continue
        been: set[str] = set()
        for folder, folders, files in os.walk(path, followlinks=True):
            real = os.path.realpath(folder)
            folders[:] = [] if real in been else sorted(set(folders) - NOT_THERE)
            if real not in been:
                yield from (Path(folder) / name for name in sorted(files) if name.endswith(".copione"))
            been.add(real)


@click.command()
@click.argument("run", type=click.Path(path_type=Path, file_okay=False))
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where to write it (default: report.html in the run's folder)."
)
def report(run: Path, out: Path | None) -> None:
    """One self-contained HTML page of RUN."""
    from ..project.archive import read_run
    from ..project.files import write_whole
    from ..report.page import page

    path = out or run / "report.html"
    write_whole(path, page(read_run(run)).encode())
    tell(f"Written to {path}")
