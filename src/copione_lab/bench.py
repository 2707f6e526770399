"""The stand-in phones on one bench, and what can happen to them from outside."""

from __future__ import annotations

import itertools
import os
import threading
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from .model import Fault, Model
from .phone import Phone
from .spoiling import KINDS as SPOILING
from .toolkit import png

DRIP_S = 0.1  # between two bytes of a phone that drips
GIANT_PX = 30_000
SLOW_S = 0.5  # what a slow phone adds to every command


def giant() -> bytes:
    """A picture of 900 million pixels: one that takes all memory of whoever makes room for it."""
    return png.plain(GIANT_PX, GIANT_PX, 100)


@dataclass
class Wireless:
    """A phone with wireless debugging turned on: where it is paired, and by which code."""

    serial: str
    pairing: str
    code: str
    paired: bool = False


class Bench:
    """Phones by serial with their connection state: device, unauthorized, offline, or unplugged (absent)."""

    def __init__(self, models: Iterable[Model], faults: Iterable[Fault] = (), pace: str = "brisk", build: str = "2.4") -> None:
        seeded = list(faults)
        self.phones: dict[str, Phone] = {}
        for model in models:
            own = [fault for fault in seeded if fault.fits(model)]
            self.phones[model.serial] = Phone(model, [fault.kind for fault in own], pace, build=build)
            self.phones[model.serial].spoilt = tuple(fault for fault in own if fault.kind in SPOILING)
        self._states = dict.fromkeys(self.phones, "device")
        self._ids = itertools.count(1)
        self._transports = {serial: next(self._ids) for serial in self.phones}  # another one each time a phone is connected
        self._changed = threading.Condition()
        self._count = 0
        self.failing_dumps: dict[str, bytes] = {}
        self.trouble: dict[str, str] = {}
        self.near: dict[str, Wireless] = {}  # phones in the local network, by the address at which they are connected

    def states(self) -> dict[str, str]:
        with self._changed:
            return dict(self._states)

    def state(self, serial: str) -> str | None:
        with self._changed:
            return self._states.get(serial)

    def set_state(self, serial: str, state: str) -> None:
        """Change how a phone is connected: device, unauthorized or offline."""
        with self._changed:
            if state == "device" and self._states.get(serial) != "device":
                self._transports[serial] = next(self._ids)
            self._states[serial] = state
            self._tell()

    def transport(self, serial: str) -> int:
        with self._changed:
            return self._transports[serial]

    def by_transport(self, number: int) -> str:
        """The phone that is connected under that number; empty for none."""
        with self._changed:
            return next((serial for serial, each in self._transports.items() if each == number and serial in self._states), "")

    def swap(self, serial: str, phone: Phone) -> None:
        """Another phone comes under the same serial, as behind one address of a network."""
        with self._changed:
            self.phones[serial] = phone
            self._transports[serial] = next(self._ids)
            self._tell()

    def mend(self, serial: str) -> None:
        """Plug it in, approved, and end every trouble it had."""
        self.failing_dumps.pop(serial, None)
        self.trouble.pop(serial, None)
        self.phones[serial].conditions.airplane = False
        self.phones[serial].lock_kind = self.phones[serial].lock_kind and "swipe"
        self.phones[serial].wake()
        self.phones[serial].unlock()
        self.set_state(serial, "device")

    def hold_up(self, serial: str, stopping: threading.Event) -> bool:
        """Let a command wait as the phone's trouble has it; False when it is to be refused."""
        trouble = self.trouble.get(serial)
        if trouble == "slow":
            stopping.wait(SLOW_S)
        while self.trouble.get(serial) == "hang" and not stopping.wait(0.05):
            pass
        return trouble != "refuse"

    def spoil(self, serial: str, data: bytes, stopping: threading.Event, picture: bool = False) -> Iterator[bytes]:
        """An answer as the phone's trouble has it, in the pieces in which it is sent; fewer bytes than there are end the connection."""
        trouble = self.trouble.get(serial)
        if picture and trouble == "cut-picture":
            data = data[: len(data) // 2]
        elif picture and trouble == "giant-picture":
            data = giant()
        elif trouble == "garbage":
            data = os.urandom(len(data) or 64)
        elif trouble == "close":
            data = data[: len(data) // 2]
        elif trouble == "drip":
            sent = 0
            while sent < len(data) and self.trouble.get(serial) == "drip" and not stopping.wait(DRIP_S):
                sent += 1
                yield data[sent - 1 : sent]
            data = data[sent:]
        yield data

    def pair(self, address: str, code: str) -> str:
        """As a server answers."""
        phone = next((each for each in self.near.values() if each.pairing == address), None)
        if phone is None:
            return f"Failed: Unable to start pairing client for {address}"
        if phone.code != code:
            return "Failed: Wrong password or connection was dropped."
        phone.paired = True
        return f"Successfully paired to {address} [guid=adb-{phone.serial}]"

    def connect(self, address: str) -> str:
        """As a server answers."""
        phone = self.near.get(address)
        if phone is None:
            return f"failed to connect to '{address}': Connection refused"
        if not phone.paired:
            return f"failed to connect to {address}"
        if self.state(phone.serial) == "device":
            return f"already connected to {address}"
        self.set_state(phone.serial, "device")
        return f"connected to {address}"

    def unplug(self, serial: str) -> None:
        with self._changed:
            self._states.pop(serial, None)
            self._tell()

    def _tell(self) -> None:
        self._count += 1
        self._changed.notify_all()

    def wait_change(self, seen: int, timeout: float) -> int:
        """Wait until the bench has changed since `seen`; returns the newest count."""
        with self._changed:
            self._changed.wait_for(lambda: self._count != seen, timeout)
            return self._count
