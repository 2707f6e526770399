"""What tells a device from every other one, however it is reached."""

from __future__ import annotations

import contextlib
import ipaddress
import re
import socket
from functools import lru_cache
from urllib.parse import urlsplit

HERE = "this computer"
_SERIAL = re.compile(r"[\w.:-]{4,80}", re.A)
#: What phones tell as their serial number that have none, or all the same.
_NONE = frozenset({"unknown", "null", "none", "0123456789abcdef", "1234567890abcdef", "0000000000000000"})


def serial_number(told: str) -> str:
    """A device's own serial number, or other number of its own, from what it tells; empty for what is none."""
    said = told.strip()
    return said if _SERIAL.fullmatch(said) and said.casefold() not in _NONE else ""


@lru_cache(maxsize=64)
def place_of(host: str, port: int) -> str:
    """Where something listens, the same for every name of one computer: `localhost`, `127.0.0.1`, `::1` and its own addresses are here."""
    addresses = []
    with contextlib.suppress(OSError, UnicodeError):
        addresses = sorted({str(found[4][0]) for found in socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)})
    if any(map(_is_here, addresses)):
        return f"{HERE}:{port}"
    return f"{addresses[0] if addresses else host.casefold()}:{port}"


def place_of_url(url: str) -> str:
    """The same of an address of the web, with the path behind it."""
    parts = urlsplit(url)
    port = parts.port or (443 if parts.scheme == "https" else 80)
    return place_of(parts.hostname or "", port) + parts.path.rstrip("/")


def _is_here(address: str) -> bool:
    """Is it an address of this computer? Only those can be bound."""
    plain = address.partition("%")[0]
    with contextlib.suppress(ValueError):
        known = ipaddress.ip_address(plain)
        if known.is_loopback or known.is_unspecified:
            return True
    family = socket.AF_INET6 if ":" in plain else socket.AF_INET
    try:
        with socket.socket(family, socket.SOCK_DGRAM) as probe:
            probe.bind((plain, 0))
        return True
    except OSError:
        return False
