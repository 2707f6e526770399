"""A round through all of Hive Diary's pages, done by some hand while a recording goes on, and the judge of a replay: the app's own log."""

from __future__ import annotations

import re
import shutil
import unittest.mock
from collections.abc import Callable, Sequence
from pathlib import Path

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.action import Key, Start
from copione.model.clock import SystemClock
from copione.model.gesture import Contact
from copione.model.screen import Element
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione.touch import making
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import APP, EXAMPLE, Heard, named


class Guest:
    """Finds what a person would touch on the newest screen. `put` does a gesture, `write` types into the field that has the focus."""

    def __init__(self, session: Session, put: Callable[[Sequence[Contact]], object], write: Callable[[str], object]) -> None:
        self.session, self.put, self.write = session, put, write

    def see(self, role: str, name: str) -> Element:
        try:
            return named(self.session.moment.screen, role, name)
        except StopIteration:
            shown = [(e.role, e.name) for e in self.session.moment.screen or () if e.name]
            raise AssertionError(f"no {role} {name!r} among {shown}") from None

    def tap(self, role: str, name: str) -> None:
        self.put([making.tap(*self.see(role, name).box.centre)])

    def stroke(self, element: Element, dx: float = 0.0, dy: float = 0.0, seconds: float = 0.3) -> None:
        x, y = element.box.centre
        self.put([making.swipe(x - dx / 2, y - dy / 2, x + dx / 2, y + dy / 2, seconds)])

    def up(self, dy: float = 300) -> None:
        """Scroll what fills the page."""
        screen = self.session.moment.screen
        assert screen is not None
        x, y = screen.width - 30, screen.height * 0.62
        self.put([making.drag(x, y, x, y - dy, 0.5)])


def tour(session: Session, guest: Guest) -> None:
    """Every page, every control of Hive Diary."""
    scene = session.recording.new_scene
    scene("Hives")
    session.launch(Start.AFRESH)
    guest.tap("button", "Hives")
    guest.stroke(guest.see("list", "Hives"), dy=260)
    guest.stroke(guest.see("listitem", "Hive 2"), dx=-270)
    guest.tap("button", "Undo")
    guest.put([making.hold(*guest.see("listitem", "Hive 4").box.centre)])
    guest.tap("button", "Cancel")
    guest.up(480)
    guest.up(320)
    guest.tap("listitem", "Hive 17")
    scene("One hive")
    guest.tap("tab", "Past visits")
    guest.tap("tab", "Now")
    guest.put(making.double_tap(*guest.see("img", "Comb picture").box.centre))
    guest.tap("button", "Comb sketch")
    box = guest.see("canvas", "Comb sketch").box
    shares = ((0.2, 0.2), (0.7, 0.3), (0.5, 0.8), (0.2, 0.2))
    guest.put([making.freehand([(box.left + x * box.width, box.top + y * box.height) for x, y in shares])])
    session.press(Key.BACK)
    scene("Inspection")
    guest.tap("button", "New inspection")
    slider = guest.see("slider", "Brood frames").box
    begin, length, level = slider.left + 12, slider.width - 24, slider.centre[1]
    guest.put([making.swipe(begin + 0.3 * length, level, begin + 0.6 * length, level, 0.5)])
    guest.tap("switch", "Queen seen")
    guest.tap("radio", "Calm")
    guest.tap("textbox", "Notes")
    guest.write("fresh comb")
    guest.tap("switch", "Queen seen")
    guest.tap("combobox", "Weather")
    guest.tap("option", "Windy")
    guest.tap("combobox", "Visited on")
    guest.tap("button", "Previous month")
    guest.tap("button", "20 October 2026")
    guest.tap("button", "OK")
    guest.tap("button", "One super more")
    guest.tap("button", "Add photo")
    guest.tap("button", "Only while it is used")
    guest.tap("button", "Save inspection")
    guest.tap("button", "Back to hives")
    session.press(Key.BACK)
    scene("Map and rounds")
    guest.tap("button", "Apiary map")
    middle = guest.see("canvas", "Apiary map").box.centre
    guest.put(making.two_fingers(middle, 120, scale=2.0))
    guest.put(making.two_fingers(middle, 120, angle=40))
    guest.put(making.two_fingers(middle, 60, shift=(80, 22)))
    session.press(Key.BACK)
    guest.tap("button", "Rounds")
    handle, there = (guest.see("listitem", name).box for name in ("Orchard", "Lime avenue"))
    x = max(e.box.centre[0] for e in guest.see("listitem", "Orchard").descendants() if e.role == "img")
    guest.put([making.drag(x, handle.centre[1], x, there.centre[1], 0.8)])
    session.press(Key.BACK)
    scene("Tasks and settings")
    guest.tap("button", "Tasks")
    rows = [e for e in session.moment.screen or () if e.role == "switch"]
    guest.put([making.tap(*rows[3].box.centre)])
    session.press(Key.BACK)
    guest.tap("button", "Settings")
    guest.tap("switch", "Night mode")
    guest.tap("button", "More days")
    guest.tap("button", "Sign in")
    guest.tap("textbox", "Name")
    guest.write("keeper")
    guest.tap("textbox", "Password")
    guest.write("honey")
    guest.tap("button", "Sign in")
    session.press(Key.BACK)
    session.press(Key.BACK)
    scene("Scale and about")
    guest.tap("button", "Hive scale")
    session.press(Key.BACK)
    guest.tap("button", "About")


