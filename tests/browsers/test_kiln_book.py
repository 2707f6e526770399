"""The web app of the demo: its script on two engines, one of them narrow, finds what is seeded and nothing else."""

import json
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

from copione_lab.kiln_book.serving import Served

from ..language.test_manual import EXAMPLES
from .pages import BrowserCase, engines

BOOK = Path(__file__).parents[2] / "examples" / "kiln-book"
DEVICES = {"chromium": "Chromium small phone", "webkit": "WebKit phone"}


class KilnBook(BrowserCase):
    def replayed(self, script: Path) -> tuple[int, list[dict[str, str]]]:
        """The exit code, and every result, of a script on the small Chromium and on WebKit, as far as they are installed."""
        on = [word for engine in engines() for word in ("--on", DEVICES[engine])]
        with Served() as served, tempfile.TemporaryDirectory() as out:
            where = ["--browsers-from", str(BOOK / "browsers.toml"), "--base", served.url, "--out", out, "--json"]
            command = [sys.executable, "-m", "copione", "replay", str(script), *on, *where]
            done = subprocess.run(command, capture_output=True, text=True, timeout=300)
        self.assertIn(done.returncode, (0, 3), done.stderr)
        return done.returncode, [json.loads(line) for line in done.stdout.splitlines()]

    def test_the_seeded_fault_is_found_on_the_narrow_page_and_nothing_else(self) -> None:
        _, results = self.replayed(BOOK / "scripts" / "a-firing.copione")
        wrong = [(r["device"], r["outcome"], r["reason"]) for r in results if r.get("outcome") in {"stuck", "differs", "unreached"}]
        said = "reads “Celadon, 1200 °C”, expected reads “Celadon, 1220 °C”"
        self.assertEqual(wrong, [("Chromium small phone", "differs", said)] if "chromium" in engines() else [])
        self.assertEqual(len(set(Counter(r["device"] for r in results if "outcome" in r).values())), 1)

    def test_the_manuals_example_holds(self) -> None:
        (self.folder / "project.toml").write_text((BOOK / "project.toml").read_text("utf-8"), "utf-8")
        for text in (each for each in EXAMPLES if "app kiln-book" in each):
            script = self.folder / "example.copione"
            script.write_text(text, "utf-8")
            code, results = self.replayed(script)
            self.assertEqual(code, 0, [r for r in results if r.get("outcome") not in {"held", "adapted"}])
