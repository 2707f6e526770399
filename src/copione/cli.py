"""The command line. Exit codes: 0 all held or adapted, 1 could not run, 2 used wrongly, 3 outcomes differ or are stuck."""

from __future__ import annotations

import json
import os
import shutil
import sys
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import click

from . import __version__, explain
from .console import Console, print_table
from .links.adb.server import DEFAULT_PORT, AdbServer
from .links.bench import Bench, Device
from .links.endpoints import remembered
from .model.clock import SystemClock
from .model.errors import CopioneError, FileTrouble, LinkError, ScriptBroken
from .model.outcome import Outcome
from .project.project import Loaded, Project, problems_of
from .replay.run import Run

FAILED, DIFFER = 1, 3


class _Group(click.Group):
    """The one place where errors become sentences and exit codes."""

    def invoke(self, ctx: click.Context) -> Any:
        try:
            return super().invoke(ctx)
        except ScriptBroken as error:
            click.echo(f"copione: {error.sentence}", err=True)
            for problem in error.problems:
                click.echo(problem.pointed(), err=True)  # type: ignore[attr-defined]
            ctx.exit(FAILED)
        except CopioneError as error:
            click.echo(f"copione: {error.sentence}", err=True)
            ctx.exit(FAILED)


def _server_options(command: Any) -> Any:
    """Where devices are looked for."""
    for option in (
        click.option("--adb", metavar="HOST:PORT", help="Where the adb server listens (default: this computer's own)."),
        click.option(
            "--endpoint", "endpoints", metavar="URL", multiple=True, help="A WebDriver remote end; as often as there are devices."
        ),
        click.option("--faults", default=None, metavar="DIR|none", help="With --lab: the seeded faults (default: those that ship)."),
    ):
        command = option(command)
    return command


def _address(adb: str | None) -> tuple[str, int]:
    words = adb or f"127.0.0.1:{os.environ.get('ANDROID_ADB_SERVER_PORT', DEFAULT_PORT)}"
    host, _, port = words.rpartition(":")
    if not port.isdigit():
        raise click.BadParameter(f"{words} is not HOST:PORT.", param_hint="--adb")
    return host or "127.0.0.1", int(port)


@contextmanager
def _bench(lab: bool, adb: str | None, endpoints: tuple[str, ...] = (), faults: str | None = None) -> Iterator[Bench]:
    """The bench to use: the stand-in phones', started for as long as needed, or that of a real server and the endpoints given."""
    if lab:
        from copione_lab.spawn import LabProcess

        with LabProcess(faults=faults) as process:
            bench = Bench(AdbServer(port=process.port), endpoints=(*process.endpoints, *endpoints))
            try:
                yield bench
            finally:
                bench.close()
    else:
        host, port = _address(adb)
        bench = Bench(AdbServer(host, port), endpoints=(*remembered(), *endpoints))
        try:
            yield bench
        finally:
            bench.close()


@click.group(cls=_Group, invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="copione")
@click.pass_context
def main(context: click.Context) -> None:
    """Record touch gestures and checks on one phone, replay them on others, see where they part ways."""
    if context.invoked_subcommand is None:
        with _bench(False, None) as bench:
            context.exit(_window(bench, None))


def _window(bench: Bench, project: Path | None) -> int:
    try:
        from .app.main import run
    except ImportError as error:
        raise CopioneError(f"The window needs PySide6 ({error}). Install it with `pip install 'copione[app]'`.") from error
    return int(run(bench, project))


