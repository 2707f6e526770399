"""The demo on phones at the edges: small and large ones, others' figures and directions, slow ones, old ones."""

import shutil
import tempfile
import unittest
from pathlib import Path

from copione_lab.bench import Bench as LabBench
from copione_lab.model import SHIPPED, load_models

from ..benches import EXAMPLE
from ..recording.tour import run_on


class Edges(unittest.TestCase):
    def test_every_step_holds_or_adapts(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "project"
        shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings"))
        lab = LabBench(load_models(SHIPPED / "models" / "edges"))
        heard = run_on(lab, folder / "scripts" / "spring-inspection.copione")
        self.assertEqual(len(heard.results), 10)
        bad = [(name, r.step, r.reason) for name, results in heard.results.items() for r in results if not r.outcome.good]
        self.assertEqual(bad, [])
