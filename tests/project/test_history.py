"""Beside a project: the index of its runs, what it expects, what it does not want to be told, and portraits from a run."""

import json
import os
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from copione.comparison.standing import Allowance, DeviceScope
from copione.model import remark_kinds as kinds
from copione.model.errors import FileTrouble
from copione.model.outcome import Outcome
from copione.model.remark import Remark
from copione.model.take import TakeName
from copione.project.allowances import change_allowances, read_allowances
from copione.project.archive import RunEnd, RunWriter, heads_by_time, read_run, runs_in
from copione.project.history import FILE, History, RunIndex, before
from copione.project.remarks import wanted_off

from ..comparison.test_findings import ALDER, WREN, result

SAVE = 'tap button "Save"'


class InFolder(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.folder = Path(scratch.name)


class Histories(InFolder):
    def run_of(self, outcome: Outcome, build: str = "2.4", script: str = "Spring", end: RunEnd = RunEnd.COMPLETE) -> Path:
        """A made-up run of one take in the archive."""
        writer = RunWriter(self.folder / "runs", script, 'script "Spring"\n', "bees", ["Alder 5"])
        take = writer.take(ALDER, TakeName("Alder 5"), {}, build)
        take.step(replace(result(1, outcome, "covered" if outcome is Outcome.STUCK else "", SAVE), begin=1.0))
        take.close()
        writer.finish(1.0, end)
        return writer.folder

    def said(self) -> History:
        index = RunIndex(self.folder / "runs")
        index.complete()
        return index.of_steps("Spring", [("Alder 5", SAVE)])[0]

    def test_a_step_over_the_runs_and_unsteady_told_from_broken(self) -> None:
        held, stuck = Outcome.HELD, Outcome.STUCK
        table = [
            ([(held, "2.3"), (held, "2.3")], "held in all of 2 runs", False),
            ([(held, "2.3"), (stuck, "2.4"), (stuck, "2.4")], "held until build 2.3, stuck since 2.4", False),
            ([(stuck, "2.4")], "held in none of 1 runs", False),
            ([(held, "2.4"), (stuck, "2.4"), (held, "2.4"), (stuck, "2.4")], "unsteady: held in 2 of 4 runs, by turns on one build", True),
            ([(stuck, "2.3"), (held, "2.4")], "held in 1 of 2 runs, and in the last", False),
        ]
        for runs, words, unsteady in table:
            with self.subTest(words), tempfile.TemporaryDirectory() as scratch:
                self.folder = Path(scratch)
                for outcome, build in runs:
                    self.run_of(outcome, build)
                self.run_of(stuck, script="Another")
                history = self.said()
                self.assertEqual((history.words, history.unsteady, len(history.entries)), (words, unsteady, len(runs)))

    def test_the_index_is_made_again_from_the_folders_whatever_became_of_it(self) -> None:
        first, second = self.run_of(Outcome.HELD), self.run_of(Outcome.STUCK)
        self.assertEqual(self.said().entries[-1].outcome, Outcome.STUCK)
        (self.folder / FILE).write_bytes(b"this is no index" * 100)
        with self.assertRaises(FileTrouble) as caught:
            self.said()
        self.assertIn("copione reindex", caught.exception.sentence)
        self.assertEqual(RunIndex(self.folder / "runs").rebuild(), 2)
        self.assertEqual([entry.run for entry in self.said().entries], sorted([first.name, second.name]))
        self.assertEqual(before(self.folder / "runs", "Spring", second), first)
        (self.folder / FILE).unlink()
        for spoil, mend in ((Path.mkdir, Path.rmdir), (os.mkfifo, Path.unlink)):
            spoil(self.folder / FILE)
            with self.assertRaises(FileTrouble):
                self.said()
            mend(self.folder / FILE)

    def test_runs_that_were_stopped_or_not_run_are_no_history_and_no_baseline(self) -> None:
        whole = self.run_of(Outcome.HELD)
        for end in (RunEnd.STOPPED, RunEnd.NOT_RUN, RunEnd.CUT):
            self.run_of(Outcome.STUCK, end=end)
        last = self.run_of(Outcome.HELD)
        history = self.said()
        self.assertEqual((len(history.entries), history.unsteady), (2, False))
        self.assertEqual(before(self.folder / "runs", "Spring", last), whole)
        self.assertEqual([read_run(folder).end for folder in runs_in(self.folder / "runs")][1:4][::-1], [*RunEnd][1:])

    def test_the_run_before_is_told_by_when_it_was_made_not_by_its_name(self) -> None:
        names = ("2026-10-25-025900-spring", "2026-10-25-020500-spring", "2026-10-25-023000-spring", "2026-10-24-180000-spring")
        folders = []
        for minutes, name in zip((0, 6, 31, -600), names, strict=True):  # the clock goes back an hour at three
            folder = self.run_of(Outcome.HELD).rename(self.folder / "runs" / name)
            told = json.loads((folder / "run.json").read_text("utf-8"))
            (folder / "run.json").write_text(json.dumps({**told, "started": 1_792_890_000 + 60 * minutes}), "utf-8")
            folders.append(folder)
        first, second, third, day_before = folders
        for run, baseline in ((third, second), (second, first), (first, day_before), (day_before, None)):
            self.assertEqual(before(self.folder / "runs", "Spring", run), baseline, run.name)
        self.assertEqual([head.folder for head in heads_by_time(runs_in(self.folder / "runs"))], [third, second, first, day_before])


class Wishes(InFolder):
    def test_allowances_are_kept_read_and_taken_back(self) -> None:
        one = Allowance(
            "Spring", "keyboard", 'button "Save" ', DeviceScope(devices=("Wren mini",)), "", "Ada", "2026-11-01", 'so "small"', "2027-01-01"
        )
        both = one, replace(one, what="other", scope=DeviceScope(width_to=340.0))
        third = replace(one, what="of another window")
        self.assertEqual(change_allowances(self.folder, (), both), both)
        change_allowances(self.folder, both, (*both, third))
        path = self.folder / "allowances.toml"
        path.write_text(path.read_text("utf-8").replace('what = "other"', 'what = "other"  # asked Ada'), "utf-8")
        change_allowances(self.folder, both, both[1:])
        self.assertEqual([a.what for a in read_allowances(self.folder)], ["other", "of another window"])
        self.assertIn("# asked Ada", path.read_text("utf-8"))
        (self.folder / "allowances.toml").write_text("[[allowed]]\nabout = 7\n", "utf-8")
        with self.assertRaises(FileTrouble):
            read_allowances(self.folder)

    def test_kinds_of_remarks_are_turned_off_by_trait_or_element(self) -> None:
        remark = Remark(kinds.SMALL, "save", "Save", "14 dp", "48 dp", TakeName("Wren mini"), result(1).address)
        path = self.folder / "remarks.toml"
        for entry, fits in (
            ('kind = "small target"', True),
            ('kind = "small target"\ndevices = ["Alder 5"]', False),
            ('kind = "small target"\nelement = "Save"\nform = "phone"', True),
            ('kind = "missing"', False),
        ):
            path.write_text(f"[[off]]\n{entry}\n", "utf-8")
            self.assertEqual(any(off.fits(remark, WREN) for off in wanted_off(self.folder)), fits, entry)
        path.write_text('[[off]]\nkind = "tiny"\n', "utf-8")
        with self.assertRaises(FileTrouble) as caught:
            wanted_off(self.folder)
        self.assertIn("there are missing, new, other words", caught.exception.sentence)


if __name__ == "__main__":
    unittest.main()
