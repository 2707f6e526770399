"""Apps on several devices at once: told, installed, removed, cleared."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError
from dataclasses import dataclass
from pathlib import Path

from ..files.reading import FileKind, read_bytes
from ..links.bench import Device
from ..links.claims import Busy
from ..links.holding import held
from ..links.link import InstalledApp, InstallsApps, Link, RunsApps
from ..model.errors import AppMissing, CopioneError


@dataclass(frozen=True)
class AppsDone:
    """The result for one device: the apps it is about, or why it failed."""

    device: str
    apps: tuple[InstalledApp, ...] = ()
    trouble: str = ""


def installed(link: Link) -> tuple[InstalledApp, ...]:
    """Every app that can be started."""
    return tuple(link.able(RunsApps).apps())


def install(path: Path) -> Callable[[Link], tuple[InstalledApp, ...]]:
    """Installs a package file; tells the apps that are new or another version than before. Raises FileTrouble at once."""
    data = read_bytes(path, FileKind.PACKAGE)

    def act(link: Link) -> tuple[InstalledApp, ...]:
        before = installed(link)
        link.able(InstallsApps).install(data)
        return tuple(app for app in installed(link) if app not in before)

    return act


def uninstall(app: str) -> Callable[[Link], tuple[InstalledApp, ...]]:
    """Removes an app, by its package or its name, with its data."""

    def act(link: Link) -> tuple[InstalledApp, ...]:
        found = named(link, app)
        link.able(InstallsApps).uninstall(found.package)
        return (found,)

    return act


def clear(app: str) -> Callable[[Link], tuple[InstalledApp, ...]]:
    """Deletes what an app, by its package or its name, has stored."""

    def act(link: Link) -> tuple[InstalledApp, ...]:
        found = named(link, app)
        link.able(RunsApps).clear(found.package)
        return (found,)

    return act


def named(link: Link, app: str) -> InstalledApp:
    """The app with that package, else the only one with that name. Raises AppMissing."""
    there = installed(link)
    found = [each for each in there if each.package == app] or [each for each in there if each.name.casefold() == app.casefold()]
    if len(found) > 1:
        packages = " or ".join(each.package for each in found)
        raise AppMissing(f"{len(found)} apps are called {app}: give the package, {packages}.", package=app)
    if not found:
        raise AppMissing(f"There is no app {app} on {link.profile().name}.", package=app)
    return found[0]


def on_each(
    devices: Sequence[Device], doing: str, act: Callable[[Link], tuple[InstalledApp, ...]], told: Callable[[AppsDone], object]
) -> bool:
    """Do something with the apps of each device, on all at once, each held meanwhile; `told` hears of each, in the devices' order.

    Did it succeed on all of them?
    """

    def hold(link: Link) -> tuple[InstalledApp, ...]:
        with held(link, doing, Busy.TELL):
            return act(link)

    asked = [(device, device.worker.submit(hold)) for device in devices if device.worker is not None]
    fine = True
    for device, future in asked:
        try:
            done = AppsDone(device.name, future.result())
        except CancelledError:
            done = AppsDone(device.name, trouble="The device was disconnected.")
        except CopioneError as error:
            done = AppsDone(device.name, trouble=error.sentence)
        fine = fine and not done.trouble
        told(done)
    return fine
