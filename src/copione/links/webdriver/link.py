"""One device behind a WebDriver endpoint."""

from __future__ import annotations

import base64
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from ...model.clock import Clock, SystemClock
from ...model.device import DeviceProfile, Listed, Readiness
from ...model.errors import AppMissing, DeviceGone, LinkError, TreeUnreadable
from ...model.gesture import Contact
from ...model.screen import Moment, Screen
from ...screens.native import read_native
from ..link import InstalledApp, Link
from .wire import KEYS, Refused, capability, key_actions, touch_actions, value_of, vendor

PATIENCE_S = 30.0
STATUS_S = 2.0
TREE_TRIES = 2
NO_PANEL = "A device behind WebDriver does not tell what fingers do on its glass. Use it on the screen here."


class WebDriverLink(Link):
    """See `copione.links.link.Link`. A session is opened at the first command and kept; a lost one is opened again."""

    def __init__(self, endpoint: str, clock: Clock | None = None) -> None:
        import httpx

        self.endpoint = endpoint.rstrip("/")
        self.clock = clock or SystemClock()
        self._http = httpx.Client(trust_env=False, timeout=PATIENCE_S, verify=_secure(endpoint))
        self._session = ""
        self._capabilities: dict[str, Any] = {}
        self._profile: DeviceProfile | None = None

    @property
    def address(self) -> str:
        return self.endpoint

    def close(self) -> None:
        """End the session, as far as the device still answers."""
        try:
            if self._session:
                self._send("DELETE", f"/session/{self._session}")
        except LinkError:
            pass
        finally:
            self._http.close()

    # what it is

    def profile(self) -> DeviceProfile:
        if self._profile is None:
            rect = self._command("GET", "window/rect")
            shown = png_size(self.picture())
            ratio = shown[0] / max(1.0, float(rect["width"]))
            width_px, height_px = sorted(shown)
            facts = self._capabilities
            mm = capability(facts, "millimetres") or (width_px / (160 * ratio) * 25.4, height_px / (160 * ratio) * 25.4)
            self._profile = DeviceProfile(
                name=str(capability(facts, "deviceName") or facts.get("browserName") or self.endpoint),
                platform=str(facts.get("platformName", "")).lower(),
                release=str(capability(facts, "platformVersion") or facts.get("browserVersion", "")),
                width_px=width_px,
                height_px=height_px,
                dpi=round(160 * ratio),
                text_scale=float(capability(facts, "textScale") or 1.0),
                locale=str(capability(facts, "locale") or ""),
                width_mm=float(mm[0]),
                height_mm=float(mm[1]),
            )
        return self._profile

    # what can be seen

    def picture(self) -> bytes:
        return base64.b64decode(self._command("GET", "screenshot"))

    def moment(self) -> Moment:
        seen, since = self.glimpse(), self.clock.now()
        for _ in range(TREE_TRIES - 1):
            if seen.screen is None:
                seen, since = self.glimpse(), self.clock.now()
        png = self.picture()
        return replace(seen, at=self.clock.wall(), png=png, lag=self.clock.now() - since)

    def glimpse(self) -> Moment:
        text = str(self._command("GET", "source"))
        screen: Screen | None = None
        trouble = ""
        try:
            screen = read_native(text.encode(), self.profile().width, self.profile().height)
        except TreeUnreadable as error:
            trouble = error.sentence
        return Moment(self.clock.wall(), b"", screen, trouble, text.encode())

    def front(self) -> tuple[str, str]:
        package, activity = self._extension("app", {"action": "front"})
        return str(package), str(activity)

    # acting

    def touch(self, contacts: Sequence[Contact]) -> None:
        self._command("POST", "actions", touch_actions(contacts))

    def panel(self) -> tuple[int, int]:
        raise LinkError(NO_PANEL)

    def touch_stream(self, taken: Callable[[bytes], bool]) -> None:
        raise LinkError(NO_PANEL)

    def turn(self, orientation: str) -> None:
        self._extension("orientation", {"orientation": orientation})

    def install(self, package: bytes) -> None:
        self._extension("install", {"package": base64.b64encode(package).decode()})

    def type_text(self, words: str) -> None:
        self._command("POST", "actions", key_actions([KEYS["Enter"] if c == "\n" else c for c in words]))

    def press(self, key: str, times: int = 1) -> None:
        if key in KEYS:
            self._command("POST", "actions", key_actions([KEYS[key]] * times))
        elif key == "GoBack":
            for _ in range(times):
                self._command("POST", "back", {})
        elif key == "GoHome":
            self._extension("app", {"action": "home"})
        else:
            raise LinkError(f"There is no key {key!r}. Keys: GoBack, GoHome, {', '.join(KEYS)}.")

    # apps

    def packages(self) -> list[str]:
        return [app.package for app in self.apps()]

    def apps(self) -> list[InstalledApp]:
        return [InstalledApp(str(app["app"]), str(app["version"])) for app in self._extension("app", {"action": "list"})]

    def version(self, package: str) -> str:
        for app in self.apps():
            if app.package == package:
                return app.version
        raise AppMissing(f"The app {package} is not installed on {self.profile().name}. Install it there and try again.", package=package)

    def launch(self, package: str, *, afresh: bool = False) -> None:
        self.version(package)
        if afresh:
            self._extension("app", {"action": "stop", "app": package})
            self._extension("app", {"action": "clear", "app": package})
        self._extension("app", {"action": "launch", "app": package})

    def stop(self, package: str) -> None:
        self._extension("app", {"action": "stop", "app": package})

    def log(self, since: float) -> str:
        return "".join(f"{line}\n" for line in self._extension("log", {"since": since}))

    # inside

    def _extension(self, name: str, body: dict[str, Any]) -> Any:
        self._open()
        prefix = vendor(self._capabilities, "app")
        if not prefix:
            raise LinkError(f"The device at {self.endpoint} does not offer to start and stop apps.")
        return self._command("POST", f"{prefix}/{name}", body)

    def _open(self) -> None:
        if not self._session:
            value = self._send("POST", "/session", {"capabilities": {"alwaysMatch": {}}})
            self._session, self._capabilities = str(value["sessionId"]), dict(value["capabilities"])

    def _command(self, method: str, command: str, body: dict[str, Any] | None = None) -> Any:
        self._open()
        try:
            return self._send(method, f"/session/{self._session}/{command}", body)
        except _SessionLost:
            self._session = ""
            self._open()
            return self._send(method, f"/session/{self._session}/{command}", body)

    def _send(self, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
        import httpx

        try:
            answer = self._http.request(method, self.endpoint + path, json=body)
            return value_of(answer.status_code, answer.content)
        except Refused as error:
            if error.error == "invalid session id":
                raise _SessionLost(f"The device at {self.endpoint} forgot its session.") from error
            if "not connected" in error.message:
                raise DeviceGone(f"The device at {self.endpoint} is not connected any more.", answer=error.message) from error
            raise LinkError(f"The device at {self.endpoint} refused: {error.error}. {error.message}", answer=error.error) from error
        except ValueError as error:
            raise LinkError(f"What answers at {self.endpoint} is not a WebDriver remote end: {error}.") from error
        except httpx.TimeoutException as error:
            raise LinkError(f"The device at {self.endpoint} has said nothing for {PATIENCE_S:g} s. Is it hanging?") from error
        except httpx.HTTPError as error:
            raise DeviceGone(f"Nothing answers at {self.endpoint} any more: {error}.") from error


class _SessionLost(LinkError):
    pass


def look_up(endpoint: str) -> Listed:
    """How an endpoint stands, asked once."""
    import httpx

    endpoint = endpoint.rstrip("/")
    try:
        answer = httpx.get(f"{endpoint}/status", timeout=STATUS_S, trust_env=False, verify=_secure(endpoint))
        value = value_of(answer.status_code, answer.content)
        name = str(capability(value, "name") or endpoint)
        states = {"unauthorized": Readiness.UNAPPROVED, "device": Readiness.READY}
        said = Readiness.READY if value.get("ready") else states.get(str(value.get("message")), Readiness.OFFLINE)
        return Listed(endpoint, name, said)
    except (httpx.HTTPError, ValueError, Refused, AttributeError):
        return Listed(endpoint, endpoint, Readiness.OFFLINE)


def _secure(endpoint: str) -> bool:
    """Certificates are loaded, which takes a while, only for an endpoint that has one."""
    return endpoint.startswith("https:")


def png_size(png: bytes) -> tuple[int, int]:
    """Width and height in pixels from a PNG's header. Raises LinkError for what is no PNG."""
    if not png.startswith(b"\x89PNG\r\n\x1a\n") or len(png) < 24:
        raise LinkError("The device gave no picture of its screen.")
    return int.from_bytes(png[16:20], "big"), int.from_bytes(png[20:24], "big")
