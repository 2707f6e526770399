"""Commands about the apps on devices: which there are, and installing, removing, clearing them on several at once."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .bench import DeviceSources, choose, open_bench, server_options
from .exits import FAILED
from .terminal import json_text, shown, tell

if TYPE_CHECKING:
    from ..engine.apps import AppsDone
    from ..links.bench import Device
    from ..links.link import InstalledApp, Link

ON = click.option("--on", "names", metavar="NAME", multiple=True, required=True, help="A device by name, or all; repeat for more.")
LAB = click.option("--lab", is_flag=True, help="Use stand-in phones started for this command.")
YES = click.option("--yes", is_flag=True, help="Do not ask before deleting an app's data on people's own devices.")


@click.group()
def apps() -> None:
    """The apps on devices: list, install, uninstall and clear them."""


def _about(app: InstalledApp) -> str:
    return " ".join(filter(None, (app.name, app.version, f"({app.package})")))


def _done(where: DeviceSources, names: tuple[str, ...], doing: str, act: Any, words: Callable[[AppsDone], str], ask: str = "") -> None:
    """Act on those devices, and print the result for each. Exits with 1 if one fails."""
    from ..engine.apps import on_each

    def told(done: AppsDone) -> None:
        for line in f"{done.device}: {done.trouble or words(done)}".splitlines():
            tell(line)

    with open_bench(where) as bench:
        chosen = choose(bench.look(), [*names])
        if ask:
            _ask(ask, chosen)
        if not on_each(chosen, doing, act, told):
            sys.exit(FAILED)


def _ask(question: str, devices: list[Device]) -> None:
    """At a terminal: may something be deleted on somebody's devices? Raises Abort where it may not."""
    from ..model.wording import listed

    own = [device.name for device in devices if not device.listed.stand_in]
    if own and sys.stdin.isatty():
        click.confirm(shown(question.format(listed(own))), default=False, abort=True, err=True)


@apps.command("list")
@ON
@LAB
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object per device.")
@server_options
def list_apps(where: DeviceSources, names: tuple[str, ...], as_json: bool) -> None:
    """List the apps that can be started, with their versions where the device tells them."""
    from ..engine.apps import installed

    def words(done: AppsDone) -> str:
        return "".join(f"\n    {_about(app)}{', came with it' if app.own else ''}" for app in done.apps)

    def told(done: AppsDone) -> None:
        facts = [{"name": app.name, "package": app.package, "version": app.version, "own": app.own} for app in done.apps]
        click.echo(json_text({"device": done.device, "apps": facts, "trouble": done.trouble}))

    if not as_json:
        _done(where, names, "listing apps", installed, words)
        return
    from ..engine.apps import on_each

    with open_bench(where, offer=False) as bench:
        if not on_each(choose(bench.look(), [*names]), "listing apps", installed, told):
            sys.exit(FAILED)


@apps.command("install")
@click.argument("package", type=click.Path(path_type=Path, dir_okay=False))
@ON
@LAB
@server_options
def install_app(where: DeviceSources, package: Path, names: tuple[str, ...]) -> None:
    """Install the package file PACKAGE. An app that is there is replaced and keeps its data."""
    from ..engine.apps import install

    def words(done: AppsDone) -> str:
        return f"installed {', '.join(map(_about, done.apps))}" if done.apps else "installed, in the version that was there"

    act: Callable[[Link], Any] = install(package)
    _done(where, names, f"installing {package.name}", act, words)


@apps.command("uninstall")
@click.argument("app")
@ON
@LAB
@YES
@server_options
def uninstall_app(where: DeviceSources, app: str, names: tuple[str, ...], yes: bool) -> None:
    """Remove APP, a package or a name as `apps list` shows it, and delete its data."""
    from ..engine.apps import uninstall

    ask = "" if yes else f"{app} and everything it has stored on {{}} are deleted. Go on?"
    _done(where, names, f"uninstalling {app}", uninstall(app), lambda done: f"uninstalled {_about(done.apps[0])}", ask)


@apps.command("clear")
@click.argument("app")
@ON
@LAB
@YES
@server_options
def clear_app(where: DeviceSources, app: str, names: tuple[str, ...], yes: bool) -> None:
    """Delete what APP, a package or a name as `apps list` shows it, has stored."""
    from ..engine.apps import clear

    ask = "" if yes else f"Everything that {app} has stored on {{}} is deleted. Go on?"
    _done(where, names, f"clearing {app}", clear(app), lambda done: f"cleared {_about(done.apps[0])}", ask)
