import math
import time

from copione.links.bare import ObservationOverhead
from copione.model.action import Check, Key, Orientation
from copione.model.doubt import Doubt
from copione.model.gesture import Contact
from copione.model.reading import State
from copione.model.relation import IsState
from copione.model.step import Step
from copione.project.journal import unfinished
from copione.report.defect import Defect, write_up
from copione.touch.making import drag, hold, swipe, tap, two_fingers, with_fingers

from ..benches import APP, named
from .test_session import RecordingCase


class Exploring(RecordingCase):
    def test_notes_stretches_and_a_write_up(self) -> None:
        session = self.begin()
        self.form(session)
        session.snap()
        session.note("the brood frames begin at three")
        self.tap(session, "switch", "Queen seen")
        self.assertEqual(self.words(session)[-3], 'snap "Picture 1"')
        uids = [s.uid for s in session.recording.steps[-2:]]
        path = session.save_stretch("Queen", uids)
        self.assertEqual(
            path.read_text("utf-8").splitlines()[-2:], ['    note "the brood frames begin at three"', '    switch on "Queen seen"']
        )
        self.assertEqual(len(unfinished(self.project.recordings_folder)), 1)
        link = self.link()
        defect = Defect("Queen is seen at once", "Off at first", "")
        steps = session.recording.stretch(uids)
        for folder in ("queen-is-seen-at-once", "queen-is-seen-at-once-2"):
            made = write_up(self.scratch, defect, steps, session.journal.folder, link.profile(), "bees", "2.4", link.log(0))
            self.assertEqual(made.parent.name, folder)
        text = made.read_text("utf-8")
        for words in (
            "# Queen is seen at once",
            "Alder 5, Android 14, 412 x 892 dp",
            "bees 2.4",
            '2. switch on "Queen seen"',
            "(not said)",
            "HiveDiary",
        ):
            self.assertIn(words, text)
        self.assertTrue((made.parent / f"{steps[-1].shot}.png").exists())
        session.discard()
        self.assertIn("page form", (session.journal.folder / "device.log").read_text("utf-8"))

    def test_a_touch_that_changed_nothing_is_marked_and_one_read_late_too(self) -> None:
        session = self.begin()
        self.tap(session, "img", "Honeycomb")
        self.assertEqual((session.recording.steps[-1].words, session.recording.steps[-1].doubt), ('tap image "Honeycomb"', Doubt.IDLE))
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual(kept.steps[-1].doubt, Doubt.IDLE)
        gesture = session_gesture(session, "button", "Hives")
        session.record_performed_gesture(gesture, Doubt.STALE, last=False)
        self.assertEqual(session.recording.steps[-1].doubt, Doubt.STALE)

    def test_written_down_plainly_gestures_stay_gestures(self) -> None:
        session = self.begin()
        self.form(session)
        session.record_plainly(True)
        box = named(session.moment.screen, "slider", "Brood frames").box
        session.touch([swipe(box.left + 40, box.centre[1], box.left + 200, box.centre[1])])
        self.tap(session, "switch", "Queen seen")
        field = named(session.moment.screen, "textbox", "Notes").box
        session.touch([drag(field.left + 60, field.centre[1], field.left + 60 + field.width / 2, field.centre[1], 1.5)])
        self.assertEqual(
            self.words(session)[-3:],
            ['swipe right on slider "Brood frames"', 'tap switch "Queen seen"', 'drag field "Notes" by 0.5 0'],
        )

    def test_what_fingers_do_to_a_canvas_and_a_row_is_told_in_its_own_measures(self) -> None:
        session = self.begin()
        self.tap(session, "button", "Apiary map")
        box = named(session.moment.screen, "canvas", "Apiary map").box
        session.touch(two_fingers(box.centre, 100, scale=0.5))
        session.touch(two_fingers(box.centre, 100, angle=-30))
        session.touch([swipe(box.left + 40, box.centre[1], box.left + 40 + box.width / 2, box.centre[1])])
        session.touch([Contact(0, ((0.0, *box.centre),), 0.05)])
        words = self.words(session)[-4:]
        self.assertEqual(words[:2], ['pinch canvas "Apiary map" by 0.5', 'twist canvas "Apiary map" by -30'])
        self.assertRegex(words[2], r'draw on canvas "Apiary map" path "M \.\d+ \.5 L \.\d+ \.5"')
        self.assertEqual(words[3], 'draw on canvas "Apiary map" path "M .5 .5"')
        for contact in (tap(*box.centre), hold(*box.centre), drag(*box.centre, box.centre[0], box.centre[1] - box.height / 4)):
            session.touch(with_fingers(contact, 3, box.width, box.height))
        several = [f"{words} using 3 fingers" for words in ('tap canvas "Apiary map"', 'hold canvas "Apiary map"')]
        self.assertEqual(self.words(session)[-3:-1], several)
        self.assertRegex(self.words(session)[-1], r'drag canvas "Apiary map" by 0 -0\.2\d using 3 fingers')
        session.record_plainly(True)
        session.touch(two_fingers(box.centre, 100, scale=0.5))
        self.assertEqual(self.words(session)[-1], 'pinch canvas "Apiary map" by 0.5')
        session.record_plainly(False)
        session.turn(Orientation.LANDSCAPE)
        session.turn(Orientation.PORTRAIT)
        self.assertEqual(self.words(session)[-2:], ["turn landscape", "turn portrait"])
        session.press(Key.BACK)
        self.tap(session, "button", "Hives")
        session.touch([swipe(4, 300, 160, 300)])
        self.assertEqual(self.words(session)[-1], "press back")

    def test_after_a_long_load_the_step_that_waited_gets_more_patience(self) -> None:
        session = self.begin()
        session._acted -= 6.5  # as if the last look had come so much later
        self.lab.phones["LABALDER5"]._app(APP).go("hives")
        self.lab.phones["LABALDER5"]._changed()
        since = session._acted
        session.look()
        waited = time.time() - since
        self.tap(session, "listitem", "Hive 3")
        within = session.recording.steps[-1].step.within
        self.assertTrue(13 <= within <= math.ceil(2 * waited), (within, waited))
        self.tap(session, "tab", "Past visits")
        self.assertEqual(self.words(session)[-1], 'tap tab "Past visits"')

    def test_what_looking_takes_is_no_waiting_for_the_app(self) -> None:
        """A look in which the app's answer is seen, on a computer that is busy or a phone whose looks take long."""
        bare = ObservationOverhead()
        self.assertAlmostEqual(bare.own(since=100.2, there=106.2, acted=100.0), 0.2)  # what a look takes is not known: at most its own
        for seconds in (0.5, 6.0, 0.7):
            bare.add(seconds)
        for since, own in ((100.2, 0.2), (103.0, 3.0), (100.0, 0.0)):
            self.assertAlmostEqual(bare.own(since, since + 6.0, acted=100.0), own)
        for _ in range(9):
            bare.add(0.5)
        self.assertAlmostEqual(bare.own(since=100.2, there=106.2, acted=100.0), 5.7)

    def test_a_step_becomes_a_check(self) -> None:
        session = self.begin()
        self.form(session)
        session.touch([hold(*named(session.moment.screen, "button", "Save inspection").box.centre)])
        last = session.recording.steps[-1]
        session.recording.change(last.uid, Step(Check(last.step.target, IsState(State.ENABLED))))
        self.assertEqual(self.words(session)[-1], 'check button "Save inspection" is enabled')
        self.assertIn('button "Save inspection"', session.recording.portraits())


def session_gesture(session, role: str, name: str):
    from copione.touch.reading import read_contacts

    return read_contacts([tap(*named(session.moment.screen, role, name).box.centre)])