@main.command()
@click.option(
    "--project", type=click.Path(path_type=Path, file_okay=False), help="Keep the demo project here instead of a temporary folder."
)
def demo(project: Path | None) -> None:
    """The window with the stand-in phones and the demo project."""
    with tempfile.TemporaryDirectory(prefix="copione-demo-") as scratch, _bench(True, None) as bench:
        folder = project or Path(scratch) / "hive-diary"
        if not folder.exists():
            shutil.copytree(demo_project(), folder, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
        sys.exit(_window(bench, folder))


def demo_project() -> Path:
    """The demo project that comes with the source tree. Raises FileTrouble where there is none."""
    for base in (Path(__file__).resolve().parents[2], Path.cwd()):
        folder = base / "examples" / "hive-diary"
        if folder.exists():
            return folder
    raise FileTrouble("The demo project is part of the source tree: run this from a checkout.")


for _command in (explain.read_touch, explain.portray, explain.sight):
    main.add_command(_command)


@main.command()
@click.option("--lab", is_flag=True, help="List the stand-in phones.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object a line.")
@_server_options
def devices(lab: bool, as_json: bool, adb: str | None, endpoints: tuple[str, ...], faults: str | None) -> None:
    """What is connected, and what to do about what is not ready."""
    with _bench(lab, adb, endpoints, faults) as bench:
        found = bench.look()
    if as_json:
        for device in found:
            click.echo(json.dumps(_device_facts(device), ensure_ascii=False))
        return
    if not found:
        click.echo("No device is connected. Turn on USB debugging on the phone, plug it in, and approve this computer on its screen.")
        return
    for device in found:
        profile = device.profile
        if profile is not None:
            click.echo(
                f"{device.name}: {profile.system}, {profile.width:.0f} x {profile.height:.0f} dp, "
                f"text {profile.text_scale:.0%}, {profile.locale}"
            )
        else:
            click.echo(f"{device.name}: {device.trouble or device.listed.readiness.value + '. ' + device.listed.advice}")


def _device_facts(device: Device) -> dict[str, Any]:
    facts: dict[str, Any] = {
        "device": device.name,
        "state": device.listed.readiness.value,
        "advice": device.trouble or device.listed.advice,
    }
    if device.profile is not None:
        p = device.profile
        facts |= {"platform": p.platform, "release": p.release, "width_dp": p.width, "height_dp": p.height}
        facts |= {"text_scale": p.text_scale, "locale": p.locale}
    return facts


@main.command()
@click.argument("script", type=click.Path(path_type=Path, dir_okay=False))
@click.argument("more", nargs=-1, metavar="")
@click.option("--on", "names", multiple=True, required=True, metavar="NAME...", help="Devices by name, or all.")
@click.option("--lab", is_flag=True, help="On the stand-in phones, started for this.")
@click.option("--junit", type=click.Path(path_type=Path, dir_okay=False), help="Write JUnit XML here.")
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), help="Keep the run here instead of in the project's runs/.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object a step, as it happens.")
@_server_options
@click.pass_context
def replay(
    context: click.Context,
    script: Path,
    more: tuple[str, ...],
    names: tuple[str, ...],
    lab: bool,
    junit: Path | None,
    out: Path | None,
    as_json: bool,
    adb: str | None,
    endpoints: tuple[str, ...],
    faults: str | None,
) -> None:
    """Replay SCRIPT on devices, all at once."""
    project = Project.around(script)
    loaded = _sound(project, script)
    for note in loaded.notes:
        click.echo(f"copione: {note}", err=True)
    with _bench(lab, adb, endpoints, faults) as bench:
        chosen = choose(bench.look(), [*names, *more])
        context.exit(_replay(project, loaded, chosen, junit, out, as_json))


def _ask_for_secrets(loaded: Loaded) -> None:
    """At a terminal: the values of variables that nothing gives, typed unseen."""
    if sys.stdin.isatty():
        for name in loaded.wanting if not loaded.script.data else sorted(loaded.secret_names & set(loaded.wanting)):
            loaded.secrets[name] = click.prompt(name, hide_input=True)


def _sound(project: Project, script: Path) -> Loaded:
    """The script, ready to run. Raises FileTrouble, ScriptBroken."""
    loaded = project.load(script)
    _ask_for_secrets(loaded)
    problems = problems_of(loaded)
    if problems:
        many = f"{len(problems)} problems" if len(problems) > 1 else "a problem"
        raise ScriptBroken(f"{script.name} has {many}; nothing was run.", tuple(problems))
    return loaded


def choose(found: list[Device], names: list[str]) -> list[Device]:
    """The named devices, in the order named; `all` is every ready one. Raises LinkError with what there is."""
    ready = [d for d in found if d.ready]
    have = ", ".join(d.name for d in ready) or "none"
    if "all" in names:
        if not ready:
            waiting = "; ".join(f"{d.name}: {d.trouble or d.listed.readiness.value + '. ' + d.listed.advice}" for d in found)
            raise LinkError(f"No device is ready. {waiting or 'Plug one in and turn on USB debugging, or use --lab.'}")
        return ready
    chosen = []
    for name in names:
        device = next((d for d in found if name.casefold() in {d.name.casefold(), d.listed.address.casefold()}), None)
        if device is None:
            raise LinkError(f"No device is called {name}. Ready: {have}.")
        if not device.ready:
            raise LinkError(f"{name}: {device.trouble or device.listed.readiness.value + '. ' + device.listed.advice}")
        chosen.append(device)
    return chosen


