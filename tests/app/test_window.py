import gc
import unittest

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QFont
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QLabel, QLineEdit, QMenu, QWidget

from copione.app import theme
from copione.app.connect import ConnectDialog
from copione.app.palette import Palette, fits
from copione.app.stage.pointer import Finger, wheel
from copione.app.wording import sentence, short
from copione.links.usb import Plugged
from copione.model.outcome import Outcome

from ..benches import APP
from .windows import WindowCase, application


class Replaying(WindowCase):
    faults = True

    def replay(self) -> None:
        self.window.show_page(1)
        QTest.mouseClick(self.window.main, Qt.MouseButton.LeftButton)
        self.until(lambda: self.window.workspace.runs.running)

    def done(self) -> None:
        self.until(lambda: not self.window.workspace.runs.running)

    def test_lanes_fill_in_live_and_the_finding_is_worded(self) -> None:
        runs = self.window.workspace.runs
        counts: list[int] = []
        runs.changed.connect(lambda: counts.append(runs.progress[0]))
        self.replay()
        self.assertEqual(self.window.pages.currentIndex(), 2)
        self.assertIn("Stop the run", self.window.main.text())
        self.done()
        self.assertEqual(sorted(counts), counts)
        self.assertGreater(len(set(counts)), 20)
        (finding,) = runs.findings
        self.assertEqual(finding.title, 'Stuck on Wren mini: tap button "Save inspection"')
        self.assertEqual(self.window.tabs.button(3).text(), "Findings  1")
        self.assertFalse(self.window.lanes.loupe.isHidden())
        self.window.show_page(3)
        titles = [w.text() for w in self.window.findings.findChildren(QLabel) if w.objectName() == "title"]
        self.assertEqual(titles, [finding.title])

        view = self.window.lanes.view
        self.window._open_finding(12)
        self.assertEqual((view.lane, view.column), (1, 11))
        QTest.keyClick(view, Qt.Key.Key_Right)
        QTest.keyClick(view, Qt.Key.Key_Down)
        self.assertEqual((view.lane, view.column), (2, 12))
        self.assertEqual(self.window.lanes.loupe.column, 12)
        view.choose(2, 0)
        row, column = view.at(view.cell(2, 0).center().toPoint())
        self.assertEqual((row, column), (2, 0))
        QTest.mouseMove(view.viewport(), view.cell(0, 3).center().toPoint())
        view.set_only_different(True)
        self.assertEqual(view.columns(), [11, 12, 13, 14])
        for zoom in (0, 2, 1):
            view.set_zoom(zoom)
            self.window.grab()
        self.window.report()
        self.assertTrue((runs.folder / "report.html").exists())

        self.window.show_page(1)
        script = self.window.workspace.loaded.script
        self.window.workspace.go_to(next(s.line for _, s in script.steps() if s.key() == 'button "Save inspection"'))
        said = [w.text() for w in self.window.script.portrait.findChildren(QLabel)]
        self.assertIn("covered by the keyboard", said)
        self.assertIn("by id and text", said)

    def test_a_device_left_out_is_not_replayed_on_and_a_run_can_be_stopped(self) -> None:
        tile = self.window.stage.bench.tiles["LABWRENMINI"]
        QTest.mouseClick(tile, Qt.MouseButton.LeftButton, pos=tile.mark_box().center().toPoint())
        self.window.show_page(1)
        self.assertEqual(self.window.main.text(), "Replay on 2")
        self.replay()
        QTest.mouseClick(self.window.main, Qt.MouseButton.LeftButton)
        self.done()
        lanes = self.window.workspace.runs.lanes
        self.assertEqual({lane.device.name for lane in lanes.lanes}, {"Alder 5", "Plateau 10"})
        self.assertGreater(lanes.counts()[Outcome.UNREACHED], 0)


class ScriptPage(WindowCase):
    def test_strip_text_and_frame_show_the_same_step(self) -> None:
        self.window.show_page(1)
        page = self.window.script
        steps = [s for _, s in self.window.workspace.loaded.script.steps()]
        for index, step in ((1, steps[1]), (10, steps[10])):
            QTest.mouseClick(page.strip.frames, Qt.MouseButton.LeftButton, pos=page.strip.frames.cell(index).center().toPoint())
            self.assertEqual(page.editor.textCursor().blockNumber() + 1, step.line)
            self.assertEqual(page.frame.portrait.element.name, step.target.name)
        page.editor.go_to(steps[4].line)
        self.assertEqual(page.strip.frames.current(), 4)
        page.strip.frames.setFocus()
        QTest.keyClick(page.strip.frames, Qt.Key.Key_Left)
        self.assertEqual(self.window.workspace.line, steps[3].line)

    def test_problems_show_as_they_are_typed_and_undo_takes_them_back(self) -> None:
        self.window.show_page(1)
        editor = self.window.script.editor
        before = editor.toPlainText()
        editor.go_to(8)
        QTest.keyClick(editor, Qt.Key.Key_End)
        QTest.keyClicks(editor, " now")
        self.until(lambda: self.window.script.problem.isVisible())
        self.assertEqual(self.window.script.problem.text().split(". ")[0], "Line 8: now does not fit here")
        self.assertTrue(self.window.workspace.loaded.path.read_text("utf-8").splitlines()[7].endswith(" now"))
        while editor.toPlainText() != before:
            self.window._undo()
        self.until(lambda: not self.window.script.problem.isVisible())

    def test_completion_knows_verbs_and_targets(self) -> None:
        self.window.show_page(1)
        editor = self.window.script.editor
        editor.go_to(8)
        QTest.keyClick(editor, Qt.Key.Key_End)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        QTest.keyClicks(editor, "laun")
        self.assertEqual(editor._completer.currentCompletion(), "launch")
        editor._complete("launch")
        self.assertEqual(editor.textCursor().block().text(), "    launch")

    def test_a_step_is_pointed_at_another_element_of_its_frame(self) -> None:
        self.window.show_page(1)
        page = self.window.script
        step = next(s for _, s in self.window.workspace.loaded.script.steps() if s.key() == 'button "Save inspection"')
        self.window.workspace.go_to(step.line)
        screen = page.frame.portrait.screen
        hot = next(e for e in screen if e.name == "Hot" and e.role == "radio")
        QTest.mouseClick(page.frame, Qt.MouseButton.LeftButton, pos=page.frame._box(hot).center().toPoint())
        QTest.mouseClick(page.portrait.point, Qt.MouseButton.LeftButton)
        self.assertEqual(page.editor.toPlainText().splitlines()[step.line - 1], '    tap radio "Hot"')
        self.assertEqual(page.frame.portrait.element.name, "Hot")
        self.assertIn('radio "Hot"', self.window.workspace.loaded.portraits)