def deeds(phone: Phone) -> list[str]:
    """What the app's widgets received, in order; of a value that was set several times in a row only the last."""
    kept: list[str] = []
    for _, words in phone.log_lines:
        match = re.search(r"(?:HiveDiary|KilnBook): (.*)", words)
        if match is None:
            continue
        deed = match.group(1)
        verb, what = [*deed.split(), "", ""][:2]
        if (
            kept
            and verb in {"set", "remind"}
            and kept[-1].split()[:2][: 1 if verb == "remind" else 2] == [verb, what][: 1 if verb == "remind" else 2]
        ):
            kept.pop()
        kept.append(deed)
    return kept


def recorded(folder: Path) -> tuple[Path, list[str]]:
    """The tour's script in a project at `folder`, and what the app's widgets received while it was recorded."""
    shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
    lab = LabBench([m for m in load_models() if m.name == "Alder 5"])
    with LabServer(lab) as face:
        session = Session(AdbLink(AdbServer(port=face.port), "LABALDER5"), Project(folder), APP)
        tour(session, Guest(session, session.touch, session.type))
        path = session.save("Whole diary")
    return path, deeds(lab.phones["LABALDER5"])


def run_on(lab: LabBench, script: Path) -> Heard:
    """A script on every phone of a lab, over both protocols."""
    project = Project(script.parent.parent)
    with LabServer(lab) as face, WebDriverServer(lab) as web, unittest.mock.patch.dict("os.environ", {"COPIONE_PASSWORD": "honey"}):
        bench = Bench(AdbServer(port=face.port), endpoints=web.endpoints)
        heard = Heard()
        run = Run(project, project.load(script), bench.look(), heard, SystemClock(), script.parent.parent / "runs")
        run.start()
        run.wait()
        bench.close()
    return heard


def replayed(script: Path, build: str, names: set[str] | None = None) -> tuple[Heard, dict[str, list[str]]]:
    """The results by model's name, and what each one's widgets received."""
    lab = LabBench([m for m in load_models() if names is None or m.name in names], build=build)
    return run_on(lab, script), {phone.model.name: deeds(phone) for phone in lab.phones.values()}


def wrong_deeds(recorded: list[str], done: list[str]) -> list[str]:
    """What a take's widgets received and should not have: its log must be the beginning of the recorded one, in order."""
    wrong = []
    place = 0
    for deed in done:
        if deed in recorded[place:]:
            place += recorded[place:].index(deed) + 1
        else:
            wrong.append(deed)
    return wrong
