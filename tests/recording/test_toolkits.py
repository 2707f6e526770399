"""The whole diary, recorded on an app built one way, replayed on the same app built another way: the app's own log is the judge."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from copione_lab.bench import Bench as LabBench
from copione_lab.model import load_models

from .tour import deeds, recorded, run_on, wrong_deeds


class Toolkits(unittest.TestCase):
    def test_a_page_in_a_web_view_is_the_same_app_and_elsewhere_nothing_else_is_touched(self) -> None:
        alder = next(model for model in load_models() if model.name == "Alder 5")
        kinds = ("flat", "merged", "page", "drawn")
        with tempfile.TemporaryDirectory() as folder:
            script, done = recorded(Path(folder) / "project")
            lab = LabBench([replace(alder, key=kind, name=kind, serial=f"LAB{kind.upper()}", toolkit=kind) for kind in kinds])
            heard = run_on(lab, script)
        for phone in lab.phones.values():
            self.assertEqual(wrong_deeds(done, deeds(phone)), [], phone.model.name)
        self.assertEqual([r.step for r in heard.results["page"] if r.outcome.bad], [])
        self.assertEqual(deeds(lab.phones["LABPAGE"]), done)
        for kind in ("flat", "merged", "drawn"):  # each takes the script as far as its trees tell, and says what they do not
            stuck = [r for r in heard.results[kind] if r.outcome.value == "stuck"]
            self.assertEqual((len(stuck), bool(stuck[0].reason)), (1, True), kind)
