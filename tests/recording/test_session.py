import json
import os
import signal
import subprocess
import sys
import textwrap
import time
from pathlib import Path

from copione.language.document import parse
from copione.language.parser import parse_line, parse_target
from copione.model.action import Check, Key, Note, Start
from copione.model.errors import FileTrouble
from copione.model.geometry import Box
from copione.model.gesture import Contact
from copione.model.reading import State
from copione.model.relation import IsShown, IsState, Reads
from copione.model.step import Step
from copione.project.journal import JOURNAL, Journal, throw_away, unfinished
from copione.project.naming import portraits_path
from copione.project.portraits import load_portraits
from copione.project.project import Project
from copione.recording.checks import checkable, likely_checks
from copione.recording.intent import Meaning, portrayed
from copione.recording.recording import Recording
from copione.recording.session import AS_IT_WAS, Session
from copione.touch.making import hold, swipe, tap

from ..benches import APP, LabCase, named

WRITTEN = """script "Spring inspection"
app hive-diary
patience 8 s

scene "Scene 1"
    launch afresh
    tap button "Hives"
    find item "Hive 17" in list "Hives"
    tap item "Hive 17"
    tap button "New inspection"
    set slider "Brood frames" to 6
    switch on "Queen seen"
    choose "Calm" in radiogroup "Temper"
    type "Fresh comb" into field "Notes"
    tap button "Save inspection"
    check label "Last seen" reads "Today"
    press back
"""


class RecordingCase(LabCase):
    """A recording on a stand-in, and what a hand does in it."""

    def begin(self, name: str = "Alder 5") -> Session:
        self.project = Project.create(self.scratch / "project", "Bees")
        session = Session(self.link(name), self.project, APP)
        self.addCleanup(session.journal.close)
        session.launch(Start.AFRESH)
        return session

    def tap(self, session: Session, role: str, name: str) -> None:
        session.touch([tap(*named(session.moment.screen, role, name).box.centre)])

    def words(self, session: Session) -> list[str]:
        return [s.words for s in session.recording.steps]

    def form(self, session: Session) -> None:
        for role, name in (("button", "Hives"), ("listitem", "Hive 2"), ("button", "New inspection")):
            self.tap(session, role, name)

    def whole(self, session: Session) -> None:
        self.tap(session, "button", "Hives")
        while not any(e.name == "Hive 17" and e.box.height > 50 for e in session.moment.screen):
            session.touch([swipe(200, 760, 200, 500, 0.5)])
        self.tap(session, "listitem", "Hive 17")
        self.tap(session, "button", "New inspection")
        box = named(session.moment.screen, "slider", "Brood frames").box
        begin, end = box.left + 12, box.right - 12
        session.touch([swipe(begin + 0.3 * (end - begin), box.centre[1], begin + 0.6 * (end - begin), box.centre[1])])
        self.tap(session, "switch", "Queen seen")
        self.tap(session, "radio", "Calm")
        self.tap(session, "textbox", "Notes")
        session.type("Fresh c")
        session.type("x")
        session.erase()
        session.type("omb")
        self.tap(session, "button", "Save inspection")
        session.check(likely_checks(named(session.moment.screen, "text", "Today"))[0])
        session.press(Key.BACK)


