"""One stand-in phone: its model, its apps, what fingers and keys do to it, what can be seen of it.

A phone is a state machine that is brought up to date whenever somebody looks or touches; it has no thread of its own.
"""

from __future__ import annotations

import threading
import time
import uuid
from collections import Counter, deque
from collections.abc import Callable, Iterable
from functools import partial

from PIL import Image

from . import keyboard, package, source, system_ui, tree
from .app import App, Surroundings
from .apps import APPS, OWN
from .conditions import Conditions
from .frame import Frame
from .habits import told
from .key_map import KeyMap
from .launcher import LAUNCHER, Launcher
from .model import Model
from .panel import Panel
from .spoiling import Named, spoiled
from .system_ui import NAVIGATION, STATUS_BAR
from .toolkit import png
from .toolkit.caret import Caret
from .toolkit.fingers import Fingers, hidden_below, hit
from .toolkit.layout import Layout, Metrics
from .toolkit.node import Box, Node
from .toolkit.offsets import GLIDE_S, Offsets
from .vitals import Vitals

EDGE = 14.0  # dp from the side where a stroke belongs to the system
TRANSITION_S = 0.25  # a page change, at real pace
NO_REST_S = 10.0  # how long a tree dump waits for a screen to rest before it gives up
NO_ROOT = b"ERROR: null root node returned by UiTestAutomationBridge.\n"
RESTLESS = b"ERROR: could not get idle state.\n"


