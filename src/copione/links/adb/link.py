"""One Android device behind an adb server."""

from __future__ import annotations

import contextlib
import re
import shlex
import unicodedata
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TypeVar

from ...model.action import Start
from ...model.app_name import app_name
from ...model.clock import Clock, SystemClock
from ...model.condition import Condition
from ...model.cost import Cost
from ...model.device import DeviceProfile
from ...model.errors import AppMissing, CannotDo, DeviceGone, DeviceNotReady, LinkError, NoAnswer, PictureUnsound, TreeUnreadable
from ...model.gesture import Contact
from ...model.key import Key
from ...model.screen import Moment, Screen
from ...screens.android import document_of, keepable, read_android
from ..claims import Claim
from ..identity import place_of, serial_number
from ..limits import FOR_PICTURE, INSTALL_S, LOG, PICTURE, TREE, WORDS, Deadline, Limit, no_answer, one_line, sound_picture
from ..link import (
    Capability,
    HasConditions,
    HasKeys,
    HoldsFinger,
    InstalledApp,
    InstallsApps,
    KeepsLog,
    Link,
    OpensAddresses,
    RunsApps,
    Sleeps,
    TakesCalls,
    TellsCosts,
    TellsTouches,
)
from . import conditions, costs, facts, letters
from .refusals import what_to_do
from .server import AdbServer, Output, Route
from .start import LOCAL
from .uinput import uinput_commands

T = TypeVar("T")
COMBINATIONS_SINCE = 12  # the release of Android whose `input` holds keys
KEYCODES = {
    Key.BACK: "4",
    Key.HOME: "3",
    Key.ENTER: "66",
    Key.BACKSPACE: "67",
    Key.DELETE: "112",
    Key.END: "123",
    Key.ESCAPE: "111",
    Key.TAB: "61",
    Key.LEFT: "21",
    Key.RIGHT: "22",
    Key.UP: "19",
    Key.DOWN: "20",
    Key.POWER: "26",
    Key.VOLUME_UP: "24",
    Key.VOLUME_DOWN: "25",
    Key.APP_SWITCH: "187",
}
CTRL = "113"
TREE_TRIES = 3
MOST_APPS = 1000
WAKE_UP = "224"
MS = 0.001  # what rounding may take away
CLOCK_S = 2.0  # by which two clocks that agree may seem to differ
SYSTEM_UI, HOME = "com.android.systemui", "android.intent.category.HOME"
LAUNCHED = "android.intent.category.LAUNCHER"
TAP_S, TAP_DRIFT = 0.25, 4.0  # shorter and stiller than this is sent as a tap
STRAIGHT = 6.0  # dp a path may leave its chord and still be sent as one straight swipe
PAUSE_S = 0.1  # a finger that rests so long before it lifts flings nothing; shorter, the command's own start takes as long


@dataclass(frozen=True)
class Identity:
    """What tells a phone from another one that comes under the same serial: its own serial number, and what its system was given."""

    serial_number: str
    android_id: str