class Recorded(RecordingCase):
    def test_using_the_app_writes_the_script_a_person_would(self) -> None:
        session = self.begin()
        self.whole(session)
        path = session.save("Spring inspection")
        self.assertEqual(path.read_text("utf-8"), WRITTEN)
        self.assertEqual(parse(WRITTEN).problems, ())
        self.assertEqual(self.project.apps["hive-diary"].packages, {"android": APP})

    def test_the_same_on_a_tablet_with_two_panes(self) -> None:
        session = self.begin("Plateau 10")
        self.whole(session)
        steps = [line for line in WRITTEN.splitlines()[5:] if "find" not in line]
        self.assertEqual(["    " + w for w in self.words(session) if not w.startswith("find")], steps)

    def test_nothing_in_script_or_portraits_names_a_device_or_a_pixel(self) -> None:
        session = self.begin()
        self.whole(session)
        path = session.save("Spring inspection")
        for file in (path, portraits_path(path)):
            text = file.read_text("utf-8")
            for banned in ("LABALDER5", "Alder", "1784", "px", "android.widget"):
                self.assertNotIn(banned, text)
        self.assertIn('"size": [412.0, 892.0]', text)
        portraits = load_portraits(portraits_path(path))
        self.assertEqual({k for k in portraits if "Hive 17" in k}, {'item "Hive 17"', 'item "Hive 17" in list "Hives"'})
        frames = {p.picture for several in portraits.values() for p in several}
        self.assertTrue(all((path.with_suffix("").with_name("spring-inspection.frames") / f).exists() for f in frames if f))

    def test_another_app_in_front_is_a_step_and_stands_in_the_head(self) -> None:
        session = self.begin()
        session.press(Key.HOME)
        session.touch([tap(*named(session.moment.screen, "text", "Contacts").box.centre)])
        session.touch([tap(*named(session.moment.screen, "listitem", "Ines Holt").box.centre)])
        session.press(Key.HOME)
        session.touch([tap(*named(session.moment.screen, "text", "Hive Diary").box.centre)])
        session.open_app("org.example.contacts", Start.AFRESH)
        session.open_app("org.example.contacts")
        session.stop_app("org.example.contacts")
        path = session.save("Two apps")
        self.assertEqual(self.project.load(path).problems(), ())
        kept = ("app ", "launch", "switch", "press", "quit", "tap")
        self.assertEqual(
            [line.strip() for line in path.read_text("utf-8").splitlines() if line.strip().startswith(kept)],
            [
                "app hive-diary",
                "app contacts",
                "launch afresh",
                "press home",
                "switch to contacts",
                'tap item "Ines Holt"',
                "press home",
                "launch",
                "launch contacts afresh",
                "switch to contacts",
                "quit contacts",
            ],
        )

    def test_a_hold_and_a_sideways_swipe_stay_what_they_are(self) -> None:
        session = self.begin()
        session.touch([hold(*named(session.moment.screen, "button", "About").box.centre)])
        session.press(Key.BACK)
        self.tap(session, "button", "Hives")
        box = named(session.moment.screen, "listitem", "Hive 2").box
        session.touch([swipe(box.right - 30, box.centre[1], box.left + 30, box.centre[1])])
        self.assertEqual(self.words(session)[-1], 'swipe left on item "Hive 2"')
        self.assertIn('hold button "About"', self.words(session))

    def test_letters_typed_on_the_glass_are_typing_too(self) -> None:
        session = self.begin()
        self.form(session)
        self.tap(session, "textbox", "Notes")
        keys = self.lab.phones["LABALDER5"].frame().keys
        for letter in "ok":
            key = next(n for n in keys.walk() if n.text == letter)
            session.touch([tap(key.box.left + 5, key.box.top + 5)])
        self.assertEqual(self.words(session)[-1], 'type "ok" into field "Notes"')
        self.assertNotIn('tap field "Notes"', self.words(session))

    def test_a_gesture_is_read_against_the_screen_the_hand_saw(self) -> None:
        session = self.begin()
        old = session.moment
        self.lab.phones["LABALDER5"].pointer("down", 0, 400, 1000, 0)
        self.lab.phones["LABALDER5"].key("HOME")
        session.touch([tap(5, 700)], png=self.link().picture())
        self.assertIsNot(session.moment, old)
        self.assertEqual(session.moment.screen.app, "org.example.launcher")

    def test_checks_are_worded_with_the_present_value(self) -> None:
        session = self.begin()
        self.form(session)
        screen = session.moment.screen
        table = {
            ("switch", "Queen seen"): IsState(State.OFF),
            ("slider", "Brood frames"): Reads("3"),
            ("button", "Save inspection"): IsShown(),
        }
        for (role, name), relation in table.items():
            self.assertEqual(likely_checks(named(screen, role, name))[0].step.action.relation, relation)
        self.assertEqual(checkable(screen, *named(screen, "slider", "Brood frames").box.centre).role, "slider")
        self.assertIsNone(checkable(screen, -5, 4))

    def test_two_elements_of_one_name_are_told_apart_by_where_they_are(self) -> None:
        session = self.begin("Plateau 10")
        self.tap(session, "button", "Hives")
        self.tap(session, "listitem", "Hive 2")
        self.assertEqual(self.words(session)[-1], 'tap item "Hive 2"')


