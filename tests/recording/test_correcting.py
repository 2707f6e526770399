from copione.model.doubt import Doubt
from copione.model.outcome import Outcome
from copione.project.journal import unfinished
from copione.recording.recording import mergeable
from copione.touch.making import tap
from copione.touch.reading import read_contacts

from ..benches import named
from ..replay.test_take import RunCase
from .test_session import RecordingCase


class Correcting(RecordingCase):
    def test_a_late_touch_offers_what_else_it_may_have_been(self) -> None:
        """Two taps in a row on the glass: the second was read against the page that the first one left."""
        session = self.begin()
        hives, tasks = (named(session.moment.screen, "button", name).box for name in ("Hives", "Tasks"))
        session.link.touch([tap(*hives.centre)])
        session.record_performed_gesture(read_contacts([tap(*hives.centre)]), last=False)
        session.record_performed_gesture(read_contacts([tap(tasks.centre[0], tasks.bottom - 4)]), Doubt.STALE)
        last = session.recording.steps[-1]
        self.assertEqual((last.words, last.doubt), ('tap button "Tasks"', Doubt.STALE))
        others = [other.words for other in last.others]
        self.assertRegex(others[0], r'tap item "Hive \d+"')  # there on the page that came
        self.assertIn('tap button "Rounds"', others)  # right below it
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual([len(s.others) for s in kept.steps], [0, 0, len(others)])
        session.recording.take_alternative(last.uid, 0)
        taken = session.recording.steps[-1]
        self.assertEqual((taken.words, taken.doubt, taken.uid), (others[0], None, last.uid))
        self.assertIn(taken.step.key(), session.recording.portraits())

    def test_a_step_is_pointed_at_another_element_of_its_frame(self) -> None:
        session = self.begin()
        self.form(session)
        screen = session.moment.screen
        self.tap(session, "switch", "Queen seen")
        uid = session.recording.steps[-1].uid
        shot = session.recording.steps[-1].portraits[0][1].picture
        session.recording.retarget(uid, named(screen, "button", "Save inspection"))
        pointed = session.recording.steps[-1]
        self.assertEqual(pointed.words, 'tap button "Save inspection"')
        self.assertEqual([(target.words(), p.picture) for target, p in pointed.portraits], [('button "Save inspection"', shot)])
        session.recording.undo()
        self.assertEqual(self.words(session)[-1], 'switch on "Queen seen"')

    def test_typing_is_split_merged_and_appended(self) -> None:
        session = self.begin()
        self.form(session)
        self.tap(session, "textbox", "Notes")
        session.type("fresh comb")
        uid = session.recording.steps[-1].uid
        session.recording.split(uid, 5)
        self.assertEqual(self.words(session)[-2:], ['type "fresh" into field "Notes"', 'append " comb" to field "Notes"'])
        last = session.recording.steps[-1].uid
        self.assertTrue(mergeable(session.recording.steps, last))
        session.recording.merge(last)
        self.assertEqual(self.words(session)[-1], 'type "fresh comb" into field "Notes"')
        self.assertFalse(mergeable(session.recording.steps, session.recording.steps[-1].uid))
        self.tap(session, "switch", "Queen seen")
        self.tap(session, "textbox", "Notes")
        session.type(", two")
        session.type(" cells")
        self.assertEqual(self.words(session)[-1], 'append ", two cells" to field "Notes"')
        for _ in range(len(", two cells") + 5):
            session.erase()
        self.assertEqual(self.words(session)[-1], 'type "fresh" into field "Notes"')

    def test_a_value_becomes_a_variable_with_a_data_row_of_its_own(self) -> None:
        session = self.begin()
        self.tap(session, "button", "Hives")
        self.tap(session, "listitem", "Hive 2")
        self.tap(session, "button", "New inspection")
        self.tap(session, "radio", "Calm")
        session.recording.make_variable("Calm", "temper")
        session.recording.make_variable("Hive 2", "hive")
        self.tap(session, "button", "Save inspection")
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual(kept.values, {"temper": "Calm", "hive": "Hive 2"})
        path = session.save("By row")
        loaded = self.project.load(path)
        self.assertEqual((loaded.script.data, loaded.rows), ("by-row.csv", ({"temper": "Calm", "hive": "Hive 2"},)))
        self.assertIn('tap item "{hive}"', loaded.document.text)
        self.assertEqual(loaded.document.problems, ())


class Appended(RunCase):
    def test_it_is_typed_behind_what_is_there(self) -> None:
        steps = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        typing = ('type "fresh" into field "Notes"', 'switch on "Queen seen"', 'append " comb" to field "Notes"')
        results = self.one(*steps, *typing)
        self.assertEqual((results[-1].outcome, results[-1].read), (Outcome.HELD, "fresh comb"))
