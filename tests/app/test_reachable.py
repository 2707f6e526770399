"""Every control reached by keys alone, seen to have the focus, named for a screen reader, and legible: measured, not declared."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QAccessible, QAccessibleInterface, QAction, QImage
from PySide6.QtWidgets import QAbstractButton, QLabel, QScrollArea, QWidget

from copione.model.outcome import Outcome

from .windows import CTRL, WindowCase, click

ROLES = (
    *(QAccessible.Role.Button, QAccessible.Role.CheckBox, QAccessible.Role.RadioButton, QAccessible.Role.EditableText),
    *(QAccessible.Role.List, QAccessible.Role.ComboBox, QAccessible.Role.Table, QAccessible.Role.Slider),
)
LEAST = 4.5  # contrast of words, by WCAG 2.2


def luminance(pixel: int) -> float:
    """Relative luminance of a pixel, by WCAG 2.2."""
    parts = [(pixel >> shift & 255) / 255 for shift in (16, 8, 0)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(image: QImage) -> float:
    """Of what is written: the ground is what most pixels are, the ink the pixel that is least like it."""
    pixels = Counter(image.pixel(x, y) & 0xFFFFFF for x in range(image.width()) for y in range(image.height()))
    ground = luminance(pixels.most_common(1)[0][0])
    return max((max(ink, ground) + 0.05) / (min(ink, ground) + 0.05) for ink in map(luminance, pixels))


def in_group(button: QAbstractButton) -> bool:
    """Is it one of several to which the tabulator comes once, and the arrows go on from there? The first stands for all."""
    group = button.group()
    return group is not None and group.exclusive() and button is not group.buttons()[0]


def controls(of: QAccessibleInterface) -> Iterator[QAccessibleInterface]:
    """What a screen reader finds, as far as it is in sight and can be used."""
    for number in range(of.childCount()):
        child = of.child(number)
        if child is None or not child.isValid() or child.state().invisible:
            continue
        if child.role() in ROLES and not child.state().disabled:
            yield child
        yield from controls(child)


class Reachable(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.workspace.replay()
        self.until(lambda: self.workspace.runs.running)
        self.until(lambda: not self.workspace.runs.running)
        self.until(lambda: self.lanes.loupe.isVisible() or self.lanes.runs.lanes.counts.get(Outcome.HELD))

    def pages(self) -> Iterator[str]:
        for key in (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4, Qt.Key.Key_5):
            self.key(key, CTRL)
            self.app.processEvents()
            yield self.page

    def stops(self) -> set[QWidget]:
        """What the keys must come to: every control in sight; an area that only scrolls is no control."""
        found = set()
        for widget in self.window.findChildren(QWidget):
            if isinstance(widget, QAbstractButton) and in_group(widget):
                continue
            usable = widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus
            if usable and not isinstance(widget, QScrollArea) and not widget.visibleRegion().isEmpty():
                found.add(widget)
            elif isinstance(widget, QAbstractButton) and widget.isVisible() and widget.isEnabled():
                self.assertTrue(widget.focusPolicy() & Qt.FocusPolicy.TabFocus, f"no key comes to {widget.text()}")
        return found

    def test_no_key_means_two_things_on_a_page(self) -> None:
        for page in self.pages():
            keys = [a.shortcut().toString() for a in self.window.findChildren(QAction) if a.isEnabled() and not a.shortcut().isEmpty()]
            self.assertEqual([key for key in set(keys) if keys.count(key) > 1], [], page)

    def test_the_keys_come_to_every_control_and_it_shows(self) -> None:
        for page in self.pages():
            with self.subTest(page):
                wanted, met = self.stops(), set()
                for _ in range(3 * len(wanted)):
                    before = self.app.focusWidget()
                    without = self.grab(before) if before is not None else None
                    self.key(Qt.Key.Key_Tab)
                    self.app.processEvents()
                    focus = self.app.focusWidget()
                    if before is not None and before is not focus and before in wanted and without is not None and self.page != "Script":
                        self.assertNotEqual(without, self.grab(before), f"the focus on {self.said(before)} cannot be seen")
                    met.add(focus)
                    if focus is self.script.editor:  # the keys leave it by its own tabulator
                        self.assertTrue(self.script.editor.tabChangesFocus())
                missed = sorted(self.said(widget) for widget in wanted - met)
                self.assertEqual(missed, [])

    def grab(self, widget: QWidget) -> QImage:
        there = QRect(widget.mapTo(self.window, QPoint(0, 0)), widget.size()).adjusted(-3, -3, 3, 3)
        return self.window.grab(there).toImage()

    @staticmethod
    def said(widget: QWidget) -> str:
        return (
            f"{type(widget).__name__} {widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton | QLabel) else '')}"
        )

    def test_every_control_has_a_name_for_a_screen_reader(self) -> None:
        for page in self.pages():
            top = QAccessible.queryAccessibleInterface(self.window)
            found = list(controls(top))
            self.assertGreater(len(found), 4)
            nameless = [str(each.role()) for each in found if not each.text(QAccessible.Text.Name)]
            self.assertEqual(nameless, [], page)

    def test_words_are_legible_by_their_pixels(self) -> None:
        self.key(Qt.Key.Key_1, CTRL)
        click(self.window.main)
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)
        for page in self.pages():
            for widget in self.window.findChildren(QWidget):
                words = widget.text() if isinstance(widget, QLabel | QAbstractButton) else ""
                if words and widget.isVisible() and widget.isEnabled() and widget.visibleRegion().boundingRect().height() > 8:
                    with self.subTest(page=page, words=words):
                        there = QRect(widget.mapTo(self.window, QPoint(0, 0)), widget.size())
                        self.assertGreaterEqual(contrast(self.window.grab(there).toImage()), LEAST)
