"""Records the demo scripts anew on the stand-in phone Alder 5, as a person would: `python examples/record.py`.

Values that the data rows give become variables afterwards; comments are not kept. Of the scripts that were edited after they were
recorded only what is kept beside them is made anew: portraits and frames.
"""

from __future__ import annotations

import shutil
import sys
from collections.abc import Callable, Mapping
from pathlib import Path

from copione.language.printer import step_words
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.link import Link
from copione.model.action import Key, Start
from copione.model.screen import Element
from copione.project.project import Project
from copione.recording.checks import likely_checks
from copione.recording.session import Session
from copione.touch.making import fling, swipe, tap
from copione_lab.spawn import LabProcess

PROJECT = Path(__file__).parent / "hive-diary"
VARIABLES = {"Hive 17": "hive", "6": "frames", "Fresh comb on 3 frames": "note"}


class Hand:
    """Finds what a person would touch on the newest screen, and touches it."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def see(self, role: str, name: str) -> Element:
        screen = self.session.moment.screen
        assert screen is not None
        return next(e for e in screen if (e.role, e.name) == (role, name))

    def tap(self, role: str, name: str) -> None:
        self.session.touch([tap(*self.see(role, name).box.centre)])

    def check(self, role: str, name: str, words: str) -> None:
        choices = likely_checks(self.see(role, name))
        said = {step_words(meaning.step).rpartition('" ')[2]: meaning for meaning in reversed(choices)}
        self.session.check(next(meaning for relation, meaning in reversed(said.items()) if relation.startswith(words)))


def record(session: Session) -> None:
    hand = Hand(session)
    session.recording.new_scene("Open the hive")
    session.launch(Start.AFRESH)
    hand.tap("button", "Hives")
    session.touch([swipe(206, 720, 206, 400, 0.5)])
    session.touch([swipe(206, 640, 206, 560, 0.5)])
    hand.tap("listitem", "Hive 17")
    hand.check("img", "Comb picture", "looks as recorded")
    session.recording.new_scene("Note what was seen")
    hand.tap("button", "New inspection")
    box = hand.see("slider", "Brood frames").box
    begin, end = box.left + 12, box.right - 12
    session.touch([swipe(begin + (end - begin) * 0.3, box.centre[1], begin + (end - begin) * 0.6, box.centre[1], 0.5)])
    hand.check("slider", "Brood frames", "reads")
    hand.tap("switch", "Queen seen")
    hand.tap("radio", "Calm")
    hand.tap("textbox", "Notes")
    session.type("Fresh comb on 3 frames")
    hand.tap("button", "Save inspection")
    session.recording.new_scene("After saving")
    hand.check("text", "Inspection saved", "is shown")
    hand.check("text", "Today", "reads")
    hand.check("text", "Brood frames", "reads the same on every device")


def record_common(session: Session) -> None:
    """The scenes that others perform."""
    hand = Hand(session)
    session.launch(Start.AFRESH)
    session.recording.new_scene("Sign in")
    hand.tap("button", "Settings")
    hand.tap("button", "Sign in")
    hand.tap("textbox", "Name")
    session.type("Ada")
    hand.tap("textbox", "Password")
    session.type("comb-and-smoker")
    session.press(Key.BACK)
    hand.tap("button", "Sign in")
    hand.check("text", "Signed in", "is shown")
    session.press(Key.BACK)
    session.press(Key.BACK)
    hand.tap("button", "Hives")
    session.recording.new_scene("Open a hive")
    session.touch([swipe(206, 520, 206, 470, 0.5)])
    hand.tap("listitem", "Hive 3")


def record_rounds(session: Session) -> None:
    """What is done with them."""
    hand = Hand(session)
    session.recording.new_scene("Begin signed in")
    session.launch(Start.AFRESH)
    hand.tap("button", "Hives")
    hand.tap("listitem", "Hive 3")
    session.recording.new_scene("Every hive of the round")
    hand.check("text", "Brood frames", "reads")
    session.press(Key.BACK)
    session.recording.new_scene("Down to the last hive")
    for _ in range(6):
        session.touch([fling(206, 700, 206, 300)])
    hand.check("text", "Hive 24", "is shown")
    session.touch([swipe(206, 300, 206, 640, 0.5)])
    hand.check("list", "Hives", "has")


def recorded(project: Project, link: Link, name: str, steps: Callable[[Session], None], variables: Mapping[str, str]) -> Path:
    """Record a script of that name."""
    session = Session(link, project, "org.example.hive_diary")
    steps(session)
    for value, variable in variables.items():
        session.recording.make_variable(value, variable)
    path = project.script_path(name)
    session.save(name, path)
    return path


def main() -> int:
    with LabProcess() as lab:
        bench = Bench(AdbServer(port=lab.port))
        device = next(d for d in bench.look() if d.name == "Alder 5")
        assert device.worker is not None
        project, link = Project(PROJECT), device.worker.link
        place = recorded(project, link, "Spring inspection", record, VARIABLES)
        for name, steps in (("Common", record_common), ("A week of rounds", record_rounds)):
            text = project.script_path(name).read_text("utf-8")
            recorded(project, link, name, steps, {"Hive 3": "hive", "Ada": "name"} if steps is record_common else {})
            project.script_path(name).write_text(text, "utf-8")
            project.data_path(f"{project.script_path(name).stem}.csv").unlink(missing_ok=True)
        bench.close()
    shutil.rmtree(project.recordings_folder)
    data = project.data_path("spring-inspection.csv")
    data.replace(data.with_name("hives.csv"))
    lines = place.read_text("utf-8").replace(data.name, "hives.csv")
    place.write_text(lines, "utf-8")
    print(lines)
    return 0


if __name__ == "__main__":
    sys.exit(main())