class Manners(WindowCase):
    def test_pages_palette_and_what_comes_back(self) -> None:
        window = self.window
        for i in range(4):
            window.show_page(i)
            self.assertTrue(window.tabs.button(i).isChecked())
            window.resize(1024, 700)
            window.grab()
        palette = Palette(window.entries, window)
        QTest.keyClicks(palette.field, "lanes")
        self.assertEqual(palette.list.item(0).text(), "Lanes    Ctrl+3")
        QTest.keyClick(palette.field, Qt.Key.Key_Return)
        self.assertEqual(window.pages.currentIndex(), 2)
        window.resize(1111, 777)
        self.close_window(window)
        self.window = self.open()
        self.assertEqual((self.window.width(), self.window.height()), (1111, 777))

    def test_everything_that_takes_the_focus_has_a_name(self) -> None:
        for widget in self.window.findChildren(QWidget):
            if widget.focusPolicy() & Qt.FocusPolicy.TabFocus and isinstance(widget, QAbstractButton | QLineEdit):
                named = widget.accessibleName() or getattr(widget, "text", lambda: "")() or getattr(widget, "placeholderText", lambda: "")()
                self.assertTrue(named or not widget.isVisible(), widget.objectName())

    def test_a_tile_by_keyboard_becomes_the_lead(self) -> None:
        tile = self.window.stage.bench.tiles["LABPLATEAU10"]
        QTest.keyClick(tile, Qt.Key.Key_Return)
        self.assertEqual(self.lead.device.name, "Plateau 10")
        self.until(lambda: self.lead.moment is not None)
        self.window.stage.mirror.set_zoom(1.4)
        self.window.grab()

    def test_apps_are_listed_with_their_versions_and_stopped_on_all_devices(self) -> None:
        self.tap("generic", "Hive Diary")
        found: list[object] = []
        self.lead.list_apps(lambda apps, front: found.append(self.window.stage.apps_menu(apps, front)))
        self.until(lambda: found)
        menu = found[0]
        self.assertEqual(menu.actions()[0].text(), f"In front: {APP} .Home")
        menu.actions()[0].trigger()
        self.assertEqual(self.app.clipboard().text(), f"{APP} .Home")
        (app,) = [m for m in menu.findChildren(QMenu) if m.title().startswith(APP)]
        self.assertIn("2.4", app.title())
        for phone in self.lab.phones.values():
            phone.launch(APP)
        next(a for a in app.actions() if a.text() == "Stop on the whole bench").trigger()
        self.until(lambda: self.window.banner.text() == "Done on 3 devices.")
        self.assertEqual([phone.front()[0] for phone in self.lab.phones.values() if phone.front()[0] == APP], [])

    def test_what_is_not_ready_says_what_to_do_in_place(self) -> None:
        self.lab.set_state("LABWRENMINI", "unauthorized")
        self.until(lambda: not all(d.ready for d in self.window.workspace.devices))
        dialog = ConnectDialog(self.window.workspace, self.window)
        dialog.refresh([Plugged("Thistle", "18d1", "4ee7", "T1", True, False)])
        said = " ".join(label.text() for label in dialog.findChildren(QLabel))
        for words in (
            "LABWRENMINI: not approved on the phone",
            "Unlock the phone",
            "Thistle: no permission on the USB port",
            "Without a cable",
        ):
            self.assertIn(words, said)
        self.assertTrue(any("18d1" in line.text() for line in dialog.findChildren(QLineEdit)))
        dialog.address.setText("my phone")
        dialog._remember()
        self.assertIn("is no address", dialog.said.text())
        self.window.grab()
        self.face.close()
        self.until(lambda: self.window.workspace.server_trouble)
        self.assertIn("No adb server answers", self.window.stage.bench._note.text())
        self.assertIn("No adb server answers", dialog.now.text())
        dialog.deleteLater()


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
        finger = Finger()
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
