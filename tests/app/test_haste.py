"""Hands that are quick, hold what others press, change their mind, or press Enter where they are."""

import threading

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QPushButton
from shiboken6 import isValid

from .windows import CTRL, NONE, SHIFT, WindowCase, click, handle_of, press, release

ALT = Qt.KeyboardModifier.AltModifier


class Hasty(WindowCase):
    def tab_to(self, button: QPushButton) -> None:
        for _ in range(12):
            if button.hasFocus():
                return
            self.key(Qt.Key.Key_Tab)
        self.fail(f"the tabulator does not come to {button.text()}")

    def somebodys(self) -> None:
        """The lead and the rest of the bench are phones of somebody's."""
        self.close_window(self.window)
        self.window = self.open(stand_ins=False)

    def test_enter_presses_what_has_the_keys(self) -> None:
        self.tap("generic", "Hive Diary")
        self.key(Qt.Key.Key_R, CTRL)
        self.until(lambda: self.sheet is not None and self.sheet.main.isEnabled())
        self.tab_to(self.sheet.cancel)
        self.key(Qt.Key.Key_Return)
        self.assertIsNone(self.sheet)
        self.idle()
        self.assertFalse(self.recorder.starting or self.recorder.active)
        self.window.show_page(1)
        self.key(Qt.Key.Key_F, CTRL)
        bar = self.script.find_bar
        self.keys("Hive")
        all_ = next(b for b in bar.findChildren(QPushButton) if "all" in b.text().casefold())
        bar.others.setText("Stand")
        self.tab_to(all_)
        self.key(Qt.Key.Key_Return)
        self.assertIn("Stand", self.script.editor.toPlainText())

    def test_c_held_over_a_keyboard_asks_for_checks_and_types_nothing(self) -> None:
        self.tap("generic", "Hive Diary")
        self.tap("button", "Hives")
        self.tap("listitem", "Hive 2")
        self.tap("button", "New inspection")
        self.tap("textbox", "Notes")
        self.until(lambda: self.lead.moment.screen.keyboard is not None)

        def c(kind: QEvent.Type, repeated: bool = False) -> None:
            self.app.sendEvent(handle_of(self.mirror), QKeyEvent(kind, Qt.Key.Key_C, NONE, "c", repeated))

        def notes() -> str:
            return self.see("textbox", "Notes").text

        c(QEvent.Type.KeyPress)
        self.until(lambda: self.mirror.checking)
        for _ in range(5):
            c(QEvent.Type.KeyRelease, True)
            c(QEvent.Type.KeyPress, True)
        self.assertTrue(self.mirror.checking)
        c(QEvent.Type.KeyRelease)
        self.assertFalse(self.mirror.checking)
        self.idle()
        before = notes()
        self.keys("a")
        c(QEvent.Type.KeyPress)
        self.keys("l")  # before C was let go
        c(QEvent.Type.KeyRelease)
        c(QEvent.Type.KeyPress)
        c(QEvent.Type.KeyRelease)
        self.key(Qt.Key.Key_P, ALT)
        self.mirror.flush()
        self.idle()
        self.until(lambda: notes() == before + "aclc")

    def test_what_was_begun_on_one_phone_is_not_done_on_the_next(self) -> None:
        alder, other = self.lead.device, next(d for d in self.workspace.devices if d.ready and d is not self.lead.device)
        phones = {device.name: self.lab.phones[device.listed.address] for device in (alder, other)}
        place = self.at(*self.see("generic", "Hive Diary").box.centre)
        press(self.mirror, place)
        release(self.mirror, place)
        self.assertTrue(self.mirror.waiting)
        click(self.stage.bench.tiles[other.listed.address])  # before it is clear that it was one tap
        self.assertIs(self.lead.device, other)
        self.assertFalse(self.mirror.waiting)
        place = self.mirror.rect().center()
        if self.lead.moment is None:  # nothing is shown of it yet: there is nothing to touch
            press(self.mirror, place)
            release(self.mirror, place)
            self.assertFalse(self.mirror.waiting)
        self.until(lambda: self.lead.moment is not None and self.lead.idle)
        self.until(lambda: "hive_diary" in phones[alder.name].front()[0])
        self.assertNotIn("hive_diary", phones[other.name].front()[0])

    def test_several_cells_are_emptied_at_once_and_taken_back(self) -> None:
        self.window.show_page(1)
        table = self.script.tables.table
        before = self.script.tables.rows()
        click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
        self.key(Qt.Key.Key_Right, SHIFT)
        self.key(Qt.Key.Key_Delete)
        self.until(lambda: list(self.workspace.loaded.rows[0].values())[:2] == ["", ""])
        self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: list(self.workspace.loaded.rows) == before)

    def test_a_cell_that_is_being_edited_is_replayed_as_it_stands(self) -> None:
        self.window.show_page(1)
        table = self.script.tables.table
        click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
        self.keys("Hive 3")
        self.key(Qt.Key.Key_F5)
        self.until(lambda: self.workspace.runs.running)
        self.workspace.runs.cancel()
        self.until(lambda: not self.workspace.runs.running)
        self.assertIn("Hive 3", self.workspace.project.data_path("hives.csv").read_text("utf-8"))
        steps = (self.workspace.runs.folder).rglob("result.jsonl")
        self.assertNotIn("Hive 17", "".join(path.read_text("utf-8") for path in steps))

    def test_a_cell_is_typed_on_while_what_was_changed_before_is_written_and_read(self) -> None:
        self.window.show_page(1)
        table, path = self.script.tables.table, self.workspace.project.data_path("hives.csv")
        click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
        slow_disk, read = threading.Event(), []
        self.workspace.courier.with_files(slow_disk.wait)
        self.key(Qt.Key.Key_Insert)
        self.keys("Hi")
        self.workspace.script_changed.connect(lambda: read.append(1))
        slow_disk.set()
        self.until(lambda: read)
        self.workspace.saving.look()
        self.workspace.courier.files_done()
        self.app.processEvents()
        self.keys("ve 5")
        self.key(Qt.Key.Key_Return)
        self.until(lambda: "\nHive 5," in path.read_text("utf-8"))
        self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: "Hi" not in path.read_text("utf-8").splitlines()[2])

    def test_another_scripts_results_are_not_this_ones(self) -> None:
        self.window.show_page(1)
        click(self.window.main)
        self.until(lambda: self.workspace.runs.running)
        self.until(lambda: not self.workspace.runs.running)
        first = next(step for _, step in self.workspace.loaded.script.steps())
        self.window.show_page(1)
        self.until(lambda: self.script._results(first))
        path = self.workspace.project.script_path("Twin")
        path.write_text(self.workspace.loaded.document.text.replace("Spring inspection", "Twin"), "utf-8")
        self.workspace.open_script(path)
        self.until(lambda: self.workspace.loaded.script.name == "Twin")
        self.assertEqual(self.script._results(first), [])
        self.assertEqual(self.workspace.lanes.lanes, ())

    def test_nothing_clears_somebodys_phone_before_it_was_asked(self) -> None:
        self.somebodys()
        self.window.show_page(1)
        trials = self.script.trials
        with self.asked() as said:  # as it stands, which is harmless
            self.key(Qt.Key.Key_F5)
            self.until(lambda: len(said) == 1)
            self.bring_to_front()
            self.workspace.go_to(7)
            self.key(Qt.Key.Key_F9)
            self.until(lambda: len(said) == 2)
        self.assertFalse(self.workspace.runs.running or trials.running)
        self.assertIn("Alder 5, ", said[0])
        with self.asked("Delete it and go on") as said:
            self.key(Qt.Key.Key_F5)
            self.until(lambda: self.workspace.runs.running)
            self.workspace.runs.cancel()
            self.until(lambda: not self.workspace.runs.running)
            self.window.show_page(1)
            self.bring_to_front()
            self.workspace.go_to(7)
            self.key(Qt.Key.Key_F9)  # once in a session is enough
            self.until(lambda: trials.running)
            self.key(Qt.Key.Key_F9, SHIFT)
            self.until(lambda: not trials.running)
        self.assertEqual(len(said), 1)
        self.assertIsNone(trials.stuck)

    def test_the_whole_bench_is_not_cleared_without_asking(self) -> None:
        from copione.app.stage.apps import AppsMenu
        from copione.links.link import InstalledApp

        self.somebodys()
        menu = AppsMenu(self.workspace, [InstalledApp("org.example.hive_diary", "2.4")], ("", ""), self.window)
        (of_app,) = (action.menu() for action in menu.actions() if action.menu() is not None)
        told: list[str] = []
        self.workspace.told.connect(told.append)
        with self.asked() as said:
            cleared = ("Open afresh, its data cleared", "Open afresh on the whole bench, its data cleared", "Uninstall, its data deleted")
            for words in cleared:
                next(action for action in of_app.actions() if action.text() == words).trigger()
        self.idle()
        self.assertEqual((len(said), told), (3, []))
        menu.deleteLater()

    def test_what_was_thrown_away_comes_back(self) -> None:
        self.record()
        self.tap("button", "Hives")
        kept = self.words()
        click(self.window.second)
        self.until(lambda: not self.recorder.active and self.window.message._ways)
        self.assertIsNone(self.workspace.unfinished.newest)
        click(self.window.message._ways[0])
        self.until(lambda: self.workspace.unfinished.newest is not None)
        self.assertEqual(len(self.workspace.unfinished.newest.steps), len(kept))

    def test_dialogs_that_are_closed_are_gone_and_a_slow_run_holds_up_no_save(self) -> None:
        self.stage.connect_device()
        self.window.open_palette()
        dialogs = self.window.findChildren(QDialog)
        self.assertEqual(len(dialogs), 2)
        for dialog in dialogs:
            dialog.close()
        self.app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.assertFalse([dialog for dialog in dialogs if isValid(dialog)])
        slow, path = threading.Event(), self.workspace.loaded.path
        self.workspace.courier.read(slow.wait)
        self.workspace.editing.edit(self.workspace.loaded.document.text + "    # saved\n")
        self.until(lambda: "# saved" in path.read_text("utf-8"))
        slow.set()
