"""The web app of the demo: its script on two engines, one of them narrow, finds what is seeded and nothing else."""

import json
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path
from typing import Any

from copione_lab.kiln_book.serving import Served

from ...language.test_manual import EXAMPLES
from .pages import BrowserCase, engines

BOOK = Path(__file__).parents[3] / "examples" / "kiln-book"
DEVICES = {"chromium": "Chromium small phone", "webkit": "WebKit phone"}
OTHERS = ("Chromium phone", "Chromium tablet")


class KilnBook(BrowserCase):
    def replayed(self, script: Path, *more: str) -> tuple[int, list[dict[str, Any]]]:
        """The exit code, and every line, of a script on the small Chromium and on WebKit, as far as they are installed, and on more."""
        on = [word for device in (*(DEVICES[engine] for engine in engines()), *more) for word in ("--on", device)]
        with Served() as served, tempfile.TemporaryDirectory() as out:
            where = ["--browsers-from", str(BOOK / "browsers.toml"), "--base", served.url, "--out", out, "--json"]
            command = [sys.executable, "-m", "copione", "replay", str(script), *on, *where]
            done = subprocess.run(command, capture_output=True, text=True, timeout=300)
        self.assertIn(done.returncode, (0, 3), done.stderr)
        return done.returncode, [json.loads(line) for line in done.stdout.splitlines()]

    def test_the_seeded_faults_are_found_on_the_narrow_page_and_nothing_else(self) -> None:
        _, results = self.replayed(BOOK / "scripts" / "a-firing.copione", *(OTHERS if "chromium" in engines() else ()))
        wrong = [(r["device"], r["outcome"], r["reason"]) for r in results if r.get("outcome") in {"stuck", "differs", "unreached"}]
        said = "reads “Celadon, 1200 °C”, expected reads “Celadon, 1220 °C”"
        self.assertEqual(wrong, [("Chromium small phone", "differs", said)] if "chromium" in engines() else [])
        self.assertEqual(len(set(Counter(r["device"] for r in results if "outcome" in r).values())), 1)
        told = [r["finding"] for r in results if "finding" in r]
        found = {(f["kind"], f["about"], *f["devices"]) for f in told if f["kind"] != "slow"}  # which is this computer's
        abouts = (("differs", "reads otherwise"), ("remark", "focus order"), ("remark", "other words"))  # heats are rounded, on each page
        seeded = {(kind, about, "Chromium small phone") for kind, about in abouts}
        self.assertEqual(found, seeded if "chromium" in engines() else set())

    def test_the_manuals_example_holds(self) -> None:
        (self.folder / "project.toml").write_text((BOOK / "project.toml").read_text("utf-8"), "utf-8")
        for text in (each for each in EXAMPLES if "app kiln-book" in each):
            script = self.folder / "example.copione"
            script.write_text(text, "utf-8")
            code, results = self.replayed(script)
            self.assertEqual(code, 0, [r for r in results if r.get("outcome") not in {"held", "adapted"}])
