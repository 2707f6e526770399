"""One device behind a WebDriver endpoint."""

from __future__ import annotations

import base64
import contextlib
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ...model.action import Start
from ...model.app_name import app_name
from ...model.clock import Clock, SystemClock
from ...model.condition import Condition
from ...model.device import DeviceProfile, ListedDevice, Readiness
from ...model.errors import (
    AppMissing,
    CannotDo,
    DeviceGone,
    FileTrouble,
    LinkError,
    NoAnswer,
    PictureUnsound,
    TreeUnreadable,
)
from ...model.geometry import Box
from ...model.gesture import Contact
from ...model.key import Key
from ...model.screen import Moment, Screen
from ...screens.remote import keepable_source, read_source
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
from ..link import Capability, HasConditions, HasKeys, InstalledApp, InstallsApps, KeepsLog, Link, OpensAddresses, RunsApps
from .dialect import Dialect, Need, at, spoken
from .remote import Remote, open_http
from .spec import EndpointSpec
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
    words_in,
)

STATUS_S = 2.0
TELLING = ("udid", "deviceName", "platformName", "platformVersion")  # capabilities that tell one device from another
TREE_TRIES = 2
RECT = ("x", "y", "width", "height")
KEYBOARD_TOP = 0.6  # of a screen's height, from which on a keyboard covers it: most do from further down
MOST_LINES = 20_000  # of a device's log
COARSER = 1.05  # pixels of the picture that are one coordinate, from which on coordinates are dp
LEAST_PX = 480  # across: a picture with fewer is that of a screen with a pixel a dp
DENSITIES, USUAL_DP = (1.0, 1.5, 2.0, 2.625, 3.0, 3.5, 4.0), 392.0  # of phones
ASKED: dict[type[Capability], str] = {
    RunsApps: "launch",
    InstallsApps: "install",
    OpensAddresses: "open",
    HasConditions: "turn",
    KeepsLog: "log",
}
SAID = {
    "list": "list its apps",
    "front": "tell the app in front",
    "launch": "start an app",
    "stop": "stop an app",
    "clear": "delete an app's data",
    "home": "go to its home screen",
    "install": "install an app",
    "uninstall": "uninstall an app",
    "log": "tell its log",
    "turn": "turn its screen",
    "orientation": "tell how it is held",
    "open": "open an address",
    "keyboard": "tell its keyboard",
    "hide": "close its keyboard",
}


