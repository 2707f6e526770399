"""The script page through the front door: keys and clicks go to the window."""

import threading

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QGuiApplication, QHelpEvent, QTextCursor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from copione.app.parts import Label
from copione.app.sheet import Sheet

from .windows import CTRL, NONE, SHIFT, WindowCase, click, move


class ScriptPage(WindowCase):
    def test_strip_text_and_frame_show_the_same_step(self) -> None:
        self.window.show_page(1)
        page = self.script
        steps = [s for _, s in self.workspace.loaded.script.steps()]
        self.until(lambda: len(page.strip.frames.stills) == len(steps))
        for index, step in ((1, steps[1]), (10, steps[10])):
            click(page.strip.frames, page.strip.frames.cell(index).center().toPoint())
            self.assertEqual(page.editor.textCursor().blockNumber() + 1, step.line)
            self.assertEqual(page.frame.portrait.element.name, step.target.name)
        page.editor.go_to(steps[4].line)
        self.assertEqual(page.strip.frames.current(), 4)
        page.strip.frames.setFocus()
        self.key(Qt.Key.Key_Left)
        self.assertEqual(self.workspace.line, steps[3].line)

    def test_problems_show_as_they_are_typed_and_undo_takes_them_back(self) -> None:
        self.window.show_page(1)
        editor = self.script.editor
        before = editor.toPlainText()
        editor.go_to(8)
        self.key(Qt.Key.Key_End)
        self.keys(" now")
        self.until(lambda: self.script.problem.isVisible() and "now" in self.script.problem.text())  # it comes with every letter
        self.assertEqual(self.script.problem.text().split(". ")[0], "Line 8: now does not fit here")
        self.until(lambda: self.workspace.loaded.path.read_text("utf-8").splitlines()[7].endswith(" now"))
        while editor.toPlainText() != before:
            self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: not self.script.problem.isVisible())

    def test_lines_are_moved_doubled_and_made_comments(self) -> None:
        self.window.show_page(1)
        editor = self.script.editor
        before = editor.toPlainText()
        lines = before.splitlines()
        alt = Qt.KeyboardModifier.AltModifier
        editor.go_to(8)
        self.key(Qt.Key.Key_Down, alt)
        self.assertEqual(editor.toPlainText().splitlines()[7:9], [lines[8], lines[7]])
        self.key(Qt.Key.Key_Up, alt)
        self.assertEqual(editor.toPlainText(), before)
        self.key(Qt.Key.Key_Down, SHIFT)
        self.key(Qt.Key.Key_D, CTRL)
        self.assertEqual(editor.toPlainText().splitlines()[6:10], [lines[6], lines[7], lines[7], lines[8]])
        self.key(Qt.Key.Key_Slash, CTRL)
        self.assertEqual(editor.toPlainText().splitlines()[8], "    # " + lines[7].strip())
        self.key(Qt.Key.Key_Slash, CTRL)
        for _ in range(5):
            self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(editor.toPlainText(), before)

    def test_words_are_found_and_replaced(self) -> None:
        self.window.show_page(1)
        editor, bar = self.script.editor, self.script.find_bar
        before = editor.toPlainText()
        self.key(Qt.Key.Key_F, CTRL)
        self.keys("brood frames")
        self.assertEqual((bar.told.text(), editor.textCursor().selectedText()), ("3 places", "Brood frames"))
        first = editor.textCursor().blockNumber()
        for key, keys in ((Qt.Key.Key_Return, NONE), (Qt.Key.Key_Return, SHIFT)):
            self.key(key, keys)
        self.assertEqual(editor.textCursor().blockNumber(), first)
        click(bar.others)
        self.keys("Frames")
        click(bar.all)
        self.assertEqual((bar.told.text(), editor.toPlainText()), ("3 replaced", before.replace("Brood frames", "Frames")))
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(bar.isVisible())
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(editor.toPlainText(), before)

    def test_completion_knows_verbs_and_targets(self) -> None:
        self.window.show_page(1)
        editor = self.script.editor
        editor.go_to(8)
        self.key(Qt.Key.Key_End)
        self.key(Qt.Key.Key_Return)
        self.keys("laun")
        popup = editor.completion._completer.popup()
        self.assertEqual(popup.currentIndex().data(), "launch")
        QTest.keyClick(popup.window().windowHandle(), Qt.Key.Key_Return)
        self.assertEqual(editor.textCursor().block().text(), "    launch")

    def test_a_step_is_pointed_at_another_element_of_its_frame(self) -> None:
        self.window.show_page(1)
        page = self.script
        step = next(s for _, s in self.workspace.loaded.script.steps() if s.key() == 'button "Save inspection"')
        self.workspace.go_to(step.line)
        screen = page.frame.portrait.screen
        hot = next(e for e in screen if e.name == "Hot" and e.role == "radio")
        click(page.frame, page.frame.box_of(hot).center().toPoint())
        click(page.portrait.point)
        self.assertEqual(page.editor.toPlainText().splitlines()[step.line - 1], '    tap radio "Hot"')
        self.assertEqual(page.frame.portrait.element.name, "Hot")
        self.assertIn('radio "Hot"', self.workspace.loaded.portraits)


