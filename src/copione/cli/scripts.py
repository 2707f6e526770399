"""Commands about scripts: replay, lint, format."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..model.clock import SystemClock
from ..model.errors import CopioneError, FileTrouble
from ..model.secrecy import Redactor
from .bench import DeviceSources, choose, open_bench, server_options
from .exits import DIFFER, FAILED
from .terminal import json_text, say, shown, tell

if TYPE_CHECKING:
    from ..engine.replaying import ReplayOptions
    from ..links.bench import Device
    from ..project.loaded import Loaded
    from ..project.project import Project

NOT_THERE = frozenset({"put-aside", "runs", "recordings"})  # of a project: in these nobody looks for scripts


@click.command()
@click.argument("script", type=click.Path(path_type=Path, dir_okay=False))
@click.argument("more", nargs=-1, metavar="")
@click.option("--on", "names", multiple=True, required=True, metavar="NAME...", help="The devices to replay on, by name, or all.")
@click.option("--lab", is_flag=True, help="Replay on stand-in phones started for this run.")
@click.option(
    "--set", "given", multiple=True, metavar="NAME=VALUE", help="Set a value of the script; it overrides its data and the environment."
)
@click.option("--base", metavar="URL", help="The web app's address, instead of the one in project.toml.")
@click.option("--junit", type=click.Path(path_type=Path, dir_okay=False), help="Write JUnit XML to this file.")
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), help="Keep the run in this folder instead of the project's runs/.")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object per step as it happens, and one per finding at the end.")
@click.option("--strict", is_flag=True, help="Also exit with code 3 for unexpected remarks and slow steps.")
@click.option(
    "--baseline",
    type=click.Path(path_type=Path, file_okay=False),
    metavar="RUN",
    help="The earlier run that new findings are judged against (default: the script's previous run).",
)
@click.option(
    "--busy",
    type=click.Choice(["tell", "wait", "take"]),
    default="tell",
    help="What to do about a device that another Copione is using: report it, wait for it, or take it over.",
)
@click.option("--yes", is_flag=True, help="Do not ask before deleting an app's data on people's own devices.")
@server_options
@click.pass_context
def replay(
    context: click.Context,
    script: Path,
    more: tuple[str, ...],
    names: tuple[str, ...],
    where: DeviceSources,
    base: str | None,
    given: tuple[str, ...],
    junit: Path | None,
    out: Path | None,
    as_json: bool,
    strict: bool,
    baseline: Path | None,
    busy: str,
    yes: bool,
) -> None:
    """Replay SCRIPT on several devices at the same time."""
    from ..engine.memory import use_sparingly
    from ..engine.replaying import ReplayOptions
    from ..links.claims import Busy
    from ..links.endpoints import checked
    from ..project.project import Project

    use_sparingly()
    project = Project.around(script, context.obj)
    if base is not None:
        project.say_address(checked(base))
    loaded = _ready(project, script, given)
    for note in loaded.notes:
        say(note)
    with open_bench(replace(where, only=(*names, *more)), offer=not as_json) as bench:
        chosen = choose(bench.look(), [*names, *more])
        if not yes:
            _ask_clearing(loaded, chosen)
        context.exit(_replay(project, loaded, chosen, ReplayOptions(out, junit, baseline, Busy(busy)), as_json, strict))


def _ask_clearing(loaded: Loaded, devices: Sequence[Device]) -> None:
    """At a terminal: may what the app has stored on somebody's devices be deleted? Raises Abort where it may not."""
    from ..model.wording import listed

    names = [device.name for device in devices if not device.listed.stand_in]
    if names and loaded.library.cleared and sys.stdin.isatty():
        words = f"The script deletes everything that {_apps(loaded)} stored on {listed(names)}. Go on?"
        click.confirm(shown(words), default=False, abort=True, err=True)


def _apps(loaded: Loaded) -> str:
    """Whose data is deleted, in words."""
    from ..model.wording import listed

    return f"{listed([word or 'the app' for word in loaded.library.cleared])} {'have' if len(loaded.library.cleared) > 1 else 'has'}"


def _with_answers(loaded: Loaded) -> Loaded:
    """At a terminal: the values that nothing gives, not even a default; secret ones are typed unseen."""
    if not sys.stdin.isatty():
        return loaded
    known = loaded.secret_names | set(loaded.needs)
    asked = [n for n in loaded.asked if n.default is None and (n.name in known or not loaded.script.data)]
    return loaded.given({need.name: click.prompt(need.name, hide_input=need.secret) for need in asked})


def _given(words: Iterable[str]) -> dict[str, str]:
    """The values given with `--set`. Raises UsageError unless each is NAME=VALUE."""
    values = {}
    for each in words:
        name, sign, value = each.partition("=")
        if not sign:
            raise click.UsageError(f"--set {each}: give it as NAME=VALUE.")
        values[name] = value
    return values


def _ready(project: Project, script: Path, given: Iterable[str]) -> Loaded:
    """The script, ready to be replayed. Raises UsageError, FileTrouble, ScriptBroken."""
    from ..engine.opening import UnknownValue, ValuesMissing, must_be_ready, with_values
    from ..project.secrets import PREFIX

    try:
        loaded = _with_answers(with_values(project.load(script), _given(given)))
    except UnknownValue as error:
        raise click.UsageError(f"--set: {error.sentence}") from error
    try:
        must_be_ready(loaded)
    except ValuesMissing as error:
        ways = (f"{PREFIX}{n.name.upper()} in the environment" if n.secret else f"--set {n.name}=..." for n in error.needs)
        raise CopioneError(f"{script.name} needs {', '.join(n.name for n in error.needs)}: give {', '.join(ways)}.") from error
    return loaded


def _replay(project: Project, loaded: Loaded, chosen: list[Device], options: ReplayOptions, as_json: bool, strict: bool) -> int:
    from ..engine.replaying import Replay
    from .console import Console, print_costs, print_findings, print_table
    from .stopping import stopping

    console = Console(loaded, as_json)
    replay = Replay(project, loaded, chosen, console, SystemClock(), options)
    with stopping(replay.cancel):
        with console.shown():
            replay.start()
            result = replay.wait()
        for trouble in result.troubles:
            say(trouble)
        if as_json:
            print_costs(result.run.record)
            print_findings(result.run.known)
        else:
            print_table(result.run.lanes, result.run.known, result.run.record.folder)
    if console.lost is not None:
        raise console.lost
    if not result.whole:
        return FAILED
    return DIFFER if result.differs(strict) else 0


@click.command()
@click.argument("paths", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="PATH...")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object per problem.")
@click.pass_context
def lint(context: click.Context, paths: tuple[Path, ...], as_json: bool) -> None:
    """Check scripts for problems without running them; a folder means every script in it."""
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
@click.option("--check", is_flag=True, help="Change nothing; exit with code 1 if a file would change.")
@click.pass_context
def format_scripts(context: click.Context, paths: tuple[Path, ...], check: bool) -> None:
    """Format scripts; lines with a problem are left alone."""
    from ..files.changing import change_text, plain_ends
    from ..files.reading import FileKind, read_text
    from ..language.document import formatted

    changed = 0
    for script in _scripts_in(paths):
        before = plain_ends(read_text(script, FileKind.SCRIPT))
        if formatted(before) == before:
            continue
        changed += 1
        if not check:
            change_text(script, FileKind.SCRIPT, formatted)
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
