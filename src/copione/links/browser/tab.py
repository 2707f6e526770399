"""The tab that is in front: its page read, its controls worked on by the driver's own commands, its dialogs answered."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from ...model.clock import Clock
from ...model.errors import DeviceGone, LinkError, NoAnswer, TreeUnreadable
from ...screens.web import WebPage, read_page
from ..limits import TREE, WORDS, Deadline
from ..webdriver.remote import Remote
from ..webdriver.wire import list_in, record_in, words_in

PAUSE_S = 0.05
LOAD_S, REST_S = 8.0, 1.5  # that a page is waited for while it loads; while only something on it moves
PROBE_S, BETWEEN_S = 2.0, 3.0  # that a page may take to say little; that one may take to give way to another
ARRIVE_S = 12.0  # seconds that a server may take to begin a page; a download, which replaces no page, costs as long
CLOSES_S = 1.0  # that what lies over a page is waited for to close
STROKE_S = 0.25  # after a stroke, before which nothing that is read counts as at rest
RECENT_S = 0.6  # after an act a page has to take that in; one that does not say so is read until it says the same twice
BLANK = "about:blank"
ASKED = "unexpected alert open"
GONE = frozenset({"no such window"})
#: What a driver says while one page gives way to another.
BUSY = "script timeout"  # a page whose own script goes on and on answers nothing meanwhile
IN_BETWEEN = frozenset({BUSY, "javascript error", "unknown error", "stale element reference", "detached shadow root", "no such frame"})
ELEMENT = "element-6066-11e4-a52e-4f735466cecf"  # W3C WebDriver, web element identifier

_READY = """if (!document.hasFocus()) window.focus(); // a frame that had it may have gone
const counts = performance.eventCounts;
return counts ? (counts.get("pointerup") || 0) + (counts.get("pointercancel") || 0) : -1;"""
_DOCUMENT = "let origin = -1; try { origin = performance.timeOrigin; } catch {} return [location.href, origin];"
#: Done once the page was told of so many lifts, or does not say, and two frames later; or when that takes too long.
_FRAMES = """const wanted = arguments[0], done = arguments[arguments.length - 1];
const counts = performance.eventCounts, since = performance.now();
const lifts = () => counts ? (counts.get("pointerup") || 0) + (counts.get("pointercancel") || 0) : wanted;
const look = () => {
  const heard = lifts() >= wanted;
  if (!heard && performance.now() - since < 400) return setTimeout(look, 8);
  requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(() => done(heard), 0)));
};
look();
setTimeout(() => done(false), 700);"""
#: The files of the page's script, in order, and what it is asked for: the page, the page with what is at a point, an act on a control.
PARTS = ("naming.js", "painting.js", "wheels.js", "reading.js", "doing.js", "closing.js")
_READ = "read_whole(); return told();"
_HIT = "read_whole(); return told(arguments[0], arguments[1]);"
_VEIL = "read_whole(); return JSON.stringify(veil());"
_DO = "read_whole(); return done(arguments[0], arguments[1], arguments[2], arguments[3]);"


@cache
def _script(end: str) -> str:
    """The whole script. Nothing of it is left behind in the page."""
    parts = (Path(__file__).with_name("page").joinpath(part).read_text("utf-8") for part in PARTS)
    return f'return (function () {{\n"use strict";\n{"".join(parts)}\n{end}\n}}).apply(null, arguments);'


def _ground(address: str) -> str:
    """The folder that all pages of an app are in: its address without query and file name."""
    parts = urlsplit(address)
    folder, _, last = parts.path.rpartition("/")
    path = folder if "." in last else parts.path.rstrip("/")
    return f"{parts.scheme}://{parts.netloc}{path}/"


@dataclass(frozen=True)
class Control:
    """A control whose choices the browser shows outside of the page. `sign` finds it again on a page that has changed."""

    row: int
    sign: str
    value: str
    offered: tuple[str, ...]
    chosen: tuple[str, ...]


@dataclass(frozen=True)
class Veil:
    """What lies over a page so that nothing else takes touches: a spot beside it, does any of it move, and which one it is."""

    x: float
    y: float
    moves: bool
    words: str


class DialogOpened(Exception):
    """The page has opened a dialog of the browser: nothing else is answered until that is."""


class Tab:
    """Used by one thread. `patience` seconds for each command."""

    def __init__(self, remote: Remote, clock: Clock) -> None:
        self.remote, self.clock = remote, clock
        self.patience = 30.0
        self.acted = 0.0  # when something was last done
        self.stroked = False  # was that a stroke, after which a page may go on by itself?
        self.expected = 0  # lifts of fingers that the page is told of then
        self.opened = ""  # the address of the app that was launched
        self.told = b""  # what the script printed last
        self._windows: list[str] = []
        self._look_for_windows = True

    def place(self, url: str) -> tuple[str, str]:
        """Which app an address belongs to, what was opened or the page's own origin; and where in it that is.
        Both are empty for a page that has no host, such as the empty one a browser starts on."""
        try:
            parts = urlsplit(url)
        except ValueError:
            return "", url
        if not parts.netloc:
            return "", ""
        origin = f"{parts.scheme}://{parts.netloc}"
        inside = f"{origin}{parts.path}/".startswith(_ground(self.opened)) if self.opened else False
        return (self.opened if inside else origin), parts.path + (f"#{parts.fragment}" if parts.fragment else "")

    def has_acted(self) -> None:
        """Something was done just now: the page may change, or another may open."""
        self.acted, self._look_for_windows = self.clock.now(), True

    def forget(self) -> None:
        """The session is another one."""
        self._windows, self._look_for_windows = [], True

    # reading

    def page(self, seconds: float, *, settle: bool = True) -> WebPage:
        """The page, once it is whole and rests, or as it is when that takes too long. Raises DialogOpened, LinkError, TreeUnreadable."""
        deadline, begin = Deadline(seconds), self.clock.now()
        last: WebPage | None = None
        certain = not settle or begin - self.acted >= RECENT_S or (self._frames() and not self.stroked)
        if self.stroked and settle:  # what scrolls goes on for a while, and may begin late
            self.clock.sleep(max(0.0, self.acted + STROKE_S - self.clock.now()))
            self.stroked = False
        while True:
            page = self._read(deadline)
            now = self.clock.now()
            same = last is not None and last.screen.signature == page.screen.signature
            if not settle or (not page.loading and not page.moving and (same or certain)):
                return page
            if now - begin > min(LOAD_S if page.loading else REST_S, seconds / 2):
                return page
            last, certain = page, False
            self.clock.sleep(PAUSE_S)

    def ready_for_touch(self) -> int:
        """Give the page the focus, right before it is touched; how often a finger was lifted from it, as far as it says.

        A page without the focus takes a touch for one that leaves it, and closes its lists before anything in them is chosen.
        """
        try:
            told = self.run(_READY, seconds=PROBE_S)
        except LinkError:
            return 0
        return int(told) if isinstance(told, int | float) else 0

    def _frames(self) -> bool:
        """Let the page take in what was done: input comes to it with its frames. Did it, as far as it says?"""
        expected, self.expected = self.expected, 0
        with contextlib.suppress(NoAnswer):
            try:
                return self.command("POST", "execute/async", {"script": _FRAMES, "args": [expected]}, seconds=PROBE_S) is True
            except DeviceGone:
                raise
            except LinkError as error:
                if answer_of(error) == ASKED:
                    raise DialogOpened from error
        return False

    def _read(self, deadline: Deadline) -> WebPage:
        self._follow_windows()
        begin = self.clock.now()
        while True:
            try:
                told = self.run(_script(_READ), most=TREE, seconds=deadline.but(0.0))
                if told is None and self.clock.now() - begin <= BETWEEN_S:  # so says a driver when a dialog opens meanwhile
                    self.clock.sleep(PAUSE_S)
                    continue
                if not isinstance(told, str):
                    raise TreeUnreadable("The page did not report its elements.")
                self.told = told.encode("utf-8", "replace")
                return read_page(self.told, self.place)
            except LinkError as error:
                if answer_of(error) == ASKED:
                    raise DialogOpened from error
                if answer_of(error) in GONE and self._next_window():
                    continue
                if answer_of(error) not in IN_BETWEEN:
                    raise
                late = deadline.over if answer_of(error) == BUSY else self.clock.now() - begin > BETWEEN_S
                if late:
                    raise TreeUnreadable(f"The page cannot be read: {error.sentence}") from error
                self.clock.sleep(PAUSE_S)

    def hit(self, x: float, y: float) -> WebPage | None:
        """The page as it is now, with the row that is hit at a point; None if it does not answer within a moment."""
        try:
            told = self.run(_script(_HIT), x, y, most=TREE, seconds=PROBE_S)
            return read_page(told.encode("utf-8", "replace"), self.place) if isinstance(told, str) else None
        except DeviceGone:
            raise
        except (LinkError, TreeUnreadable):
            return None

    def run(self, script: str, *words: object, most: int = WORDS, seconds: float = 0.0) -> Any:
        """What a script in the page gives."""
        body = {"script": script, "args": list(words)}
        return self.remote.command("POST", "execute/sync", body, most, seconds or self.patience)

    # windows

    def _follow_windows(self) -> None:
        """A page that opened in a window or tab of its own is the one in front; where that closed, the one before it is."""
        if not self._look_for_windows:
            return
        self._look_for_windows = False
        try:
            found = self._handles()
        except DeviceGone:
            raise
        except LinkError as error:
            if answer_of(error) == ASKED:
                raise DialogOpened from error
            return
        fresh = [each for each in found if each not in self._windows] if self._windows else []
        gone = bool(self._windows) and self._windows[-1] not in found
        self._windows = [each for each in self._windows if each in found] + fresh if self._windows else found
        if (fresh or gone) and self._windows:
            self._switch(self._windows[-1])

    def _handles(self) -> list[str]:
        with self.remote.sane():
            return [words_in(each, "a window") for each in list_in(self.command("GET", "window/handles"), "the windows")][:50]

    def _switch(self, handle: str) -> None:
        self.command("POST", "window", {"handle": handle})

    def _next_window(self) -> bool:
        self._windows = [each for each in self._windows if each in self._handles()] or self._handles()
        if self._windows:
            self._switch(self._windows[-1])
        return bool(self._windows)

    def veil(self) -> Veil | None:
        """What lies over the page; None where nothing does, or where the page does not answer."""
        try:
            said = json.loads(words_in(self.run(_script(_VEIL), seconds=PROBE_S), "what lies over it"))
            if said is None:
                return None
            with self.remote.sane():
                told = record_in(said, "what lies over it")
                return Veil(float(told["x"]), float(told["y"]), told["moves"] is True, words_in(told.get("words"), "what lies over it"))
        except DeviceGone:
            raise
        except (LinkError, ValueError, KeyError, TypeError):
            return None

    def settled_veil(self, unlike: Veil | None = None) -> Veil | None:
        """What lies over the page once it does not move any more, or is another than `unlike`; waits for that, not for long."""
        deadline = Deadline(CLOSES_S)
        found = self.veil()
        while found is not None and (found.moves or (unlike is not None and found.words == unlike.words)) and not deadline.over:
            self.clock.sleep(PAUSE_S)
            found = self.veil()
        return found

    def back(self) -> None:
        """To the page before; a window that has none is closed."""
        if len(self._windows) > 1 and self.run("return history.length;") == 1:
            self.command("DELETE", "window")
            self._next_window()
        else:
            self.command("POST", "back", {})

    def document(self) -> tuple[str, float]:
        """The address of the document that is shown, and its time origin (ms since the epoch), by which two documents differ. Raises
        LinkError while one gives way to another.
        """
        told = self.run(_DOCUMENT, seconds=PROBE_S)
        if not isinstance(told, list) or len(told) != 2 or not isinstance(told[1], int | float):
            raise LinkError(f"{self.remote.who}: the page does not say when it began.")
        return str(told[0]), float(told[1])

    def go(self, method: str, command: str, body: dict[str, Any], address: str = "") -> bool:
        """Send a command that replaces the document, and wait until the new one is there. Did the engine reach it?

        Drivers return before that; what is read then is still the old document. `address`: where it goes, which may be another place in
        the same document.
        """
        try:
            before, origin = self.document()
        except DeviceGone:
            raise
        except LinkError:
            before, origin = "", None  # not known: then the new document is the one with the address it goes to
        if "#" in address and _bare(before) == _bare(address):
            origin = 0.0
        self.command(method, command, body)
        self.has_acted()
        wanted, arrives, blank = address or before, bool(address if origin is None else origin), Deadline(PROBE_S)
        deadline, silent = Deadline(ARRIVE_S if arrives else PROBE_S), 0
        while not deadline.over:
            try:
                here, began = self.document()
            except DeviceGone:
                raise
            except NoAnswer:  # once, the computer may have been busy
                silent += 1
                if silent > 1:
                    return True
            except LinkError as error:
                if answer_of(error) not in IN_BETWEEN:
                    return True  # the new one has opened a dialog, or tells nothing
            else:
                if here.startswith("chrome-error:"):
                    return False
                another = began != origin if origin is not None else _bare(here) == _bare(wanted)
                if another and (here != BLANK or wanted == BLANK):
                    return True
                if another and blank.over:  # WebKit shows an empty page where no server answers
                    return False
            self.clock.sleep(PAUSE_S)
        return True

    # controls whose choices are shown outside of the page

    def facts(self, row: int) -> Control | None:
        """The control in a row of the page as it was read last, which gets the focus; None where it is not there any more."""
        said = self.run(_script(_DO), "facts", row, "", "")
        if said is None:
            return None
        with self.remote.sane():
            told = record_in(json.loads(words_in(said, "a control")), "a control")
            return Control(
                row=row,
                sign=words_in(told.get("sign"), "a control"),
                value=words_in(told.get("value"), "its value"),
                offered=tuple(words_in(each, "a choice") for each in list_in(told.get("options"), "its choices")[:2000]),
                chosen=tuple(words_in(each, "a choice") for each in list_in(told.get("chosen"), "its choice")),
            )

    def choose(self, control: Control, number: int) -> None:
        """Choose what a select offers, and tell the page."""
        if self.run(_script(_DO), "choose", control.row, control.sign, number) is not True:
            raise LinkError(f"{self.remote.who}: that choice is not offered any more.")

    def set_value(self, control: Control, value: str) -> None:
        """Let a date field hold a day, and tell the page."""
        if self.run(_script(_DO), "set", control.row, control.sign, value) is not True:
            raise LinkError(f"{self.remote.who}: that field is not there any more.")

    def at_file_field(self) -> bool:
        """Does a file field have the focus?"""
        return self.run("const e = document.activeElement; return !!e && e.tagName === 'INPUT' && e.type === 'file';") is True

    def give_file(self, path: str) -> None:
        """Give the field that has the focus a file of this computer."""
        found = self.command("GET", "element/active")
        with self.remote.sane():
            id = words_in(record_in(found, "the active element").get(ELEMENT), "the active element")
        self.command("POST", f"element/{id}/value", {"text": path})

    # dialogs of the browser

    def question(self) -> tuple[str, bool] | None:
        """What the open dialog says, and whether it asks for words; None where none is open."""
        try:
            said = self.command("GET", "alert/text")
        except LinkError as error:
            if answer_of(error) == "no such alert":
                return None
            raise
        try:
            self.command("POST", "alert/text", {"text": ""})
            asks = True
        except LinkError:
            asks = False
        return str(said or "")[:2000], asks

    def answer(self, yes: bool, words: str | None = None) -> None:
        """Answer it."""
        if words is not None and yes:
            self.command("POST", "alert/text", {"text": words})
        self.command("POST", "alert/accept" if yes else "alert/dismiss", {})

    def command(self, method: str, command: str, body: dict[str, Any] | None = None, most: int = WORDS, seconds: float = 0.0) -> Any:
        """One command of the session."""
        return self.remote.command(method, command, body, most, seconds or self.patience)

    def actions(self, sources: Sequence[dict[str, Any]], seconds: float = 0.0) -> None:
        """Perform actions; that a dialog opens meanwhile is seen at the next look."""
        try:
            self.command("POST", "actions", {"actions": list(sources)}, seconds=self.patience + seconds)
        except LinkError as error:
            if answer_of(error) != ASKED:
                raise


def answer_of(error: LinkError) -> str:
    """The standard's word for the error that a driver gave; empty where it gave none."""
    return str(error.facts.get("answer", ""))


def _bare(address: str) -> str:
    """An address without its place in the document, which makes no other document."""
    return address.partition("#")[0].rstrip("/")
