"""One device behind a WebDriver endpoint."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ...model.action import Start
from ...model.clock import Clock, SystemClock
from ...model.condition import Condition
from ...model.device import DeviceProfile, ListedDevice, Readiness
from ...model.errors import AppMissing, CannotDo, DeviceGone, NoAnswer, PictureUnsound, TreeUnreadable
from ...model.gesture import Contact
from ...model.key import Key
from ...model.screen import Moment, Screen
from ...screens.native import keepable, read_native
from ..claims import Claim
from ..identity import place_of_url, serial_number
from ..limits import (
    DPI,
    FOR_PICTURE,
    INSTALL_S,
    LISTING,
    LOG,
    PATIENCE_S,
    PICTURE,
    SIDE_PX,
    TREE,
    WORDS,
    Deadline,
    Limit,
    no_answer,
    one_line,
    png_size,
    sound_picture,
)
from ..link import HasConditions, HasKeys, InstalledApp, InstallsApps, KeepsLog, Link, RunsApps
from .remote import Remote, open_http
from .wire import (
    KEYS,
    RemoteRefused,
    capability,
    key_actions,
    list_in,
    number_in,
    picture_in,
    record_in,
    touch_actions,
    value_of,
    vendor,
    words_in,
)

STATUS_S = 2.0
TELLING = ("udid", "deviceName", "platformName", "platformVersion")  # capabilities that tell one device from another
TREE_TRIES = 2
MOST_LINES = 20_000  # of a device's log


class WebDriverLink(Link, HasKeys, RunsApps, InstallsApps, HasConditions, KeepsLog):
    """See `copione.links.link.Link`. A session is opened at the first command and kept; a lost one is opened again."""

    def __init__(self, endpoint: str, clock: Clock | None = None) -> None:
        self.endpoint = endpoint.rstrip("/")
        self.clock = clock or SystemClock()
        self.patience = PATIENCE_S
        self._claim: Claim | None = None
        self.remote = Remote(self.endpoint)
        self.remote.opened = self._opened
        self._told: tuple[str, ...] = ()  # what the device told of itself when a session was first opened
        self._profile: DeviceProfile | None = None

    @property
    def address(self) -> str:
        return self.endpoint

    @property
    def called(self) -> str:
        return f"The device at {self.endpoint}"

    @property
    def claim(self) -> Claim:
        if self._claim is None:
            self.remote.open()
            own = serial_number(one_line(capability(self.remote.capabilities, "udid") or ""))
            self._claim = Claim(f"phone {own}" if own else place_of_url(self.endpoint), self.endpoint)
        return self._claim

    def _opened(self) -> None:
        """A session was opened, perhaps in place of one that was lost. Raises DeviceGone where another device answers now."""
        facts = self.remote.capabilities
        told = tuple(one_line(capability(facts, name) or facts.get(name) or "") for name in TELLING)
        if self._told and told != self._told:
            self.remote.close()
            raise DeviceGone(f"Another device answers at {self.endpoint} now: it is not used in place of {self._told[1] or 'the first'}.")
        self._told = told

    def close(self) -> None:
        self.remote.close()

    # what it is

    def profile(self) -> DeviceProfile:
        if self._profile is None:
            rect = self._command("GET", "window/rect")
            shown = png_size(self.picture())
            with self.remote.sane():
                self._profile = self._profile_of(record_in(rect, "the window"), shown)
            self.claim.name = self._profile.name
        return self._profile

    def _profile_of(self, rect: dict[str, Any], shown: tuple[int, int]) -> DeviceProfile:
        ratio = shown[0] / number_in(rect.get("width"), "the window's width", 1, SIDE_PX)
        dpi = round(number_in(160 * ratio, "the screen's density", *DPI))
        width_px, height_px = sorted(shown)
        facts = self.remote.capabilities
        given = capability(facts, "millimetres")
        mm = given if isinstance(given, list) and len(given) == 2 else (width_px / dpi * 25.4, height_px / dpi * 25.4)
        return DeviceProfile(
            name=one_line(capability(facts, "deviceName") or facts.get("browserName") or self.endpoint) or self.endpoint,
            platform=one_line(facts.get("platformName") or "", 20).lower(),
            release=one_line(capability(facts, "platformVersion") or facts.get("browserVersion") or "", 20),
            width_px=width_px,
            height_px=height_px,
            dpi=dpi,
            text_scale=number_in(capability(facts, "textScale") or 1.0, "the text's scale", 0.1, 10),
            locale=one_line(capability(facts, "locale") or "", 40),
            width_mm=number_in(mm[0], "the glass's width", 0.1, 5000),
            height_mm=number_in(mm[1], "the glass's height", 0.1, 5000),
        )

    # what can be seen

    def picture(self) -> bytes:
        return self._picture(self.patience)

    def _picture(self, seconds: float) -> bytes:
        said = self._command("GET", "screenshot", most=PICTURE, seconds=seconds)
        try:
            png = picture_in(said)
        except ValueError as error:
            raise PictureUnsound(f"{self.called} gave no picture of its screen: {error}.") from error
        return sound_picture(png, self.called)

    def moment(self) -> Moment:
        """See `Link`. All of it has one deadline: a tree that does not come leaves time for the picture."""
        deadline = Deadline(self.patience)
        for again in range(TREE_TRIES):
            if again and deadline.but(0.0) < self.patience / 2:
                break
            try:
                seen, since = self._tree(deadline.but(self.patience * FOR_PICTURE)), self.clock.now()
            except NoAnswer as error:
                seen, since = Moment(self.clock.wall(), b"", None, error.sentence), self.clock.now()
                break
            if seen.screen is not None:
                break
        try:
            png, unseen = self._picture(deadline.but(0.0)), ""
        except PictureUnsound as error:
            png, unseen = b"", error.sentence
        except NoAnswer as error:
            raise no_answer(self.called, self.patience) from error
        trouble = f"{seen.trouble} {unseen}".strip()
        return replace(seen, at=self.clock.wall(), png=png, trouble=trouble, lag=self.clock.now() - since)

    def glimpse(self) -> Moment:
        return self._tree(self.patience)

    def _tree(self, seconds: float) -> Moment:
        said = self._command("GET", "source", most=TREE, seconds=seconds)
        screen: Screen | None = None
        text, trouble = said if isinstance(said, str) else "", ""
        try:
            profile = self.profile()
            screen = read_native(text.encode(), profile.width, profile.height, profile.locale)
        except TreeUnreadable as error:
            trouble = error.sentence
        return Moment(self.clock.wall(), b"", screen, trouble, keepable(text.encode()))

    def front(self) -> tuple[str, str]:
        with self.remote.sane():
            package, activity = list_in(self._extension("app", {"action": "front"}), "the app in front")
            return one_line(package, 200), one_line(activity, 200)

    # acting

    def touch(self, contacts: Sequence[Contact]) -> None:
        lasts = max(c.lift for c in contacts) - min(c.since for c in contacts)
        self._command("POST", "actions", touch_actions(contacts), seconds=self.patience + lasts)

    @property
    def back_closes_keyboard(self) -> bool:
        return self.profile().platform == "android"

    def turn(self, orientation: str) -> None:
        self._extension("orientation", {"orientation": orientation})

    def condition(self, condition: Condition, package: str) -> str:
        if condition is not Condition.ORIENTATION:
            raise CannotDo(f"WebDriver has no word for the {condition.value} of a device: turn it there, by hand.")
        moment = self.glimpse().screen
        return "landscape" if moment is not None and moment.width > moment.height else "portrait"

    def have(self, condition: Condition, value: str, package: str) -> None:
        if condition is not Condition.ORIENTATION:
            raise CannotDo(f"WebDriver has no word for the {condition.value} of a device: turn it there, by hand.")
        self.turn(value)

    def install(self, package: bytes) -> None:
        self._extension("install", {"package": base64.b64encode(package).decode()}, seconds=INSTALL_S)

    def type_text(self, words: str) -> None:
        self._command("POST", "actions", key_actions([KEYS[Key.ENTER] if c == "\n" else c for c in words]))

    def press(self, key: Key, times: int = 1) -> None:
        if key in KEYS:
            self._command("POST", "actions", key_actions([KEYS[key]] * times))
        elif key is Key.BACK:
            for _ in range(times):
                self._command("POST", "back", {})
        elif key is Key.HOME:
            self._extension("app", {"action": "home"})
        else:
            raise CannotDo(f"{self.called} has no key {key.value}.")

    # apps

    def packages(self) -> list[str]:
        return [app.package for app in self.apps()]

    def apps(self) -> list[InstalledApp]:
        with self.remote.sane():
            told = [record_in(app, "an app") for app in list_in(self._extension("app", {"action": "list"}), "the list of apps")]
            return [InstalledApp(words_in(app.get("app"), "an app's name"), one_line(app.get("version", ""))) for app in told]

    def version(self, package: str) -> str:
        for app in self.apps():
            if app.package == package:
                return app.version
        raise AppMissing(f"The app {package} is not installed on {self.profile().name}. Install it there and try again.", package=package)

    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        self.version(package)
        if start is not Start.FRONT:
            self._extension("app", {"action": "stop", "app": package})
        if start is Start.AFRESH:
            self._extension("app", {"action": "clear", "app": package})
        self._extension("app", {"action": "launch", "app": package})

    def stop(self, package: str) -> None:
        self._extension("app", {"action": "stop", "app": package})

    def log(self, since: float) -> str:
        with self.remote.sane():
            return "".join(f"{line}\n" for line in list_in(self._extension("log", {"since": since}, most=LOG), "the log")[-MOST_LINES:])

    # inside

    def _extension(self, name: str, body: dict[str, Any], most: int = WORDS, seconds: float = 0.0) -> Any:
        self.remote.open()
        prefix = vendor(self.remote.capabilities, "app")
        if not prefix:
            raise CannotDo(f"{self.called} {RunsApps.without}")
        return self._command("POST", f"{prefix}/{name}", body, most, seconds)

    def _command(self, method: str, command: str, body: dict[str, Any] | None = None, most: int = WORDS, seconds: float = 0.0) -> Any:
        return self.remote.command(method, command, body, most, seconds or self.patience)


def look_up(endpoint: str) -> ListedDevice:
    """How an endpoint stands, asked once."""
    from .http import TooMuch, Unreachable

    endpoint = endpoint.rstrip("/")
    http = open_http(endpoint)
    try:
        value = record_in(value_of(*http.send("GET", "/status", None, Limit(LISTING, STATUS_S))), "the status")
        name = one_line(capability(value, "name") or endpoint) or endpoint
        states = {"unauthorized": Readiness.UNAPPROVED, "device": Readiness.READY}
        said = Readiness.READY if value.get("ready") is True else states.get(str(value.get("message")), Readiness.OFFLINE)
        return ListedDevice(endpoint, name, said)
    except (TooMuch, Unreachable, TimeoutError, ValueError, RemoteRefused):
        return ListedDevice(endpoint, endpoint, Readiness.OFFLINE)
    finally:
        http.close()
