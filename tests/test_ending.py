"""How a replay on the command line ends when it is asked to, or when what it writes to is gone: real processes, real signals."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager
from pathlib import Path

from lxml import etree

from copione.project.archive import RunEnd, read_run, runs_in
from copione.project.history import FILE
from copione.project.project import Project

from .benches import SERIALS, LabCase

WAITING = ("launch afresh", "turn network off", "turn dark mode on", 'wait until text "Nobody" is shown within 60 s')


class Ending(LabCase):
    def setUp(self) -> None:
        super().setUp()
        self.project = Project.create(self.scratch / "project", "Bees")
        self.project.learn_app("org.example.hive_diary", "android")
        self.junit = self.scratch / "junit.xml"
        self.phone = self.lab.phones[SERIALS["Alder 5"]]

    def script(self, *steps: str) -> Path:
        path = self.project.script_path("Short")
        path.write_text('script "Short"\napp hive-diary\nscene "One"\n    ' + "\n    ".join(steps) + "\n", "utf-8")
        return path

    @contextmanager
    def replaying(self, script: Path, **more: object) -> Iterator[subprocess.Popen[str]]:
        words = ["replay", script, "--on", "Alder 5", "--json", "--junit", self.junit, "--adb", f"127.0.0.1:{self.face.port}"]
        streams = {"stdout": subprocess.PIPE, "stderr": subprocess.PIPE, "text": True} | more
        process = subprocess.Popen([sys.executable, "-m", "copione", *map(str, words)], **streams)  # type: ignore[call-overload]
        try:
            yield process
        finally:
            process.kill()
            process.wait()
            for stream in (process.stdout, process.stderr):
                if stream is not None:
                    stream.close()

    def past(self, process: subprocess.Popen[str], words: str) -> None:
        """Until a step is done."""
        assert process.stdout is not None
        for line in process.stdout:
            if words in json.loads(line).get("words", ""):
                return
        self.fail(f"it ended before {words}")

    def as_it_was(self) -> tuple[bool, bool]:
        return self.phone.conditions.online, self.phone.conditions.dark

    def test_signals_stop_it_put_the_phone_back_and_keep_the_results(self) -> None:
        for several in ((signal.SIGTERM,), (signal.SIGHUP,), (signal.SIGINT,) * 3):
            self.junit.unlink(missing_ok=True)
            with self.replaying(self.script(*WAITING)) as process:
                self.past(process, "dark mode")
                self.assertEqual(self.as_it_was(), (False, True))
                for number in several:
                    process.send_signal(number)
                _, said = process.communicate(timeout=30)
            self.assertNotIn("Traceback", said)
            self.assertEqual((self.as_it_was(), process.returncode), ((True, False), 3))
            (suite,) = etree.parse(str(self.junit)).findall("testsuite")
            self.assertEqual((len(suite), suite.get("errors")), (4, "1"))
            self.assertIs(read_run(runs_in(self.project.runs_folder)[0]).end, RunEnd.STOPPED)

    def test_ctrl_c_while_the_program_is_loaded_ends_it_quietly(self) -> None:
        interrupting = """if True:
            import os, runpy, signal, sys
            class Finder:
                def find_spec(self, name, path, target=None):
                    if name == "copione.cli":
                        os.kill(os.getpid(), signal.SIGINT)
            sys.meta_path.insert(0, Finder())
            runpy.run_module("copione", run_name="__main__")
            """
        done = subprocess.run([sys.executable, "-c", interrupting, "--version"], capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout, done.stderr), (-signal.SIGINT, "", ""))

    def test_what_a_killed_one_left_is_put_back_by_the_next(self) -> None:
        with self.replaying(self.script(*WAITING)) as process:
            self.past(process, "dark mode")
            process.kill()
            process.wait()
        self.assertEqual(self.as_it_was(), (False, True))
        with self.replaying(self.script("launch afresh", 'tap button "Hives"')) as process:
            process.communicate(timeout=30)
        self.assertEqual((process.returncode, self.as_it_was()), (0, (True, False)))

    def test_an_index_that_cannot_be_used_takes_nothing_down(self) -> None:
        path, script = self.project.folder / FILE, self.script("launch afresh", 'tap button "Hives"')
        for kind in ("a folder", "damaged", "locked"):
            with ExitStack() as stack, self.subTest(kind):
                if kind == "a folder":
                    path.mkdir()
                    stack.callback(path.rmdir)
                elif kind == "damaged":
                    path.write_bytes(b"no index" * 200)
                    stack.callback(path.unlink)
                else:
                    base = stack.enter_context(closing(sqlite3.connect(path, isolation_level=None)))
                    base.execute("begin exclusive")
                process = stack.enter_context(self.replaying(script))
                _, said = process.communicate(timeout=30)
                self.assertEqual((process.returncode, said.count("\n"), "The run is not in the index" in said), (0, 1, True), said)
                self.junit.unlink()

    def test_an_output_that_is_gone_or_full_loses_no_results(self) -> None:
        script = self.script("launch afresh", 'tap button "Hives"', "press back")
        with self.replaying(script) as process:
            assert process.stdout is not None
            process.stdout.close()
            process.stdout = None
            _, said = process.communicate(timeout=30)
        self.assertEqual((said, self.junit.exists()), ("", True))
        self.junit.unlink()
        full = os.open("/dev/full", os.O_WRONLY)
        self.addCleanup(os.close, full)
        with self.replaying(script, stdout=full) as process:
            _, said = process.communicate(timeout=30)
        self.assertEqual((process.returncode, self.junit.exists()), (1, True))
        self.assertEqual(said, "copione: The output could not be written: No space left on device.\n")