class AdbLink(
    Link,
    HasKeys,
    RunsApps,
    InstallsApps,
    OpensAddresses,
    HasConditions,
    Sleeps,
    TakesCalls,
    KeepsLog,
    TellsCosts,
    HoldsFinger,
    TellsTouches,
):
    """See `copione.links.link.Link`."""

    def __init__(self, server: AdbServer, serial: str, clock: Clock | None = None) -> None:
        self.server = server
        self.serial = serial
        self.clock = clock or SystemClock()
        self._v2 = "shell_v2" in server.features(serial)
        self._profile: DeviceProfile | None = None
        self._read: tuple[bytes, str, Screen] | None = None  # the newest tree, with what it was read from
        self._components: dict[str, str] = {}
        self.patience = server.patience
        self._claim: Claim | None = None
        self._identity: Identity | None = None
        self._route: Route | None = None  # to the phone as it was connected when it was last asked
        self._other = ""  # why nothing is asked any more: another phone has come in its place
        self._in_parts = True  # until the phone refuses it
        self._injects = self._v2  # until it turns out otherwise; without exit codes it would not
        self._combines = self._v2  # keys that are held together: the same

    @property
    def address(self) -> str:
        return self.serial

    @property
    def wireless(self) -> bool:
        """Is it reached over a network of its own, and not by a cable or within this computer?"""
        host, colon, port = self.serial.rpartition(":")
        return "._adb-tls-connect." in self.serial or (bool(colon) and port.isdigit() and host not in LOCAL)

    @property
    def called(self) -> str:
        return f"The phone {self.serial}"

    @property
    def claim(self) -> Claim:
        if self._claim is None:
            own = serial_number(self._known().serial_number)
            name = self._profile.name if self._profile is not None else self.serial
            self._claim = Claim(f"phone {own}" if own else f"{place_of(self.server.host, self.server.port)} {self.serial}", name)
        return self._claim

    def _known(self) -> Identity:
        """Which phone it is; asked once."""
        if self._identity is None:
            self._identity = self._ask_identity()
        return self._identity

    def _ask_identity(self) -> Identity:
        return Identity(self._prop("ro.serialno"), one_line(self._words("settings get secure android_id")))

    def close(self) -> None:
        """Nothing is held: each command has a connection of its own."""

    # what it is

    def profile(self) -> DeviceProfile:
        if self._profile is None:
            self._known()
            self._profile = self._read_profile()
            self.claim.name = self._profile.name
        return self._profile

    def _read_profile(self) -> DeviceProfile:
        size = facts.size(self._words("wm size"))
        dpi = facts.density(self._words("wm density"))
        if size is None or dpi is None:
            raise DeviceNotReady(f"{self.called} does not tell its screen size. Unlock it and wait until it has started.")
        glass = facts.glass_dpi(self._words("dumpsys display")) or (dpi, dpi)
        name = one_line(self._words("settings get global device_name"))
        return DeviceProfile(
            name=name if name and name != "null" else self._prop("ro.product.model") or self.serial,
            platform="android",
            release=self._prop("ro.build.version.release"),
            width_px=size[0],
            height_px=size[1],
            dpi=dpi,
            text_scale=facts.text_scale(self._words("settings get system font_scale")),
            locale=self._prop("persist.sys.locale") or self._prop("ro.product.locale"),
            width_mm=size[0] / glass[0] * 25.4,
            height_mm=size[1] / glass[1] * 25.4,
        )

    def _prop(self, name: str) -> str:
        return one_line(self._words(f"getprop {name}"))

    # what can be seen

    def picture(self) -> bytes:
        return self._picture()

    def _picture(self, meanwhile: Callable[[], object] | None = None, seconds: float | None = None) -> bytes:
        limit = Limit(PICTURE, seconds or self.patience)
        png = self._execute("screencap -p", meanwhile=meanwhile, limit=limit)
        return sound_picture(png, self.called)

    def moment(self) -> Moment:
        """See `Link`. The tree is read while the device makes its picture; one that does not come leaves time for the picture."""
        dump, trouble, deadline = b"", "", Deadline(self.patience)
        for again in range(TREE_TRIES):
            if again and deadline.but(0.0) < self.patience / 2:
                break
            read: list[Screen] = []
            try:
                dump = self._dump(deadline.but(self.patience * FOR_PICTURE))
                since = self.clock.now()
                document_of(dump)  # no picture is asked for beside a tree that is not there
                windows = self._words("dumpsys window", deadline.but(self.patience * FOR_PICTURE))
                take_in = lambda: read.append(self._screen(dump, windows))  # noqa: B023, E731  (called before it changes)
            except NoAnswer as error:
                trouble = error.sentence
                break
            except TreeUnreadable as error:
                trouble = error.sentence
                continue
            try:
                png, unseen = self._picture_if_any(deadline, take_in)
                return Moment(self.clock.wall(), png, read[0], unseen, keepable(dump), self.clock.now() - since)
            except TreeUnreadable as error:
                trouble = error.sentence
        png, unseen = self._picture_if_any(deadline)
        with contextlib.suppress(LinkError):
            trouble = f"{self.called} has gone to sleep: its screen is off." if self.asleep(deadline.but(0.0)) else trouble
        return Moment(self.clock.wall(), png, None, f"{trouble} {unseen}".strip(), keepable(dump))

    def _picture_if_any(self, deadline: Deadline, meanwhile: Callable[[], object] | None = None) -> tuple[bytes, str]:
        """The picture, or nothing and why: what sends no sound picture may still have a tree."""
        try:
            return self._picture(meanwhile, deadline.but(0.0)), ""
        except PictureUnsound as error:
            return b"", error.sentence
        except NoAnswer as error:
            raise no_answer(self.called, self.patience) from error

    def glimpse(self) -> Moment:
        deadline = Deadline(self.patience)
        try:
            windows = self._words("dumpsys window", deadline.but(0.0))
            return Moment(self.clock.wall(), b"", self._screen(self._dump(deadline.but(0.0)), windows))
        except TreeUnreadable as error:
            return Moment(self.clock.wall(), b"", None, error.sentence)
        except NoAnswer as error:
            raise no_answer(self.called, self.patience) from error

    def _dump(self, seconds: float) -> bytes:
        return self._execute("uiautomator dump /dev/tty", limit=Limit(TREE, seconds))

    def _screen(self, dump: bytes, windows: str) -> Screen:
        """The screen of a dump; the same value again for the same answers, since reading a tree takes as long as some commands."""
        if self._read is None or self._read[:2] != (dump, windows):
            self._read = dump, windows, self._read_screen(dump, windows)
        return self._read[2]

    def _read_screen(self, dump: bytes, windows: str) -> Screen:
        profile = self.profile()
        return read_android(
            dump,
            profile.width_px,
            profile.height_px,
            profile.dpi,
            activity=facts.front(windows)[1],
            keyboard_px=facts.keyboard(windows),
            locale=profile.locale,
        )

    def front(self) -> tuple[str, str]:
        return facts.front(self._words("dumpsys window"))

    # acting

    def touch(self, contacts: Sequence[Contact]) -> None:
        density = self.profile().density
        if len(contacts) == 1 and (simple(contacts[0]) or not self._injects):
            self._shell("input " + "; input ".join(input_commands(contacts[0], density)))
        elif self._injects and self._inject(contacts):
            return
        elif all(later.since >= former.lift for former, later in pairwise(contacts)):
            self._shell("input " + "; input ".join(command for c in contacts for command in input_commands(c, density)))
        else:
            raise CannotDo(f"{self.called} takes one finger at a time: it has no `uinput` tool that works.")

    @property
    def back_closes_keyboard(self) -> bool:
        return True

    def has(self, kind: type[Capability]) -> bool:
        return super().has(kind) and (kind is not HoldsFinger or self._in_parts)

    def finger(self, phase: str, x: float, y: float) -> None:
        density = self.profile().density
        try:
            self._shell(f"input motionevent {phase.upper()} {round(x * density)} {round(y * density)}")
        except LinkError:
            self._in_parts = False  # releases before the tool learnt it
            raise

    def _inject(self, contacts: Sequence[Contact]) -> bool:
        """Through a touch panel of our own; False, and not tried again, where the phone has no tool for it."""
        profile = self.profile()
        commands = uinput_commands(contacts, (profile.width_px, profile.height_px), profile.density, self._rotation())
        seconds = self.patience + max(c.lift for c in contacts) - min(c.since for c in contacts)
        command = f"printf %s {shlex.quote(commands)} | uinput -"
        self._injects = self._run(command, limit=Limit(WORDS, seconds)).code == 0
        return self._injects

    def _rotation(self) -> int:
        return facts.rotation(self._words("dumpsys window"))

    def panel(self) -> tuple[int, int]:
        profile = self.profile()
        return facts.panel(self._words("getevent -lp")) or (profile.width_px, profile.height_px)

    def touch_stream(self, taken: Callable[[bytes], bool]) -> None:
        self._routed(lambda route: self.server.stream(route, "getevent -lt", taken))

    def turn(self, orientation: str) -> None:
        self._shell("settings put system accelerometer_rotation 0")
        self._shell(f"settings put system user_rotation {int(orientation == 'landscape')}")

    def condition(self, condition: Condition, package: str) -> str:
        return conditions.read(self._said, condition, package, self._release())

    def have(self, condition: Condition, value: str, package: str) -> None:
        if condition is Condition.NETWORK and self.wireless and "wifi" not in value.split() and value != "on":
            raise CannotDo(f"{self.called} is reached over its network, and could not be reached any more without: plug it in.")
        conditions.put(self._said, condition, value, package, self._release())
        self._read = None
        if condition is Condition.TEXT_SIZE:
            self._profile = None  # it is read again: text is larger now

    def _release(self) -> int:
        """The first number of its release; 0 where it tells none."""
        release = re.match(r"\d{1,4}", self.profile().release)
        return int(release.group()) if release is not None else 0

    def ring(self, caller: str) -> None:
        told = self._run(f"stand-in call {shlex.quote(caller)}", limit=Limit(WORDS, self.patience))
        if b"stand-in" not in told.stdout:
            raise CannotDo("Only a stand-in phone can be called from here: have somebody call this one.")

    def _said(self, command: str) -> str:
        return self._shell(command).words

    def install(self, package: bytes) -> None:
        limit = Limit(WORDS, max(self.patience, INSTALL_S))
        told = self._execute(f"cmd package install -r -S {len(package)}", package, limit=limit)
        said = one_line(told.decode("utf-8", "replace"), 300)
        if not said.startswith("Success"):
            raise LinkError(f"{self.called} did not install the package: {said or 'it said nothing'}{what_to_do(said)}")
        self._components.clear()

    def type_text(self, words: str) -> None:
        words = unicodedata.normalize("NFC", words)
        strange = letters.cannot_type(words)
        if strange:
            raise CannotDo(f"{self.called} cannot type {strange!r}: neither its `input text` command nor its keys make them.")
        if not words.isascii() and not (self._combines and self._release() >= COMBINATIONS_SINCE):
            raise CannotDo(f"{self.called} types plain ASCII only: its `input` tool has no `keycombination`.")
        for part in letters.parts(words):
            if isinstance(part, str):
                for piece in text_pieces(part):
                    self._shell("input keyevent 66" if piece == "\n" else f"input text {shlex.quote(piece.replace(' ', '%s'))}")
                continue
            presses = (f"input {'keycombination' if len(held) > 1 else 'keyevent'} {' '.join(map(str, held))}" for held in part)
            self._shell("; ".join(presses))

    def press(self, key: Key, times: int = 1) -> None:
        code = KEYCODES.get(key)
        if code is None:
            raise CannotDo(f"{self.called} has no key {key.value}.")
        if key is Key.END and self._combines:
            try:  # alone it goes to the end of the line
                self._shell(f"input keycombination {CTRL} {code}")
                return
            except LinkError:
                self._combines = False  # releases before the tool learned it
        self._shell("input keyevent " + " ".join([code] * times))

    # apps

    def outside(self) -> frozenset[str]:
        home = facts.components(self._words("cmd package resolve-activity --brief -a android.intent.action.MAIN -c " + HOME))
        return frozenset({SYSTEM_UI, *(each.partition("/")[0] for each in home)})

    def packages(self) -> list[str]:
        own = self._installed()
        started = facts.components(self._words("cmd package query-activities --brief -a android.intent.action.MAIN -c " + LAUNCHED))
        return [*own, *sorted({each.partition("/")[0] for each in started} - set(own))][:MOST_APPS]

    def _installed(self) -> list[str]:
        """Those that are not the phone's own."""
        return re.findall(r"^package:([\w.]{1,200})\s*$", self._words("pm list packages -3"), re.M)[:MOST_APPS]

    def apps(self) -> list[InstalledApp]:
        own = set(self._installed())
        return [InstalledApp(p, self.version(p) if p in own else "", app_name(p), p not in own) for p in self.packages()]

    def version(self, package: str) -> str:
        found = facts.version(self._words(f"dumpsys package {shlex.quote(package)}"))
        if found is None:
            raise self._missing(package)
        return found

    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        component = self._component(package)
        if start is not Start.FRONT:
            self._shell(f"am force-stop {shlex.quote(package)}")
        if start is Start.AFRESH:
            self._clear(package)
        self._shell(f"am start -n {shlex.quote(component)}")

    def clear(self, package: str) -> None:
        self._component(package)
        self.stop(package)
        self._clear(package)

    def _clear(self, package: str) -> None:
        if self._shell(f"pm clear {shlex.quote(package)}").words.strip() != "Success":
            raise LinkError(f"The data of {package} could not be cleared on {self.profile().name}.")

    def installation(self, package: str) -> str:
        return facts.code_path(self._words(f"dumpsys package {shlex.quote(package)}"))

    def wake(self) -> None:
        if self.asleep():
            self._shell(f"input keyevent {WAKE_UP}")
        if not facts.locked(self._words("dumpsys window")):
            return
        self._words("wm dismiss-keyguard")
        if facts.locked(self._words("dumpsys window")):
            raise DeviceNotReady(f"{self.called} is locked: unlock it, and try again.")

    def asleep(self, seconds: float | None = None) -> bool:
        """Is its screen off? Asked for so many seconds at most, by default its patience."""
        return facts.asleep(self._words("dumpsys power", seconds))

    def uninstall(self, package: str) -> None:
        said = one_line(self._words(f"pm uninstall {shlex.quote(package)}"), 300)
        self._components.pop(package, None)
        if said.startswith("Success"):
            return
        if package not in self.packages():
            raise self._missing(package)
        raise LinkError(f"{self.called} did not uninstall {package}: {said or 'it said nothing'}")

    def open(self, address: str) -> None:
        told = self._run(f"am start -a android.intent.action.VIEW -d {shlex.quote(address)}", limit=Limit(WORDS, self.patience))
        said = one_line(told.words + told.stderr.decode("utf-8", "replace"), 400)
        if told.code or "Error" in said or "unable to resolve" in said:
            raise LinkError(f"No app on {self.profile().name} opens {address[:200]}.", said=said)

    def stop(self, package: str) -> None:
        self._shell(f"am force-stop {shlex.quote(package)}")

    def _component(self, package: str) -> str:
        if package not in self._components:
            found = facts.components(self._words(f"cmd package resolve-activity --brief -c {LAUNCHED} {shlex.quote(package)}"))
            if not found:
                raise self._missing(package)
            self._components[package] = found[-1]
        return self._components[package]

    def _missing(self, package: str) -> AppMissing:
        name = self._profile.name if self._profile else self.serial
        return AppMissing(f"The app {package} is not installed on {name}. Install it there and try again.", package=package)

    def cost(self, package: str) -> Cost | None:
        route = self._route  # as it is: what comes back after it was gone is found again by the link's own thread alone
        if route is None or self._other:
            return None

        def ask(command: str) -> str:
            return self.server.shell(route, command, v2=self._v2, limit=Limit(WORDS, self.patience)).words

        try:
            pid = one_line(ask(f"pidof {shlex.quote(package)}"), 60).split(" ")[0]
            return costs.read(ask(costs.command(pid, shlex.quote(package))), self.clock.wall()) if pid.isdigit() else None
        except DeviceGone:
            return None

    def log(self, since: float) -> str:
        limit = Limit(LOG, self.patience)
        return self._run(f"logcat -d -v epoch -T {max(0.0, since + self._ahead() - MS):.3f}", limit=limit).words

    def _ahead(self) -> float:
        """Seconds that the phone's clock is ahead of this computer's; 0 where they agree as far as can be told."""
        begin = self.clock.wall()
        said = one_line(self._words("date +%s"), 20)
        here = (begin + self.clock.wall()) / 2
        ahead = float(said) - here if re.fullmatch(r"\d{1,12}(\.\d{1,9})?", said) else 0.0
        return ahead - 1.0 if abs(ahead) > CLOCK_S else 0.0  # it tells whole seconds: rather a line too many

    # inside

    def _run(self, command: str, limit: Limit) -> Output:
        return self._routed(lambda route: self.server.shell(route, command, v2=self._v2, limit=limit))

    def _execute(
        self, command: str, given: bytes = b"", meanwhile: Callable[[], object] | None = None, limit: Limit | None = None
    ) -> bytes:
        return self._routed(lambda route: self.server.execute(route, command, given, meanwhile, limit))

    def _routed(self, ask: Callable[[Route], T]) -> T:
        """Ask the phone that this link is about. Where its connection is another one by now, it is asked whether it is still that phone."""
        if self._other:
            raise DeviceGone(self._other, serial=self.serial)
        if self._route is None:
            self._route = self.server.route(self.serial)
        try:
            return ask(self._route)
        except DeviceGone as error:
            if not error.facts.get("unsent") or self._identity is None:
                raise
            fresh, known = self.server.route(self.serial), self._identity
            if not fresh.transport or fresh == self._route:
                raise
            self._route, self._identity = fresh, None  # what is asked now is not sent a second time
            try:
                now = self._ask_identity()
            finally:
                self._identity = known
            if now != known:
                self._other = f"Another phone is connected as {self.serial} now: it is not used in place of {self.claim.name}."
                raise DeviceGone(self._other, serial=self.serial) from error
            return ask(fresh)

    def _shell(self, command: str) -> Output:
        output = self._run(command, limit=Limit(WORDS, self.patience + own_seconds(command)))
        if output.code != 0:
            said = (output.stderr or output.stdout).decode("utf-8", "replace").strip().splitlines()
            why = one_line(said[0], 200) if said else f"exit code {output.code}"
            raise LinkError(f"{self.called} refused `{command.split(' ')[0]}`: {why}")
        return output

    def _words(self, command: str, seconds: float | None = None) -> str:
        return self._run(command, limit=Limit(WORDS, seconds or self.patience)).words


