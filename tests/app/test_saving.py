"""The open script, its table and other programs that write them too."""

import threading

from PySide6.QtCore import Qt

from copione.app.saving import Clash
from copione.project.shelf import ASIDE

from .windows import CTRL, WindowCase, click


class Saving(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_page(1)
        self.path = self.workspace.loaded.path
        self.was = self.there()
        self.asked: list[tuple[str, int]] = []

    def there(self) -> str:
        return self.path.read_text("utf-8")

    def shown(self) -> str:
        return self.script.editor.toPlainText()

    def said(self) -> str:
        return self.window.message.label.text()

    def written(self) -> None:
        """All that was asked for is on the disk, and what it led to."""
        for _ in range(3):
            done = threading.Event()
            self.workspace.courier.with_files(done.set)
            self.until(done.is_set)
            self.app.processEvents()

    def at_end(self, words: str) -> None:
        self.script.editor.setFocus()
        self.key(Qt.Key.Key_End, CTRL)
        self.key(Qt.Key.Key_Return)
        self.keys(words)

    def aside(self) -> list[str]:
        return [path.read_text("utf-8") for path in (self.workspace.project.folder / ASIDE).rglob("*") if path.is_file()]

    def test_a_letter_is_on_the_disk_before_the_hand_rests(self) -> None:
        self.script.editor._typed.setInterval(10**8)
        self.at_end("# a")
        self.until(lambda: self.there().rstrip().endswith("# a"))

    def test_what_another_program_writes_is_taken_in_and_can_be_taken_back(self) -> None:
        theirs = self.was.replace("Calm", "Nervous")
        self.path.write_text(theirs, "utf-8")
        self.until(lambda: self.shown() == theirs)
        self.assertEqual(self.workspace.loaded.document.text, theirs)
        self.assertIn("was changed by another program", self.said())
        self.script.editor.setFocus()
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.shown(), self.was)
        self.until(lambda: self.there() == self.was)

    def test_changes_of_both_are_put_together(self) -> None:
        self.script.editor._typed.setInterval(10**8)
        slow_disk = threading.Event()
        self.workspace.courier.with_files(slow_disk.wait)
        self.at_end("# mine")
        aside = self.path.with_suffix(".new")
        aside.write_text(self.was.replace("Calm", "Nervous"), "utf-8")
        aside.replace(self.path)  # as most editors do
        slow_disk.set()
        self.until(lambda: "Nervous" in self.shown() and "# mine" in self.shown())
        self.until(lambda: "Nervous" in self.there() and "# mine" in self.there())

    def test_the_same_line_changed_by_both_is_asked_about_and_neither_is_lost(self) -> None:
        for choice, kept, gone in ((Clash.BOTH, "mine theirs", ""), (Clash.MINE, "mine", "theirs"), (Clash.THEIRS, "theirs", "mine")):
            with self.subTest(choice):
                self.workspace.saving.ask = lambda name, places, choice=choice: self.asked.append((name, places)) or choice
                self.asked.clear()
                slow_disk = threading.Event()
                self.workspace.courier.with_files(slow_disk.wait)
                before = self.there()
                self.at_end("# mine")
                self.path.write_text(before + "\n# theirs\n", "utf-8")
                slow_disk.set()
                self.until(lambda: self.asked and not self.workspace.saving._meeting)
                self.written()
                self.assertEqual(self.asked, [(self.path.name, 1)])
                text = self.there()
                for each in kept.split():
                    self.assertIn(each, text.removeprefix(before))
                for each in gone.split():
                    self.assertNotIn(each, text.removeprefix(before))
                    self.assertTrue([kept for kept in self.aside() if f"# {each}" in kept])
                self.until(lambda text=text: self.shown() == text)

    def test_a_script_that_was_moved_away_is_not_made_anew_until_it_is_asked_for(self) -> None:
        self.path.rename(self.path.with_name("elsewhere.copione"))
        self.until(lambda: "was moved, deleted" in self.said())
        self.at_end("# mine")
        self.written()
        self.assertFalse(self.path.exists())
        self.until(self.window.message._ways.__len__)
        click(self.window.message._ways[0])
        self.until(lambda: self.path.exists() and "# mine" in self.there())

    def test_what_has_no_file_is_kept_beside_when_the_window_is_closed(self) -> None:
        self.path.unlink()
        self.until(lambda: "was moved, deleted" in self.said())
        self.at_end("# mine")
        self.close_window(self.window)
        self.assertTrue(["# mine" in kept for kept in self.aside()])
        self.path.write_text(self.was, "utf-8")
        self.window = self.open()

    def test_what_is_typed_while_the_script_is_renamed_goes_along(self) -> None:
        entry = next(each for each in self.script.shelf.scripts if each.path == self.path)
        slow_disk = threading.Event()
        self.workspace.courier.with_files(slow_disk.wait)
        self.script.shelf.rename(entry, "Summer inspection")
        self.at_end("# mine")
        slow_disk.set()
        self.until(lambda: self.workspace.loaded.path.name == "summer-inspection.copione")
        self.keys(" too")
        self.until(lambda: "# mine too" in self.workspace.loaded.path.read_text("utf-8"))
        self.assertFalse(self.path.exists())
        self.assertIn('script "Summer inspection"', self.shown())

    def test_a_table_that_another_program_writes_is_shown_and_not_written_over(self) -> None:
        table, rows = self.script.tables.table, self.workspace.project.data_path("hives.csv")
        head, first, *_ = rows.read_text("utf-8").splitlines()
        rows.write_text(f"{head}\n{first.replace('Hive', 'Stand')}\n", "utf-8")
        self.until(lambda: "Stand" in table.item(0, 0).text())
        slow_disk = threading.Event()
        self.workspace.courier.with_files(slow_disk.wait)
        click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
        self.keys("mine")
        self.key(Qt.Key.Key_Return)
        rows.write_text(f"{head}\n{first.replace('Hive', 'Row')}\n", "utf-8")
        slow_disk.set()
        self.until(lambda: "Row" in table.item(0, 0).text() and "was not written" in self.said())
        self.assertIn("Row", rows.read_text("utf-8"))
        self.until(self.window.message._ways.__len__)
        click(self.window.message._ways[0])
        self.until(lambda: table.item(0, 0).text() == "mine")
        self.assertTrue([kept for kept in self.aside() if "Row" in kept])

    def test_what_was_done_in_a_script_can_be_undone_after_another_was_open(self) -> None:
        self.at_end("# mine")
        self.workspace.open_script(self.workspace.project.script_path("Common"))
        self.until(lambda: self.workspace.loaded.script.name == "Common")
        common = self.shown()
        self.script.editor.setFocus()
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.shown(), common)
        self.workspace.open_script(self.path)
        self.until(lambda: self.workspace.loaded.path == self.path)
        while self.shown() != self.was:
            self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.there() == self.was)
