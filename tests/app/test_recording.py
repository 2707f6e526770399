from dataclasses import replace

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent

from copione.app.offer import Offer
from copione.links.adb.server import AdbServer, Output, Route
from copione.links.limits import Limit
from copione.model.clock import SteppedClock
from copione.model.outcome import Outcome
from copione.project.journal import unfinished
from copione.project.project import Project
from copione.recording.session import AS_IT_WAS
from copione.replay.run import Run

from ..benches import APP, Heard
from .windows import CTRL, NONE, SHIFT, WindowCase, click, press, release

LEFT = Qt.MouseButton.LeftButton
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


class Overheard(AdbServer):
    """Keeps what every phone was told."""

    def __init__(self, port: int) -> None:
        super().__init__(port=port)
        self.said: list[str] = []

    def shell(self, route: Route, command: str, *, v2: bool = True, limit: Limit | None = None) -> Output:
        self.said.append(command)
        return super().shell(route, command, v2=v2, limit=limit)


class Recording(WindowCase):
    project = "new"

    @property
    def offer(self) -> Offer:
        return self.window.findChild(Offer)

    def scene(self, name: str) -> None:
        click(self.stage.scene)
        self.keys(name)
        self.key(Qt.Key.Key_Return)
        self.idle()

    def test_using_the_app_on_the_mirror_writes_a_script_that_replays_on_the_tablet(self) -> None:
        self.record()
        self.recorder.edit(lambda r: r.rename_scene("Scene 1", "Open the hive"))
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
        self.key(Qt.Key.Key_Backspace)
        self.type("b")
        self.tap("button", "Save inspection")
        self.check("text", "Today", Qt.Key.Key_1)
        self.save("Spring inspection")
        loaded = self.workspace.loaded
        self.assertEqual(loaded.path.read_text("utf-8"), WRITTEN)
        self.assertEqual(self.page, "Script")
        self.assertEqual(self.script.editor.toPlainText(), WRITTEN)

        heard = Heard()
        run = Run(Project(self.scratch / "project"), loaded, self.devices("Plateau 10"), heard, SteppedClock())
        run.start()
        run.wait()
        self.assertEqual([r for r in heard.results["Plateau 10"] if r.outcome not in (Outcome.HELD, Outcome.ADAPTED)], [])

    def test_steps_are_taken_back_deleted_undone_and_renamed_while_recording(self) -> None:
        self.record()
        self.tap("button", "About")
        click(self.stage.keys["back"])
        self.idle()
        self.assertEqual(self.words(), ["launch afresh", 'tap button "About"', "press back"])
        self.stage.steps.setFocus()
        self.key(Qt.Key.Key_Backspace)
        self.idle()
        self.assertEqual(self.words()[-1], 'tap button "About"')
        view = self.stage.steps
        view.setCurrentIndex(view.steps.index(2))
        self.key(Qt.Key.Key_Delete)
        self.idle()
        self.assertEqual(self.words(), ["launch afresh"])
        self.key(Qt.Key.Key_Z, CTRL)
        self.idle()
        self.assertEqual(len(self.words()), 2)
        self.key(Qt.Key.Key_Z, CTRL | SHIFT)
        self.idle()
        self.assertEqual(len(self.words()), 1)

    def test_c_is_let_go_wherever_the_focus_went(self) -> None:
        """Hold C, click: the choice of checks has the focus when C is let go. Checking is over then, and the next click is a touch."""
        self.record()
        place = self.at(*self.see("button", "About").box.centre)
        self.hold_c()
        self.assertTrue(self.mirror.checking)
        click(self.mirror, place)
        self.until(self.stage.choice.isVisible)
        self.let_go_of_c()
        self.assertFalse(self.mirror.checking)
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(self.stage.choice.isVisible())
        click(self.mirror, place)
        self.idle()
        self.assertEqual(self.words(), ["launch afresh", 'tap button "About"'])

    def test_a_text_field_edits_by_its_own_keys(self) -> None:
        self.record()
        self.tap("button", "About")
        click(self.stage.scene)
        self.keys("one two")
        before = self.stage.scene.text()
        for key in (Qt.Key.Key_Backspace, Qt.Key.Key_Z):
            self.key(key, CTRL)
            self.idle()
            self.assertEqual(len(self.words()), 2)
        self.assertEqual(self.stage.scene.text(), before)  # a word deleted, and back again
        self.mirror.setFocus()
        self.key(Qt.Key.Key_Backspace, CTRL)
        self.idle()
        self.assertEqual(self.words(), ["launch afresh"])

    def test_wheel_long_press_and_home(self) -> None:
        self.record()
        place = self.at(*self.see("button", "About").box.centre)
        self.at_times(place, 10.0, 10.7)
        self.assertEqual(self.words()[-1], 'hold button "About"')
        click(self.stage.keys["back"])
        self.tap("button", "Hives")
        self.turn_wheel(QPointF(self.at(200, 500)), -2)
        self.assertEqual(self.words()[-1], 'swipe up on list "Hives"')
        place = self.at(*self.see("listitem", "Hive 7").box.centre)
        press(self.mirror, place)
        self.mirror.following._looked -= 5.0  # as if the window had been busy: nothing was held for so long
        self.mirror.following.look()
        self.assertFalse(self.mirror.following.on)
        release(self.mirror, place)
        self.idle()
        self.assertEqual(self.words()[-1], 'tap item "Hive 7"')

    def at_times(self, place: QPoint, pressed: float, released: float) -> None:
        """The left button at a place of the mirror, at these seconds of the window system's clock, however late the window comes to it."""
        kinds = ((QEvent.Type.MouseButtonPress, pressed, LEFT), (QEvent.Type.MouseButtonRelease, released, Qt.MouseButton.NoButton))
        for kind, at, buttons in kinds:
            there = QPointF(self.mirror.mapTo(self.window, place))
            event = QMouseEvent(kind, there, self.window.mapToGlobal(there), LEFT, buttons, NONE)
            event.setTimestamp(int(1000 * at))
            self.app.sendEvent(self.window.windowHandle(), event)
        self.idle()

    def test_on_the_home_screen_it_is_asked_which_app(self) -> None:
        self.key(Qt.Key.Key_R, CTRL)
        self.until(lambda: self.sheet is not None and self.sheet.main.isEnabled())
        self.assertEqual((self.sheet.app.currentData(), self.sheet.ways.button(0).isEnabled()), (APP, False))
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(self.recorder.active)
        self.key(Qt.Key.Key_R, CTRL)
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)
        self.assertEqual(self.words(), ["launch afresh"])

    def test_a_bench_that_changes_meanwhile_does_not_stop_what_was_asked(self) -> None:
        """What had the keys before the sheet, a tile of the bench, is gone when it is answered."""
        self.stage.bench.tiles["LABWRENMINI"].setFocus()
        self.key(Qt.Key.Key_R, CTRL)
        self.until(lambda: self.sheet is not None and self.sheet.main.isEnabled())
        self.lab.unplug("LABWRENMINI")
        self.until(lambda: "LABWRENMINI" not in self.stage.bench.tiles)
        self.app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)

    def test_a_phone_that_is_no_stand_in_keeps_its_data_unless_asked(self) -> None:
        """The presets for a phone of somebody's, what is remembered, and what the phone is told."""
        self.close_window(self.window)
        self.server = Overheard(self.server.port)
        self.window = self.open(stand_ins=False)
        self.tap("generic", "Hive Diary")
        for keys, written, cleared in (
            ((), ["launch keeping its data"], False),
            ((Qt.Key.Key_Tab, Qt.Key.Key_Up), [f'note "{AS_IT_WAS}"', 'check text "Hive Diary" is shown'], False),
            ((Qt.Key.Key_Tab, Qt.Key.Key_Down, Qt.Key.Key_Down), ["launch afresh"], True),
            ((), ["launch keeping its data"], False),  # what clears is never the preset, though it was the last answer
        ):
            with self.subTest(written):
                self.server.said.clear()
                click(self.window.main)
                self.until(lambda: self.sheet is not None and self.sheet.main.isEnabled())
                for key in keys:
                    self.key(key)
                self.answer()
                self.until(lambda: self.recorder.active and self.lead.idle)
                self.assertEqual(self.words(), written)
                self.assertEqual(any(words.startswith("pm clear") for words in self.server.said), cleared)
                click(self.window.second)
                self.until(lambda: not self.recorder.active)

    def test_recording_from_a_line_asks_before_the_script_clears_anything(self) -> None:
        self.tap("generic", "Hive Diary")
        self.record_only("About")
        self.workspace.lead.device = replace(self.lead.device, listed=replace(self.lead.device.listed, stand_in=False))
        with self.asked() as said:  # as it stands, which is harmless
            click(self.script.portrait.record)
            self.until(lambda: said)
        self.assertFalse(self.recorder.starting)
        with self.asked("Delete it and go on") as said:
            click(self.script.portrait.record)
            self.until(lambda: self.recorder.active and self.lead.idle)
        self.assertIn("Everything that org.example.hive_diary has stored on Alder 5 is deleted", said[0])

    def record_only(self, button: str) -> None:
        """A script of one tap, open on its page."""
        click(self.window.main)
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)
        self.tap("button", button)
        self.save("One tap")

    def test_a_recording_cut_short_is_offered_at_the_next_start(self) -> None:
        self.record()
        self.tap("button", "Hives")
        kept = self.words()
        self.close_window(self.window)
        self.window = self.open()
        self.until(lambda: self.offer.isVisible())
        self.assertIn("Its 2 steps are here", self.offer.words.text())
        click(self.offer.go_on)
        self.until(lambda: self.recorder.active)
        self.assertEqual(self.words(), kept)
        click(self.window.second)
        self.until(lambda: not self.recorder.active)
        self.assertFalse(self.offer.isVisible())
        self.assertIn("was thrown away", self.window.message.label.text())

    def test_a_lead_that_goes_away_while_recording_loses_nothing(self) -> None:
        self.record()
        self.tap("button", "Hives")
        self.lab.unplug("LABALDER5")
        self.until(lambda: "Alder 5" not in [d.name for d in self.workspace.devices])
        self.until(lambda: self.window.message.isVisible())
        self.assertEqual(len(self.words()), 2)
        self.assertEqual(len(unfinished(self.workspace.project.recordings_folder)[0].steps), 2)
