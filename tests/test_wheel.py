import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent


class Wheel(unittest.TestCase):
    """What a wheel installs works where there is no checkout."""

    def setUp(self) -> None:
        self.scratch = Path(tempfile.mkdtemp(prefix="wheel-"))
        self.addCleanup(shutil.rmtree, self.scratch, ignore_errors=True)
        source = self.scratch / "source"
        shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("*.egg-info", "__pycache__", "runs", "recordings"))
        for name in ("pyproject.toml", "README.md", "LICENSE"):
            shutil.copyfile(ROOT / name, source / name)
        self.place = self.scratch / "installed"
        pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check", "install", "--no-deps", "--target", str(self.place)]
        subprocess.run([*pip, str(source)], check=True, capture_output=True)
        shutil.rmtree(source)

    def say(self, *words: str) -> subprocess.CompletedProcess[str]:
        environment = {
            **os.environ,
            "PYTHONPATH": str(self.place),
            "HOME": str(self.scratch),
            "XDG_STATE_HOME": str(self.scratch / "state"),
        }
        command = [sys.executable, "-m", "copione", *words]
        return subprocess.run(command, cwd=self.scratch, env=environment, capture_output=True, text=True, check=False, timeout=120)

    def test_demo_and_projects_work_outside_a_checkout(self) -> None:
        self.assertIn("stand-in phones", self.say("demo", "--help").stdout)
        made = self.say("new", "mine")
        self.assertEqual(made.stdout, f"An empty project is in {self.scratch / 'mine'}\n")
        self.assertTrue((self.scratch / "mine" / "project.toml").exists())
        self.assertEqual(self.say("new", "mine").returncode, 1)
        code = "from pathlib import Path; from copione.project.demo import copy_demo; copy_demo(Path('demo'))"
        environment = {**os.environ, "PYTHONPATH": str(self.place)}
        subprocess.run([sys.executable, "-c", code], cwd=self.scratch, env=environment, check=True)
        script = self.scratch / "demo" / "scripts" / "spring-inspection.copione"
        told = self.say("replay", str(script), "--on", "Alder 5", "--lab", "--faults", "none")
        self.assertEqual(told.returncode, 0, told.stderr)
        self.assertTrue(list((self.scratch / "demo" / "runs").glob("*/run.json")))
        again = self.say("demo", "--help")
        self.assertEqual(again.returncode, 0)
        log = self.scratch / "state" / "copione" / "copione.log"
        self.assertIn("copione 0.1.0 replay", log.read_text("utf-8"))

    def test_the_desktop_knows_it_and_forgets_it(self) -> None:
        os.environ["XDG_DATA_HOME"] = str(self.scratch / "data")
        self.addCleanup(os.environ.pop, "XDG_DATA_HOME")
        self.assertEqual(self.say("desktop", "--install").returncode, 0)
        entry = (self.scratch / "data" / "applications" / "app.copione.copione.desktop").read_text("utf-8")
        command = next(line for line in entry.splitlines() if line.startswith("Exec="))
        self.assertTrue(Path(command.removeprefix("Exec=").split(" ")[0]).exists(), command)
        self.assertEqual(len([p for p in (self.scratch / "data").rglob("*") if p.is_file()]), 3)
        self.say("desktop", "--remove")
        self.assertEqual([p for p in (self.scratch / "data").rglob("*") if p.is_file()], [])
        self.assertEqual(self.say("desktop").returncode, 2)
