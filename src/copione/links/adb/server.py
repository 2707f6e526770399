"""The thin socket shell around the wire: one connection a request, to an adb server on any host and port."""

from __future__ import annotations

import socket
from collections.abc import Callable
from dataclasses import dataclass

from ...model.device import Listed, Readiness
from ...model.errors import DeviceGone, DeviceNotReady, LinkError, NoServer
from .wire import Answers, Refused, ShellStream, WireError, parse_listing, request

DEFAULT_PORT = 5037
PATIENCE_S = 30.0  # a phone that says nothing for so long is taken to hang
CHUNK = 1 << 18
_READINESS = {
    "device": Readiness.READY,
    "unauthorized": Readiness.UNAPPROVED,
    "authorizing": Readiness.UNAPPROVED,
    "offline": Readiness.OFFLINE,
    "no permissions": Readiness.NO_PERMISSION,
    "bootloader": Readiness.UNKNOWN,
    "connecting": Readiness.BUSY,
}


@dataclass(frozen=True)
class Output:
    """What a command printed, and its exit code (0 where the device cannot tell)."""

    stdout: bytes
    stderr: bytes = b""
    code: int = 0

    @property
    def words(self) -> str:
        """Its standard output as text."""
        return self.stdout.decode("utf-8", "replace")


class AdbServer:
    """An adb server as seen from here. Raises NoServer when nothing answers, DeviceGone and DeviceNotReady as the server says."""

    def __init__(self, host: str = "127.0.0.1", port: int = DEFAULT_PORT, patience: float = PATIENCE_S) -> None:
        self.host, self.port, self.patience = host, port, patience

    def version(self) -> int:
        """The server's version. Raises NoServer."""
        return int(self._ask("host:version"), 16)

    def devices(self) -> list[Listed]:
        """What the server lists now. Raises NoServer."""
        return _listed(self._ask("host:devices-l"))

    def features(self, serial: str) -> frozenset[str]:
        """What the device can do, as the server tells; empty where it does not say."""
        try:
            return frozenset(self._ask(f"host-serial:{serial}:features").decode().split(","))
        except LinkError:
            return frozenset()

    def track(self, seen: Callable[[list[Listed]], None], stopped: Callable[[], bool]) -> None:
        """Call `seen` with each new listing until `stopped()`. Raises NoServer when the server ends."""
        with self._open() as connection:
            answers = Answers()
            connection.settimeout(0.2)
            self._send(connection, "host:track-devices-l")
            begun = False
            while not stopped():
                if not begun:
                    begun = _granted(answers.take_status(), "")
                block = answers.take_counted() if begun else None
                if block is not None:
                    seen(_listed(block))
                    continue
                try:
                    data = connection.recv(CHUNK)
                except TimeoutError:
                    continue
                except OSError as error:
                    raise self._no_server() from error
                if not data:
                    raise self._no_server()
                answers.feed(data)

    def shell(self, serial: str, command: str, *, v2: bool = True) -> Output:
        """Run a command in the device's shell; quoting is the caller's."""
        if not v2:
            return Output(self._device(serial, f"shell:{command}"))
        stream = ShellStream()
        stream.feed(self._device(serial, f"shell,v2:{command}"))
        if stream.code is None:
            raise DeviceGone(f"The phone {serial} went away in the middle of a command.", serial=serial, command=command)
        return Output(bytes(stream.stdout), bytes(stream.stderr), stream.code)

    def execute(self, serial: str, command: str, given: bytes = b"", meanwhile: Callable[[], object] | None = None) -> bytes:
        """Run a command, `given` its standard input, and give its raw output.

        `meanwhile` is called once while the device works; what it raises ends the command.
        """
        return self._device(serial, f"exec:{command}", given, meanwhile)

    def stream(self, serial: str, command: str, taken: Callable[[bytes], bool]) -> None:
        """Hand on what a command prints as it comes, until it ends or `taken` says False; with nothing now and then.

        Through a terminal, since programs hold their output back otherwise.
        """
        with self._open() as connection:
            answers = Answers()
            self._request(connection, answers, f"host:transport:{serial}", serial)
            self._request(connection, answers, f"shell:{command}", serial)
            connection.settimeout(0.2)
            data = answers.take_rest()
            while taken(data):
                try:
                    data = connection.recv(CHUNK)
                except TimeoutError:
                    data = b""
                    continue
                except OSError as error:
                    raise DeviceGone(f"The connection to the phone {serial} broke.", serial=serial) from error
                if not data:
                    raise DeviceGone(f"The phone {serial} does not tell its touches any more.", serial=serial)

    # inside

    def _no_server(self) -> NoServer:
        return NoServer(
            f"No adb server answers at {self.host}:{self.port}. Start one with `adb start-server`, or use the stand-in phones with --lab.",
            host=self.host,
            port=self.port,
        )

    def _hanging(self, serial: str) -> LinkError:
        return LinkError(f"The phone {serial} has said nothing for {self.patience:g} s. Is it hanging?", serial=serial)

    def _open(self) -> socket.socket:
        try:
            connection = socket.create_connection((self.host, self.port), timeout=min(5.0, self.patience))
        except OSError as error:
            raise self._no_server() from error
        connection.settimeout(self.patience)
        connection.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        return connection

    def _ask(self, service: str) -> bytes:
        with self._open() as connection:
            answers = Answers()
            self._request(connection, answers, service, "")
            while (block := answers.take_counted()) is None:
                self._more(connection, answers, "")
            return block

    def _device(self, serial: str, service: str, given: bytes = b"", meanwhile: Callable[[], object] | None = None) -> bytes:
        with self._open() as connection:
            answers = Answers()
            self._request(connection, answers, f"host:transport:{serial}", serial)
            self._request(connection, answers, service, serial)
            parts = [answers.take_rest()]
            if meanwhile is not None:
                meanwhile()
            while True:
                try:
                    if given:
                        connection.sendall(given)
                        given = b""
                    data = connection.recv(CHUNK)
                except TimeoutError as error:
                    raise self._hanging(serial) from error
                except OSError as error:
                    raise DeviceGone(f"The connection to the phone {serial} broke.", serial=serial) from error
                if not data:
                    return b"".join(parts)
                parts.append(data)

    def _request(self, connection: socket.socket, answers: Answers, service: str, serial: str) -> None:
        try:
            self._send(connection, service)
            while not _granted(answers.take_status(), serial):
                self._more(connection, answers, serial)
        except WireError as error:
            raise LinkError(f"What answers at {self.host}:{self.port} is not an adb server: {error}") from error

    def _send(self, connection: socket.socket, service: str) -> None:
        try:
            connection.sendall(request(service))
        except OSError as error:
            raise self._no_server() from error

    def _more(self, connection: socket.socket, answers: Answers, serial: str) -> None:
        try:
            data = connection.recv(CHUNK)
        except TimeoutError as error:
            if serial:
                raise self._hanging(serial) from error
            raise LinkError(f"The adb server at {self.host}:{self.port} has said nothing for {self.patience:g} s.") from error
        except OSError as error:
            raise self._no_server() from error
        if not data:
            if serial:
                raise DeviceGone(f"The adb server dropped the connection to the phone {serial}.", serial=serial)
            raise self._no_server()
        answers.feed(data)


def _granted(status: bool | Refused | None, serial: str) -> bool:
    if not isinstance(status, Refused):
        return status is True
    reason = status.reason
    if "unauthorized" in reason:
        raise DeviceNotReady(
            f"The phone {serial} has not approved this computer. Unlock it and approve the dialog it shows.", reason=reason
        )
    if "offline" in reason:
        raise DeviceNotReady(f"The phone {serial} is offline. Unplug the cable and plug it in again.", reason=reason)
    if "not found" in reason or "no devices" in reason:
        raise DeviceGone(f"The phone {serial} is not connected any more.", reason=reason)
    raise LinkError(f"The adb server refused: {reason}", reason=reason)


def _listed(block: bytes) -> list[Listed]:
    return [
        Listed(serial, facts.get("model", serial).replace("_", " "), _READINESS.get(state, Readiness.UNKNOWN))
        for serial, state, facts in parse_listing(block)
    ]
