"""A person at the window, for whoever takes pictures of it: clicks and drags on the mirror, types, chooses checks."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from copione.app.sheet import Sheet
from copione.app.window import MainWindow
from copione.model.screen import Element


def until(true: Callable[[], object], seconds: float = 180.0) -> None:
    """Let the window work until something holds."""
    limit = time.monotonic() + seconds
    while not true():
        if time.monotonic() > limit:
            raise TimeoutError("The window did not get there.")
        QTest.qWait(20)


class Hand:
    """A person at the window: clicks and drags on the mirror, types, chooses checks."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.mirror = window.page(0).mirror
        self.lead = window.workspace.lead
        self.recorder = window.workspace.recorder

    def idle(self) -> None:
        self.mirror.flush()
        until(lambda: self.lead.idle and self.lead.moment is not None)

    def element(self, role: str, name: str) -> Element:
        def found() -> Element | None:
            moment = self.lead.moment
            screen = moment.screen if moment else None
            return next((e for e in screen if e.role == role and e.name == name), None) if screen else None

        until(lambda: self.lead.idle and found() is not None)
        element = found()
        assert element is not None
        return element

    def point(self, x: float, y: float) -> QPoint:
        return self.mirror.from_dp(x, y).toPoint()

    def tap(self, role: str, name: str) -> None:
        place = self.point(*self.element(role, name).box.centre)
        QTest.mouseClick(self.mirror, Qt.MouseButton.LeftButton, pos=place)
        self.idle()

    def drag(self, begin: tuple[float, float], end: tuple[float, float], *, lift: bool = True) -> None:
        QTest.mousePress(self.mirror, Qt.MouseButton.LeftButton, pos=self.point(*begin))
        for i in range(1, 11):
            x, y = begin[0] + (end[0] - begin[0]) * i / 10, begin[1] + (end[1] - begin[1]) * i / 10
            QTest.mouseMove(self.mirror, self.point(x, y), 15)
        if lift:
            QTest.mouseRelease(self.mirror, Qt.MouseButton.LeftButton, pos=self.point(*end))
            self.idle()

    def type(self, words: str) -> None:
        QTest.keyClicks(self.mirror, words)
        self.mirror.flush()
        self.idle()

    def ask(self, role: str, name: str) -> None:
        """Hold C and click."""
        place = self.point(*self.element(role, name).box.centre)
        self.mirror.setFocus()
        QTest.keyPress(self.window.windowHandle(), Qt.Key.Key_C)
        QTest.mouseClick(self.mirror, Qt.MouseButton.LeftButton, pos=place)
        until(self.window.page(0).choice.isVisible)
        QTest.keyRelease(self.window.windowHandle(), Qt.Key.Key_C)

    def scene(self, name: str) -> None:
        self.window.page(0).scene.setText(name)
        QTest.keyClick(self.window.page(0).scene, Qt.Key.Key_Return)
        self.idle()

    def sheet(self) -> Sheet:
        """The sheet that lies over the window, once it can be answered."""
        found: list[Sheet] = []

        def there() -> bool:
            found[:] = [s for s in self.window.findChildren(Sheet) if s.isVisible() and s.main.isEnabled()]
            return bool(found)

        until(there)
        return found[0]

    def record_opening(self, hive: str, asked: Callable[[], object]) -> None:
        """From the home screen to the hive's page, scrolling the list; `asked` when the sheet stands there."""
        self.tap("generic", "Hive Diary")
        self.window.page(0).record()
        sheet = self.sheet()
        asked()
        sheet.accept()
        until(lambda: self.recorder.active)
        self.recorder.edit(lambda r: r.rename_scene("Scene 1", "Open the hive"))
        self.tap("button", "Hives")
        while not any(e.name == hive and e.box.height > 50 for e in self.lead.moment.screen):
            self.drag((206, 740), (206, 420))
        self.tap("listitem", hive)

    def record_form(self, frames: int) -> None:
        self.scene("Note what was seen")
        self.tap("button", "New inspection")
        box = self.element("slider", "Brood frames").box
        begin, end = box.left + 12, box.right - 12
        y = box.centre[1]
        self.drag((begin + (end - begin) * 0.3, y), (begin + (end - begin) * frames / 10, y))
