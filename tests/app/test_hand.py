import unittest

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from copione.touch.panel import parse_events, tracks
from copione_lab.hand import Glass
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import APP
from .windows import application


class TheHandsWindow(unittest.TestCase):
    """The window that is a phone: the mouse is the user's finger, and nothing but the panel tells of it."""

    def setUp(self) -> None:
        application()
        self.phone = Phone(next(m for m in load_models() if m.key == "alder-5"))
        self.phone.launch(APP)
        self.glass = Glass(self.phone)
        self.addCleanup(self.glass.deleteLater)
        self.lines = self.phone.panel.listen()

    def said(self) -> bytes:
        found = []
        while not self.lines.empty():
            found.append(self.lines.get() or "")
        return "".join(found).encode()

    def at(self, id: str) -> QPoint:
        box = next(n for n in self.phone.frame().page.walk() if n.id == id).box
        k = self.phone.model.density * self.glass.scale
        return QPoint(round((box.left + box.right) / 2 * k), round((box.top + box.bottom) / 2 * k))

    def test_a_click_is_a_finger_on_the_glass(self) -> None:
        place = self.at("open_hives")
        QTest.mouseClick(self.glass, Qt.MouseButton.LeftButton, pos=place)
        self.assertEqual(self.phone._app(APP).place, "hives")
        (finger,) = tracks(parse_events(self.said()))
        self.assertAlmostEqual(finger.begin[0], place.x() / self.glass.scale, delta=1)
        QTest.mouseClick(self.glass, Qt.MouseButton.RightButton, pos=place)
        self.assertEqual(self.said(), b"")

    def test_with_ctrl_there_are_two_and_a_turned_phone_lies(self) -> None:
        self.phone._app(APP).go("map")
        self.phone._changed()
        begin = self.at("apiary_map") + QPoint(30, 30)
        QTest.mousePress(self.glass, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, begin)
        QTest.mouseMove(self.glass, begin + QPoint(60, 60))
        QTest.mouseRelease(self.glass, Qt.MouseButton.LeftButton, pos=begin + QPoint(60, 60))
        self.assertEqual(len(tracks(parse_events(self.said()))), 2)
        self.phone.turn(1)
        self.glass.grab()
        self.assertGreater(self.glass.width(), self.glass.height())
