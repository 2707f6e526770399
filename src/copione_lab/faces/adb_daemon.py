"""The adb *daemon*'s own protocol, one loopback port a phone: Debian's stock `adb connect` reaches a stand-in through it.

A message is six little-endian u32 (command, two arguments, payload length, checksum, magic), then the payload. Without authentication: the
daemon answers CNXN with CNXN. A stream is opened with OPEN and a service, each WRTE is answered with OKAY, CLSE ends it.
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

HEADER = struct.Struct("<6I")
VERSION = 0x01000001  # from this version on nobody checks the checksum
MOST = 256 * 1024
CNXN, OPEN, OKAY, WRTE, CLSE = (int.from_bytes(word, "little") for word in (b"CNXN", b"OPEN", b"OKAY", b"WRTE", b"CLSE"))
FEATURES = "shell_v2,cmd"


class AdbDaemon(Loopback):
    """The daemon of one phone until closed. See `.port`."""

    def __init__(self, bench: Bench, serial: str, port: int = 0) -> None:
        self.bench, self.serial = bench, serial
        outer = self

        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                with contextlib.suppress(OSError, struct.error):
                    _Connection(outer, self.request).serve()

        super().__init__(Handler, f"lab-adbd {serial}", port)

    @property
    def phone(self) -> Phone:
        return self.bench.phones[self.serial]


class _Stream:
    """One open service: what is still to be sent, and whether the other side is ready for more."""

    def __init__(self, remote: int) -> None:
        self.remote = remote
        self.ready = threading.Semaphore(0)
        self.closed = False
        self.given = b""
        self.more = threading.Event()

    def take(self, count: int) -> bytes:
        """So many bytes of what the other side writes, or less when it closes."""
        while len(self.given) < count and not self.closed:
            self.more.wait()
            self.more.clear()
        return self.given[:count]

    def close(self) -> None:
        self.closed = True
        self.ready.release()
        self.more.set()


class _Connection:
    """One adb server connected to one daemon."""

    def __init__(self, daemon: AdbDaemon, link: socket.socket) -> None:
        self.daemon, self.link = daemon, link
        self._streams: dict[int, _Stream] = {}
        self._next = 1
        self._sending = threading.Lock()
        self._most = 4096
        link.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)

    def serve(self) -> None:
        try:
            while (head := self._exactly(HEADER.size)) is not None:
                command, first, second, length, _, _ = HEADER.unpack(head)
                payload = self._exactly(length) if length else b""
                if payload is None:
                    return
                self._message(command, first, second, payload)
        finally:
            for stream in self._streams.values():
                stream.close()

    def _message(self, command: int, first: int, second: int, payload: bytes) -> None:
        if command == CNXN:
            self._most = min(second, MOST)
            model = self.daemon.phone.model
            key = model.key.replace("-", "_")
            banner = f"device::ro.product.name={key};ro.product.model={model.name};ro.product.device=lab;features={FEATURES}"
            self._send(CNXN, VERSION, MOST, banner.encode())
        elif command == OPEN:
            local, self._next = self._next, self._next + 1
            stream = self._streams[local] = _Stream(first)
            service = payload.rstrip(b"\0").decode()
            threading.Thread(target=self._run, args=(local, stream, service), name="lab-adbd-stream", daemon=True).start()
        elif command == OKAY and second in self._streams:
            self._streams[second].ready.release()
        elif command == WRTE and second in self._streams:
            self._streams[second].given += payload
            self._streams[second].more.set()
            self._send(OKAY, second, self._streams[second].remote)
        elif command == CLSE and second in self._streams:
            self._streams.pop(second).close()

    def _run(self, local: int, stream: _Stream, service: str) -> None:
        with contextlib.suppress(OSError):
            kind, _, line = service.partition(":")
            if self.daemon.bench.state(self.daemon.serial) != "device" or kind.split(",")[0] not in {"shell", "exec"}:
                self._send(CLSE, 0, stream.remote)
                return
            self._send(OKAY, local, stream.remote)
            framed = kind.startswith("shell,v2")

            def write(data: bytes) -> bool:
                return self._write(local, stream, struct.pack("<BI", 1, len(data)) + data if framed else data)

            code = shell.stream(self.daemon.phone, line, write, stream.take(shell.wants(line)))
            if framed:
                self._write(local, stream, struct.pack("<BIB", 3, 1, code & 255))
            self._streams.pop(local, None)
            if not stream.closed:
                self._send(CLSE, local, stream.remote)

    def _write(self, local: int, stream: _Stream, data: bytes) -> bool:
        """All of it, a message at a time, each after the one before was taken; False when the other side closed."""
        for start in range(0, len(data), self._most):
            if stream.closed:
                return False
            self._send(WRTE, local, stream.remote, data[start : start + self._most])
            stream.ready.acquire()
        return not stream.closed

    def _send(self, command: int, first: int, second: int, payload: bytes = b"") -> None:
        head = HEADER.pack(command, first, second, len(payload), sum(payload) & 0xFFFFFFFF, command ^ 0xFFFFFFFF)
        with self._sending:
            self.link.sendall(head + payload)

    def _exactly(self, count: int) -> bytes | None:
        data = b""
        while len(data) < count:
            more = self.link.recv(count - len(data))
            if not more:
                return None
            data += more
        return data
