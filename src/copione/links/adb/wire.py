"""The adb server's smart-socket protocol as a pure machine: bytes in, answers or `None` for need-more out.

Request: four hex digits of length, then the service. Answer: OKAY, or FAIL with a counted reason. Under `shell,v2` the output comes in
packets: kind (u8), length (u32 little-endian), payload.
"""

from __future__ import annotations

import re
import struct
from dataclasses import dataclass, field

STDOUT, STDERR, EXIT = 1, 2, 3
_HEX = re.compile(rb"[0-9a-fA-F]{4}")
_SERIAL = re.compile(r"[!-~]{1,256}")  # printable, without blanks: a serial number, or a host and port


class WireError(Exception):
    """The other side does not speak this protocol."""


@dataclass(frozen=True)
class ServerRefused:
    """The server said FAIL and why."""

    reason: str


def request(service: str) -> bytes:
    """The bytes of one request. Raises WireError for a service of more than 65,535 bytes."""
    data = service.encode()
    if len(data) > 0xFFFF:
        raise WireError("The command is too long for one request.")
    return f"{len(data):04x}".encode() + data


@dataclass
class Answers:
    """What came back on one connection; each `take_` consumes a whole item or nothing."""

    _data: bytearray = field(default_factory=bytearray)

    def feed(self, data: bytes) -> None:
        """Take bytes in; what they complete is there afterwards."""
        self._data += data

    def take_status(self) -> bool | ServerRefused | None:
        """True for OKAY, Refused for FAIL, None for need more. Raises WireError on anything else."""
        head = bytes(self._data[:4])
        if len(head) < 4:
            if not (b"OKAY".startswith(head) or b"FAIL".startswith(head)):
                raise WireError(f"Expected OKAY or FAIL, got {head!r}.")
            return None
        if head == b"OKAY":
            del self._data[:4]
            return True
        if head != b"FAIL":
            raise WireError(f"Expected OKAY or FAIL, got {head!r}.")
        reason = self._counted_at(4)
        if reason is None:
            return None
        self._data.clear()
        return ServerRefused(reason.decode("utf-8", "replace").strip())

    def take_counted(self) -> bytes | None:
        """A block behind four hex digits of length; None for need more."""
        block = self._counted_at(0)
        if block is not None:
            del self._data[: 4 + len(block)]
        return block

    def _counted_at(self, start: int) -> bytes | None:
        digits = bytes(self._data[start : start + 4])
        if len(digits) < 4:
            return None
        if not _HEX.fullmatch(digits):
            raise WireError(f"Expected four hex digits, got {digits!r}.")
        length = int(digits, 16)
        block = bytes(self._data[start + 4 : start + 4 + length])
        return block if len(block) == length else None

    def take_rest(self) -> bytes:
        """Everything that is there."""
        rest = bytes(self._data)
        self._data.clear()
        return rest


@dataclass
class ShellStream:
    """The packets of one `shell,v2` command, gathered. `code` is None until the command has ended."""

    stdout: bytearray = field(default_factory=bytearray)
    stderr: bytearray = field(default_factory=bytearray)
    code: int | None = None
    _data: bytearray = field(default_factory=bytearray)

    def feed(self, data: bytes) -> None:
        """Raises WireError on a packet of unknown kind."""
        self._data += data
        while len(self._data) >= 5:
            kind, length = struct.unpack_from("<BI", self._data)
            if kind not in (STDOUT, STDERR, EXIT):
                raise WireError(f"Unknown shell packet {kind}.")
            if len(self._data) < 5 + length:
                return
            payload = bytes(self._data[5 : 5 + length])
            del self._data[: 5 + length]
            if kind == STDOUT:
                self.stdout += payload
            elif kind == STDERR:
                self.stderr += payload
            else:
                self.code = payload[0] if payload else 0


def parse_listing(block: bytes) -> list[tuple[str, str, dict[str, str]]]:
    """`devices-l` lines as (serial, state, facts), without lines that are none. The state may be several words: `no permissions (...)`."""
    found: list[tuple[str, str, dict[str, str]]] = []
    for line in block.decode("utf-8", "replace").splitlines():
        serial, _, rest = line.strip().partition("\t" if "\t" in line else " ")
        rest = rest.strip()
        if not _SERIAL.fullmatch(serial) or not rest:
            continue
        if rest.startswith("no permissions"):
            found.append((serial, "no permissions", {}))
            continue
        state, *words = rest.split()
        facts = dict(word.split(":", 1) for word in words if ":" in word)
        found.append((serial, state, facts))
    return found
