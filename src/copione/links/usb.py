"""What is plugged into this computer's USB ports, as Linux tells it in sysfs: phones that do not show up leave traces here."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from ..model.device import ListedDevice, Readiness

DEVICES, NODES = Path("/sys/bus/usb/devices"), Path("/dev/bus/usb")
DEBUGGING = ("ff", "42", "01")  # class, subclass and protocol of the Android debugging interface
MEDIA = ("06", "01", "01")  # still image capture: how phones offer their pictures (PTP, and MTP after it)
OLD_SERVER = 40  # versions from 41 on speak with today's phones


@dataclass(frozen=True)
class Plugged:
    """One phone on a port. `debugging`: it offers its debugging interface; `open`: this user may use the port."""

    name: str
    vendor: str
    product: str
    serial: str
    debugging: bool
    open: bool

    @property
    def rule(self) -> str:
        """The udev rule that gives the user at this computer access to it."""
        return f'SUBSYSTEM=="usb", ATTR{{idVendor}}=="{self.vendor}", MODE="0660", TAG+="uaccess"'


@dataclass(frozen=True)
class Hint:
    """Something to do: about what, what to do, and words to copy where there are some."""

    about: str
    what: str
    copy: str = ""


def plugged(devices: Path = DEVICES, nodes: Path = NODES) -> list[Plugged]:
    """Phones on the ports: devices that offer debugging, or pictures. Hubs, mice and the like are left out."""
    found = []
    for folder in sorted(devices.glob("*")) if devices.exists() else []:
        vendor, product = _fact(folder, "idVendor"), _fact(folder, "idProduct")
        if not vendor:
            continue
        kinds = {
            tuple(_fact(part, name) for name in ("bInterfaceClass", "bInterfaceSubClass", "bInterfaceProtocol"))
            for part in folder.glob(f"{folder.name}:*")
        }
        if not kinds & {DEBUGGING, MEDIA}:
            continue
        node = nodes / _fact(folder, "busnum").zfill(3) / _fact(folder, "devnum").zfill(3)
        name = _fact(folder, "product") or _fact(folder, "manufacturer") or f"{vendor}:{product}"
        found.append(Plugged(name, vendor, product, _fact(folder, "serial"), DEBUGGING in kinds, os.access(node, os.R_OK | os.W_OK)))
    return found


def _fact(folder: Path, name: str) -> str:
    try:
        return (folder / name).read_text("utf-8", "replace").strip()
    except OSError:
        return ""


def hints(ports: Sequence[Plugged], listed: Sequence[ListedDevice], server: int | None) -> list[Hint]:
    """What to do, most urgent first. `server`: the adb server's version, None where none answers."""
    found: list[Hint] = []
    if server is None:
        found.append(Hint("No adb server answers", "Start one in a terminal; it is in Debian's package adb.", "adb start-server"))
    elif server <= OLD_SERVER:
        found.append(Hint(f"The adb server is old (version {server})", "End it, install a newer adb, start it again.", "adb kill-server"))
    known = {each.address for each in listed}
    for port in ports:
        if not port.debugging:
            what = "Open Settings, About, tap the build number seven times; then turn on USB debugging under Developer options."
            found.append(Hint(f"{port.name}: debugging is off", what))
        elif not port.open:
            what = "Put this line into /etc/udev/rules.d/60-phones.rules as root, then plug it in again."
            found.append(Hint(f"{port.name}: no permission on the USB port", what, port.rule))
        elif server is not None and port.serial not in known:
            what = "End the server and start it again, then plug the phone in once more."
            found.append(Hint(f"{port.name}: the adb server has not seen it", what, "adb kill-server; adb start-server"))
    for each in listed:
        if each.readiness is not Readiness.READY:
            found.append(Hint(f"{each.name}: {each.readiness.value}", each.advice))
    if not ports and not listed:
        what = "If a phone is plugged in and charges, its cable likely carries current only: try another cable, or another port."
        found.append(Hint("Nothing is on the USB ports", what))
    return found
