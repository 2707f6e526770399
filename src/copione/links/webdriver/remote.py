"""The session at a remote end: opened at the first command and kept; whatever it answers is a value or an error with a sentence."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator, Mapping
from typing import TYPE_CHECKING, Any

from ...model.errors import DeviceGone, LinkError
from ..limits import MEGABYTE, PATIENCE_S, WORDS, Limit, no_answer, one_line
from .spec import EndpointSpec
from .wire import RemoteRefused, record_in, value_of, words_in

if TYPE_CHECKING:
    from .http import Http

ACTS = frozenset({"actions", "back"})  # what is never sent a second time: another page may be there by then
FAREWELL_S = 2.0  # for a remote end that is silent anyway


class SessionLost(LinkError):
    """The remote end does not know the session any more."""


class Remote:
    """Used by one thread. `asked`: the capabilities that a session must have; `spec`: what else is known of it before. `who` is told of
    in errors."""

    def __init__(self, endpoint: str, asked: Mapping[str, Any] | None = None, who: str = "", spec: EndpointSpec | None = None) -> None:
        self.endpoint = endpoint.rstrip("/")
        self.spec = spec or EndpointSpec(self.endpoint, capabilities=dict(asked or {}))
        self.who = who or f"The device at {self.endpoint}"
        self.session = ""
        self.silent = False  # it has not answered what it was asked last
        self.stepwise = False  # steps of a script are done: a session that is lost within one is not begun anew before the next
        self._within = False  # something has been answered since the newest step began
        self.capabilities: dict[str, Any] = {}
        self.opened: Callable[[], None] = lambda: None  # told of every new session
        self._http = open_http(self.endpoint, self.spec)

    def step_begins(self) -> None:
        """From here on a lost session may be begun anew, until something has been answered."""
        self.stepwise, self._within = True, False

    def close(self) -> None:
        """End the session, as far as the remote end still answers."""
        try:
            self.leave()
        except LinkError:
            pass
        finally:
            self._http.close()

    def leave(self) -> None:
        """End the session; the next command opens another."""
        session, self.session = self.session, ""
        if session:
            self.send("DELETE", f"/session/{session}", seconds=FAREWELL_S if self.silent else PATIENCE_S)

    def open(self) -> None:
        """Open a session where there is none."""
        if not self.session:
            with self.sane():
                value = record_in(self.send("POST", "/session", {"capabilities": self.spec.wanted}), "the session")
                session = words_in(value.get("sessionId"), "the session's id")
                if not session.isascii() or not session.isprintable() or not 0 < len(session) <= 200 or "/" in session:
                    raise ValueError("the session's id is none")
                self.capabilities = record_in(value.get("capabilities"), "the capabilities")
                self.session = session
            try:
                self.spec.must_fit(self.capabilities)
            except LinkError:
                self.leave()
                raise
            self.opened()

    def command(
        self,
        method: str,
        command: str,
        body: dict[str, Any] | None = None,
        most: int = WORDS,
        seconds: float = PATIENCE_S,
        *,
        again: bool = True,
    ) -> Any:
        """The value of one command of the session.

        A session that was lost is opened once more, unless `again` is False: another page may be there then. So what acts on the page is
        not sent again, and within a step of a script nothing is.
        """
        self.open()
        try:
            said = self.send(method, f"/session/{self.session}/{command}", body, most, seconds)
        except SessionLost:
            self.session = ""
            if not again or command in ACTS or (self.stepwise and self._within):
                raise
            self.open()
            said = self.send(method, f"/session/{self.session}/{command}", body, most, seconds)
        self._within = True
        return said

    @contextlib.contextmanager
    def sane(self) -> Iterator[None]:
        """What an answer's value must be, and is not, is told."""
        try:
            yield
        except (ValueError, OverflowError, ZeroDivisionError) as error:
            raise LinkError(f"{self.who} gave an answer that makes no sense: {error}.") from error

    def send(self, method: str, path: str, body: dict[str, Any] | None = None, most: int = WORDS, seconds: float = PATIENCE_S) -> Any:
        """One exchange outside of a session. Raises LinkError, SessionLost, DeviceGone, NoAnswer."""
        from .http import SignIn, TooMuch, Unreachable

        limit, self.silent = Limit(most, seconds), False
        try:
            return value_of(*self._http.send(method, path, body, limit))
        except RemoteRefused as error:
            if error.error == "invalid session id":
                raise SessionLost(f"{self.who} forgot its session: another page may be there now.") from error
            if error.error == "session not created":
                raise LinkError(f"{self.who} opens no session such as is asked for: {error.message}", answer=error.error) from error
            if "not connected" in error.message:
                raise DeviceGone(f"{self.who} is not connected any more.", answer=error.message) from error
            raise LinkError(f"{self.who} refused: {error.error}. {error.message}", answer=error.error) from error
        except SignIn as error:
            raise LinkError(f"{self.who} {error}") from error
        except ValueError as error:
            raise LinkError(f"What answers at {self.endpoint} is not a WebDriver remote end: {error}.") from error
        except TooMuch as error:
            raise LinkError(f"{self.who} answered with more than {most / MEGABYTE:g} MB. Nothing of it is used.") from error
        except TimeoutError as error:
            self.silent = True
            raise no_answer(self.who, limit.seconds) from error
        except Unreachable as error:
            raise DeviceGone(f"{self.who} is gone: nothing answers at {self.endpoint} any more.", printed=one_line(error, 200)) from error


def open_http(endpoint: str, spec: EndpointSpec | None = None) -> Http:
    """Connections to an endpoint; what speaks HTTP is imported when it is needed."""
    from .http import Http

    return Http(endpoint, spec)
