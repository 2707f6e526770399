"""The Android Debug Bridge *server*'s smart-socket protocol on a loopback port.

A request is four hex digits of length and a service name; the answer OKAY or FAIL, then what the service sends.
"""

from __future__ import annotations

import contextlib
import socket
import socketserver
import struct
import threading

from .. import shell
from ..bench import Bench
from ..phone import Phone
from .loopback import Loopback

VERSION = 41
FEATURES = "shell_v2,cmd,stat_v2"


class AdbServer(Loopback):
    """Serves a bench until closed. `port` 0 takes a free one; see `.port`."""

    def __init__(self, bench: Bench, port: int = 0) -> None:
        self.bench = bench
        self._live: set[socket.socket] = set()
        self._lock = threading.Lock()
        self._stopping = threading.Event()
        outer = self

        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                outer._serve(self.request)

        super().__init__(Handler, "lab-adb-server", port)

    def close(self) -> None:
        """Stop listening and drop every connection, as a killed server does."""
        self._stopping.set()
        super().close()
        with self._lock:
            live = list(self._live)
        for connection in live:
            with contextlib.suppress(OSError):
                connection.shutdown(socket.SHUT_RDWR)

    def _serve(self, connection: socket.socket) -> None:
        connection.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        with self._lock:
            self._live.add(connection)
        try:
            self._talk(connection)
        except (OSError, ValueError):
            pass
        finally:
            with self._lock:
                self._live.discard(connection)

    def _talk(self, connection: socket.socket) -> None:
        serial: str | None = None
        while True:
            head = _exactly(connection, 4)
            if not head:
                return
            service = _exactly(connection, int(head, 16)).decode()
            if service.startswith("host:transport:") or service == "host:transport-any":
                serial = service.removeprefix("host:transport:") if service != "host:transport-any" else next(iter(self.bench.states()), "")
                trouble = self._trouble(serial)
            elif service.startswith("host:transport-id:"):
                number = service.removeprefix("host:transport-id:")
                serial = self.bench.by_transport(int(number)) if number.isdigit() else ""
                trouble = self._trouble(serial) if serial else f"no device with transport id '{number}'"
            else:
                trouble = None
            if service.startswith("host:transport"):
                if trouble:
                    _fail(connection, trouble)
                    return
                connection.sendall(b"OKAY")
                continue
            if serial is None:
                self._host(connection, service)
            else:
                self._device(connection, serial, service)
            return

    def _trouble(self, serial: str) -> str | None:
        state = self.bench.state(serial)
        if state is None:
            return f"device '{serial}' not found"
        if state == "unauthorized":
            return "device unauthorized.\nThis adb server's $ADB_VENDOR_KEYS is not set"
        return "device offline" if state != "device" else None

    def _host(self, connection: socket.socket, service: str) -> None:
        if service == "host:version":
            connection.sendall(b"OKAY" + _counted(f"{VERSION:04x}"))
        elif service in {"host:devices", "host:devices-l"}:
            connection.sendall(b"OKAY" + _counted(self._listing(service.endswith("-l"))))
        elif service in {"host:track-devices", "host:track-devices-l"}:
            connection.sendall(b"OKAY")
            last, seen = None, -1
            while not self._stopping.is_set():
                listing = self._listing(service.endswith("-l"))
                if listing != last:
                    connection.sendall(_counted(listing))
                    last = listing
                seen = self.bench.wait_change(seen, 0.2)
        elif service == "host:mdns:services":
            found = [(each.serial, "_adb-tls-pairing._tcp", each.pairing) for each in self.bench.near.values() if not each.paired]
            found += [(each.serial, "_adb-tls-connect._tcp", address) for address, each in self.bench.near.items()]
            connection.sendall(b"OKAY" + _counted("".join(f"adb-{serial}\t{kind}\t{address}\n" for serial, kind, address in found)))
        elif service.startswith("host:pair:"):
            code, _, address = service.removeprefix("host:pair:").partition(":")
            connection.sendall(b"OKAY" + _counted(self.bench.pair(address, code)))
        elif service.startswith("host:connect:"):
            connection.sendall(b"OKAY" + _counted(self.bench.connect(service.removeprefix("host:connect:"))))
        elif service == "host:features" or service.endswith(":features"):
            connection.sendall(b"OKAY" + _counted(FEATURES))
        else:
            _fail(connection, f"unknown host service '{service}'")

    def _listing(self, long: bool) -> str:
        lines = []
        for serial, state in self.bench.states().items():
            model = self.bench.phones[serial].model
            if model.platform != "android":
                continue
            number = self.bench.transport(serial)
            more = f" product:{model.key.replace('-', '_')} model:{model.name.replace(' ', '_')} device:lab transport_id:{number}"
            lines.append(f"{serial:<22} {state}{more if state == 'device' else ''}" if long else f"{serial}\t{state}")
        return "".join(line + "\n" for line in lines)

    def _device(self, connection: socket.socket, serial: str, service: str) -> None:
        phone = self.bench.phones[serial]
        if not self.bench.hold_up(serial, self._stopping):
            _fail(connection, "closed")
        elif service.partition(":")[2].startswith("getevent -lt"):
            connection.sendall(b"OKAY")
            framed = service.startswith("shell,v2")
            shell.stream(phone, service.partition(":")[2], lambda data: self._live_write(connection, _packet(1, data) if framed else data))
        elif service.startswith("shell,v2") and ":" in service:
            connection.sendall(b"OKAY")
            output, code = self._command(phone, service.split(":", 1)[1])
            if self._trouble(serial) is None:
                self._send(connection, serial, _packet(1, output) + _packet(3, bytes([code & 255])))
        elif service.startswith(("shell:", "exec:")):
            connection.sendall(b"OKAY")
            line = service.split(":", 1)[1]
            output, _ = self._command(phone, line, _exactly(connection, shell.wants(line)))
            if self._trouble(serial) is None:
                self._send(connection, serial, output, line.startswith("screencap"))
        else:
            _fail(connection, "closed")

    def _send(self, connection: socket.socket, serial: str, data: bytes, picture: bool = False) -> None:
        for piece in self.bench.spoil(serial, data, self._stopping, picture):
            connection.sendall(piece)

    def _live_write(self, connection: socket.socket, data: bytes) -> bool:
        """Part of an output that goes on; False when nobody listens any more."""
        connection.sendall(data)
        return not self._stopping.is_set()

    def _command(self, phone: Phone, line: str, given: bytes = b"") -> shell.Answer:
        broken = self.bench.failing_dumps.get(phone.model.serial)
        if broken is not None and line.startswith("uiautomator"):
            return broken, 0
        return shell.run(phone, line, given)


def _exactly(connection: socket.socket, count: int) -> bytes:
    data = b""
    while len(data) < count:
        more = connection.recv(count - len(data))
        if not more:
            return b""
        data += more
    return data


def _counted(words: str) -> bytes:
    data = words.encode()
    return f"{len(data):04x}".encode() + data


def _fail(connection: socket.socket, words: str) -> None:
    connection.sendall(b"FAIL" + _counted(words))


def _packet(kind: int, data: bytes) -> bytes:
    return struct.pack("<BI", kind, len(data)) + data
