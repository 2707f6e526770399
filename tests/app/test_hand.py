import unittest
from collections.abc import Sequence

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from copione.model.gesture import Contact
from copione.touch.panel import parse_events, tracks
from copione_lab.hand import Glass
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import APP
from ..recording.test_tour import OnTheGlass, Toured
from .windows import application

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class InItsWindow(OnTheGlass):
    """The mouse in the window that is the phone: contacts of a plan become presses, moves and releases there, at the plan's times."""

    def fingers(self, contacts: Sequence[Contact]) -> None:
        glass = Glass(self.phone)
        k = self.phone.model.density * glass.scale
        glass.now = lambda: self.at + self.shift
        keys = Qt.KeyboardModifier.NoModifier
        strokes = list(contacts)
        if len(contacts) > 1 and contacts[1].since < contacts[0].lift:  # the window's second finger follows the first
            one, other = contacts
            together = [b - a for a, b in zip((*one.begin, *other.begin), (*one.end, *other.end), strict=True)]
            keys = CTRL | SHIFT if together[:2] == together[2:] else CTRL
            middle = (one.begin[0] + other.begin[0]) / 2, (one.begin[1] + other.begin[1]) / 2
            width, height = (v / self.phone.model.density for v in self.phone.size_px)
            dx, dy = (0.0, 0.0) if keys & SHIFT else (width / 2 - middle[0], height / 2 - middle[1])
            strokes = [Contact(0, tuple((t, x + dx, y + dy) for t, x, y in one.path), one.lift)]
        for stroke in strokes:
            places = [QPoint(round(x * k), round(y * k)) for _, x, y in stroke.path]
            self.shift = stroke.since
            QTest.mousePress(glass, Qt.MouseButton.LeftButton, keys, places[0])
            for (t, _, _), place in zip(stroke.path[1:], places[1:], strict=True):
                self.shift = t
                QTest.mouseMove(glass, place)
            self.shift = stroke.lift
            QTest.mouseRelease(glass, Qt.MouseButton.LeftButton, pos=places[-1])
        glass.deleteLater()


class TheTour(Toured):
    def test_the_whole_diary_by_the_mouse_in_the_hands_window_is_the_same_script(self) -> None:
        application()
        on_screen, done_here = self.record("mirror")
        self.lab.phones["LABALDER5"].log_lines.clear()
        on_glass, done_there = self.record("window", InItsWindow)
        self.assertEqual(on_screen, on_glass)
        self.assertEqual(done_here, done_there)


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
        begin = self.at("apiary_map")
        QTest.mousePress(
            self.glass, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier, begin
        )
        QTest.mouseMove(self.glass, begin + QPoint(60, 60))
        QTest.mouseRelease(self.glass, Qt.MouseButton.LeftButton, pos=begin + QPoint(60, 60))
        one, other = tracks(parse_events(self.said()))
        self.assertEqual([round(a - b) for a, b in zip(other.end, one.end, strict=True)], [140, 0])
        self.phone.turn(1)
        self.glass.grab()
        self.assertGreater(self.glass.width(), self.glass.height())
