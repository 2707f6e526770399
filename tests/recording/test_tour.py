import re
import shutil
import tempfile
import threading
import unittest
from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

from copione.links.adb.link import AdbLink
from copione.model.clock import SteppedClock
from copione.model.gesture import Contact
from copione.project.project import Project
from copione.recording.hand import Hand
from copione.recording.session import Session
from copione.touch import making

from ..benches import APP, EXAMPLE, SERIALS, LabCase
from .tour import Guest, deeds, recorded, replayed, tour, wrong_deeds


class OnTheGlass:
    """A finger on the stand-in's own glass: its contacts come out of the panel only; the session hears of them by its `Hand`."""

    def __init__(self, case: LabCase, link: AdbLink, session: Session) -> None:
        self.case, self.phone, self.session = case, case.lab.phones[SERIALS["Alder 5"]], session
        self.clock = SteppedClock()
        self.hand = Hand(link, session, self.clock)
        case.addCleanup(self.hand.close)
        self.lifts = 0
        self.at = 10.0
        while not self.phone.panel._listeners:  # until the stream has begun
            threading.Event().wait(0.01)

    def put(self, contacts: Sequence[Contact]) -> None:
        self.fingers(contacts)
        self.at += max(c.lift for c in contacts) + 1.0
        self.lifts += 1
        self.lifts += sum(a.lift <= b.since for a, b in pairwise(contacts))
        while self.hand._log.count(b"BTN_TOUCH            UP") < self.lifts:
            threading.Event().wait(0.005)
        self.clock.sleep(1.0)
        self.case.assertTrue(self.hand.take_in())

    def fingers(self, contacts: Sequence[Contact]) -> None:
        """On the glass itself, at their times."""
        k = self.phone.model.density
        events = sorted(
            [(t, "down" if i == 0 else "move", c.finger, x, y) for c in contacts for i, (t, x, y) in enumerate(c.path)]
            + [(c.lift, "up", c.finger, *c.end) for c in contacts]
        )
        for t, action, finger, x, y in events:
            self.phone.hand(action, finger, x * k, y * k, self.at + t)

    def write(self, words: str) -> None:
        """Letter by letter on the keyboard's keys."""
        keys = {node.text: node.box for node in self.phone.frame().keys.walk() if node.text}
        for letter in words:
            box = keys["space" if letter == " " else letter]
            self.put([making.tap((box.left + box.right) / 2, (box.top + box.bottom) / 2)])


class Toured(LabCase):
    def record(self, name: str, finger: type[OnTheGlass] | None = None) -> tuple[str, list[str]]:
        """The text of the tour recorded on Alder 5, and what the app's widgets received."""
        folder = self.scratch / name
        shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
        link = self.link()
        session = Session(link, Project(folder), APP)
        if finger is not None:
            glass = finger(self, link, session)
            guest = Guest(session, glass.put, glass.write)
        else:
            guest = Guest(session, session.touch, session.type)
        tour(session, guest)
        path = session.save("Whole diary")
        return path.read_text("utf-8"), deeds(self.lab.phones[SERIALS["Alder 5"]])


class WholeDiary(Toured):
    def test_by_mirror_and_by_hand_the_script_is_the_same_and_says_what_was_meant(self) -> None:
        on_screen, done_here = self.record("mirror")
        self.lab.phones[SERIALS["Alder 5"]].log_lines.clear()
        on_glass, done_there = self.record("hand", OnTheGlass)
        self.assertEqual(on_screen, on_glass)
        self.assertEqual(done_here, done_there)
        plain = [line for line in on_screen.splitlines() if re.match(r"\s+(swipe|drag|fling)", line)]
        self.assertEqual(
            [line.strip() for line in plain],
            [
                'swipe down on list "Hives"',
                'swipe left on item "Hive 2"',
                'drag canvas "Apiary map" by 0.21 0.06 using 2 fingers',
                'drag item "Orchard" below item "Lime avenue"',
            ],
        )
        for words in (
            'set stepper "Honey supers" to 2',
            'set stepper "Remind after days" to 8',
            'find item "Hive 17" in list "Hives"',
            'choose "2026-10-20" in combobox "Visited on"',
            "type {password} into",
        ):
            self.assertIn(words, on_screen)
        self.assertNotIn("honey", on_screen)
        self.assertFalse([p for p in (self.scratch / "mirror").rglob("*") if p.is_file() and b"honey" in p.read_bytes()])

    def test_it_replays_elsewhere_and_nothing_else_is_touched(self) -> None:
        """The app's own log is the judge. On the newer build one button has gone into a menu: that step is stuck, and no other."""
        with tempfile.TemporaryDirectory() as scratch:
            script, meant = recorded(Path(scratch) / "project")
            for build, names in (("2.4", {"Kestrel S", "Bramble"}), ("2.5", {"Saltmarsh 7", "Tamarisk"})):
                heard, logs = replayed(script, build, names)
                self.assertEqual(set(heard.results), names)
                for name, results in heard.results.items():
                    bad = [(r.step, r.reason) for r in results if not r.outcome.good]
                    self.assertEqual([step for step, _ in bad], ['tap button "About"'] if name == "Tamarisk" else [], (name, bad))
                    self.assertEqual(wrong_deeds(meant, logs[name]), [], name)
                    self.assertGreater(len(logs[name]), 30)


if __name__ == "__main__":
    unittest.main()
