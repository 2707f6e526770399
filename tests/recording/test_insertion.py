import shutil

from copione.model.clock import SteppedClock
from copione.project.journal import unfinished
from copione.project.naming import frames_folder, portraits_path
from copione.project.portraits import load_portraits
from copione.project.project import Project
from copione.recording.insertion import Insertion
from copione.recording.session import Session
from copione.replay.approach import NotThere, replay_up_to, up_to

from ..benches import APP, EXAMPLE, SERIALS
from .test_session import RecordingCase


class FromHere(RecordingCase):
    """The demo's script is replayed up to a line, and goes on there by hand."""

    def setUp(self) -> None:
        super().setUp()
        shutil.copytree(EXAMPLE, self.scratch / "project", ignore=shutil.ignore_patterns("runs", "recordings"))
        self.project = Project(self.scratch / "project")
        self.loaded = self.project.load(self.project.script_path("Spring inspection"))

    def line(self, words: str) -> int:
        return next(n for n, line in enumerate(self.loaded.document.lines, 1) if words in line.text)

    def at(self, words: str) -> Session:
        line = self.line(words)
        link = self.link()
        heard: list[tuple[int, int]] = []
        replay_up_to(link, self.project, self.loaded, line, SteppedClock(), lambda number, total: heard.append((number, total)))
        self.assertEqual(heard[-1][0], heard[-1][1])
        into = Insertion.behind(self.loaded, line)
        session = Session(link, self.project, APP, into=into)
        self.addCleanup(session.journal.close)
        return session

    def test_new_steps_stand_behind_the_line_with_their_evidence_and_values(self) -> None:
        session = self.at("set slider")
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]]._app(APP).draft.frames, 6)
        self.tap(session, "button", "One super more")
        session.recording.new_scene("A look aside")
        self.tap(session, "combobox", "Weather")
        self.tap(session, "option", "Windy")
        session.recording.make_variable("Windy", "weather")
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual((kept.into["line"], kept.into["scene"]), (session.into.line, session.into.scene))
        text = self.loaded.document.text.splitlines()
        text.insert(3, "# something was written above meanwhile")
        self.loaded.path.write_text("\n".join(text) + "\n", "utf-8")

        path = session.save("ignored")
        self.assertEqual(path, self.loaded.path)
        now = self.project.load(path)
        self.assertEqual(now.document.problems, ())
        lines = [line.text.strip() for line in now.document.lines]
        at = session.began_at - 1
        self.assertIn("set slider", lines[at - 1])
        self.assertEqual(
            lines[at : at + 6],
            [
                'set stepper "Honey supers" to 2',
                "",
                'scene "A look aside"',
                'choose "{weather}" in combobox "Weather"',
                "",
                f'scene "{session.into.scene}"',
            ],
        )
        self.assertEqual(now.rows[0]["weather"], "Windy")
        self.assertEqual(now.rows[0]["hive"], self.loaded.rows[0]["hive"])
        portrait = load_portraits(portraits_path(path))['stepper "Honey supers"'][0]
        self.assertTrue((frames_folder(path) / portrait.picture).exists())
        self.assertEqual(len(now.portraits), len(self.loaded.portraits) + 2)
        self.assertEqual(unfinished(self.project.recordings_folder), [])

    def test_a_step_stuck_on_the_way_says_which(self) -> None:
        self.lab.phones[SERIALS["Alder 5"]].uninstall(APP)
        with self.assertRaises(NotThere) as caught:
            replay_up_to(self.link(), self.project, self.loaded, self.line("set slider"), SteppedClock())
        self.assertIn("launch afresh was stuck on the way", caught.exception.sentence)

    def test_only_the_steps_above_are_replayed(self) -> None:
        line = self.line("set slider")
        steps = [step.line for _, step in up_to(self.loaded.script, line).steps()]
        self.assertEqual(max(steps), line)
