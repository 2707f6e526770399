"""The page served on this computer's loopback, and nowhere else."""

from __future__ import annotations

import functools
import http.server
import threading
from pathlib import Path
from typing import Any

PAGE = Path(__file__).with_name("page")


class _Files(http.server.SimpleHTTPRequestHandler):
    """Static files, anew at every request, told to nobody."""

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def end_headers(self) -> None:
        self.send_header("Cache-Control", "no-store")
        super().end_headers()


class _Server(http.server.ThreadingHTTPServer):
    daemon_threads = True

    def handle_error(self, request: Any, client_address: Any) -> None:
        """A browser that does not wait for all of a page is no error."""


class Served:
    """A folder served from its making until `close`; a context too. `url` is where."""

    def __init__(self, folder: Path = PAGE, port: int = 0) -> None:
        self._server = _Server(("127.0.0.1", port), functools.partial(_Files, directory=str(folder)))
        self.url = f"http://127.0.0.1:{self._server.server_port}"
        threading.Thread(target=self._server.serve_forever, name="page", daemon=True).start()

    def close(self) -> None:
        """Serve no more."""
        self._server.shutdown()
        self._server.server_close()

    def __enter__(self) -> Served:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
