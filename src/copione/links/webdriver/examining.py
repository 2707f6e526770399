"""Is an endpoint as it should be? One step after the other, each told: where the first trouble is, is what has to be mended."""

from __future__ import annotations

import socket
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from urllib.parse import urlsplit

from ...model.errors import CopioneError
from ..limits import LISTING, Limit
from .http import CONNECT_S, Http, SignIn, TooMuch, Unreachable
from .link import WebDriverLink
from .spec import EndpointSpec
from .wire import RemoteRefused, record_in, value_of

STATUS_S = 5.0


@dataclass(frozen=True)
class Examined:
    """One step: what was tried, whether it succeeded, and the result or the reason in words."""

    step: str
    fine: bool
    words: str


def examine(spec: EndpointSpec) -> Iterator[Examined]:
    """Go from the name to the glass. Ends behind the first step that does not go well. Nothing on the device is changed, but that a
    session is opened and closed, and one finger moved above the glass."""
    host = urlsplit(spec.proxy or spec.url).hostname or ""
    port = urlsplit(spec.proxy or spec.url).port or (443 if spec.url.startswith("https:") else 80)
    link = WebDriverLink(spec.url, spec=spec)
    with closing(link):
        steps: tuple[tuple[str, Callable[[], str]], ...] = (
            ("name", lambda: _resolved(host, port)),
            ("connection", lambda: _connected(host, port)),
            ("remote end", lambda: _status(spec)),
            ("session", lambda: _session(link)),
            ("picture", lambda: f"{link.profile().width_px} x {link.profile().height_px} pixels"),
            ("tree", lambda: _tree(link)),
            ("touch", lambda: _touch(link)),
        )
        for step, tried in steps:
            try:
                yield Examined(step, True, tried())
            except (OSError, ValueError) as error:
                yield Examined(step, False, str(error) or type(error).__name__)
                return
            except CopioneError as error:
                yield Examined(step, False, error.sentence)
                return


def _resolved(host: str, port: int) -> str:
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except OSError as error:
        raise ValueError(f"{host} is not known to this network: {error.strerror or error}") from error
    return f"{host} is {found[0][4][0]}"


def _connected(host: str, port: int) -> str:
    with socket.create_connection((host, port), CONNECT_S):
        return f"port {port} answers"


def _status(spec: EndpointSpec) -> str:
    http = Http(spec.url, spec)
    try:
        value = record_in(value_of(*http.send("GET", "/status", None, Limit(LISTING, STATUS_S))), "the status")
    except SignIn as error:
        raise ValueError(f"it {error}") from error
    except RemoteRefused as error:
        raise ValueError(f"it refuses to tell its status: {error.error}") from error
    except TooMuch as error:
        raise ValueError("its status has no end") from error
    except TimeoutError as error:
        raise ValueError("it does not answer") from error
    except Unreachable as error:
        raise ValueError(f"no answer of a remote end: {error}") from error
    finally:
        http.close()
    if value.get("ready") is not True:
        raise ValueError(f"it is not ready: {str(value.get('message'))[:200]}")
    secure = ", encrypted" if spec.url.startswith("https:") else ""
    return f"ready{secure}{', signed in as ' + spec.user if spec.user else ''}"


def _session(link: WebDriverLink) -> str:
    link.remote.open()
    return f"opened; its dialect is {link.dialect.name} ({link.dialect.about})"


def _tree(link: WebDriverLink) -> str:
    moment = link.glimpse()
    if moment.screen is None:
        raise ValueError(moment.trouble or "it gives none")
    profile = link.profile()
    return f"{len(moment.screen)} elements on {profile.width:.0f} x {profile.height:.0f} dp, {profile.density:g} pixels a dp"


def _touch(link: WebDriverLink) -> str:
    move = {"type": "pointerMove", "duration": 0, "x": 1, "y": 1, "origin": "viewport"}
    finger = {"type": "pointer", "id": "finger", "parameters": {"pointerType": "touch"}, "actions": [move]}
    link.remote.command("POST", "actions", {"actions": [finger]})
    return "fingers are taken"
