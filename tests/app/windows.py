"""A window on stand-in phones, and a hand that uses it."""

from __future__ import annotations

import shutil
import time
from collections.abc import Callable

from PySide6.QtCore import QPoint, QSettings, Qt, QtMsgType, qInstallMessageHandler
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from copione.app import theme
from copione.app.main import build
from copione.links.bench import Bench
from copione.model.screen import Element
from copione.project.project import Project

from ..benches import EXAMPLE, LabCase

LIMIT_S = 60


def application() -> QApplication:
    app = QApplication.instance()
    if app is None:
        app = QApplication([])
        theme.apply(app)
    return app


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
            shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings"))
        self.settings = QSettings(str(self.scratch / "window.ini"), QSettings.Format.IniFormat)
        self.window = self.open()

    def open(self):
        window = build(Bench(self.server), Project.create(self.scratch / "project", "Hive Diary"), self.settings)
        window.show()
        window.workspace.begin()
        self.until(lambda: len([d for d in window.workspace.devices if d.ready]) == 3 and window.workspace.lead.moment is not None)
        return window

    def _warned(self, kind: QtMsgType, _context: object, words: str) -> None:
        if kind != QtMsgType.QtDebugMsg and not words.startswith("This plugin does not support"):
            self.warned.append(words)

    def close_window(self, window) -> None:
        window.close()
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

    # a hand on the mirror

    @property
    def lead(self):
        return self.window.workspace.lead

    @property
    def mirror(self):
        return self.window.stage.mirror

    def idle(self) -> None:
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
        QTest.mouseClick(self.mirror, Qt.MouseButton.LeftButton, pos=self.at(*self.see(role, name).box.centre))
        self.idle()

    def drag(self, begin: tuple[float, float], end: tuple[float, float]) -> None:
        QTest.mousePress(self.mirror, Qt.MouseButton.LeftButton, pos=self.at(*begin))
        for i in range(1, 9):
            QTest.mouseMove(self.mirror, self.at(*(b + (e - b) * i / 8 for b, e in zip(begin, end, strict=True))))
        QTest.mouseRelease(self.mirror, Qt.MouseButton.LeftButton, pos=self.at(*end))
        self.idle()

    def type(self, words: str) -> None:
        QTest.keyClicks(self.mirror, words)
        self.mirror.flush()
        self.idle()

    def check(self, role: str, name: str, key: Qt.Key) -> None:
        """Hold C, click, and take a check by its number."""
        place = self.at(*self.see(role, name).box.centre)
        QTest.keyPress(self.mirror, Qt.Key.Key_C)
        QTest.mouseClick(self.mirror, Qt.MouseButton.LeftButton, pos=place)
        QTest.keyRelease(self.mirror, Qt.Key.Key_C)
        self.assertTrue(self.window.stage.choice.isVisible())
        QTest.keyClick(self.window.stage.choice, key)
        self.idle()

    def record(self) -> None:
        self.tap("generic", "Hive Diary")
        QTest.mouseClick(self.window.main, Qt.MouseButton.LeftButton)
        self.until(lambda: self.lead.recording and self.lead.idle)

    def words(self) -> list[str]:
        return [s.words for s in self.lead.steps]