class Changing(LabCase):
    def test_undo_redo_delete_rename_and_variables(self) -> None:
        recording = Recording("bees")
        screen = self.screen("Alder 5", "form")
        for element in (named(screen, "button", "Save inspection"), named(screen, "radio", "Calm")):
            recording.add(likely_checks(element)[0])
        words = [s.words for s in recording.steps]
        recording.delete(recording.steps[0].uid)
        self.assertEqual([s.words for s in recording.steps], words[1:])
        recording.undo()
        self.assertEqual([s.words for s in recording.steps], words)
        recording.redo()
        recording.rename_scene("Scene 1", "Form")
        self.assertEqual(recording.script("x").scenes[0].name, "Form")
        recording.make_variable("Calm", "temper")
        self.assertIn("{temper}", recording.steps[0].words)
        self.assertIn(recording.steps[0].step.key(), recording.portraits())
        recording.change(recording.steps[0].uid, Step(Note("n")))
        recording.make_variable("n", "words")  # words for people are nobody's data
        self.assertEqual(recording.take_back().words, 'note "n"')
        self.assertIsNone(recording.take_back())

    def test_no_word_of_the_language_becomes_a_variable(self) -> None:
        recording = Recording("bees")
        lines = ("press back", "turn landscape", 'switch on "back"', 'keep label "x" as {back}', 'check tab "on" is selected')
        for line in lines:
            recording.add(Meaning(parse_line(line, 0)[0]))
        for word in ("back", "landscape", "on", "selected"):
            recording.make_variable(word, "made")
        words = [s.words for s in recording.steps]
        self.assertEqual(words[:2] + words[3:4], [lines[0], lines[1], lines[3]])
        self.assertEqual(words[2], 'switch on "{made}"')
        self.assertEqual([parse_line(w, 0)[1] for w in words], [None] * len(words))


class HeldFingers(RecordingCase):
    """A finger that is followed while it is down: what it does is seen at once, and recorded as the hand's own path."""

    def test_a_slider_that_follows_is_recorded_as_if_it_had_not(self) -> None:
        session = self.begin()
        self.form(session)
        box = named(session.moment.screen, "slider", "Brood frames").box
        begin, end, y = box.left + 12, box.right - 12, box.centre[1]
        path = tuple((0.1 * i, begin + (end - begin) * (0.3 + 0.03 * i), y) for i in range(11))
        png = session.moment.png
        session.finger_down([(x, y) for _, x, y in path[:5]], png)
        moving = self.link().picture()
        session.finger_moved([(x, y) for _, x, y in path[5:9]])
        self.assertNotEqual(moving, png)
        self.assertNotEqual(self.link().picture(), moving)
        session.finger_up(Contact(0, path, 1.1))
        self.assertEqual(self.words(session)[-1], 'set slider "Brood frames" to 6')
        self.assertEqual(session.recording.steps[-1].mark[-1], path[-1][1:])

    def test_a_phone_that_takes_gestures_as_a_whole_gets_it_at_the_lift(self) -> None:
        session = self.begin()
        x, y = named(session.moment.screen, "button", "About").box.centre
        session.finger_up(Contact(0, ((0.0, x, y),), 0.7))
        self.assertEqual(self.words(session)[-1], 'hold button "About"')

    def test_begun_as_it_is_the_script_says_so_and_checks_the_page(self) -> None:
        self.begin()
        session = Session(self.link(), self.project, APP)
        self.addCleanup(session.journal.close)
        self.tap(session, "button", "Hives")
        session = Session(self.link(), self.project, APP)
        self.addCleanup(session.journal.close)
        session.begin_as_it_is()
        self.assertEqual(self.words(session), [f'note "{AS_IT_WAS}"', 'check text "Hives" is shown'])


