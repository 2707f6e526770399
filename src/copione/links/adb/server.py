"""The thin socket shell around the wire: one connection a request, to an adb server on any host and port."""

from __future__ import annotations

import contextlib
import socket
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ...model.device import ListedDevice, Readiness
from ...model.errors import DeviceGone, DeviceNotReady, LinkError, NoServer
from ..limits import LISTING, MEGABYTE, PATIENCE_S, Deadline, Limit, no_answer, one_line
from .wire import Answers, ServerRefused, ShellStream, WireError, parse_listing, request

DEFAULT_PORT = 5037
CONNECT_S = 5.0
STREAM_S = 0.2  # a stream is asked so often whether it is still wanted
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


@dataclass(frozen=True)
class Route:
    """The way to one phone: its serial, and the number of its present connection, which another one gets; 0 where the server has none."""

    serial: str
    transport: int = 0

    @property
    def service(self) -> str:
        """What the server is asked for."""
        return f"host:transport-id:{self.transport}" if self.transport else f"host:transport:{self.serial}"


class AdbServer:
    """An adb server as seen from here. Raises NoServer when nothing answers, DeviceGone and DeviceNotReady as the server says,
    LinkError for an answer that is none, is larger than the command's limit, or has not come in its time.

    `patience` is how long (seconds) it may take over what is asked of itself, and over commands without a limit of their own.
    """

    def __init__(self, host: str = "127.0.0.1", port: int = DEFAULT_PORT, patience: float = PATIENCE_S) -> None:
        self.host, self.port, self.patience = host, port, patience

    def version(self) -> int:
        """The server's version. Raises NoServer."""
        said = self.ask("host:version")
        try:
            return int(said[:8], 16)
        except ValueError as error:
            raise self._no_adb(f"its version is {said[:20]!r}.") from error

    def devices(self) -> list[ListedDevice]:
        """What the server lists now. Raises NoServer."""
        return _listed(self.ask("host:devices-l"))

    def route(self, serial: str) -> Route:
        """The way to a phone as it is connected now. Raises NoServer."""
        for listed, _, facts in parse_listing(self.ask("host:devices-l")[:LISTING]):
            number = facts.get("transport_id", "")
            if listed == serial and number.isascii() and number.isdigit() and len(number) < 12:
                return Route(serial, int(number))
        return Route(serial)

    def features(self, serial: str) -> frozenset[str]:
        """What the device can do, as the server tells; empty where it does not say."""
        try:
            return frozenset(self.ask(f"host-serial:{serial}:features").decode("utf-8", "replace").split(","))
        except LinkError:
            return frozenset()

    def track(self, seen: Callable[[list[ListedDevice]], None], stopped: Callable[[], bool]) -> None:
        """Call `seen` with each new listing until `stopped()`. Raises NoServer when the server ends."""
        with self._open() as connection, self._speaking():
            answers = Answers()
            connection.settimeout(STREAM_S)
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

    def shell(self, route: Route, command: str, *, v2: bool = True, limit: Limit | None = None) -> Output:
        """Run a command in the device's shell; quoting is the caller's."""
        if not v2:
            return Output(self._device(route, f"shell:{command}", limit))
        stream = ShellStream()
        with self._speaking():
            stream.feed(self._device(route, f"shell,v2:{command}", limit))
        if stream.code is None:
            said = f"The phone {one_line(route.serial)} went away in the middle of a command."
            raise DeviceGone(said, serial=route.serial, command=command)
        return Output(bytes(stream.stdout), bytes(stream.stderr), stream.code)

    def execute(
        self,
        route: Route,
        command: str,
        given: bytes = b"",
        meanwhile: Callable[[], object] | None = None,
        limit: Limit | None = None,
    ) -> bytes:
        """Run a command, `given` its standard input, and give its raw output.

        `meanwhile` is called once while the device works; what it raises ends the command.
        """
        return self._device(route, f"exec:{command}", limit, given, meanwhile)

    def stream(self, route: Route, command: str, taken: Callable[[bytes], bool]) -> None:
        """Hand on what a command prints as it comes, until it ends or `taken` says False; with nothing now and then.

        Through a terminal, since programs hold their output back otherwise.
        """
        serial = route.serial
        with self._open() as connection:
            answers, deadline = Answers(), Deadline(self.patience)
            self._route(connection, answers, route, deadline)
            self._request(connection, answers, f"shell:{command}", serial, deadline)
            connection.settimeout(STREAM_S)
            data = answers.take_rest()
            while taken(data):
                try:
                    data = connection.recv(CHUNK)
                except TimeoutError:
                    data = b""
                    continue
                except OSError as error:
                    raise self._broke(serial) from error
                if not data:
                    raise DeviceGone(f"The phone {one_line(serial)} does not tell its touches any more.", serial=serial)

    # inside

    def _no_server(self) -> NoServer:
        return NoServer(
            f"No adb server answers at {self.host}:{self.port}.",
            host=self.host,
            port=self.port,
        )

    def _no_adb(self, why: object) -> LinkError:
        return LinkError(f"What answers at {self.host}:{self.port} is not an adb server: {why}")

    def _hanging(self, serial: str, seconds: float) -> LinkError:
        if not serial:
            return LinkError(f"The adb server at {self.host}:{self.port} has given no whole answer for {seconds:g} s.")
        return no_answer(f"The phone {one_line(serial)}", seconds)

    @staticmethod
    def _broke(serial: str) -> DeviceGone:
        return DeviceGone(f"The connection to the phone {one_line(serial)} broke.", serial=serial)

    @contextlib.contextmanager
    def _speaking(self) -> Iterator[None]:
        """What is not the protocol is said to be none."""
        try:
            yield
        except WireError as error:
            raise self._no_adb(error) from error

    def _open(self) -> socket.socket:
        try:
            connection = socket.create_connection((self.host, self.port), timeout=min(CONNECT_S, self.patience))
            connection.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        except (OSError, UnicodeError) as error:
            raise self._no_server() from error
        return connection

    def ask(self, service: str, seconds: float = 0.0) -> bytes:
        """What the server itself answers, within so many seconds, by default its patience. Raises NoServer, LinkError."""
        with self._open() as connection, self._speaking():
            answers, deadline = Answers(), Deadline(seconds or self.patience)
            self._request(connection, answers, service, "", deadline)
            while (block := answers.take_counted()) is None:
                answers.feed(self._more(connection, "", deadline))
            return block

    def _route(self, connection: socket.socket, answers: Answers, route: Route, deadline: Deadline) -> None:
        """Have the connection lead to a phone. Raises DeviceGone with the fact `unsent` where it does not: then nothing was asked of it."""
        try:
            self._request(connection, answers, route.service, route.serial, deadline)
        except DeviceGone as error:
            error.facts["unsent"] = True
            raise

    def _device(
        self,
        route: Route,
        service: str,
        limit: Limit | None,
        given: bytes = b"",
        meanwhile: Callable[[], object] | None = None,
    ) -> bytes:
        limit, serial = limit or Limit(seconds=self.patience), route.serial
        with self._open() as connection:
            answers, deadline = Answers(), Deadline(limit.seconds)
            self._route(connection, answers, route, deadline)
            self._request(connection, answers, service, serial, deadline)
            parts = [answers.take_rest()]
            size = len(parts[0])
            if meanwhile is not None:
                meanwhile()
            if given:
                self._give(connection, given, serial, deadline)
            while data := self._more(connection, serial, deadline, whole=True):
                parts.append(data)
                size += len(data)
                deadline.came(size)
                if size > limit.bytes:
                    what = service.partition(":")[2].split(" ")[0]
                    raise LinkError(
                        f"The phone {one_line(serial)} answered `{what}` with more than {limit.bytes / MEGABYTE:g} MB.",
                        serial=serial,
                    )
            return b"".join(parts)

    def _give(self, connection: socket.socket, given: bytes, serial: str, deadline: Deadline) -> None:
        try:
            connection.settimeout(deadline.left())
            connection.sendall(given)
        except TimeoutError as error:
            raise self._hanging(serial, deadline.seconds) from error
        except OSError as error:
            raise self._broke(serial) from error

    def _request(self, connection: socket.socket, answers: Answers, service: str, serial: str, deadline: Deadline) -> None:
        with self._speaking():
            self._send(connection, service)
            while not _granted(answers.take_status(), serial):
                answers.feed(self._more(connection, serial, deadline))

    def _send(self, connection: socket.socket, service: str) -> None:
        try:
            asked = request(service)
        except WireError as error:
            raise LinkError(str(error)) from error
        try:
            connection.sendall(asked)
        except OSError as error:
            raise self._no_server() from error

    def _more(self, connection: socket.socket, serial: str, deadline: Deadline, whole: bool = False) -> bytes:
        """What comes next, before the deadline; nothing at the end, where that may be `whole`."""
        try:
            connection.settimeout(deadline.left())
            data = connection.recv(CHUNK)
        except TimeoutError as error:
            raise self._hanging(serial, deadline.seconds) from error
        except OSError as error:
            raise (self._broke(serial) if serial else self._no_server()) from error
        if not data and not whole:
            if serial:
                raise DeviceGone(f"The adb server dropped the connection to the phone {one_line(serial)}.", serial=serial)
            raise self._no_server()
        return data


def _granted(status: bool | ServerRefused | None, serial: str) -> bool:
    if not isinstance(status, ServerRefused):
        return status is True
    reason, phone = status.reason, one_line(serial)
    if "unauthorized" in reason:
        raise DeviceNotReady(f"The phone {phone} has not approved this computer. Unlock it and approve the dialog it shows.", reason=reason)
    if "offline" in reason:
        raise DeviceNotReady(f"The phone {phone} is offline. Unplug the cable and plug it in again.", reason=reason)
    if "not found" in reason or "no device" in reason:
        raise DeviceGone(f"The phone {phone} is not connected any more.", reason=reason)
    raise LinkError(f"The adb server refused: {one_line(reason, 200)}", reason=reason)


def _listed(block: bytes) -> list[ListedDevice]:
    return [
        ListedDevice(
            serial,
            one_line(facts.get("model", serial).replace("_", " ")) or serial,
            _READINESS.get(state, Readiness.UNKNOWN),
            connection=one_line(facts.get("transport_id", ""), 12),
        )
        for serial, state, facts in parse_listing(block[:LISTING])
    ]