def _replay(project: Project, loaded: Loaded, chosen: list[Device], junit_path: Path | None, out: Path | None, as_json: bool) -> int:
    from .comparison.findings import findings
    from .project.archive import read_run
    from .project.files import write_whole
    from .report.junit import junit
    from .report.lanes_of import lanes_of

    console = Console(loaded, as_json)
    run = Run(project, loaded, chosen, console, SystemClock(), out)
    try:
        with console.progress:
            run.start()
            run.wait()
    except KeyboardInterrupt:
        run.cancel()
        run.wait()
    lanes = lanes_of(read_run(run.folder))
    if junit_path is not None:
        write_whole(junit_path, junit(lanes, loaded.script.name))
    if not as_json:
        print_table(lanes, findings(lanes), run.folder)
    counts = lanes.counts()
    if run.none_began:
        return FAILED
    return DIFFER if counts[Outcome.STUCK] or counts[Outcome.DIFFERS] or counts[Outcome.UNREACHED] else 0


@main.command()
@click.option("--add", metavar="URL", help="Look for a device there from now on.")
@click.option("--forget", metavar="URL", help="Do not look there any more.")
def endpoints(add: str | None, forget: str | None) -> None:
    """The WebDriver endpoints where devices are looked for."""
    from .links import endpoints as kept

    found = kept.remembered()
    if add:
        found = kept.remember(add)
    if forget:
        found = kept.forget(forget)
    for url in found:
        click.echo(url)
    if not found:
        click.echo("No endpoint is kept. Give one with --add URL.")


@main.command()
@click.argument("script", type=click.Path(path_type=Path, dir_okay=False))
def lint(script: Path) -> None:
    """Problems of SCRIPT, without running it."""
    loaded = _sound(Project.around(script), script)
    for note in loaded.notes:
        click.echo(f"copione: {note}", err=True)
    steps = len(list(loaded.script.steps()))
    click.echo(f"{script.name}: {steps} steps in {len(loaded.script.scenes)} scenes, no problems.")


@main.command()
@click.option("--port", type=int, default=0, help="Loopback port to listen on (default: a free one).")
@click.option("--pace", type=click.Choice(["brisk", "real"]), default="real", help="How fast the phones are.")
@click.option("--faults", default=None, metavar="DIR|none", help="A folder of seeded faults, or none (default: those that ship).")
@click.option("--models", multiple=True, metavar="DIR", help="A folder with more models.")
@click.option("--build", type=click.Choice(["2.4", "2.5"]), default="2.4", help="Which build of Hive Diary is installed.")
@click.option("--list-faults", is_flag=True, help="Which model shows which fault, and nothing else.")
@click.option("--hand", metavar="NAME", help="Show that phone in a window of its own: your finger on its glass.")
@click.option("--trouble", nargs=2, metavar="WHAT NAME", help="Make trouble in the lab that runs at --control: unplug, hang, refuse ...")
@click.option("--control", type=int, default=0, metavar="PORT", help="With --trouble: the running lab's control port.")
def lab(
    port: int,
    pace: str,
    faults: str | None,
    models: tuple[str, ...],
    build: str,
    list_faults: bool,
    hand: str | None,
    trouble: tuple[str, str] | None,
    control: int,
) -> None:
    """Just the stand-in phones, until Ctrl+C."""
    if trouble:
        from copione_lab.control import ask

        try:
            click.echo(ask(control, *trouble))
        except (OSError, ValueError) as error:
            raise LinkError(f"No trouble was made: {error}") from error
        return
    from copione_lab.model import answer_sheet
    from copione_lab.spawn import LabProcess

    if list_faults:
        click.echo(answer_sheet(models, faults), nl=False)
        return
    with LabProcess(port, pace, faults, models, hand, build) as process:
        click.echo(f"{', '.join(process.phones)}.")
        where = " ".join([f"--adb 127.0.0.1:{process.port}", *(f"--endpoint {url}" for url in process.endpoints)])
        click.echo(f"Reach them with {where}")
        for name, daemon in process.daemons.items():
            click.echo(f"adb connect 127.0.0.1:{daemon}   # {name}")
        click.echo(f"Make trouble with: copione lab --control {process.control} --trouble unplug 'Alder 5'\nCtrl+C ends them.")
        if hand:
            process.wait()
            return
        try:
            threading.Event().wait()
        except KeyboardInterrupt:
            click.echo("Ended.")


@main.command()
@click.argument("run", type=click.Path(path_type=Path, file_okay=False))
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where to write it (default: report.html in the run's folder)."
)
def report(run: Path, out: Path | None) -> None:
    """One self-contained HTML page of RUN."""
    from .project.archive import read_run
    from .project.files import write_whole
    from .report.page import page

    path = out or run / "report.html"
    write_whole(path, page(read_run(run)).encode())
    click.echo(f"Written to {path}")
