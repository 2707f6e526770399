"""One HTTP exchange with a remote end, within a limit of bytes and one deadline for all of it, however slowly it drips.

Nothing is read from the environment: a proxy and who signs in are said in the endpoint's configuration. No redirect is followed, and
nothing packed is unpacked.
"""

from __future__ import annotations

import base64
import contextlib
import json
import ssl
from collections.abc import Iterable
from typing import Any

import httpcore

from ...model.errors import LinkError
from ..limits import Deadline, Limit
from .spec import EndpointSpec

CONNECT_S = 5.0
HEADERS = [(b"Content-Type", b"application/json; charset=utf-8"), (b"Accept", b"application/json"), (b"Accept-Encoding", b"identity")]


class TooMuch(Exception):
    """The answer has more bytes than it may."""


class SignIn(Exception):
    """The remote end wants somebody to sign in, or does not take who did."""


class Unreachable(Exception):
    """Nothing answers there, or the connection broke; the words of the exception say how."""


class Http:
    """Connections to one remote end, kept open. Used by one thread at a time.

    `send` raises TimeoutError past the limit's seconds, TooMuch past its bytes, Unreachable when the connection fails.
    """

    def __init__(self, base: str, spec: EndpointSpec | None = None) -> None:
        self.base, self.spec = base, spec or EndpointSpec(base)
        self._backend = _Backend()
        self._headers: list[tuple[bytes, bytes]] | None = None
        secure = ssl.create_default_context() if base.startswith("https:") else None  # loading certificates takes a while
        if secure is not None and self.spec.certificate:
            try:
                secure.load_verify_locations(self.spec.certificate)
            except (OSError, ssl.SSLError) as error:
                raise LinkError(f"The certificates in {self.spec.certificate} cannot be read.") from error
        if self.spec.proxy:
            self._pool: httpcore.ConnectionPool = httpcore.HTTPProxy(self.spec.proxy, ssl_context=secure, network_backend=self._backend)
        else:
            self._pool = httpcore.ConnectionPool(secure, network_backend=self._backend)

    @property
    def headers(self) -> list[tuple[bytes, bytes]]:
        """What every request carries. Raises FileTrouble where a password cannot be read."""
        if self._headers is None:
            own = [(name.encode(), value.encode()) for name, value in self.spec.headers.items()]
            if self.spec.user:
                from .passwords import password_of

                signed = f"{self.spec.user}:{password_of(self.spec.url, self.spec.user)}".encode()
                own.append((b"Authorization", b"Basic " + base64.b64encode(signed)))
            self._headers = [*HEADERS, *own]
        return self._headers

    def send(self, method: str, path: str, body: Any, limit: Limit) -> tuple[int, bytes]:
        """The answer's status and body."""
        self._backend.deadline = deadline = Deadline(limit.seconds)
        content = json.dumps(body).encode() if body is not None else b""
        parts: list[bytes] = []
        size = 0
        try:
            with self._pool.stream(method, self.base + path, headers=self.headers, content=content or None) as response:
                for part in response.iter_stream():
                    parts.append(part)
                    size += len(part)
                    deadline.came(size)
                    if size > limit.bytes:
                        raise TooMuch
                    deadline.left()
                if response.status in {401, 407}:
                    who = f"does not take {self.spec.user} and the password that is kept" if self.spec.user else "wants somebody to sign in"
                    raise SignIn(f"{who}: `copione endpoints sign-in {self.spec.called}`.")
                return response.status, b"".join(parts)
        except (httpcore.TimeoutException, TimeoutError) as error:
            raise TimeoutError from error
        except (httpcore.NetworkError, httpcore.ProtocolError, httpcore.UnsupportedProtocol, OSError, ValueError, TypeError) as error:
            raise Unreachable(str(error) or type(error).__name__) from error

    def close(self) -> None:
        """Let the connections go."""
        with contextlib.suppress(OSError):
            self._pool.close()


class _Backend(httpcore.NetworkBackend):
    """Sockets that know the exchange's deadline: each read and write gets what is left of it."""

    def __init__(self) -> None:
        self._sockets = httpcore.SyncBackend()
        self.deadline = Deadline(CONNECT_S)

    def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[httpcore.SOCKET_OPTION] | None = None,
    ) -> httpcore.NetworkStream:
        seconds = min(CONNECT_S, self.deadline.left())
        return _Stream(self._sockets.connect_tcp(host, port, seconds, local_address, socket_options), self)


class _Stream(httpcore.NetworkStream):
    def __init__(self, inner: httpcore.NetworkStream, backend: _Backend) -> None:
        self._inner, self._backend = inner, backend

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return self._inner.read(max_bytes, self._backend.deadline.left())

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._inner.write(buffer, self._backend.deadline.left())

    def close(self) -> None:
        self._inner.close()

    def start_tls(
        self, ssl_context: ssl.SSLContext, server_hostname: str | None = None, timeout: float | None = None
    ) -> httpcore.NetworkStream:
        return _Stream(self._inner.start_tls(ssl_context, server_hostname, self._backend.deadline.left()), self._backend)

    def get_extra_info(self, info: str) -> Any:
        return self._inner.get_extra_info(info)
