"""What the window is made of, one by one and without it."""

import gc
import unittest

from PySide6.QtCore import QPoint
from PySide6.QtGui import QColor, QFont
from PySide6.QtWidgets import QWidget

from copione.app import theme
from copione.app.palette import fits
from copione.app.stage.pointer import PointerStroke, wheel
from copione.app.wording import sentence, short

from .windows import application


class Pieces(unittest.TestCase):
    def test_fifty_thousand_void_calls_leave_none_alone(self) -> None:
        application()
        widget = QWidget()
        for _ in range(50_000):
            widget.setMinimumWidth(1)
        widget.deleteLater()
        gc.collect()
        self.assertIsNone(widget.setMinimumWidth(2))

    def test_the_pointer_makes_the_contact_a_finger_would(self) -> None:
        finger = PointerStroke()
        self.assertIsNone(finger.release(0, 1, 1))
        finger.press(10.0, 5, 5)
        finger.move(10.1, 5, 50)
        contact = finger.release(10.3, 5, 60)
        self.assertEqual((contact.begin, contact.end), ((5, 5), (5, 60)))
        self.assertAlmostEqual(contact.seconds, 0.3)
        self.assertFalse(finger.down)
        for notches in (-3, 3, 99):
            turned = wheel(200, 20, notches, 892)
            self.assertTrue(all(0 < y < 892 for _, _, y in turned.path))
            self.assertEqual(turned.end[1] > turned.begin[1], notches > 0)

    def test_sentences_are_coloured_by_verb_and_escaped(self) -> None:
        self.assertIn(theme.CHECK.name(), sentence('check text "<b>" is shown'))
        self.assertIn("&lt;b&gt;", sentence('check text "<b>" is shown'))
        self.assertIn(">switch on<", sentence('switch on "Queen seen"'))
        table = {
            'set slider "Brood frames" to 6': ("set", "Brood frames to 6"),
            'check label "Last seen" reads "Today"': ("check", "Last seen reads Today"),
            'type "a" into field "Notes"': ("type", "Notes"),
            "launch afresh": ("launch", "afresh"),
        }
        self.assertEqual({words: short(words) for words in table}, table)

    def test_words_on_paper_have_contrast(self) -> None:
        def light(colour: QColor) -> float:
            parts = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in (colour.redF(), colour.greenF(), colour.blueF())]
            return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

        for ink in (theme.INK, theme.MUTED, theme.TOUCH_TEXT, theme.CHECK, *theme.OUTCOME_WORDS.values()):
            for paper in (theme.PAPER, theme.SHEET):
                self.assertGreaterEqual((light(paper) + 0.05) / (light(ink) + 0.05), 4.5, ink.name())
        self.assertIsInstance(theme.font(spaced=True), QFont)

    def test_the_palette_takes_letters_in_order(self) -> None:
        self.assertTrue(fits("rpl", "Replay on the chosen devices"))
        self.assertFalse(fits("xq", "Replay"))
        self.assertIsInstance(QPoint(), QPoint)
