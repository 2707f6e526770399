import time

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest

from copione.model.clock import SteppedClock
from copione.model.outcome import Outcome
from copione.project.project import Project
from copione.replay.run import Run

from ..benches import Heard
from .windows import WindowCase

WRITTEN = """script "Spring inspection"
app hive-diary
patience 8 s

scene "Open the hive"
    launch afresh
    tap button "Hives"
    find item "Hive 17" in list "Hives"
    tap item "Hive 17"

scene "Note what was seen"
    tap button "New inspection"
    set slider "Brood frames" to 6
    switch on "Queen seen"
    choose "Calm" in radiogroup "Temper"
    type "Fresh comb" into field "Notes"
    tap button "Save inspection"
    check label "Last seen" reads "Today"
"""


class Recording(WindowCase):
    project = "new"

    def scene(self, name: str) -> None:
        QTest.keyClicks(self.window.stage.scene, name)
        QTest.keyClick(self.window.stage.scene, Qt.Key.Key_Return)
        self.idle()

    def test_using_the_app_on_the_mirror_writes_a_script_that_replays_on_the_tablet(self) -> None:
        self.record()
        self.lead.change(lambda r: r.rename_scene("Scene 1", "Open the hive"))
        self.tap("button", "Hives")
        while not any(e.name == "Hive 17" and e.box.height > 50 for e in self.lead.moment.screen):
            self.drag((206, 760), (206, 480))
        self.tap("listitem", "Hive 17")
        self.scene("Note what was seen")
        self.tap("button", "New inspection")
        box = self.see("slider", "Brood frames").box
        begin, end = box.left + 12, box.right - 12
        self.drag((begin + 0.3 * (end - begin), box.centre[1]), (begin + 0.6 * (end - begin), box.centre[1]))
        self.tap("switch", "Queen seen")
        self.tap("radio", "Calm")
        self.tap("textbox", "Notes")
        self.type("Fresh comx")
        QTest.keyClick(self.mirror, Qt.Key.Key_Backspace)
        self.type("b")
        self.tap("button", "Save inspection")
        self.check("text", "Today", Qt.Key.Key_1)
        QTest.keyClick(self.window.stage.name, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(self.window.stage.name, "Spring inspection")
        QTest.mouseClick(self.window.main, Qt.MouseButton.LeftButton)
        self.until(lambda: not self.lead.recording and self.window.workspace.loaded is not None)
        loaded = self.window.workspace.loaded
        self.assertEqual(loaded.path.read_text("utf-8"), WRITTEN)
        self.assertEqual(self.window.pages.currentIndex(), 1)
        self.assertEqual(self.window.script.editor.toPlainText(), WRITTEN)

        heard = Heard()
        run = Run(Project(self.scratch / "project"), loaded, self.devices("Plateau 10"), heard, SteppedClock())
        run.start()
        run.wait()
        self.assertEqual([r for r in heard.results["Plateau 10"] if r.outcome not in (Outcome.HELD, Outcome.ADAPTED)], [])

    def test_steps_are_taken_back_deleted_undone_and_renamed_while_recording(self) -> None:
        self.record()
        self.tap("button", "About")
        QTest.mouseClick(self.window.stage.keys["back"], Qt.MouseButton.LeftButton)
        self.idle()
        self.assertEqual(self.words(), ["launch afresh", 'tap button "About"', "press back"])
        self.window.stage.steps.setFocus()
        QTest.keyClick(self.window.stage.steps, Qt.Key.Key_Backspace)
        self.idle()
        self.assertEqual(self.words()[-1], 'tap button "About"')
        view = self.window.stage.steps
        view.setCurrentIndex(view.steps.index(2))
        QTest.keyClick(view, Qt.Key.Key_Delete)
        self.idle()
        self.assertEqual(self.words(), ["launch afresh"])
        self.window._undo()
        self.idle()
        self.assertEqual(len(self.words()), 2)
        self.window._redo()
        self.idle()
        self.assertEqual(len(self.words()), 1)

    def test_wheel_long_press_and_home(self) -> None:
        self.record()
        place = self.at(*self.see("button", "About").box.centre)
        times = iter((10.0, 10.7))
        self.mirror.now = lambda: next(times)
        QTest.mousePress(self.mirror, Qt.MouseButton.LeftButton, pos=place)
        QTest.mouseRelease(self.mirror, Qt.MouseButton.LeftButton, pos=place)
        self.idle()
        self.assertEqual(self.words()[-1], 'hold button "About"')
        self.mirror.now = time.monotonic
        QTest.mouseClick(self.window.stage.keys["back"], Qt.MouseButton.LeftButton)
        self.tap("button", "Hives")
        at = QPointF(self.at(200, 500))
        nothing = Qt.KeyboardModifier.NoModifier
        turn = QWheelEvent(
            at,
            self.mirror.mapToGlobal(at),
            QPoint(),
            QPoint(0, -240),
            Qt.MouseButton.NoButton,
            nothing,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        self.mirror.wheelEvent(turn)
        self.idle()
        self.assertEqual(self.words()[-1], 'swipe up on list "Hives"')

    def test_record_without_an_app_in_front_says_what_to_do(self) -> None:
        self.window.record()
        self.until(lambda: self.window.banner.isVisible())
        self.assertIn("Open the app to be tested", self.window.banner.text())
        self.assertFalse(self.lead.recording)

    def test_a_recording_cut_short_is_offered_at_the_next_start(self) -> None:
        self.record()
        self.tap("button", "Hives")
        kept = self.words()
        self.close_window(self.window)
        self.window = self.open()
        self.until(lambda: self.window.offer.isVisible())
        self.assertIn("Its 2 steps are here", self.window.offer.words.text())
        self.window.offer.take()
        self.until(lambda: self.lead.recording)
        self.assertEqual(self.words(), kept)
        self.window.throw_away()
        self.until(lambda: not self.lead.recording)
        self.assertFalse(self.window.offer.isVisible())
        self.assertIn("was thrown away", self.window.banner.text())

    def test_a_lead_that_goes_away_while_recording_loses_nothing(self) -> None:
        self.record()
        self.tap("button", "Hives")
        self.lab.unplug("LABALDER5")
        self.until(lambda: "Alder 5" not in [d.name for d in self.window.workspace.devices])
        self.until(lambda: self.window.banner.isVisible())
        self.assertEqual(len(self.words()), 2)
        self.assertEqual(len(self.window.workspace.recovered()[0].steps), 2)
