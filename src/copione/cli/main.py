"""The command line's root: the window, the demo, and the commands. Errors become sentences and exit codes here."""

from __future__ import annotations

import errno
import logging
import os
import sys
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import click

from .. import __version__
from ..model.errors import CopioneError, NoServer, ScriptBroken
from ..model.secrecy import Redactor
from ..project.outlets import guard
from . import apps, desktop, devices, explain, lab, projects, runs, scripts
from .bench import DeviceSources, join_stand_ins, open_bench
from .exits import FAILED
from .places import demo_folder, log_file
from .terminal import OutputLost, leave_output, say, shown, tell

LOG = logging.getLogger(__name__)


class _Group(click.Group):
    """The one place where errors become sentences and exit codes."""

    def invoke(self, ctx: click.Context) -> Any:
        try:
            with _output():
                return super().invoke(ctx)
        except ScriptBroken as error:
            say(error.sentence)
            for problem in error.problems:
                click.echo(shown(problem.pointed(), lines=True), err=True)  # type: ignore[attr-defined]
            ctx.exit(FAILED)
        except NoServer as error:
            say(f"{error.sentence} Start one with `adb start-server`, or use the stand-in phones with --lab.")
            ctx.exit(FAILED)
        except CopioneError as error:
            say(ctx.ensure_object(Redactor).words(error.sentence))
            ctx.exit(FAILED)
        except OutputLost as error:
            leave_output()
            if not error.reader_gone:
                say(f"The output could not be written: {error}.")
            ctx.exit(FAILED)


@contextmanager
def _output() -> Iterator[None]:
    """What is printed is on its way when a command ends, also one that exits. Raises OutputLost."""
    try:
        yield
    except OSError as error:
        if error.filename is None and error.errno in (errno.EPIPE, errno.ENOSPC, errno.EIO):
            raise OutputLost(error) from error
        raise
    finally:
        try:
            sys.stdout.flush()
        except OSError as error:
            raise OutputLost(error) from error


@click.group(cls=_Group, invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="copione")
@click.option("--verbose", is_flag=True, help="Log to standard error as well; the log file is always written.")
@click.pass_context
def main(context: click.Context, verbose: bool) -> None:
    """Record touch gestures and checks on one phone, replay them on others, see where they part ways."""
    context.obj = Redactor()
    guard(context.obj, log_file(), logging.INFO if verbose else logging.WARNING)
    LOG.info("copione %s %s", __version__, context.invoked_subcommand or "")
    if context.invoked_subcommand is None:
        context.exit(_window(False, None, context.obj))


def _window(lab: bool, project: Path | None, redactor: Redactor) -> int:
    """The window, on the stand-in phones or on those of this computer's adb server."""
    from ..app.display import choose_platform

    os.environ.setdefault("QT_QPA_PLATFORM", choose_platform())
    try:
        from ..app.main import HostServices, run
    except ImportError as error:
        raise CopioneError(f"The window needs PySide6 ({error}). Install it with `pip install 'copione[app]'`.") from error
    with ExitStack() as stack:
        return run(
            HostServices(
                open_bench=lambda: stack.enter_context(open_bench(DeviceSources(lab=lab))),
                join_stand_ins=lambda bench: stack.enter_context(join_stand_ins(bench)),
                make_demo=lambda: _demo(None, False),
            ),
            project,
            redactor,
        )


def _demo(folder: Path | None, anew: bool) -> Path:
    """Where the demo project is, made if it is not there."""
    from ..project.demo import copy_demo

    place = folder or demo_folder()
    aside = copy_demo(place, anew=anew)
    if aside is not None:
        say(f"The demo project as it was is kept in {aside}")
    return place


@main.command()
@click.option("--project", type=click.Path(path_type=Path, file_okay=False), help="Keep the demo project in this folder instead.")
@click.option("--new", "anew", is_flag=True, help="Start over with a fresh copy; the old one is moved aside.")
@click.pass_obj
def demo(redactor: Redactor, project: Path | None, anew: bool) -> None:
    """Open the window with the stand-in phones and the demo project.

    The project is copied to Copione/hive-diary among your documents once, and is yours from then on.
    """
    place = _demo(project, anew)
    tell(f"The demo project is in {place}")
    sys.exit(_window(True, place, redactor))


for _command in (
    *(
        desktop.desktop,
        projects.new,
        devices.devices,
        devices.endpoints,
        devices.browsers,
        devices.connect,
        devices.check_phone,
        apps.apps,
        scripts.replay,
        scripts.lint,
        scripts.format_scripts,
        runs.report,
        runs.compare,
        runs.reindex,
        lab.lab,
    ),
    *(explain.read_touch, explain.portray, explain.sight),
):
    main.add_command(_command)