class Whole(WindowCase):
    """Changes of the script as a whole, by keys."""

    def setUp(self) -> None:
        super().setUp()
        self.key(Qt.Key.Key_2, CTRL)
        self.editor = self.script.editor

    def text(self) -> str:
        return self.editor.toPlainText()

    def answer(self, words: str) -> None:
        self.until(lambda: any(s.isVisible() for s in self.window.findChildren(Sheet)))
        field = self.app.focusWidget()
        field.selectAll()
        QTest.keyClicks(field, words)
        self.key(Qt.Key.Key_Return)

    def test_names_are_changed_with_portraits_data_and_back(self) -> None:
        before = self.text()
        self.workspace.go_to(9)
        self.key(Qt.Key.Key_Home)
        self.editor.find("Hives")
        self.key(Qt.Key.Key_F2, SHIFT)
        self.answer('list "Colonies"')
        self.assertIn('find item "{hive}" in list "Colonies"', self.text())
        self.assertIn('item "{hive}" in list "Colonies"', self.workspace.loaded.portraits)
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.text(), before)
        self.editor.find("{note}")
        self.key(Qt.Key.Key_F2, SHIFT)
        self.answer("remark")
        self.until(lambda: "remark" in self.workspace.loaded.rows[0])
        self.assertIn("type {remark} into", self.text())
        self.until(lambda: not self.workspace.editing.problems)

    def test_what_is_still_being_typed_is_not_lost_to_what_comes_meanwhile(self) -> None:
        """Another table, another script, the end: by a hand that has not rested yet."""
        self.editor._typed.setInterval(10**8)
        path, changed = self.workspace.loaded.path, []
        self.workspace.go_to(8)
        self.key(Qt.Key.Key_End)
        self.key(Qt.Key.Key_Return)
        self.keys("# one")
        self.workspace.script_changed.connect(lambda: changed.append(self.text()))
        self.workspace.saving.save_table("other.csv", [{"hive": "Hive 3"}], None)
        self.until(lambda: changed)
        self.keys(" two")
        self.assertIn("# one two", self.text())
        other, slow_disk = self.workspace.project.script_path("Common"), threading.Event()
        self.workspace.courier.with_files(slow_disk.wait)
        self.workspace.open_script(other)
        self.keys(" three")
        slow_disk.set()
        self.until(lambda: self.workspace.loaded.path == other and "# one two three" in path.read_text("utf-8"))
        self.key(Qt.Key.Key_End, CTRL)
        self.key(Qt.Key.Key_Return)
        self.keys("# four")
        self.close_window(self.window)
        self.assertIn("# four", other.read_text("utf-8"))
        self.window = self.open()

    def test_the_portrait_stands_by_the_pointer_over_a_line(self) -> None:
        card = self.script.targets.card
        for line, told in ((9, "Hive 17"), (8, "Hives")):
            place = self.editor.cursorRect(QTextCursor(self.editor.document().findBlockByNumber(line - 1))).center()
            self.app.sendEvent(self.editor.viewport(), QHelpEvent(QEvent.Type.ToolTip, place, self.editor.viewport().mapToGlobal(place)))
            self.assertTrue(card.isVisible())
            self.assertIn(told, " ".join(label.text() for label in card.findChildren(Label)))
        move(self.editor.viewport(), place + QPoint(3, 0))
        self.assertFalse(card.isVisible())

    def test_folds_hide_lines_and_come_open_where_the_caret_goes(self) -> None:
        self.until(lambda: self.editor.folds.stretches)
        self.workspace.go_to(8)
        self.key(Qt.Key.Key_Period, CTRL)
        block = self.editor.document().findBlockByNumber(8)
        self.assertFalse(block.isVisible())
        self.workspace.go_to(9)
        self.assertTrue(block.isVisible())

    def test_tables_are_edited_pasted_into_and_taken_back(self) -> None:
        tables = self.script.tables
        click(tables.table.viewport(), tables.table.visualItemRect(tables.table.item(0, 0)).center())
        QGuiApplication.clipboard().setText("hive\tframes\tnote\nHive 3\t2\ta\nHive 20\t9\tb\n")
        slow_disk, shown = threading.Event(), []
        self.workspace.courier.with_files(slow_disk.wait)
        self.workspace.editing.complete()  # is read before what comes now is written, and told after it
        self.key(Qt.Key.Key_V, CTRL)
        self.workspace.script_changed.connect(lambda: shown.append(tables.table.rowCount()))
        slow_disk.set()
        self.until(lambda: len(self.workspace.loaded.rows) == 2)
        self.assertEqual(set(shown), {2})
        self.assertEqual(self.workspace.loaded.rows[1], {"hive": "Hive 20", "frames": "9", "note": "b"})
        self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: len(self.workspace.loaded.rows) == 1)
        path = self.scratch / "from-a-spreadsheet.csv"
        path.write_bytes("hive;frames;note\r\nHive 9;4;Größe\r\n".encode("cp1252"))
        tables.import_table(path)
        self.until(lambda: self.workspace.loaded.rows[0]["note"] == "Größe")

    def test_a_trial_is_stuck_pointed_at_what_is_meant_and_goes_on(self) -> None:
        trials = self.script.trials
        self.editor.find('"Hives"')
        self.key(Qt.Key.Key_End)
        for _ in range(7):
            self.key(Qt.Key.Key_Backspace)
        self.keys('"Beehives" within 0.2 s')
        self.key(Qt.Key.Key_Escape)
        self.workspace.go_to(7)
        self.key(Qt.Key.Key_F9)
        self.until(lambda: trials.running)
        self.until(lambda: not trials.running)
        self.assertEqual(trials.stuck.result.own_line, 8)
        self.assertTrue(self.script.now.isVisible())
        near = next(e for e, _ in trials.stuck.near if e.name == "Hives")
        offered = lambda: [b for b in self.script.trial.findChildren(QPushButton) if near.name in b.text() and b.isVisible()]  # noqa: E731
        self.until(offered)
        click(offered()[0])
        self.until(lambda: 'tap button "Hives" within 0.2 s' in self.text())
        self.until(lambda: trials.running)
        self.until(lambda: trials.doing is None and not trials.running)
        self.assertGreater(len(trials.tried), 3)
        learned = self.workspace.loaded.portraits['button "Hives"'][0]
        self.assertEqual((learned.device, learned.build), ("Alder 5", "2.4"))
        frames = self.workspace.loaded.path.with_suffix(".frames")
        self.until(lambda: (frames / learned.picture).exists())

    def test_a_trial_stops_before_a_line_and_tells_what_stands_in_the_variables(self) -> None:
        trials = self.script.trials
        self.workspace.go_to(10)
        self.key(Qt.Key.Key_F7)
        self.assertEqual(trials.stops, {10})
        self.workspace.go_to(7)
        self.key(Qt.Key.Key_F9)
        self.until(lambda: trials.standing is not None)
        self.assertEqual((trials.standing.line, trials.values_now["hive"]), (10, "Hive 17"))
        self.assertIn("Stopped before line 10", [label.text() for label in self.script.trial.findChildren(Label)])
        self.key(Qt.Key.Key_F8)
        self.until(lambda: trials.standing is not None and trials.standing.line == 11)
        self.key(Qt.Key.Key_F9, SHIFT)
        self.until(lambda: not trials.running)


class Elements(WindowCase):
    def test_one_is_looked_for_on_the_lead_renamed_and_followed_to_its_use(self) -> None:
        self.key(Qt.Key.Key_5, CTRL)
        page = self.window.page(4)
        self.until(lambda: len(page.elements) > 10)
        page.search.setFocus()
        QTest.keyClicks(page.search, 'button "Hives')
        self.assertEqual(page._shown.words, 'button "Hives"')
        click(page.look)
        self.until(lambda: page.sighted.isVisible() and page._sighted_said.text())
        click(page.rename)
        self.until(lambda: any(s.isVisible() for s in self.window.findChildren(Sheet)))
        self.app.focusWidget().selectAll()
        QTest.keyClicks(self.app.focusWidget(), 'button "Colonies"')
        self.key(Qt.Key.Key_Return)
        self.until(lambda: 'button "Colonies"' in self.workspace.loaded.document.text)
        self.until(lambda: any(e.words == 'button "Colonies"' for e in page.elements))