class Phone:
    """See the module. All public methods may be called from any thread."""

    def __init__(
        self,
        model: Model,
        faults: Iterable[str] = (),
        pace: str = "brisk",
        clock: Callable[[], float] = time.monotonic,
        sleep: Callable[[float], None] = time.sleep,
        build: str = "2.4",
    ) -> None:
        self.model = model
        self.number = f"{model.serial}-{uuid.uuid4().hex[:8]}"  # its own serial number: no phone of another lab has it
        self.faults, self.spoilt = frozenset(faults), tuple[Named, ...]()  # of its app, and of any page
        self.real = pace == "real"
        self.vitals = Vitals(model, self.faults)
        self.metrics = Metrics(model.density, model.text_scale)
        self.rotation = 0  # quarter turns; 1 and 3 lie on the side
        self.conditions = Conditions()
        self.lock = threading.RLock()
        self.log_lines: deque[tuple[float, str]] = deque(maxlen=2000)
        self._clock, self._sleep = clock, sleep
        self._ahead = 0.0
        self._apps: dict[str, App] = {}
        self._stored: dict[str, dict[str, object]] = {}  # what apps that do not run have stored
        self.installations: Counter[str] = Counter()  # of each app, so far
        self.asleep, self.lock_kind = False, ""  # "swipe" or "secure": what comes when it wakes
        self.skew = 0.0  # seconds its clock is ahead of this computer's
        self.free_bytes = 1 << 40  # for packages
        self._installed: dict[str, Callable[[], App]] = {name: partial(app, self, build) for name, app in APPS.items()}
        self._permitted: set[tuple[str, str]] = set()
        self._question: Node | None = None
        self._asks = ""  # the package whose question it is
        self._launcher = Launcher(lambda: [(p, APPS[p].label) for p in self._installed], self.launch)
        self._front = LAUNCHER
        self._focus: str | None = None
        self._keyboard_up, self._caret, self._key_map = False, Caret(), KeyMap()
        self._offsets = Offsets()
        self._starts = 0  # of an app, so far
        self._busy_until = 0.0
        self._frame: Frame | None = None
        self._png: bytes | None = None
        self._image: Image.Image | None = None
        self._bar: Node | None = None
        self._fingers = Fingers(self._hit, self._scroll_by, self._at_edge, lambda: self.key("BACK"))
        self.panel = Panel()

    # its screen

    @property
    def lying(self) -> bool:
        return self.rotation % 2 == 1

    @property
    def size_px(self) -> tuple[int, int]:
        """Width and height as the phone is held."""
        upright = self.model.width_px, self.model.height_px
        return upright[::-1] if self.lying else upright

    @property
    def width(self) -> float:
        """In dp, as is the height."""
        return self.size_px[0] / self.model.density

    @property
    def height(self) -> float:
        return self.size_px[1] / self.model.density

    def turn(self, rotation: int) -> None:
        """Quarter turns from upright, against the clock."""
        with self.lock:
            if rotation % 4 != self.rotation:
                self.rotation = rotation % 4
                self._offsets.clear()
                for app in self._apps.values():
                    app.turned()
                self._transition()
                self.log("WindowManager", f"rotation {self.rotation}")

    # what the phone does for its apps

    def online(self) -> bool:
        return self.conditions.online

    def scale_text(self, scale: float) -> None:
        """The user's text size; 1.0 is ordinary."""
        with self.lock:
            self.metrics = Metrics(self.model.density, scale)
            self._changed()

    def change(self, change: Callable[[Conditions], None]) -> None:
        """Have its conditions otherwise."""
        with self.lock:
            change(self.conditions)
            self._changed()

    def ring(self, caller: str) -> None:
        """A call comes in over whatever is there; from nobody: it ends."""
        with self.lock:
            self._question = system_ui.call(caller, self.model.locale, lambda: self.ring("")) if caller else None
            self._asks = system_ui.DIALERS[self.model.platform] if caller else ""
            self._transition()
            self.log("Telecom", f"call {caller}" if caller else "call ended")

    def permit(self, what: str, granted: Callable[[], object]) -> None:
        app = self._app(self._front)

        def answer(yes: bool) -> None:
            self._question = None
            if yes:
                self._permitted.add((app.package, what))
                granted()

        if (app.package, what) in self._permitted:
            granted()
        else:
            self._question = system_ui.permission(app.label, what, self.model.locale, answer)
            self._asks = system_ui.PERMISSIONS[self.model.platform]

    def now(self) -> float:
        return self._clock() + self._ahead

    def log(self, tag: str, words: str) -> None:
        self.log_lines.append((self.wall(), f"I {tag}: {words}"))

    def wall(self) -> float:
        """Its own time of day, seconds since the epoch."""
        return time.time() + self.skew

    def fall_asleep(self, lock: str = "") -> None:
        """The screen goes dark, with a lock: "swipe", "secure" or none."""
        with self.lock:
            self.asleep, self.lock_kind = True, lock
            self._question = system_ui.locked(lock) if lock else self._question
            self._changed()

    def wake(self) -> None:
        with self.lock:
            self.asleep = False
            self._transition()

    def unlock(self) -> None:
        """Put aside a lock that asks for nothing."""
        with self.lock:
            if self.lock_kind == "swipe":
                self.lock_kind, self._question = "", None
            self._transition()

    def busy(self, seconds: float) -> None:
        self._busy_until = max(self._busy_until, self.now() + seconds)

    def crash(self, reason: str) -> None:
        package = self._front
        self.log_lines.append((self.wall(), f"E AndroidRuntime: FATAL EXCEPTION: main Process: {package} {reason}"))
        self.stop(package)

    def focused(self) -> str | None:
        return self._focus

    def focus(self, key: str | None) -> None:
        self._focus = key
        self._keyboard_up = key is not None
        self._changed()
        if key is not None:
            self._reveal(key)

    # apps

    def installed(self) -> list[tuple[str, str]]:
        """Package and version of each app besides the launcher."""
        return [(package, self._app(package).version) for package in self._installed]

    def uninstall(self, package: str) -> bool:
        """Remove an app and its data; False for one that is not there, or that the phone came with."""
        with self.lock:
            if package in OWN or package not in self._installed:
                return False
            self.clear(package)
            del self._installed[package]
            self._changed()
            self.log("PackageManager", f"uninstalled {package}")
            return True

    def install(self, data: bytes) -> None:
        """Install an app from a package file; its data stays. Raises ValueError, in a package manager's words, for what is not taken."""
        try:
            name, version = package.unpack(data)
        except ValueError as error:
            raise ValueError(f"INSTALL_PARSE_FAILED_NOT_APK: {error}") from error
        if name not in APPS:
            raise ValueError(f"INSTALL_PARSE_FAILED_NOT_APK: {name} has nothing that runs here")
        if len(data) > self.free_bytes:
            raise ValueError("INSTALL_FAILED_INSUFFICIENT_STORAGE: Failed to override installation location")
        with self.lock:
            there = dict(self.installed()).get(name)
            if there is not None and package.order(version) < package.order(there):
                raise ValueError(f"INSTALL_FAILED_VERSION_DOWNGRADE: Downgrade detected: {version} over {there}")
            self.stop(name)
            self._installed[name] = partial(APPS[name], self, version)
            self.installations[name] += 1
            self.log("PackageManager", f"installed {name} {version}")

    def front(self) -> tuple[str, str]:
        """Package and activity of the app in front."""
        with self.lock:
            if self.lock_kind:
                return "com.android.systemui", ".Keyguard"
            if self._question is not None:
                return self._asks, ".Grant"
            app = self._app(self._front)
            return app.package, app.activity()

    def open(self, address: str) -> bool:
        """Have the first app that knows an address go there; False where none does."""
        with self.lock:
            app = next((name for name in self._installed if self._app(name).opens(address)), "")
            return bool(app) and self.launch(app)

    def launch(self, package: str) -> bool:
        with self.lock:
            if package != LAUNCHER and package not in self._installed:
                return False
            self._front = package
            self.focus(None)
            self._transition()
            self.log("ActivityManager", f"start {package}")
            return True

    def stop(self, package: str) -> None:
        with self.lock:
            running = self._apps.pop(package, None)
            self.vitals.stopped(package)
            if running is not None:
                self._stored[package] = {name: getattr(running, name) for name in running.keeps}
            self._starts += 1
            self._offsets.clear()
            self._question = None
            if self._front == package:
                self._front = LAUNCHER
                self.focus(None)
            self._changed()

    def clear(self, package: str) -> bool:
        with self.lock:
            self.stop(package)
            self._stored.pop(package, None)
            self._permitted = {(app, what) for app, what in self._permitted if app != package}
            return package in self._installed

    def _app(self, package: str) -> App:
        if package == LAUNCHER:
            return self._launcher
        if package not in self._apps:
            app = self._installed[package]()
            for name, value in self._stored.pop(package, {}).items():
                setattr(app, name, value)
            self._apps[package] = spoiled(app, self.spoilt, self)
            self.vitals.started(package)
        return self._apps[package]

    # input

    def pointer(self, action: str, pointer: int, x_px: float, y_px: float, at: float) -> None:
        """One raw pointer event. `at` in seconds of the event's own time."""
        with self.lock:
            if self.asleep:
                return
            self.vitals.touched(self._front) if action == "up" else None
            before, x, y = self.front(), x_px / self.model.density, y_px / self.model.density
            field = self._hit(x, y)[0] if action == "up" else None
            self._fingers.event(action, pointer, x, y, at)
            if field is not None and field.on_text and field.key == self._focus:
                self._caret.put(field, x, y, self.metrics)
            self._changed()
            if self.front() != before:
                self._transition()

    def panel_touch(self, action: str, finger: int, x_px: float, y_px: float, at: float) -> None:
        """A touch in the panel's own axes, which do not turn with the screen."""
        wide, tall = self.model.width_px, self.model.height_px
        shown = {0: (x_px, y_px), 1: (y_px, wide - 1 - x_px), 2: (wide - 1 - x_px, tall - 1 - y_px), 3: (tall - 1 - y_px, x_px)}
        self.pointer(action, finger, *shown[self.rotation], at)

    def hand(self, action: str, finger: int, x_px: float, y_px: float, at: float) -> None:
        """The user's own finger on the glass: the panel reports it in its own axes, and it does what fingers do."""
        wide, tall = self.model.width_px, self.model.height_px
        panel = {0: (x_px, y_px), 1: (wide - 1 - y_px, x_px), 2: (wide - 1 - x_px, tall - 1 - y_px), 3: (y_px, tall - 1 - x_px)}
        self.panel.touch(action, finger, *panel[self.rotation], at)
        self.pointer(action, finger, x_px, y_px, at)

    def key(self, name: str) -> None:
        """A key by its platform name without prefix: BACK, HOME, DEL, ENTER, MOVE_END ..."""
        with self.lock:
            if name == "WAKEUP":
                self.wake()
            elif self.asleep or self.lock_kind:
                return
            elif name == "BACK":
                if self._question is not None:
                    self._question = None
                elif self._keyboard_up and self.model.platform == "android":
                    self._keyboard_up = False
                else:
                    self.focus(None)
                    if not self._app(self._front).back():
                        self._front = LAUNCHER
                self._transition()
            elif name == "HOME":
                self._front = LAUNCHER
                self.focus(None)
                self._transition()
            else:
                self._edit(lambda field: self._caret.press(field, name))

    def lower_keyboard(self) -> None:
        with self.lock:
            self._keyboard_up = False
            self._transition()

    def letter_key(self, code: str, held: frozenset[str]) -> bool:
        """Press a key of a letter, with others held; False where it is no letter's."""
        with self.lock:
            letter = self._key_map.letter(code, held)
        if letter:
            self.text(letter)
        return letter is not None

    def text(self, words: str) -> None:
        """Type into the focused field; lost where there is none, as on a phone."""
        with self.lock:
            self._edit(lambda field: self._caret.type(field.text, words))

    def _edit(self, change: Callable[[Node], str]) -> None:
        field = next((n for n in self.frame().page.walk() if n.key == self._focus and n.on_text), None) if self._focus else None
        text = change(field) if field is not None else ""
        if field is not None and field.on_text is not None and text != field.text:
            field.on_text(text)
        self._changed()

    def sleep(self, seconds: float) -> None:
        """Let a gesture's own time pass: really at real pace; when brisk only the phone's clock moves on."""
        if self.real:
            self._sleep(seconds)
        else:
            with self.lock:
                self._ahead += seconds

    # what can be seen

    def png(self) -> bytes:
        with self.lock:
            self.frame()
            if self._png is None:
                self._png = png.encode(self.picture())
            return self._png

    def picture(self) -> Image.Image:
        """The screen as it is now, RGB, in pixels."""
        with self.lock:
            frame = self.frame()
            if self.asleep:
                return Image.new("RGB", self.size_px)
            if self._image is None:
                self._image = frame.painted(self._bar, self.size_px, self.metrics)
            return self._image

    def dump(self) -> bytes:
        """The element tree once the screen rests; an error in its place where it never does."""
        if self.asleep:
            return NO_ROOT
        if self._wait_for_rest():
            return RESTLESS
        with self.lock:
            return tree.dump(self._told(), self.front()[0], self.model, self._focus, self.rotation)

    def source(self) -> bytes:
        """The element tree as the second platform prints it, once the screen rests."""
        self._wait_for_rest()
        with self.lock:
            app, frame = self._app(self._front), self.frame()
            return source.source(self._told(), self.front()[0], app.label, self.model, (self.width, self.height), self._focus, frame.keys)

    def _told(self) -> Node:
        """The page as its toolkit tells of it; what is the system's own tells all."""
        own = self._question is not None or self._front == LAUNCHER
        return told(self.frame().page, "views" if own else self.model.toolkit, self._starts)

    def _wait_for_rest(self) -> bool:
        """Let the screen come to rest and the dump take its time; True when it never rests."""
        self.rest()
        with self.lock:
            restless = self._question is None and self._app(self._front).restless()
        if self.real:
            self._sleep(NO_REST_S if restless else self.model.dump_s)
        return restless

    def rest(self) -> None:
        with self.lock:
            left = self._busy_until - self.now()
        if left > 0:
            self._sleep(left)

    def keyboard_box_px(self) -> tuple[int, int, int, int] | None:
        with self.lock:
            keys = self.frame().keys
            if keys is None:
                return None
            k = self.model.density
            return (round(keys.box.left * k), round(keys.box.top * k), round(keys.box.right * k), round(keys.box.bottom * k))

    # inside

    def _changed(self) -> None:
        self._frame = None

    def _transition(self) -> None:
        self._changed()
        if self.real:
            self._busy_until = max(self._busy_until, self.now() + TRANSITION_S)

    def frame(self) -> Frame:
        with self.lock:
            now = self.now()
            self._fingers.pass_time(now) if self.real else None
            if self._frame is not None and (self._frame.until is None or now < self._frame.until):
                return self._frame
            self._offsets.glide_on(now)
            app = self._app(self._front)
            tall = keyboard.height(self.width) if self._keyboard_up else 0.0
            covers = "keyboard-covers" in self.faults
            bottom = self.height if covers else self.height - tall
            layout = Layout(self.metrics, self._offsets.here)
            self._bar = None
            if self.model.back == "keys" and not self._keyboard_up:
                bottom -= NAVIGATION
                self._bar = system_ui.navigation(lambda: self.key("BACK"), lambda: self.key("HOME"))
                layout.run(self._bar, Box(0, bottom, self.width, self.height))
            page = self._question or app.page(self._around(bottom))
            layout.run(page, Box(0, STATUS_BAR, self.width, bottom))
            keys = None
            if self._keyboard_up:
                keys = keyboard.keyboard(self.text, lambda: self.key("DEL"), self.lower_keyboard)
                layout.run(keys, Box(0, self.height - tall, self.width, self.height))
            until = now if self._offsets.gliding else app.next_change()
            self._frame, self._png, self._image = Frame(page, keys, until), None, None
            self.vitals.painted(self._front)
            return self._frame

    def _around(self, bottom: float) -> Surroundings:
        model = self.model
        ways = (model.back, model.choice, model.date, model.look, self.conditions.dark)
        locale = self.conditions.app_locales.get(self._front) or model.locale
        return Surroundings(self.width, bottom - STATUS_BAR, model.platform, locale, self.faults, self._keyboard_up, *ways)

    def _at_edge(self, x: float) -> bool:
        return self.model.back == "gesture" and not EDGE <= x < self.width - EDGE

    def _hit(self, x: float, y: float) -> tuple[Node | None, Node | None]:
        frame = self.frame()
        if self._bar is not None and y >= self._bar.box.top:
            return hit(self._bar, x, y)
        if frame.keys is not None and y >= frame.keys.box.top:
            return hit(frame.keys, x, y)
        return hit(frame.page, x, y)

    def _scroll_by(self, node: Node, distance: float, glide: float) -> None:
        if self._offsets.move(node.key, node.reach, distance, glide, self.now() if self.real else None):
            self._busy_until = max(self._busy_until, self.now() + GLIDE_S)
        self._changed()

    def _reveal(self, key: str) -> None:
        """Scroll the focused field above the keyboard, where the window made room for it."""
        holder, below = hidden_below(self.frame().page, key)
        if holder is not None and below > 0:
            self._scroll_by(holder, below, 0.0)
