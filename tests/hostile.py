"""Servers that say anything: what a hostile phone, or one that is broken, does on the wire."""

from __future__ import annotations

import contextlib
import socket
import socketserver
import struct
import threading
from collections.abc import Callable
from typing import Self


def packets(output: bytes, code: int = 0) -> bytes:
    """What a command printed, as `shell,v2` has it."""
    return struct.pack("<BI", 1, len(output)) + output + struct.pack("<BI", 3, 1) + bytes([code])


class Babbler:
    """An adb server on a free port that answers each service with whatever `answer` gives; a transport is always granted."""

    def __init__(self, answer: Callable[[str], bytes]) -> None:
        class Handler(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                connection: socket.socket = self.request
                with contextlib.suppress(OSError, ValueError):
                    while True:
                        head = connection.recv(4, socket.MSG_WAITALL)
                        if len(head) < 4:
                            return
                        service = connection.recv(int(head, 16), socket.MSG_WAITALL).decode("utf-8", "replace")
                        if service.startswith("host:transport:"):
                            connection.sendall(b"OKAY")
                            continue
                        if service.endswith(":features"):
                            connection.sendall(b"OKAY0008shell_v2")
                            return
                        connection.sendall(answer(service))
                        return

        class Server(socketserver.ThreadingTCPServer):
            daemon_threads = allow_reuse_address = True
            block_on_close = False
            request_queue_size = 64

            def handle_error(self, request: object, client_address: object) -> None:
                pass

        self._server = Server(("127.0.0.1", 0), Handler)
        self.port = int(self._server.server_address[1])
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._server.shutdown()
        self._server.server_close()
