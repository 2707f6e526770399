"""A script opened, replayed, judged, compared and reported by a caller that is neither the command line nor the window."""

import threading
import unittest
from collections import deque

from lxml import etree

from copione.engine.comparing import compared
from copione.engine.judging import judged, usual_baseline
from copione.engine.opening import UnknownValue, ValuesMissing, must_be_ready, with_values
from copione.engine.replaying import Replay, ReplayOptions, ReplayResult, lanes_before
from copione.engine.reporting import write_report
from copione.files.pictures import open_picture
from copione.files.places import MemoryPlace, below
from copione.files.reading import FileKind, read_bytes
from copione.language.document import parse
from copione.model.clock import SystemClock
from copione.model.errors import FileTrouble, ScriptBroken
from copione.model.outcome import Outcome
from copione.project.archive import RunEnd, read_run, runs_in
from copione.project.history import RunIndex
from copione.project.portraying import screen_of
from copione.replay.listening import RunListener
from copione.report.junit import junit
from copione_lab.model import Fault

from ..benches import SERIALS, Heard
from ..replay.test_take import RunCase

HIVES = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 7"', 'check text "Hive 7" is shown')


class Engine(RunCase):
    def replay(self, options: ReplayOptions | None = None, heard: RunListener | None = None, **values: str) -> ReplayResult:
        loaded = with_values(self.project.load(self.demo), values)
        made = Replay(self.project, loaded, self.devices("Alder 5", "Wren mini"), heard or Heard(), SystemClock(), options)
        made.start()
        return made.wait()

    def test_a_replay_is_archived_judged_written_and_in_the_index(self) -> None:
        self.script(*HIVES)
        xml = self.scratch / "out.xml"
        lanes = lanes_before(self.project.load(self.demo), self.devices("Alder 5", "Wren mini"))
        self.assertEqual((len(lanes.lanes), len(lanes.columns), lanes.done), (2, 4, 0))
        result = self.replay(ReplayOptions(junit=xml))
        self.assertEqual((result.whole, result.troubles, result.differs(strict=True)), (True, (), False))
        record = read_run(result.run.record.folder)
        self.assertEqual(record.end, RunEnd.COMPLETE)
        self.assertEqual([len(take.results) for take in record.takes], [4, 4])
        kept, heard = (
            [[(r.address, r.step, r.outcome) for r in take.results] for take in run.takes] for run in (record, result.run.record)
        )
        self.assertEqual(kept, heard)
        self.assertEqual(len(etree.fromstring(xml.read_bytes()).findall(".//testcase")), 8)
        self.assertEqual([h.device for h in RunIndex(self.project.runs_folder).of_steps("Other", [("Wren mini", HIVES[3])])], ["Wren mini"])
        self.assertIn(b"Wren mini", write_report(record.folder).read_bytes())

    def test_what_cannot_be_written_is_told_and_takes_no_result_away(self) -> None:
        self.script(*HIVES)
        blocked = self.scratch / "folder.xml"
        blocked.mkdir()
        result = self.replay(ReplayOptions(junit=blocked))
        self.assertFalse(result.whole)
        self.assertEqual(len(result.troubles), 1, result.troubles)
        self.assertFalse(any(result.run.lanes.counts.get(outcome) for outcome in Outcome if outcome.bad))
        self.assertEqual(judged(result.run.record.folder).lanes.counts, result.run.lanes.counts)

    def test_nothing_is_done_on_a_device_before_its_files_are_read(self) -> None:
        self.script(*HIVES)
        for file, options in (("allowances.toml", None), ("", ReplayOptions(baseline=self.scratch / "nowhere"))):
            if file:
                (self.project.folder / file).write_text("[[", "utf-8")
            with self.assertRaises(FileTrouble):
                self.replay(options)
            (self.project.folder / "allowances.toml").unlink(missing_ok=True)
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]].log_lines, deque())

    def test_two_runs_are_compared(self) -> None:
        self.script(*HIVES, 'check button "New inspection" is shown')
        first = self.replay()
        phone = self.lab.phones[SERIALS["Wren mini"]]
        phone.spoilt = (Fault("f", "gone", (), "", "hive", "new_inspection"),)
        second = self.replay()
        self.assertTrue(second.differs())
        found = compared(first.run.record.folder, second.run.record.folder)
        self.assertTrue(found.worse)
        self.assertEqual({change.take.device for change in found.changes}, {"Wren mini"})
        self.assertTrue(found.new)
        back = compared(second.run.record.folder, first.run.record.folder)
        self.assertEqual((back.worse, len(back.gone)), (False, len(found.new)))

    def test_runs_are_kept_in_memory_as_they_are_in_a_folder(self) -> None:
        self.demo.write_text(
            'script "Other"\napp hive-diary\npatience 3 s\nneeds word secret\nscene "One"\n    launch afresh\n    tap button "Settings"\n'
            '    tap button "Sign in"\n    type {word} into field "Name"\n    check field "Name" reads "someone"\n',
            "utf-8",
        )
        kept = MemoryPlace()
        phone = self.lab.phones[SERIALS["Wren mini"]]
        first = self.replay(ReplayOptions(runs=kept), word="beatrix-of-the-hives").run.record
        phone.spoilt = (Fault("f", "gone", (), "", "settings", "open_sign_in"),)
        self.replay(ReplayOptions(runs=kept), word="beatrix-of-the-hives")
        later, earlier = runs_in(kept)
        self.assertFalse(self.project.runs_folder.exists())
        record = read_run(earlier)
        self.assertEqual([[r.step for r in t.results] for t in record.takes], [[r.step for r in t.results] for t in first.takes])
        shown = next(r for r in record.takes[0].results if r.outcome is Outcome.DIFFERS)
        self.assertGreater(open_picture(record.takes[0].picture(shown.before)).width, 100)
        self.assertIsNotNone(screen_of(record.takes[0].folder, record.takes[0].device, record.takes[0].results[1]))
        self.assertTrue(compared(earlier, later).worse)
        self.assertEqual(usual_baseline(later, "Other"), earlier)
        write_report(later, beside=True)
        run = judged(later)
        self.assertEqual(
            len(etree.fromstring(junit(run.lanes, run.record.script, (), run.known)).findall(".//testsuite")), 3
        )  # the findings are the third
        self.assertTrue((later / "report" / "00001.jpg").is_file())
        for place in below(kept):
            self.assertNotIn(b"beatrix-of-the-hives", read_bytes(place, FileKind.LINES), place)

    def test_it_is_cancelled_from_another_thread(self) -> None:
        self.script(*HIVES, 'find text "Nowhere"', patience=60)
        looking = threading.Event()
        made = Replay(
            self.project,
            self.project.load(self.demo),
            self.devices("Alder 5"),
            Heard(lambda take, result: looking.set() if result.number == 4 else None),
            SystemClock(),
        )
        made.start()
        self.assertTrue(looking.wait(60))
        made.cancel()
        result = made.wait()
        self.assertEqual(result.run.record.end, RunEnd.STOPPED)
        self.assertTrue(result.differs())


class Opening(RunCase):
    def test_values_are_taken_problems_and_missing_values_are_told(self) -> None:
        self.demo.write_text('script "S"\napp hive-diary\nneeds hive\nscene "One"\n    tap item "{hive}"\n', "utf-8")
        loaded = self.project.load(self.demo)
        with self.assertRaisesRegex(ValuesMissing, "needs hive"):
            must_be_ready(loaded)
        with self.assertRaisesRegex(UnknownValue, "no value called bee. It takes .*hive"):
            with_values(loaded, {"bee": "1"})
        given = with_values(loaded, {"hive": "Hive 7"})
        must_be_ready(given)
        self.assertEqual(given.takes[0]["hive"], "Hive 7")
        with self.assertRaisesRegex(ScriptBroken, "has a problem; nothing was run"):
            must_be_ready(given.edited(parse(f"{given.document.text}    nonsense\n")))


if __name__ == "__main__":
    unittest.main()
