"""What every face of the lab is: a server on a loopback port with a thread of its own, until it is closed."""

from __future__ import annotations

import socketserver
import threading
from http.server import ThreadingHTTPServer
from types import TracebackType
from typing import Any, Self


class _Quiet:
    """A client that goes away in the middle is no news; one that stays does not keep the lab from ending."""

    allow_reuse_address = True
    daemon_threads = True
    block_on_close = False
    request_queue_size = 64

    def handle_error(self, request: Any, client_address: Any) -> None:
        pass


class _Tcp(_Quiet, socketserver.ThreadingTCPServer):
    pass


class _Http(_Quiet, ThreadingHTTPServer):
    pass


class Loopback:
    """Serves `handler` until closed. `port` 0 takes a free one; see `.port`."""

    def __init__(self, handler: Any, name: str, port: int = 0, *, http: bool = False) -> None:
        self._server = (_Http if http else _Tcp)(("127.0.0.1", port), handler)
        self.port = int(self._server.server_address[1])
        self._thread = threading.Thread(target=lambda: self._server.serve_forever(0.05), name=name, daemon=True)
        self._thread.start()

    def close(self) -> None:
        self._server.shutdown()
        self._server.server_close()
        self._thread.join(5)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, _kind: type[BaseException] | None, _error: BaseException | None, _trace: TracebackType | None) -> None:
        self.close()
