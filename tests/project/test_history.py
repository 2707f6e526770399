"""Beside a project: the index of its runs, what it expects, what it does not want to be told, and portraits from a run."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from copione.comparison.standing import Allowance, Scope
from copione.model.errors import FileTrouble
from copione.model.outcome import Outcome
from copione.model.remark import Remark, RemarkKind
from copione.model.take import TakeName
from copione.project.allowances import read_allowances, write_allowances
from copione.project.archive import RunWriter
from copione.project.history import FILE, History, Index, before
from copione.project.remarks import wanted_off

from ..comparison.test_findings import ALDER, WREN, result

SAVE = 'tap button "Save"'


class InFolder(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.folder = Path(scratch.name)


class Histories(InFolder):
    def run_of(self, outcome: Outcome, build: str = "2.4", script: str = "Spring") -> Path:
        """A made-up run of one take in the archive."""
        writer = RunWriter(self.folder / "runs", script, 'script "Spring"\n', "bees", ["Alder 5"])
        take = writer.take(ALDER, TakeName("Alder 5"), {}, build)
        take.step(replace(result(1, outcome, "covered" if outcome is Outcome.STUCK else "", SAVE), begin=1.0))
        take.close()
        writer.finish(1.0)
        return writer.folder

    def said(self) -> History:
        index = Index(self.folder / "runs")
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
        self.assertEqual(Index(self.folder / "runs").rebuild(), 2)
        self.assertEqual([entry.run for entry in self.said().entries], sorted([first.name, second.name]))
        self.assertEqual(before(self.folder / "runs", "Spring", second), first)


class Wishes(InFolder):
    def test_allowances_are_kept_read_and_taken_back(self) -> None:
        one = Allowance(
            "Spring", "keyboard", 'button "Save" ', Scope(devices=("Wren mini",)), "", "Ada", "2026-11-01", 'so "small"', "2027-01-01"
        )
        both = one, replace(one, what="other", scope=Scope(width_to=340.0))
        write_allowances(self.folder, both)
        self.assertEqual(read_allowances(self.folder), both)
        write_allowances(self.folder, both[1:])
        self.assertEqual([a.what for a in read_allowances(self.folder)], ["other"])
        (self.folder / "allowances.toml").write_text("[[allowed]]\nabout = 7\n", "utf-8")
        with self.assertRaises(FileTrouble):
            read_allowances(self.folder)

    def test_kinds_of_remarks_are_turned_off_by_trait_or_element(self) -> None:
        remark = Remark(RemarkKind.SMALL, "save", "Save", "14 dp", "48 dp", TakeName("Wren mini"), result(1).address)
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