def own_seconds(command: str) -> float:
    """Seconds that a command takes by what it says: the pauses and strokes of gestures."""
    sleeps = sum(float(seconds) for seconds in re.findall(r"\bsleep (\d{1,4}\.\d{1,2})", command))
    return sleeps + sum(int(ms) / 1000 for ms in re.findall(r"\bswipe \S+ \S+ \S+ \S+ (\d{1,7})", command)) + 0.1 * command.count(";")


def text_pieces(words: str) -> Iterator[str]:
    """Pieces that `input text` types as they are: it reads %s as a blank, so a literal one is cut in two."""
    for part in re.split(r"(\n)", words):
        if part == "\n":
            yield part
        elif part:
            halves = part.split("%s")
            for i, half in enumerate(halves):
                piece = ("s" if i else "") + half + ("%" if i < len(halves) - 1 else "")
                if piece:
                    yield piece


def simple(contact: Contact) -> bool:
    """Is it one `input` command, but for a stop before the lift: a tap, a hold, a straight stroke without a rest on the way?"""
    gaps = [later[0] - former[0] for former, later in pairwise(contact.path)]
    away = max((abs(x - contact.begin[0]) + abs(y - contact.begin[1]) for _, x, y in contact.path), default=0.0)
    return away <= TAP_DRIFT or (_straight(contact) and max(gaps, default=0.0) < PAUSE_S)


