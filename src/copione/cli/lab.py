"""The command that starts the stand-in phones and nothing else."""

from __future__ import annotations

import threading
from pathlib import Path

import click

from ..files.writing import write_whole
from ..model.errors import LinkError
from ..model.wording import listed
from .terminal import tell


@click.command()
@click.option("--port", type=int, default=0, help="The loopback port to listen on (default: any free one).")
@click.option("--pace", type=click.Choice(["brisk", "real"]), default="real", help="How fast the phones respond.")
@click.option("--faults", default=None, metavar="DIR|none", help="A folder of seeded faults, or none (default: those that ship).")
@click.option("--models", multiple=True, metavar="DIR", help="A folder of additional phone models.")
@click.option("--build", type=click.Choice(["2.4", "2.5"]), default="2.4", help="Which build of Hive Diary is installed.")
@click.option("--list-faults", is_flag=True, help="List which model shows which fault, and exit.")
@click.option("--hand", metavar="NAME", help="Show this phone in a window of its own and touch it with the mouse.")
@click.option("--package", nargs=2, metavar="APP BUILD", help="Write a package file for the stand-in phones (hive-diary 2.4), and exit.")
@click.option("--trouble", nargs=2, metavar="WHAT NAME", help="Cause trouble in the lab running at --control: unplug, hang, refuse ...")
@click.option("--control", default="", metavar="PORT:TOKEN", help="With --trouble: the running lab's control port and token.")
def lab(
    port: int,
    pace: str,
    faults: str | None,
    models: tuple[str, ...],
    build: str,
    list_faults: bool,
    hand: str | None,
    package: tuple[str, str] | None,
    trouble: tuple[str, str] | None,
    control: str,
) -> None:
    """Run the stand-in phones until Ctrl+C."""
    if trouble:
        from copione_lab.control import ask

        port_words, _, token = control.partition(":")
        try:
            tell(ask(int(port_words), token, *trouble))
        except (OSError, ValueError) as error:
            raise LinkError(f"The trouble could not be caused: {error}") from error
        return
    if package:
        _write_package(*package)
        return
    from copione_lab.model import answer_sheet
    from copione_lab.spawn import LabProcess

    if list_faults:
        try:
            click.echo(answer_sheet(models, faults), nl=False)
        except ValueError as error:
            raise click.UsageError(str(error)) from error
        return
    try:
        started = LabProcess(port, pace, faults, models, hand, build)
    except ValueError as error:
        raise click.UsageError(str(error)) from error
    with started as process:
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


def _write_package(app: str, build: str) -> None:
    """A package file in this folder."""
    from copione_lab.apps import APPS
    from copione_lab.package import order, pack

    named = {package.rsplit(".", 1)[-1].replace("_", "-"): package for package in APPS}
    if app not in named:
        raise click.UsageError(f"The lab has no app {app}: there are {listed(sorted(named))}.")
    if not order(build):
        raise click.UsageError(f"{build!r} is no build: say 2.4, for instance.")
    path = Path(f"{app}-{build}.zip")
    write_whole(path, pack(named[app], build))
    tell(f"{path}: {app} {build}")
