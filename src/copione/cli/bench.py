"""Where the commands look for devices. What reaches devices is imported when it is needed: the window is up sooner."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import wraps
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ..model.errors import LinkError, NoServer

if TYPE_CHECKING:
    from copione_lab.spawn import LabProcess

    from ..links.adb.server import AdbServer
    from ..links.bench import Bench, Device
    from ..links.browser.kept import BrowserSpec


@dataclass(frozen=True)
class DeviceSources:
    """Where devices are looked for: the stand-in phones, an adb server, endpoints, browsers. `only`: the browsers that are needed."""

    lab: bool = False
    adb: str | None = None
    endpoints: tuple[str, ...] = ()
    faults: str | None = None
    models: tuple[str, ...] = ()
    build: str = "2.4"
    pace: str = "brisk"
    browsers: bool = False
    browsers_from: Path | None = None
    only: tuple[str, ...] = ("all",)

    def wanted(self) -> list[BrowserSpec]:
        """The browsers to start. Raises FileTrouble."""
        if not self.browsers and self.browsers_from is None:
            return []
        from ..links.browser.kept import wanted

        names = {name.casefold() for name in self.only}
        return [each for each in wanted(self.browsers_from) if "all" in names or each.name.casefold() in names]


def server_options(command: Any) -> Any:
    """The options that say where devices are looked for; the command gets them as `where`."""

    inner = command

    @wraps(inner)
    def told(*args: Any, lab: bool, adb: str | None, endpoints: tuple[str, ...], **more: Any) -> Any:
        stand_ins = {name: more.pop(name) for name in ("faults", "models", "build", "pace")}
        given = [name for name, value in stand_ins.items() if value]
        if given and not lab:
            raise click.UsageError(f"--{given[0]} is about the stand-in phones: give --lab too.")
        said = {name: value for name, value in stand_ins.items() if value}
        browsers, browsers_from = more.pop("browsers"), more.pop("browsers_from")
        return inner(*args, where=DeviceSources(lab, adb, endpoints, browsers=browsers, browsers_from=browsers_from, **said), **more)

    command = told
    for option in (
        click.option("--browsers", is_flag=True, help="Start this computer's browsers as devices; see `copione browsers`."),
        click.option(
            "--browsers-from",
            type=click.Path(path_type=Path, dir_okay=False),
            metavar="FILE",
            help="Like --browsers, with the engines, sizes and languages from this file.",
        ),
        click.option("--adb", metavar="HOST:PORT", help="The adb server's address (default: this computer's)."),
        click.option(
            "--endpoint", "endpoints", metavar="URL", multiple=True, help="The address of a WebDriver remote end; repeat for more devices."
        ),
        click.option(
            "--faults", default=None, metavar="DIR|none", help="With --lab: a folder of seeded faults, or none (default: those that ship)."
        ),
        click.option("--models", multiple=True, metavar="DIR", help="With --lab: a folder of additional phone models."),
        click.option(
            "--build", type=click.Choice(["2.4", "2.5"]), default=None, help="With --lab: which build of Hive Diary is installed."
        ),
        click.option("--pace", type=click.Choice(["brisk", "real"]), default=None, help="With --lab: how fast the phones respond."),
    ):
        command = option(command)
    return command


def server_address(adb: str | None) -> tuple[str, int]:
    """Host and port of an adb server: as `--adb` says, else this computer's. Raises BadParameter."""
    from ..links.adb.server import DEFAULT_PORT

    words = adb or f"127.0.0.1:{os.environ.get('ANDROID_ADB_SERVER_PORT', DEFAULT_PORT)}"
    host, _, port = words.rpartition(":")
    if not port.isdigit():
        raise click.BadParameter(f"{words} is not HOST:PORT.", param_hint="--adb")
    return host or "127.0.0.1", int(port)


@contextmanager
def join_stand_ins(bench: Bench) -> Iterator[None]:
    """The stand-in phones on a bench that is there, for as long as needed."""
    from copione_lab.spawn import LabProcess

    from ..links.adb.server import AdbServer

    with LabProcess() as process:
        bench.add_place(AdbServer(port=process.port), process.endpoints, stand_ins=True)
        yield


def _offer_to_start(server: AdbServer) -> None:
    """At a terminal, where no adb server runs and one could: ask whether to start it."""
    from ..links.adb.start import LOCAL, adb_program, start_server

    if server.host not in LOCAL or not sys.stdin.isatty() or adb_program() is None:
        return
    try:
        server.version()
    except NoServer:
        if click.confirm(f"No adb server answers at {server.host}:{server.port}. Start it?", default=True, err=True):
            start_server(server.port)
    except LinkError:
        return  # something answers there: what it is, is told when it is asked for devices


@contextmanager
def open_bench(where: DeviceSources, *, offer: bool = False) -> Iterator[Bench]:
    """The bench to use: the stand-in phones', started for as long as needed, or that of a real server and the endpoints given.

    `offer`: ask at the terminal whether to start a server that is not there.
    """
    from ..links.adb.server import AdbServer
    from ..links.bench import Bench
    from ..links.endpoints import checked, remembered

    endpoints, browsers = tuple(map(checked, where.endpoints)), where.wanted()
    if where.lab:
        with _lab(where) as process:
            bench = Bench(AdbServer(port=process.port), endpoints=process.endpoints, stand_ins=True)
            for endpoint in endpoints:
                bench.add_endpoint(endpoint)
            bench.add_browsers(browsers)
            try:
                yield bench
            finally:
                bench.close()
    else:
        host, port = server_address(where.adb)
        server, known = AdbServer(host, port), (*remembered(), *endpoints)
        if offer and not known and not browsers:
            _offer_to_start(server)
        bench = Bench(server, endpoints=known)
        bench.add_browsers(browsers)
        try:
            yield bench
        finally:
            bench.close()


def _lab(where: DeviceSources) -> LabProcess:
    """The stand-in phones. Raises UsageError for folders that cannot be used."""
    from copione_lab.spawn import LabProcess

    try:
        return LabProcess(pace=where.pace, faults=where.faults, models=where.models, build=where.build)
    except ValueError as error:
        raise click.UsageError(str(error)) from error


def choose(found: list[Device], names: list[str]) -> list[Device]:
    """The named devices, in the order named; `all` is every ready one. Raises LinkError with what there is."""
    ready = [d for d in found if d.ready]
    have = ", ".join(d.name for d in ready) or "none"
    if "all" in names:
        if not ready:
            waiting = "; ".join(f"{d.name}: {d.trouble or d.listed.readiness.value + '. ' + d.listed.advice}" for d in found)
            raise LinkError(f"No device is ready. {waiting or 'Plug one in and turn on USB debugging, or use --lab.'}")
        return ready
    chosen: dict[str, Device] = {}
    for name in names:
        fits = [d for d in found if name.casefold() == d.listed.address.casefold()] or [
            d for d in found if name.casefold() == d.name.casefold()
        ]
        if not fits:
            raise LinkError(f"No device is called {name}. Ready: {have}.")
        if len(fits) > 1:
            raise LinkError(f"{len(fits)} devices are called {name}: give an address, {' or '.join(d.listed.address for d in fits)}.")
        device = fits[0]
        if not device.ready:
            raise LinkError(f"{name}: {device.trouble or device.listed.readiness.value + '. ' + device.listed.advice}")
        chosen[device.listed.address] = device
    return list(chosen.values())
