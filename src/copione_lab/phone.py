"""One stand-in phone: its model, its apps, what fingers and keys do to it, what can be seen of it.

A phone is a state machine that is brought up to date whenever somebody looks or touches; it has no thread of its own.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PIL import Image, ImageDraw

from . import keyboard, source, tree
from .app import App, Surroundings
from .hive_diary import HiveDiary
from .launcher import LAUNCHER, Launcher
from .model import Model
from .panel import Panel
from .toolkit import fonts, png
from .toolkit.fingers import Fingers, hit
from .toolkit.layout import Layout, Metrics
from .toolkit.node import Box, Node
from .toolkit.paint import Painter

STATUS_BAR = 24.0  # dp
TRANSITION_S = 0.25  # a page change, at real pace
GLIDE_S = 0.6  # a fling that runs out, at real pace
DUMP_S = 0.4  # what a tree dump takes at real pace, besides waiting for rest


@dataclass
class _Glide:
    begin: float
    end: float
    since: float


@dataclass(frozen=True)
class Frame:
    """What is on the screen: the app's tree, the keyboard over it, and until when it stays so."""

    page: Node
    keys: Node | None
    until: float | None


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
        self.faults = frozenset(faults)
        self.real = pace == "real"
        self.metrics = Metrics(model.density, model.text_scale)
        self.width = model.width_px / model.density
        self.height = model.height_px / model.density
        self.lock = threading.RLock()
        self.log_lines: deque[tuple[float, str]] = deque(maxlen=2000)
        self._clock, self._sleep = clock, sleep
        self._ahead = 0.0
        self._apps: dict[str, App] = {}
        self._installed: dict[str, Callable[[], App]] = {HiveDiary.package: lambda: HiveDiary(self, build)}
        self._launcher = Launcher(lambda: [(p, "Hive Diary") for p in self._installed], self.launch)
        self._front = LAUNCHER
        self._focus: str | None = None
        self._keyboard_up = False
        self._scroll: dict[str, float] = {}
        self._glides: dict[str, _Glide] = {}
        self._busy_until = 0.0
        self._frame: Frame | None = None
        self._png: bytes | None = None
        self._image: Image.Image | None = None
        self._fingers = Fingers(self._hit, self._scroll_by)
        self.panel = Panel()

    # what the phone does for its apps

    def now(self) -> float:
        return self._clock() + self._ahead

    def log(self, tag: str, words: str) -> None:
        self.log_lines.append((time.time(), f"I {tag}: {words}"))

    def busy(self, seconds: float) -> None:
        self._busy_until = max(self._busy_until, self.now() + seconds)

    def crash(self, reason: str) -> None:
        package = self._front
        self.log_lines.append((time.time(), f"E AndroidRuntime: FATAL EXCEPTION: main Process: {package} {reason}"))
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

    def uninstall(self, package: str) -> None:
        with self.lock:
            self.stop(package)
            self._installed.pop(package, None)
            self._changed()

    def front(self) -> tuple[str, str]:
        """Package and activity of the app in front."""
        with self.lock:
            app = self._app(self._front)
            return app.package, app.activity()

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
            self._apps.pop(package, None)
            self._scroll.clear()
            if self._front == package:
                self._front = LAUNCHER
                self.focus(None)
            self._changed()

    def clear(self, package: str) -> bool:
        with self.lock:
            self.stop(package)
            return package in self._installed

    def _app(self, package: str) -> App:
        if package == LAUNCHER:
            return self._launcher
        if package not in self._apps:
            self._apps[package] = self._installed[package]()
        return self._apps[package]

    # input

    def pointer(self, action: str, pointer: int, x_px: float, y_px: float, at: float) -> None:
        """One raw pointer event. `at` in seconds of the event's own time."""
        with self.lock:
            before = self.front()
            self._fingers.event(action, pointer, x_px / self.model.density, y_px / self.model.density, at)
            self._changed()
            if self.front() != before:
                self._transition()

    def hand(self, action: str, finger: int, x_px: float, y_px: float, at: float) -> None:
        """The user's own finger on the glass: the panel reports it, and it does what fingers do."""
        self.panel.touch(action, finger, x_px, y_px, at)
        self.pointer(action, finger, x_px, y_px, at)

    def key(self, name: str) -> None:
        """A key by its platform name without prefix: BACK, HOME, DEL, ENTER, MOVE_END ..."""
        with self.lock:
            if name == "BACK":
                if self._keyboard_up:
                    self._keyboard_up = False
                elif not self._app(self._front).back():
                    self._front = LAUNCHER
                self._transition()
            elif name == "HOME":
                self._front = LAUNCHER
                self.focus(None)
                self._transition()
            elif name == "DEL":
                self._edit(lambda words: words[:-1])
            elif name == "ENTER":
                self._edit(lambda words: words + "\n")
            self._changed()

    def text(self, words: str) -> None:
        """Type into the focused field; lost where there is none, as on a phone."""
        with self.lock:
            self._edit(lambda before: before + words)

    def _edit(self, change: Callable[[str], str]) -> None:
        if self._focus is None:
            return
        for node in self.frame().page.walk():
            if node.key == self._focus and node.on_text:
                node.on_text(change(node.text))
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
            if self._image is None:
                self._image = self._paint(frame)
            return self._image

    def dump(self) -> bytes:
        """The element tree once the screen rests."""
        self.rest()
        if self.real:
            self._sleep(DUMP_S)
        with self.lock:
            app = self._app(self._front)
            return tree.dump(self.frame().page, app.package, self.model, self._focus)

    def source(self) -> bytes:
        """The element tree as the second platform prints it, once the screen rests."""
        self.rest()
        if self.real:
            self._sleep(DUMP_S)
        with self.lock:
            app, frame = self._app(self._front), self.frame()
            return source.source(frame.page, app.package, app.label, self.model, self._focus, frame.keys)

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
            self._glide_on(now)
            app = self._app(self._front)
            tall = keyboard.height(self.width) if self._keyboard_up else 0.0
            covers = "keyboard-covers" in self.faults
            bottom = self.height if covers else self.height - tall
            around = Surroundings(self.width, bottom - STATUS_BAR, self.model.platform, self.model.locale, self.faults, self._keyboard_up)
            page = app.page(around)
            layout = Layout(self.metrics, self._scroll)
            layout.run(page, Box(0, STATUS_BAR, self.width, bottom))
            keys = None
            if self._keyboard_up:
                keys = keyboard.keyboard(self.text, lambda: self.key("DEL"), lambda: self.key("BACK"))
                layout.run(keys, Box(0, self.height - tall, self.width, self.height))
            until = now if self._glides else app.next_change()
            self._frame, self._png, self._image = Frame(page, keys, until), None, None
            return self._frame

    def _hit(self, x: float, y: float) -> tuple[Node | None, Node | None]:
        frame = self.frame()
        if frame.keys is not None and y >= frame.keys.box.top:
            return hit(frame.keys, x, y)
        return hit(frame.page, x, y)

    def _scroll_by(self, node: Node, distance: float, glide: float) -> None:
        here = self._scroll.get(node.key, 0.0)
        self._glides.pop(node.key, None)
        there = min(node.reach, max(0.0, here + distance))
        self._scroll[node.key] = there
        if glide:
            end = min(node.reach, max(0.0, there + glide))
            if self.real:
                now = self.now()
                self._glides[node.key] = _Glide(there, end, now)
                self._busy_until = max(self._busy_until, now + GLIDE_S)
            else:
                self._scroll[node.key] = end
        self._changed()

    def _glide_on(self, now: float) -> None:
        for key, glide in list(self._glides.items()):
            share = min(1.0, (now - glide.since) / GLIDE_S)
            self._scroll[key] = glide.begin + (glide.end - glide.begin) * (1 - (1 - share) ** 3)
            if share >= 1.0:
                del self._glides[key]

    def _reveal(self, key: str) -> None:
        """Scroll the focused field above the keyboard, where the window made room for it."""
        frame = self.frame()
        holder: Node | None = None
        for node in frame.page.walk():
            if node.kind in {"scroll", "list"}:
                holder = node
            if node.key == key and node is not holder and holder is not None:
                below = node.box.bottom + 8 - holder.box.bottom
                if below > 0 and holder.reach > 0:
                    self._scroll_by(holder, below, 0.0)
                return

    def _paint(self, frame: Frame) -> Image.Image:
        app_fill = frame.page.fill or "#000000"
        image = Image.new("RGB", (self.model.width_px, self.model.height_px), app_fill)
        painter = Painter(image, self.metrics)
        painter.tree(frame.page)
        if frame.keys is not None:
            painter.tree(frame.keys)
        self._paint_status(image)
        return image

    def _paint_status(self, image: Image.Image) -> None:
        k = self.model.density
        draw = ImageDraw.Draw(image)
        draw.rectangle((0, 0, image.width, round(STATUS_BAR * k) - 1), fill="#22301F")
        face = fonts.font("Medium", round(12 * k))
        middle = STATUS_BAR * k / 2
        draw.text((14 * k, middle), "10:22", font=face, fill="#E9EDE4", anchor="lm")
        right = image.width - 14 * k
        draw.rounded_rectangle(
            (right - 18 * k, middle - 4.5 * k, right, middle + 4.5 * k), 2 * k, outline="#E9EDE4", width=max(1, round(k))
        )
        draw.rectangle((right - 16 * k, middle - 2.5 * k, right - 6 * k, middle + 2.5 * k), fill="#E9EDE4")
