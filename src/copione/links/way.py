"""The way to the first phone: what is there already, and what comes next, in order. Pure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

from ..model.device import ListedDevice, Readiness
from .adb.start import PACKAGE
from .usb import OLD_SERVER, Plugged


class Help(Enum):
    """What Copione itself can do about a stop of the way."""

    NONE = ""
    COPY = "copy"  # words for a terminal
    START = "start the server"
    SHOW = "show where it is turned on"


@dataclass(frozen=True)
class Stop:
    """One thing that has to be there. `done`: it is. `copy`: words for a terminal."""

    title: str
    what: str = ""
    done: bool = False
    help: Help = Help.NONE
    copy: str = ""


def way(adb: bool, version: int | None, ports: Sequence[Plugged], listed: Sequence[ListedDevice]) -> tuple[Stop, ...]:
    """Whether `adb` is installed, the version of the server that answers, what is on the USB ports, and what the server lists."""
    return _installed(adb or version is not None), _server(version), _phone(ports, listed)


def _installed(there: bool) -> Stop:
    if there:
        return Stop("adb is installed", done=True)
    return Stop(
        "Install adb", "The tool that reaches phones is in Debian's package adb.", help=Help.COPY, copy=f"sudo apt-get install {PACKAGE}"
    )


def _server(version: int | None) -> Stop:
    if version is None:
        return Stop(
            "Start the adb server", "It looks after the phones that are plugged in, and goes on when Copione is closed.", help=Help.START
        )
    if version <= OLD_SERVER:
        return Stop("End the old adb server", f"Version {version} is too old for today's phones.", help=Help.COPY, copy="adb kill-server")
    return Stop("The adb server runs", done=True)


def _phone(ports: Sequence[Plugged], listed: Sequence[ListedDevice]) -> Stop:
    waiting = next((each for each in listed if each.readiness is not Readiness.READY), None)
    if waiting is not None:
        return Stop(f"{waiting.name}: {waiting.readiness.value}", waiting.advice)
    off = next((port for port in ports if not port.debugging), None)
    if off is not None:
        return Stop(f"{off.name}: turn on USB debugging", TURN_ON, help=Help.SHOW)
    closed = next((port for port in ports if not port.open), None)
    if closed is not None:
        what = "This user may not use the USB port. Put this line into /etc/udev/rules.d/60-phones.rules as root, then plug it in again."
        return Stop(f"{closed.name}: no permission", what, help=Help.COPY, copy=closed.rule)
    return Stop("Plug in a phone, with USB debugging turned on", TURN_ON, help=Help.SHOW)


TURN_ON = (
    "On the phone: Settings, About phone, and tap Build number seven times. Then, under Developer options, turn on USB debugging, and "
    "approve this computer when the phone asks."
)
