"""A browser is put on the bench and recorded on, by keys and clicks that go to the window."""

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from copione.app.connect import ConnectDialog
from copione.app.sheet import Sheet
from copione_lab.kiln_book.serving import Served

from ..links.browsers.pages import engines
from .windows import CTRL, WindowCase, click, handle_of

NAME = "Chromium phone"


@unittest.skipUnless("chromium" in engines(), "chromium and chromium-driver are not installed")
class OnTheBench(WindowCase):
    def put_on_bench(self) -> None:
        dialog = ConnectDialog(self.workspace, self.stage.reaching, self.window)
        dialog.show()
        self.until(lambda: NAME in dialog.browsers.buttons)
        button = dialog.browsers.buttons[NAME]
        self.assertEqual(button.accessibleName(), f"Put on bench: {NAME}")
        dialog.resize(640, 900)
        click(button)
        self.until(lambda: button.text() == "End it")
        QTest.keyClick(handle_of(dialog), Qt.Key.Key_Escape)

    def test_it_is_recorded_on_as_a_phone_is(self) -> None:
        self.put_on_bench()
        device = next(d for d in self.workspace.devices if d.name == NAME)
        self.lead.set_device(device)
        self.until(lambda: self.lead.moment is not None)
        with Served() as served:
            self.stage.record()
            sheets = lambda: [s for s in self.window.findChildren(Sheet) if s.isVisible()]  # noqa: E731
            self.until(lambda: sheets() and sheets()[0].app.isEnabled() and not sheets()[0].finger.isVisible())
            sheet = sheets()[0]
            self.until(lambda: sheet.app.itemText(0) != "Asking which app is in front")
            self.assertFalse(sheet.main.isEnabled())  # no address yet
            self.key(Qt.Key.Key_A, CTRL)
            self.keys(served.url)
            self.assertTrue(sheet.main.isEnabled(), sheet.app.currentText())
            self.key(Qt.Key.Key_Return)
            self.until(lambda: self.recorder.active)
            self.tap("button", "New firing")
            self.tap("textbox", "Load")
            self.type("Vases")
            self.tap("combobox", "Glaze")
            self.tap("option", "Shino")
            self.tap("combobox", "Fired on")
            click(self.mirror, self.at(200, 20))  # beside the calendar
            self.idle()
            verbs = [step.step.action.verb for step in self.recorder.steps]
            self.assertEqual(verbs, ["launch", "tap", "type", "choose", "tap", "press"])
            self.recorder.throw_away()
            self.until(lambda: not self.recorder.active)
