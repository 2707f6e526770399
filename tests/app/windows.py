"""A window on stand-in phones, and a hand that uses it: every key and click goes to the window, which finds the widget it is meant for."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PySide6.QtCore import QPoint, QPointF, QSettings, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtGui import QWheelEvent, QWindow
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMessageBox, QWidget

from copione.app import theme
from copione.app.main import build
from copione.app.sheet import Sheet
from copione.links.bench import Bench
from copione.model.screen import Element
from copione.project.demo import copy_demo
from copione.project.project import Project

from ..benches import LabCase

LIMIT_S = 240  # a busy computer is no failure: this only ends what hangs
CTRL, SHIFT, NONE = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.NoModifier


def application() -> QApplication:
    app = QApplication.instance()
    if app is None:
        app = QApplication([])
        theme.apply(app)
    return app


def handle_of(widget: QWidget) -> QWindow:
    """The window that a widget is in, as the window system knows it."""
    return widget.window().windowHandle()


def press(widget: QWidget, at: QPoint, keys: Qt.KeyboardModifier = NONE) -> None:
    QTest.mousePress(handle_of(widget), Qt.MouseButton.LeftButton, keys, widget.mapTo(widget.window(), at))


def move(widget: QWidget, to: QPoint) -> None:
    QTest.mouseMove(handle_of(widget), widget.mapTo(widget.window(), to))


def release(widget: QWidget, at: QPoint, keys: Qt.KeyboardModifier = NONE) -> None:
    QTest.mouseRelease(handle_of(widget), Qt.MouseButton.LeftButton, keys, widget.mapTo(widget.window(), at))


def click(widget: QWidget, at: QPoint | None = None) -> None:
    """A click where a widget is, at its middle or at a point of it."""
    QApplication.processEvents()  # what moves it now has moved it
    at = at if at is not None else widget.rect().center()
    move(widget, at)
    press(widget, at)
    release(widget, at)


class WindowCase(LabCase):
    """The real window with the stand-in phones; what Qt warns of fails the test."""

    project = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.app = application()
        self.warned: list[str] = []
        qInstallMessageHandler(self._warned)
        folder = self.scratch / "project"
        if self.project == "demo":
            copy_demo(folder)
        self.settings = QSettings(str(self.scratch / "window.ini"), QSettings.Format.IniFormat)
        self.window = self.open()

    def open(self, stand_ins: bool = True):
        window = build(Bench(self.server, stand_ins=stand_ins), Project.create(self.scratch / "project", "Hive Diary"), self.settings)
        window.show()
        window.workspace.begin()
        ready = lambda: len([d for d in window.workspace.devices if d.ready]) == 3 and window.workspace.lead.moment is not None  # noqa: E731
        self.until(lambda: ready() and (self.project == "new" or window.workspace.loaded is not None))
        return window

    def _warned(self, kind: QtMsgType, _context: object, words: str) -> None:
        if kind != QtMsgType.QtDebugMsg and not words.startswith("This plugin does not support"):
            self.warned.append(words)

    def close_window(self, window) -> None:
        window.close()
        window.workspace.wait_closed()
        window.deleteLater()
        self.app.processEvents()

    def tearDown(self) -> None:
        self.close_window(self.window)
        qInstallMessageHandler(None)
        self.assertEqual(self.warned, [])

    def until(self, true: Callable[[], object]) -> None:
        """Let the window work until something holds."""
        limit = time.monotonic() + LIMIT_S
        while not true():
            self.assertLess(time.monotonic(), limit, "the window did not get there")
            self.app.processEvents()
            QTest.qWait(5)

    # its parts

    @property
    def workspace(self):
        return self.window.workspace

    @property
    def lead(self):
        return self.workspace.lead

    @property
    def recorder(self):
        return self.workspace.recorder

    @property
    def stage(self):
        return self.window.page(0)

    @property
    def script(self):
        return self.window.page(1)

    @property
    def lanes(self):
        return self.window.page(2)

    @property
    def findings(self):
        return self.window.page(3)

    @property
    def mirror(self):
        return self.stage.mirror

    @property
    def page(self) -> str:
        """The page in sight."""
        return self.window.current.title

    # a hand

    def key(self, key: Qt.Key, keys: Qt.KeyboardModifier = NONE) -> None:
        QTest.keyClick(self.window.windowHandle(), key, keys)

    def keys(self, words: str) -> None:
        """Letters, for whatever has the focus."""
        for letter in words:
            QTest.keyClick(self.window.windowHandle(), letter)

    def idle(self) -> None:
        self.mirror.flush()  # nothing waits for a second tap: the journeys do
        self.until(lambda: self.lead.idle)
        self.app.processEvents()

    def see(self, role: str, name: str) -> Element:
        def look() -> Element | None:
            screen = self.lead.moment.screen if self.lead.moment else None
            return next((e for e in screen or () if (e.role, e.name) == (role, name)), None)

        self.until(lambda: self.lead.idle and look() is not None)
        return look()

    def at(self, x: float, y: float) -> QPoint:
        return self.mirror.from_dp(x, y).toPoint()

    def tap(self, role: str, name: str) -> None:
        click(self.mirror, self.at(*self.see(role, name).box.centre))
        self.idle()

    def drag(self, begin: tuple[float, float], end: tuple[float, float]) -> None:
        press(self.mirror, self.at(*begin))
        for i in range(1, 9):
            move(self.mirror, self.at(*(b + (e - b) * i / 8 for b, e in zip(begin, end, strict=True))))
        release(self.mirror, self.at(*end))
        self.idle()

    def turn_wheel(self, at: QPointF, notches: int) -> None:
        place = QPointF(self.mirror.mapTo(self.window, at.toPoint()))
        turned = QPoint(0, 120 * notches)
        buttons, phase = Qt.MouseButton.NoButton, Qt.ScrollPhase.NoScrollPhase
        self.app.sendEvent(
            self.window.windowHandle(), QWheelEvent(place, self.window.mapToGlobal(place), QPoint(), turned, buttons, NONE, phase, False)
        )
        self.idle()

    def type(self, words: str) -> None:
        self.keys(words)
        self.mirror.flush()
        self.idle()

    def hold_c(self) -> None:
        QTest.keyPress(self.window.windowHandle(), Qt.Key.Key_C)

    def let_go_of_c(self) -> None:
        QTest.keyRelease(self.window.windowHandle(), Qt.Key.Key_C)

    def check(self, role: str, name: str, key: Qt.Key) -> None:
        """Hold C, click, and take a check by its number."""
        place = self.at(*self.see(role, name).box.centre)
        self.hold_c()
        click(self.mirror, place)
        self.until(self.stage.choice.isVisible)
        self.let_go_of_c()
        self.key(key)
        self.idle()

    def record(self) -> None:
        self.tap("generic", "Hive Diary")
        click(self.window.main)
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)

    def answer(self) -> None:
        """Whatever a sheet asks, as it stands: Enter."""
        self.until(lambda: self.sheet is not None and self.sheet.main.isEnabled())
        self.key(Qt.Key.Key_Return)

    @contextmanager
    def asked(self, button: str = "") -> Iterator[list[str]]:
        """What is asked meanwhile, each answered by that button, or as it stands: Enter."""
        said: list[str] = []

        def answer() -> None:
            box = self.app.activeModalWidget()
            if isinstance(box, QMessageBox) and box.isVisible():
                said.append(box.text())
                if button:
                    click(next(each for each in box.buttons() if each.text() == button))
                else:
                    QTest.keyClick(box.windowHandle(), Qt.Key.Key_Return)

        looking = QTimer(interval=20)
        looking.timeout.connect(answer)
        looking.start()
        yield said
        looking.stop()
        self.bring_to_front()

    def bring_to_front(self) -> None:
        """As a window manager does when a question is gone."""
        self.until(lambda: self.app.activeModalWidget() is None)
        self.window.activateWindow()
        self.until(self.window.isActiveWindow)
        self.app.processEvents()

    @property
    def sheet(self) -> Sheet | None:
        """The sheet that lies over the window."""
        return next((sheet for sheet in self.window.findChildren(Sheet) if sheet.isVisible()), None)

    def save(self, name: str) -> None:
        """Stop recording, and give the script a name."""
        click(self.window.main)
        self.until(lambda: self.sheet is not None)
        self.keys(name)
        self.answer()
        self.until(lambda: not self.recorder.active and self.workspace.loaded is not None)

    def words(self) -> list[str]:
        return [s.words for s in self.recorder.steps]