class WebDriverLink(Link, HasKeys, RunsApps, InstallsApps, OpensAddresses, HasConditions, KeepsLog):
    """See `copione.links.link.Link`. A session is opened at the first command and kept; a lost one is opened again.

    What the standard has no word for is asked in the remote end's dialect; what that does not have, the device cannot do.
    """

    def __init__(self, endpoint: str, clock: Clock | None = None, spec: EndpointSpec | None = None) -> None:
        self.endpoint = endpoint.rstrip("/")
        self.spec = spec or EndpointSpec(self.endpoint)
        self.clock = clock or SystemClock()
        self.patience = self.spec.seconds or PATIENCE_S
        self._claim: Claim | None = None
        self._dialect: Dialect | None = None
        self._unit = 1.0  # of the remote end's coordinates in a dp
        self.remote = Remote(self.endpoint, spec=self.spec)
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
            own = serial_number(one_line(self._fact("udid") or ""))
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

    @property
    def configured(self) -> str:
        return f"{self.spec.name} at {self.endpoint}" if self.spec.name else self.endpoint

    def step_begins(self) -> None:
        self.remote.step_begins()

    def has(self, kind: type[Capability]) -> bool:
        return super().has(kind) and (kind not in ASKED or ASKED[kind] in self.dialect.needs)

    @property
    def dialect(self) -> Dialect:
        """How this remote end is asked for what the standard has no word for. Raises LinkError, FileTrouble."""
        if self._dialect is None:
            self.remote.open()
            self._dialect = spoken(self.spec.dialect, self.remote.capabilities)
        return self._dialect

    def _fact(self, name: str) -> Any:
        """What the session's capabilities tell of the device, by the dialect's name for it or by the usual one."""
        own = self.dialect.facts.get(name)
        return self.remote.capabilities.get(own) if own is not None else capability(self.remote.capabilities, name)

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
        facts, width = self.remote.capabilities, number_in(rect.get("width"), "the window's width", 1, SIDE_PX)
        density = number_in(self._density(shown[0] / width, min(shown)), "the screen's density", DPI[0] / 160, DPI[1] / 160)
        self._unit = width * density / shown[0]
        dpi = round(160 * density)
        width_px, height_px = sorted(shown)
        given = self._fact("millimetres")
        mm = given if isinstance(given, list) and len(given) == 2 else (width_px / dpi * 25.4, height_px / dpi * 25.4)
        return DeviceProfile(
            name=one_line(self._fact("name") or capability(facts, "deviceName") or facts.get("browserName") or self.spec.called),
            platform=one_line(facts.get("platformName") or "", 20).lower(),
            release=one_line(self._fact("release") or capability(facts, "platformVersion") or facts.get("browserVersion") or "", 20),
            width_px=width_px,
            height_px=height_px,
            dpi=dpi,
            text_scale=number_in(self._fact("textScale") or 1.0, "the text's scale", 0.1, 10),
            locale=one_line(self._fact("locale") or "", 40),
            width_mm=number_in(mm[0], "the glass's width", 0.1, 5000),
            height_mm=number_in(mm[1], "the glass's height", 0.1, 5000),
        )

    def _density(self, ratio: float, narrow_px: int) -> float:
        """Pixels a dp: as the remote end tells, else by how many pixels of the picture are one of its coordinates.

        Android's coordinates may be the picture's pixels, which tell nothing: then that with which the screen is as wide as most are.
        """
        with contextlib.suppress(TypeError, ValueError):
            if told := float(self._fact("dpi") or 0) / 160 or float(self._fact("pixelRatio") or 0):
                return told
        android = str(capability(self.remote.capabilities, "platformName")).casefold() == "android"
        if not android or ratio > COARSER or narrow_px < LEAST_PX:
            return ratio
        return min(DENSITIES, key=lambda density: abs(narrow_px / density - USUAL_DP))

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
            screen = read_source(text.encode(), self.profile())
            if not screen.app and "front" in self.dialect.needs:
                screen = replace(screen, app=self.front()[0])
            if screen.keyboard is None and "keyboard" in self.dialect.needs:
                screen = replace(screen, keyboard=self._keyboard(screen))
        except TreeUnreadable as error:
            trouble = error.sentence
        return Moment(self.clock.wall(), b"", screen, trouble, keepable_source(text.encode()))

    def _keyboard(self, screen: Screen) -> Box | None:
        """The keyboard's box (dp) where the tree does not have it; of one that is only told to be there, where most are."""
        with self.remote.sane():
            said = self._ask("keyboard")
            if isinstance(said, dict):
                x, y, width, height = (number_in(said.get(side), "the keyboard", 0, SIDE_PX) / self._unit for side in RECT)
                box = Box(x, y, x + width, y + height)
            else:
                box = Box(0.0, screen.height * KEYBOARD_TOP, screen.width, screen.height if said is True else 0.0)
            return None if box.empty else box

    def front(self) -> tuple[str, str]:
        if "front" not in self.dialect.needs:
            screen = self.glimpse().screen
            return (screen.app if screen is not None else ""), ""
        with self.remote.sane():
            need, said = self.dialect.needs["front"], self._ask("front")
            return one_line(at(said, need.app), 200), one_line(at(said, need.activity) if need.activity else "", 200)

    # acting

    def touch(self, contacts: Sequence[Contact]) -> None:
        lasts = max(c.lift for c in contacts) - min(c.since for c in contacts)
        self.profile()
        self._command("POST", "actions", touch_actions(contacts, self._unit), seconds=self.patience + lasts)

    @property
    def back_closes_keyboard(self) -> bool:
        return self.profile().platform == "android"

    def turn(self, orientation: str) -> None:
        self._ask("turn", orientation=orientation, ORIENTATION=orientation.upper())

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
        self._ask("install", seconds=INSTALL_S, package=base64.b64encode(package).decode())

    def uninstall(self, package: str) -> None:
        self.version(package)
        self._ask("uninstall", app=package)

    def hide_keyboard(self) -> None:
        if "hide" in self.dialect.needs:
            self._ask("hide")
        else:
            super().hide_keyboard()

    def type_text(self, words: str) -> None:
        self._command("POST", "actions", key_actions([KEYS[Key.ENTER] if c == "\n" else c for c in words]))

    def press(self, key: Key, times: int = 1) -> None:
        if key in KEYS:
            self._command("POST", "actions", key_actions([KEYS[key]] * times))
        elif key is Key.BACK:
            for _ in range(times):
                self._command("POST", "back", {})
        elif key is Key.HOME:
            self._ask("home")
        else:
            raise CannotDo(f"{self.called} has no key {key.value}.")

    # apps

    def packages(self) -> list[str]:
        return [app.package for app in self.apps()]

    def apps(self) -> list[InstalledApp]:
        with self.remote.sane():
            need, told = self.dialect.needs.get("list"), list_in(self._ask("list"), "the list of apps")
            assert need is not None
            return [self._installed(need, app) for app in told]

    @staticmethod
    def _installed(need: Need, told: Any) -> InstalledApp:
        """An app of the list."""
        package = words_in(at(told, need.app), "an app's package")
        name = one_line(at(told, need.name), 80) if need.name else ""
        return InstalledApp(package, one_line(at(told, need.version)) if need.version else "", name or app_name(package))

    def version(self, package: str) -> str:
        if "list" not in self.dialect.needs:
            return ""
        for app in self.apps():
            if app.package == package:
                return app.version
        raise AppMissing(f"The app {package} is not installed on {self.profile().name}. Install it there and try again.", package=package)

    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        self.version(package)
        if start is not Start.FRONT:
            self._ask("stop", app=package)
        if start is Start.AFRESH:
            self._ask("clear", app=package)
        self._ask("launch", app=package)

    def clear(self, package: str) -> None:
        self.version(package)
        self._ask("stop", app=package)
        self._ask("clear", app=package)

    def open(self, address: str) -> None:
        self._ask("open", address=address)

    def stop(self, package: str) -> None:
        self._ask("stop", app=package)

    def log(self, since: float) -> str:
        with self.remote.sane():
            need, told = self.dialect.needs.get("log"), self._ask("log", most=LOG, since=since, since_ms=round(since * 1000))
            assert need is not None
            return "".join(f"{one_line(at(each, need.line), 2000)}\n" for each in list_in(told, "the log")[-MOST_LINES:])

    # inside

    def _ask(self, name: str, most: int = WORDS, seconds: float = 0.0, **values: Any) -> Any:
        """Ask for something in the dialect. Raises CannotDo where it has no word for it."""
        need = self.dialect.needs.get(name)
        if need is None:
            raise CannotDo(f"{self.called} cannot be asked to {SAID[name]}: its dialect, {self.dialect.name}, has no word for it.")
        method, path, body = self.dialect.request(need, values)
        said = self._command(method, path, body, most, seconds)
        with self.remote.sane():
            return at(said, need.value)

    def _command(self, method: str, command: str, body: dict[str, Any] | None = None, most: int = WORDS, seconds: float = 0.0) -> Any:
        return self.remote.command(method, command, body, most, seconds or self.patience)


def look_up(endpoint: str, spec: EndpointSpec | None = None) -> ListedDevice:
    """How an endpoint stands, asked once. One that wants somebody to sign in says so."""
    from .http import SignIn, TooMuch, Unreachable

    endpoint, spec = endpoint.rstrip("/"), spec or EndpointSpec(endpoint)
    try:
        http = open_http(endpoint, spec)
    except LinkError:
        return ListedDevice(endpoint, spec.called, Readiness.OFFLINE)
    try:
        value = record_in(value_of(*http.send("GET", "/status", None, Limit(LISTING, STATUS_S))), "the status")
        name = spec.name or one_line(capability(value, "name") or endpoint) or endpoint
        states = {"unauthorized": Readiness.UNAPPROVED, "device": Readiness.READY}
        said = Readiness.READY if value.get("ready") is True else states.get(str(value.get("message")), Readiness.OFFLINE)
        return ListedDevice(endpoint, name, said)
    except (SignIn, FileTrouble):
        return ListedDevice(endpoint, spec.called, Readiness.SIGN_IN)
    except (TooMuch, Unreachable, TimeoutError, ValueError, RemoteRefused):
        return ListedDevice(endpoint, spec.called, Readiness.OFFLINE)
    finally:
        http.close()
