"""Phones without a cable: found in the local network, paired by a code, connected. The adb server does it; this asks it to."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ...model.errors import NotPaired
from ..limits import one_line
from .server import AdbServer

PAIR_S, CONNECT_S = 20.0, 15.0
PAIRING, CONNECTING = "_adb-tls-pairing._tcp", "_adb-tls-connect._tcp"
_ADDRESS = re.compile(r"(?:[A-Za-z0-9][A-Za-z0-9.-]{0,252}|\[[0-9A-Fa-f:.]{2,45}(?:%\w{1,16})?\]):\d{1,5}")
MOST = 64


@dataclass(frozen=True)
class Nearby:
    """A phone that the server has found in the local network. `pairs`: it waits to be paired at that address, else to be connected."""

    name: str
    address: str
    pairs: bool


def nearby(server: AdbServer) -> list[Nearby]:
    """The phones with wireless debugging turned on, those that wait to be paired first. Raises LinkError where the server cannot look."""
    found = []
    for line in server.ask("host:mdns:services").decode("utf-8", "replace").splitlines()[:MOST]:
        name, _, rest = line.partition("\t")
        kind, _, address = rest.partition("\t")
        if kind.rstrip(".") in (PAIRING, CONNECTING) and _ADDRESS.fullmatch(address.strip()):
            found.append(Nearby(one_line(name, 80), address.strip(), kind.rstrip(".") == PAIRING))
    return sorted(found, key=lambda each: (not each.pairs, each.name))


def pair(server: AdbServer, address: str, code: str) -> None:
    """Pair this computer with a phone that shows that code. Raises NotPaired in the server's words, LinkError."""
    digits = "".join(code.split())
    if not digits.isascii() or not digits.isdigit() or not 4 <= len(digits) <= 12:
        raise NotPaired("The code is the six digits that the phone shows.")
    said = one_line(server.ask(f"host:pair:{digits}:{checked(address)}", PAIR_S).decode("utf-8", "replace"), 200)
    if not said.startswith("Successfully paired"):
        raise NotPaired(f"{address} was not paired: {said.replace(digits, '······') or 'the server said nothing'}")


def connect(server: AdbServer, address: str) -> None:
    """Connect a phone that was paired, or one that listens without. Raises NotPaired in the server's words, LinkError."""
    said = one_line(server.ask(f"host:connect:{checked(address)}", CONNECT_S).decode("utf-8", "replace"), 200)
    if not said.startswith(("connected to", "already connected to")):
        raise NotPaired(f"{address} was not connected: {said or 'the server said nothing'}")


def checked(address: str) -> str:
    """An address with its port. Raises NotPaired for anything else."""
    said = address.strip()
    if not _ADDRESS.fullmatch(said) or not 0 < int(said.rpartition(":")[2]) < 65536:
        raise NotPaired(f"{one_line(address, 80)!r} is no address with a port, such as 192.168.0.7:41235.")
    return said