class Journals(RecordingCase):
    def test_a_recording_that_was_cut_short_is_offered_back_whole(self) -> None:
        session = self.begin()
        self.whole(session)
        (kept,) = unfinished(self.project.recordings_folder)
        again = Session(self.link(), self.project, APP, recovered=kept)
        self.addCleanup(again.journal.close)
        self.assertEqual(self.words(again), self.words(session))
        self.assertEqual(again.save("Again").read_text("utf-8").splitlines()[1:], WRITTEN.splitlines()[1:])
        self.assertEqual(unfinished(self.project.recordings_folder), [])

    def test_one_that_was_thrown_away_is_not(self) -> None:
        self.begin()
        (kept,) = unfinished(self.project.recordings_folder)
        throw_away(kept)
        self.assertEqual(unfinished(self.project.recordings_folder), [])

    def test_a_line_cut_in_the_middle_loses_only_itself(self) -> None:
        session = self.begin()
        self.form(session)
        path = session.journal.folder / JOURNAL
        whole = path.read_bytes()
        for cut in (1, 30, 200):
            path.write_bytes(whole[:-cut])
            (kept,) = unfinished(self.project.recordings_folder)
            self.assertGreaterEqual(len(kept.steps), len(session.recording.steps) - 1)

    def test_targets_come_back_with_all_that_their_words_say(self) -> None:
        session = self.begin()
        element = named(session.moment.screen, "button", "Hives")
        words = ('button like "Hi*" under "Today"', 'item with "due" in list like "H*"', 'area 0.1 0.2 0.5 0.6 of button "Hives"')
        for target in map(parse_target, words):
            session.check(Meaning(Step(Check(target, IsShown())), portrayed(target, element), element))
        session.stop_journal()
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual([step.portraits[0][0].words() for step in kept.steps[-3:]], list(words))

    def test_a_full_disk_is_said(self) -> None:
        folder = self.scratch / "full"
        folder.mkdir()
        (folder / JOURNAL).symlink_to("/dev/full")
        journal = Journal(self.scratch, "bees", folder)
        with self.assertRaises(FileTrouble) as caught:
            journal.steps((), "Scene 1")
        self.assertIn("The disk is full", caught.exception.sentence)
        with self.assertRaises(OSError):
            journal.close()

    def test_kill_9_at_any_step_keeps_every_finished_one(self) -> None:
        project = Project.create(self.scratch / "killed", "Bees")
        code = f"""
            from copione.model.action import Key, Start
            from copione.links.adb.server import AdbServer
            from copione.links.adb.link import AdbLink
            from copione.project.project import Project
            from copione.recording.session import Session
            from copione.touch.making import tap
            from pathlib import Path
            session = Session(AdbLink(AdbServer(port={self.face.port}), "LABALDER5"), Project(Path({str(project.folder)!r})), {APP!r})
            session.launch(Start.AFRESH)
            print(len(session.recording.steps), flush=True)
            while True:
                for name in ("About", "back"):
                    if name == "back":
                        session.press(Key.BACK)
                    else:
                        e = next(e for e in session.moment.screen if e.name == name and e.role == "button")
                        session.touch([tap(*e.box.centre)])
                    print(len(session.recording.steps), flush=True)
        """
        process = subprocess.Popen([sys.executable, "-c", textwrap.dedent(code)], stdout=subprocess.PIPE, text=True)
        assert process.stdout is not None
        told = 0
        while told < 9:
            told = int(process.stdout.readline())
        os.kill(process.pid, signal.SIGKILL)
        rest = process.stdout.read().split()
        process.stdout.close()
        process.wait()
        (kept,) = unfinished(project.recordings_folder)
        self.assertGreaterEqual(len(kept.steps), int(rest[-1]) if rest else told)
        self.assertTrue(all(p.element.box != Box(0, 0, 0, 0) for s in kept.steps for _, p in s.portraits))
        self.assertLess(kept.started, time.time())
        first = json.loads((kept.folder / JOURNAL).read_text("utf-8").splitlines()[0])
        self.assertEqual(first["app"], "hive-diary")
        self.assertIsInstance(kept.folder, Path)
