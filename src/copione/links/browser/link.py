"""A browser as a device: its page is the screen, an app is an address, and every session is private and thrown away."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from ...model.action import Start
from ...model.clock import Clock, SystemClock
from ...model.condition import Condition
from ...model.device import DeviceProfile
from ...model.errors import AppMissing, CannotDo, DeviceGone, LinkError, NoAnswer, PictureUnsound, TreeUnreadable
from ...model.gesture import Contact
from ...model.key import Key
from ...model.screen import Element, Flag, Moment, Screen
from ...screens.web import WebPage
from ..claims import Claim
from ..limits import FOR_PICTURE, LOG, PATIENCE_S, PICTURE, Deadline, no_answer, one_line, sound_picture
from ..link import (
    Capability,
    HasConditions,
    HasKeys,
    HoldsFinger,
    InstalledApp,
    KeepsLog,
    Link,
    OpensAddresses,
    ReloadsPages,
    RunsApps,
)
from ..webdriver.remote import Remote
from ..webdriver.wire import KEYS, capability, key_actions, list_in, picture_in, record_in, touch_actions
from .capabilities import capabilities
from .engines import ENGINES, Installed, installed
from .kept import BrowserSpec
from .outside import TAP_DP, TAP_S, BrowserPopup, held_s
from .popups import Popup
from .process import DriverProcess
from .surroundings import BrowserConditions, devtools
from .tab import ASKED, BLANK, DialogOpened, Tab, answer_of

DRAGGED = frozenset({"slider", "canvas"})
SCRIPT_MS = 8000  # that a script in a page may take


class BrowserLink(Link, HasKeys, RunsApps, OpensAddresses, ReloadsPages, HasConditions, KeepsLog, HoldsFinger):
    """See `copione.links.link.Link`. The driver is started at the first command, and again after it died, by `launch`."""

    def __init__(self, wanted: BrowserSpec, clock: Clock | None = None, found: Installed | None = None) -> None:
        self.wanted, self.clock = wanted, clock or SystemClock()
        self.engine = ENGINES[wanted.engine]
        self.patience = PATIENCE_S
        self._claim = Claim(f"browser {wanted.name} of {os.getpid()}", wanted.name)  # it is this process's own
        self._found = found
        self._process: DriverProcess | None = None
        self._tab: Tab | None = None
        self._profile: DeviceProfile | None = None
        self._page: WebPage | None = None  # as last read
        self._png = b""
        self._outside = BrowserPopup()
        self._given = ""  # what a file field was given
        self._surroundings = BrowserConditions(wanted, self.engine)
        self._turns = (0, 0)  # of the wheel in this session, all together: WebKit moves by the difference to what it was told last

    @property
    def claim(self) -> Claim:
        return self._claim

    @property
    def address(self) -> str:
        return f"browser:{self.wanted.name}"

    @property
    def called(self) -> str:
        return self.wanted.name

    # its driver

    @property
    def tab(self) -> Tab:
        """The tab in front; driver and session are started where they are not."""
        if self._tab is None:
            endpoint, asked = self.wanted.endpoint, {"unhandledPromptBehavior": "ignore", "pageLoadStrategy": "none"}
            if not endpoint:
                found = self._found or installed(self.engine)
                self._process = DriverProcess(found, self.wanted.shown)
                endpoint, asked = self._process.endpoint, capabilities(self.wanted, found)
            remote = Remote(endpoint, asked, self.wanted.name)
            self._tab = Tab(remote, self.clock)
            remote.opened = self._prepare
        self._tab.patience = self.patience
        return self._tab

    def alive(self) -> bool:
        """Does what was started for it still run? May be asked by any thread."""
        process = self._process
        return process is None or process.alive()

    def held_up(self) -> float:
        process = self._process
        return process.held_up() if process is not None else 0.0

    def close(self) -> None:
        """End the session, the browser and its driver."""
        tab, self._tab = self._tab, None
        process, self._process = self._process, None
        if tab is not None:
            tab.remote.close()
        if process is not None:
            process.close()

    def _prepare(self) -> None:
        """A session has just been opened: the window as large as wanted, and what capabilities do not say."""
        tab = self.tab
        tab.forget()
        if self._process is not None:
            self._process.focus()
        tab.command("POST", "timeouts", {"script": SCRIPT_MS})
        self._outside.close()
        self._page, self._turns = None, (0, 0)
        self._surroundings.prepare(tab)

    # what it is

    def profile(self) -> DeviceProfile:
        if self._profile is None:
            try:
                page = self.tab.page(self.patience, settle=False)
            except DialogOpened:  # the page cannot be asked: as it was wanted, until it can
                return self._described(self.wanted.width, self.wanted.height, self.wanted.density)
            self._profile = self._described(page.screen.width, page.screen.height, page.pixels)
        return self._profile

    def _described(self, width: float, height: float, pixels: float) -> DeviceProfile:
        version = _version(one_line(capability(self.tab.remote.capabilities, "browserVersion") or "", 20))
        return DeviceProfile(
            name=self.wanted.name,
            platform="web",
            release=f"{self.engine.name} {version}".strip(),
            width_px=round(width * pixels),
            height_px=round(height * pixels),
            dpi=round(160 * pixels),
            text_scale=self.wanted.text,
            locale=self.wanted.language,
            width_mm=width / 160 * 25.4,
            height_mm=height / 160 * 25.4,
            pointer="" if self.touches else "mouse",
        )

    @property
    def touches(self) -> bool:
        """Are there fingers? Else a mouse does what one of them would."""
        return self.engine.touch and self.wanted.touch

    # what can be seen

    def picture(self) -> bytes:
        return self._picture(self.patience)

    def _picture(self, seconds: float) -> bytes:
        popup = self._outside.popup
        if popup is not None and self._outside.asking:
            return popup.paint(self._png)  # while the page asks, it cannot be seen
        try:
            said = self.tab.command("GET", "screenshot", most=PICTURE, seconds=seconds)
        except LinkError as error:
            if answer_of(error) != ASKED:
                raise
            return self._last_picture()  # the dialog has just opened: the next look sees it
        try:
            png = sound_picture(picture_in(said), self.wanted.name)
        except ValueError as error:
            raise PictureUnsound(f"{self.wanted.name} gave no picture of its page: {error}.") from error
        self._png = png
        return popup.paint(png) if popup is not None else png

    def moment(self) -> Moment:
        """See `Link`. All of it has one deadline."""
        deadline = Deadline(self.patience)
        seen, since = self._seen(deadline.but(self.patience * FOR_PICTURE)), self.clock.now()
        try:
            png, unseen = self._picture(deadline.but(0.0)), ""
        except PictureUnsound as error:
            png, unseen = b"", error.sentence
        except NoAnswer as error:
            raise no_answer(self.wanted.name, self.patience) from error
        trouble = f"{seen.trouble} {unseen}".strip()
        return Moment(self.clock.wall(), png, seen.screen, trouble, seen.tree, self.clock.now() - since)

    def glimpse(self) -> Moment:
        return self._seen(self.patience, settle=False)

    def _seen(self, seconds: float, *, settle: bool = True) -> Moment:
        if self._outside.popup is not None and not self._outside.asking:
            return self._shown(self._outside.popup)
        try:
            page = self._page = self.tab.page(seconds, settle=settle)
        except DialogOpened:
            return self._shown(self._asked())
        except TreeUnreadable as error:
            return Moment(self.clock.wall(), b"", None, error.sentence)
        self._outside.close()
        return Moment(self.clock.wall(), b"", self._with_files(page), "", self.tab.told)

    def _shown(self, popup: Popup) -> Moment:
        place = self.tab.place(self._page.url) if self._page is not None else ("", "")
        return Moment(self.clock.wall(), b"", popup.screen(*place))

    def _asked(self) -> Popup:
        """The browser's own dialog that the page opened."""
        popup = self._outside.asked(self.tab, self._size())
        self._last_picture()
        return popup

    def _last_picture(self) -> bytes:
        """What was seen last; an empty page where nothing was."""
        if not self._png:
            self._png = _empty(*self._size())
        return self._png

    def _size(self) -> tuple[float, float]:
        """Width and height of the page, in density-independent pixels, as far as it could be asked."""
        if self._page is not None:
            return self._page.screen.width, self._page.screen.height
        known = self._profile or self.wanted
        return known.width, known.height

    def _with_files(self, page: WebPage) -> Screen:
        """A file field holds what it was given: pages are told the file's name alone."""
        screen = page.screen
        rows = [row for row, kind in page.kinds.items() if kind == "file" and screen.texts[row]]
        if not rows or not self._given:
            return screen
        from dataclasses import replace

        name = Path(self._given).name
        return replace(screen, texts=tuple(self._given if row in rows and t == name else t for row, t in enumerate(screen.texts)))

    def front(self) -> tuple[str, str]:
        try:
            url = str(self.tab.command("GET", "url"))
        except LinkError as error:
            if answer_of(error) != ASKED or self._page is None:
                raise
            url = self._page.url
        return self.tab.place(url)

    # acting

    def hit(self, x: float, y: float) -> Element | None:
        if self._outside.popup is not None:
            return None
        page = self.tab.hit(x, y)
        return page.screen.element(page.hit) if page is not None and page.hit > 0 else None

    def touch(self, contacts: Sequence[Contact]) -> None:
        tab = self.tab
        tab.has_acted()
        popup = self._outside.popup
        if popup is not None:
            self._outside.act(tab, popup.touched(contacts))
        elif not self._outside.opened(tab, self._page, contacts):
            lasts = max(c.lift for c in contacts) - min(c.since for c in contacts)
            sources = touch_actions(contacts)["actions"]
            if not self.touches:
                if len(contacts) > 1:
                    raise CannotDo(f"{self.wanted.name} has one pointer, a mouse: {self.engine.name} takes no fingers from its driver.")
                sources = [self._turned_wheel(contacts[0]) or sources[0] | {"parameters": {"pointerType": "mouse"}}]
            lifts = tab.ready_for_touch() if sources[0]["type"] == "pointer" else -1
            tab.actions(sources, lasts)
            tab.expected = lifts + len(contacts) if lifts >= 0 else 0
            tab.has_acted()
            tab.stroked = any(abs(c.end[0] - c.begin[0]) + abs(c.end[1] - c.begin[1]) > TAP_DP for c in contacts)

    def _turned_wheel(self, contact: Contact) -> dict[str, Any] | None:
        """A stroke that scrolls, as a mouse does it; None for any other. What is carried, slid or drawn on is dragged."""
        (x0, y0), (x1, y1) = contact.begin, contact.end
        page = self._page
        if page is None or abs(x1 - x0) + abs(y1 - y0) <= TAP_DP or held_s(contact) > TAP_S:
            return None
        over = list(page.screen.at(x0, y0))
        scrolls = Flag.ACROSS if abs(x1 - x0) > abs(y1 - y0) else Flag.SCROLLABLE
        if not over or any(e.role in DRAGGED for e in over) or not any(e.has(scrolls) for e in (over[0], *over[0].ancestors())):
            return None
        turns = self._turns = self._turns[0] + round(x0 - x1), self._turns[1] + round(y0 - y1)
        scroll = {"type": "scroll", "x": round(x0), "y": round(y0), "deltaX": turns[0], "deltaY": turns[1], "duration": 0}
        return {"type": "wheel", "id": "wheel", "actions": [scroll | {"origin": "viewport"}]}

    @property
    def back_closes_keyboard(self) -> bool:
        return False

    def has(self, kind: type[Capability]) -> bool:
        if kind is not HoldsFinger:
            return super().has(kind)
        choices = self._page is not None and bool(self._page.kinds)
        return self.touches and self.engine.devtools and self._outside.popup is None and not choices

    def finger(self, phase: str, x: float, y: float) -> None:
        kind = {"down": "touchStart", "move": "touchMove", "up": "touchEnd"}[phase]
        points = [] if phase == "up" else [{"x": x, "y": y, "id": 1}]
        devtools(self.tab, "Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})  # its driver forgets a finger between actions
        self.tab.has_acted()

    def type_text(self, words: str) -> None:
        self.tab.has_acted()
        popup = self._outside.popup
        if popup is not None:
            popup.typed(popup.held + words)
        elif self._page is not None and "file" in self._page.kinds.values() and self.tab.at_file_field():
            self.tab.give_file(self._file(words))
            self._given = words
        else:
            self.tab.actions(key_actions([KEYS[Key.ENTER] if c == "\n" else c for c in words])["actions"])

    def _file(self, words: str) -> str:
        """The path of a file that a page may be given: one in the folder that whoever uses this device names. Raises LinkError."""
        place = (self.files / words).resolve() if self.files is not None and words.isprintable() else None
        if self.files is None or place is None or not place.is_relative_to(self.files.resolve()) or not place.is_file():
            raise LinkError(f"{words[:200]!r} is not a file in the project's data folder; only those can be uploaded.")
        return str(place)

    def press(self, key: Key, times: int = 1) -> None:
        tab = self.tab
        tab.has_acted()
        popup = self._outside.popup
        if popup is not None:
            if key is Key.BACKSPACE:
                popup.typed(popup.held[: max(0, len(popup.held) - times)])
            elif key in {Key.BACK, Key.ENTER}:
                self._outside.act(tab, ("ok" if key is Key.ENTER else "cancel",))
        elif key in KEYS:
            tab.actions(key_actions([KEYS[key]] * times)["actions"])
        elif key is Key.BACK:
            for _ in range(times):
                if not self._closed_what_lies_over():
                    tab.back()
        elif key is Key.HOME:
            self._go(tab.opened or BLANK)
        else:
            raise CannotDo(f"{self.wanted.name} has no key {key.value}.")

    def _closed_what_lies_over(self) -> bool:
        """Close the dialog or drawer that lies over the page, as going back does in an app: by Escape, else by a touch beside it."""
        tab = self.tab
        veil = tab.settled_veil()
        if veil is None:
            return False
        tab.actions(key_actions([KEYS[Key.ESCAPE]])["actions"])
        left = tab.settled_veil(veil)
        if left is not None and left.words == veil.words:
            self.touch([Contact(0, ((0.0, left.x, left.y),), TAP_S / 4)])
            left = tab.settled_veil(veil)
        tab.has_acted()
        return left is None or left.words != veil.words

    # how it is held, and what is round it

    def turn(self, orientation: str) -> None:
        self._surroundings.turn(self.tab, orientation)
        self.tab.has_acted()

    def condition(self, condition: Condition, package: str) -> str:
        return self._surroundings.condition(condition)

    def have(self, condition: Condition, value: str, package: str) -> None:
        self._surroundings.have(self.tab, condition, value)
        self.tab.has_acted()

    # apps

    def packages(self) -> list[str]:
        return [self.tab.opened] if self.tab.opened else []

    def apps(self) -> list[InstalledApp]:
        return [InstalledApp(package, "") for package in self.packages()]

    def version(self, package: str) -> str:
        _address(package, self.wanted.name)
        return ""

    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        address = _address(package, self.wanted.name)
        if not self.alive() or (self._tab is not None and self._tab.remote.silent):
            self.close()
        if start is Start.AFRESH:
            self._forget()
        tab = self.tab
        tab.opened = address
        if start is not Start.FRONT or not self._is_at(address):
            self.open(address)

    def _is_at(self, address: str) -> bool:
        """Is a page of that app in front? One that answers nothing sensible is left."""
        try:
            return self.front()[0] == address
        except DeviceGone:
            raise
        except LinkError:
            return False

    def clear(self, package: str) -> None:
        _address(package, self.wanted.name)
        self._forget()

    def _forget(self) -> None:
        """Leave the session, with all that pages have stored in it."""
        self._outside.close()
        if self.engine.sessions or self._process is None:
            self.tab.remote.leave()
        else:
            self.close()

    def open(self, address: str) -> None:
        """Go to an address of the web: files of this computer are none."""
        self._go(_address(address, self.wanted.name))

    def _go(self, address: str) -> None:
        self._outside.close()
        try:
            there = self.tab.go("POST", "url", {"url": address}, address)
        except LinkError as error:
            if answer_of(error) == ASKED:
                self.tab.answer(True)
                there = self.tab.go("POST", "url", {"url": address}, address)
            elif isinstance(error, DeviceGone | NoAnswer) or answer_of(error) == "invalid argument":
                raise
            else:
                raise LinkError(f"{self.wanted.name} does not get to {address}: {error.sentence}", answer=answer_of(error)) from error
        if not there:
            raise LinkError(f"{self.wanted.name} does not get to {address}. Is it right, and does a server answer there?")

    def reload(self) -> None:
        """Reload the page, and wait until the new one is there."""
        self._outside.close()
        if not self.tab.go("POST", "refresh", {}):
            raise LinkError(f"{self.wanted.name} could not reload the page. Does the server still answer?")

    def stop(self, package: str) -> None:
        self._go(BLANK)

    def log(self, since: float) -> str:
        if not self.engine.devtools or self._tab is None:
            return ""
        with self.tab.remote.sane():
            lines = [record_in(each, "a line") for each in list_in(self.tab.command("POST", "se/log", {"type": "browser"}, LOG), "the log")]
        kept = [each for each in lines if float(each.get("timestamp") or 0) >= since * 1000]
        return "".join(f"{one_line(each.get('level', ''), 12)} {one_line(each.get('message', ''), 1000)}\n" for each in kept[-20_000:])


def _address(package: str, who: str) -> str:
    """The address that an app of a browser is."""
    try:
        parts = urlsplit(package)
        parts.port  # noqa: B018 (it is read only when it is asked for)
    except ValueError:
        parts = urlsplit("")
    if parts.scheme not in {"http", "https"} or not parts.hostname or not package.isprintable() or " " in package:
        raise AppMissing(f'{who} opens addresses, and {package[:200]!r} is none. Say web = "https://…" in project.toml.', package=package)
    return package


def _version(words: str) -> str:
    """What people call it: 156 of 156.0.8078.108, 2.50 of 2.50.6."""
    first, *more = words.split(".")
    return first if first.isdigit() and int(first) >= 20 else ".".join([first, *more[:1]])


def _empty(width: float, height: float) -> bytes:
    """A page of which no picture was taken before it asked something."""
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (round(width), round(height)), (230, 230, 226)).save(out, "PNG")
    return out.getvalue()
