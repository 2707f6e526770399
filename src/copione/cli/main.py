"""The command line's root: the window, the demo, and the commands. Errors become sentences and exit codes here."""

from __future__ import annotations

import shutil
import sys
import tempfile
from contextlib import ExitStack
from pathlib import Path
from typing import Any

import click

from .. import __version__
from ..model.errors import CopioneError, FileTrouble, ScriptBroken
from ..model.secrecy import Redactor
from ..project.outlets import guard
from . import devices, explain, lab, scripts
from .bench import open_bench
from .exits import FAILED
from .terminal import say, shown


class _Group(click.Group):
    """The one place where errors become sentences and exit codes."""

    def invoke(self, ctx: click.Context) -> Any:
        try:
            return super().invoke(ctx)
        except ScriptBroken as error:
            say(error.sentence)
            for problem in error.problems:
                click.echo(shown(problem.pointed(), lines=True), err=True)  # type: ignore[attr-defined]
            ctx.exit(FAILED)
        except CopioneError as error:
            say(ctx.ensure_object(Redactor).words(error.sentence))
            ctx.exit(FAILED)


@click.group(cls=_Group, invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="copione")
@click.pass_context
def main(context: click.Context) -> None:
    """Record touch gestures and checks on one phone, replay them on others, see where they part ways."""
    context.obj = Redactor()
    guard(context.obj)
    if context.invoked_subcommand is None:
        context.exit(_window(False, None, context.obj))


def _window(lab: bool, project: Path | None, redactor: Redactor) -> int:
    """The window, on the stand-in phones or on those of this computer's adb server."""
    try:
        from ..app.main import run
    except ImportError as error:
        raise CopioneError(f"The window needs PySide6 ({error}). Install it with `pip install 'copione[app]'`.") from error
    with ExitStack() as stack:
        return run(lambda: stack.enter_context(open_bench(lab, None)), project, redactor)


@main.command()
@click.option(
    "--project", type=click.Path(path_type=Path, file_okay=False), help="Keep the demo project here instead of a temporary folder."
)
@click.pass_obj
def demo(redactor: Redactor, project: Path | None) -> None:
    """The window with the stand-in phones and the demo project."""
    with tempfile.TemporaryDirectory(prefix="copione-demo-") as scratch:
        folder = project or Path(scratch) / "hive-diary"
        if not folder.exists():
            shutil.copytree(demo_project(), folder, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
        sys.exit(_window(True, folder, redactor))


def demo_project() -> Path:
    """The demo project that comes with the source tree. Raises FileTrouble where there is none."""
    for base in (Path(__file__).resolve().parents[3], Path.cwd()):
        folder = base / "examples" / "hive-diary"
        if folder.exists():
            return folder
    raise FileTrouble("The demo project is part of the source tree: run this from a checkout.")


for _command in (
    *(devices.devices, devices.endpoints, scripts.replay, scripts.lint, scripts.report, lab.lab),
    *(explain.read_touch, explain.portray, explain.sight),
):
    main.add_command(_command)
