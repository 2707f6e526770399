import unittest.mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QInputDialog, QMenu

from copione.app.stage.corrections import PointDialog
from copione.recognition.text import can_read

from .windows import CTRL, WindowCase, click, move, press, release


class Correcting(WindowCase):
    project = "new"

    def choose(self, row: int, *words: str, says: object = None) -> None:
        """An entry of the menu of a step (counted from the last), by its words; `says` answers what it asks."""
        step = self.recorder.steps[row]
        menu = self.stage.steps.menu_for(step)
        for word in words[:-1]:
            menu = next(m for m in menu.findChildren(QMenu) if m.title() == word)
        action = next(a for a in menu.actions() if a.text().startswith(words[-1]))
        with unittest.mock.patch.multiple(QInputDialog, getText=lambda *_a, **_k: (says, True), getDouble=lambda *_a, **_k: (says, True)):
            action.trigger()
        self.idle()

    def test_steps_are_put_right_from_their_menu(self) -> None:
        self.record()
        for role, name in (("button", "Hives"), ("listitem", "Hive 2"), ("button", "New inspection"), ("textbox", "Notes")):
            self.tap(role, name)
        self.type("fresh comb")
        self.choose(-1, "Split this typing", says="stale")
        self.assertIn("Nothing was split", self.window.message.label.text())
        self.choose(-1, "Split this typing", says="fresh")
        self.assertEqual(self.words()[-1], 'append " comb" to field "Notes"')
        self.choose(-1, "Merge with the typing before")
        self.choose(-1, "Give it more time", says=20.0)
        self.assertEqual(self.words()[-1], 'type "fresh comb" into field "Notes" within 20 s')
        self.choose(-1, "Wait for it in a step of its own")
        self.assertEqual(self.words()[-2], 'wait for field "Notes"')
        self.choose(-4, "Make “Hive 2” a variable", says="hive")
        self.assertEqual(self.words()[2], 'tap item "{hive}"')
        self.choose(-3, "Turn into a check", 'check button "New inspection" is enabled')
        self.assertEqual(self.words()[3], 'check button "New inspection" is enabled')

    def test_a_step_is_pointed_elsewhere_in_its_frame(self) -> None:
        self.record()
        self.tap("button", "Hives")
        self.choose(-1, "Point at another element")
        dialog = self.window.findChild(PointDialog)
        about = next(e for e in self.recorder.steps[-1].element.screen if e.name == "About")
        place = dialog.frame.box_of(about).center().toPoint()
        click(dialog.frame, place)
        self.assertEqual(dialog.words.text(), "button “About”")
        click(dialog.point)
        self.idle()
        self.assertEqual(self.words()[-1], 'tap button "About"')

    def test_a_part_of_the_picture_is_framed_and_checked(self) -> None:
        self.record()
        box = self.see("img", "Honeycomb").box
        begin, end = self.at(box.left + 40, box.top + 30), self.at(box.left + 160, box.top + 90)
        self.hold_c()
        press(self.mirror, begin)
        move(self.mirror, end - QPoint(20, 20))
        release(self.mirror, end)
        self.let_go_of_c()
        self.until(self.stage.choice.isVisible)
        choice = self.stage.choice
        self.assertIsNotNone(self.mirror.asked_area)
        if can_read():  # what is written there, which is nothing, is read meanwhile
            self.until(lambda: choice.remark.text() == "Part of the picture")
        self.key(Qt.Key.Key_1)
        self.idle()
        self.assertEqual(self.words()[-1], 'check area "Honeycomb 1" looks as recorded')
        part = self.recorder.steps[-1].portraits[0][1].part
        self.assertAlmostEqual(part.left, 40 / box.width, delta=0.01)
        self.assertIsNone(self.mirror.asked_area)


class Asked(WindowCase):
    def test_a_secret_is_asked_for_once_and_kept_in_memory_only(self) -> None:
        workspace = self.workspace
        path = workspace.project.script_path("Sign in")
        steps = ("launch afresh", 'tap button "Settings"', 'tap button "Sign in"', 'type {password} into field "Password"')
        path.write_text('script "Sign in"\napp hive-diary\nscene "One"\n    ' + "\n    ".join(steps) + "\n", "utf-8")
        workspace.open_script(path)
        self.until(lambda: workspace.loaded.path == path)
        workspace.replay()
        self.until(lambda: self.sheet is not None)
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(workspace.runs.running)
        workspace.replay()
        self.until(lambda: self.sheet is not None)
        QTest.keyClicks(self.app.focusWidget(), "h0neypot")
        self.key(Qt.Key.Key_Return)
        for _ in range(2):  # it is not asked for again
            self.until(lambda: workspace.runs.running)
            self.until(lambda: not workspace.runs.running)
            workspace.editing.edit(workspace.loaded.document.text + "    # once more\n")
            workspace.replay()
        self.until(lambda: not workspace.runs.running)
        self.assertEqual(self.lab.phones["LABALDER5"]._app("org.example.hive_diary").credentials["password"], "h0neypot")
        self.assertFalse([p for p in workspace.project.folder.rglob("*") if p.is_file() and b"h0neypot" in p.read_bytes()])


class FromHere(WindowCase):
    def test_the_middle_of_a_script_is_replayed_to_and_recorded_on(self) -> None:
        workspace = self.workspace
        self.window.show_page(1)
        line = next(n for n, each in enumerate(workspace.loaded.document.lines, 1) if "New inspection" in each.text)
        workspace.go_to(line)
        click(self.script.portrait.record)
        self.until(lambda: self.recorder.approach is not None)
        self.assertIn("step", self.window.main.text())
        self.until(lambda: self.recorder.active and self.lead.idle)
        self.assertEqual(self.stage.name.text(), f"into spring-inspection, behind line {line}")
        self.assertTrue(self.stage.name.isVisible())
        self.tap("button", "One super more")
        click(self.window.main)
        self.until(lambda: not self.recorder.active and workspace.line == line + 1)
        self.assertEqual(self.page, "Script")
        self.assertIn('set stepper "Honey supers" to 2', workspace.loaded.document.lines[line].text)

    def test_it_can_be_given_up_on_the_way(self) -> None:
        self.key(Qt.Key.Key_2, CTRL)
        self.workspace.go_to(self.workspace.loaded.script.scenes[-1].steps[-1].line)
        self.key(Qt.Key.Key_H, CTRL)
        self.until(lambda: self.recorder.approach is not None)
        click(self.window.main)
        self.until(lambda: self.recorder.approach is None)
        self.assertFalse(self.recorder.active)
        self.until(lambda: "Stopped by you" in self.window.message.label.text())