def input_commands(contact: Contact, density: float) -> list[str]:
    """The `input` commands for one finger, dp times `density` pixels: a tap, a straight swipe, or motion events with their pauses."""

    def px(x: float, y: float) -> str:
        return f"{round(x * density)} {round(y * density)}"

    ms = max(1, round(contact.seconds * 1000))
    (x0, y0), (x1, y1) = contact.begin, contact.end
    away = max((abs(x - x0) + abs(y - y0) for _, x, y in contact.path), default=0.0)
    if away <= TAP_DRIFT:
        return [f"tap {px(x0, y0)}"] if contact.seconds < TAP_S else [f"swipe {px(x0, y0)} {px(x0, y0)} {ms}"]
    if simple(contact) and contact.lift - contact.path[-1][0] < PAUSE_S:
        return [f"swipe {px(x0, y0)} {px(x1, y1)} {ms}"]
    commands = [f"motionevent DOWN {px(x0, y0)}"]
    for (since, _, _), (t, x, y) in pairwise(contact.path):
        if t - since >= PAUSE_S:
            commands[-1] += f"; sleep {t - since:.2f}"
        commands.append(f"motionevent MOVE {px(x, y)}")
    rest = contact.lift - contact.path[-1][0]
    if rest >= PAUSE_S:
        commands[-1] += f"; sleep {rest:.2f}"
    return [*commands, f"motionevent UP {px(x1, y1)}"]


def _straight(contact: Contact) -> bool:
    (x0, y0), (x1, y1) = contact.begin, contact.end
    length = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
    if length == 0:
        return False
    return all(abs((x1 - x0) * (y - y0) - (y1 - y0) * (x - x0)) / length <= STRAIGHT for _, x, y in contact.path)
