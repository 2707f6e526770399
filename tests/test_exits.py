"""What leaves the program is made safe for where it goes."""

import json
import re
import subprocess
import sys
import tempfile
import unittest
from io import StringIO
from pathlib import Path

from rich.console import Console

from copione.cli.terminal import json_text, rich_text, shown
from copione.files.naming import inside
from copione.files.reading import FileKind, read_text
from copione.model.device import DeviceProfile
from copione.model.errors import FileTrouble
from copione.model.reading import Said
from copione.model.relation import Matches
from copione.model.words import InvalidValue
from copione.project.data import load_rows, save_rows, sniffed
from copione.project.project import Project
from copione.report.defect import Defect, markdown, plain
from copione.touch.panel import parse_events, tracks

EVIL = "Wren [/] mini [red]\x1b]0;title\x07\x9b2J\x7f\u202e"


class Terminal(unittest.TestCase):
    def test_nothing_acts_on_a_terminal(self) -> None:
        for said in (shown(EVIL), json_text({"a": EVIL}), shown("a\nb\r\x00")):
            self.assertIsNone(re.search(r"[\x00-\x1f\x7f-\x9f\u202e]", said), said)
        self.assertEqual(json.loads(json_text({"a": EVIL, "b": "\ud800"}))["a"], EVIL)
        out = StringIO()
        Console(file=out, width=200).print(rich_text(EVIL))
        self.assertIn("Wren [/] mini [red]<1B>]0;title<07><9B>2J<7F>", out.getvalue())


class Files(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_nothing_outside_a_folder_is_used(self) -> None:
        (self.folder / "data").mkdir()
        for name in ("../../etc/passwd", "/etc/passwd", "a\0b", "", ".", "..", "a/../../b", "x" * 5000):
            with self.subTest(name[:20]), self.assertRaises(FileTrouble):
                read_text(inside(self.folder, name), FileKind.SCRIPT)
        self.assertEqual(inside(self.folder, "a/b.csv"), self.folder / "a" / "b.csv")
        script = self.folder / "scripts" / "a.copione"
        script.parent.mkdir()
        script.write_text('script "A"\ndata "../../etc/passwd"\nscene "One"\n    tap button "a"\n', "utf-8")
        (problem,) = (p for p in Project(self.folder).load(script).problems() if p.line == 2)
        self.assertIn("nothing outside of it is used", problem.message)

    def test_a_mark_before_a_script_is_no_part_of_it(self) -> None:
        path = self.folder / "a.copione"
        path.write_bytes('\ufeffscript "A"\nscene "One"\n    tap button "a"\n'.encode())
        self.assertEqual(Project(self.folder).load(path).document.problems, ())

    def test_cells_that_a_spreadsheet_takes_for_formulas_come_back_as_they_were(self) -> None:
        rows = [{"a": "=1+1", "b": "-3", "c": "@x", "d": "'quoted", "e": "+49 30", "f": "'=by hand"}]
        for _ in range(2):
            save_rows(self.folder / "a.csv", rows)
            cells = (self.folder / "a.csv").read_text("utf-8").split("\n")[1].split(",")
            self.assertEqual([cell[:1] for cell in cells], ["'", "-", "'", "'", "'", "'"])
            self.assertEqual(load_rows(self.folder / "a.csv"), rows)
        (self.folder / "a.csv").write_text("a\n'=x\n''=y\n", "utf-8")
        self.assertEqual([row["a"] for row in load_rows(self.folder / "a.csv")], ["'=x", "''=y"])
        for words in ("", " , \n,", "\ufeff"):
            with self.assertRaises(FileTrouble, msg=words):
                sniffed(words.encode())
        (self.folder / "a.csv").write_text("a\n" + "x\n" * 30_000, "utf-8")
        with self.assertRaises(FileTrouble) as caught:
            load_rows(self.folder / "a.csv")
        self.assertIn("too large for a table", caught.exception.sentence)
        (self.folder / "a.csv").write_text("a\n" + "x" * 200_000, "utf-8")
        with self.assertRaises(FileTrouble) as caught:
            load_rows(self.folder / "a.csv")
        self.assertIn("a.csv line 2", caught.exception.sentence)

    def test_wrong_types_have_a_sentence(self) -> None:
        for text in ("name = 5", "apps = 3", "[apps]\nbees = 'x'", "[apps.bees]\nandroid = 1", "phrasebook = []"):
            (self.folder / "project.toml").write_text(text, "utf-8")
            with self.subTest(text), self.assertRaises(FileTrouble) as caught:
                Project(self.folder)
            self.assertIn("has an unexpected structure", caught.exception.sentence)


class Words(unittest.TestCase):
    def test_markdown_holds_words_and_fences_hold_a_log(self) -> None:
        self.assertEqual(plain("# [a](b)\n`x`"), "\\# \\[a\\](b) \\`x\\`")
        device = DeviceProfile("A\n# b", "android", "14", 1, 1, 160)
        said = markdown(Defect("T", "", ""), [], [], device, "bees", "1", "x\n```\ny")
        self.assertIn("````\nx\n```\ny\n````", said)
        self.assertNotIn("\n# b", said)

    def test_an_expression_has_its_time(self) -> None:
        with self.assertRaises(InvalidValue) as caught:
            Matches("^(a|aa)+$").fits(Said("a" * 60 + "b"))
        self.assertIn("takes more than 1 s", caught.exception.sentence)
        self.assertTrue(Matches("^Hive \\d+$").fits(Said("Hive 7")))

    def test_a_crash_is_told_without_secrets(self) -> None:
        code = "from copione.model.secrecy import Redactor; from copione.project.outlets import guard; import threading, logging\n"
        code += "guard(Redactor({'password': 'honey7comb'}))\nlogging.getLogger('a').error('log honey7comb')\n"
        code += "t = threading.Thread(target=lambda: 1 / len('honey7comb'.replace('honey7comb', ''))); t.start(); t.join()\n"
        code += "raise RuntimeError('with honey7comb')"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
        self.assertEqual(done.stderr.count("honey7comb"), 0, done.stderr)
        for words in ("log {password}", "ZeroDivisionError", "RuntimeError: with {password}"):
            self.assertIn(words, done.stderr)


class TouchLogs(unittest.TestCase):
    @staticmethod
    def line(at: str, code: str, value: str) -> str:
        return f"[{at}] EV_{'SYN' if code == 'SYN_REPORT' else 'ABS'}       {code:<20} {value}\n"

    def log(self, first: str, last: str, *more: tuple[str, str]) -> bytes:
        down = [("ABS_MT_TRACKING_ID", "00000001"), ("ABS_MT_POSITION_X", "00000010"), ("ABS_MT_POSITION_Y", "00000020")]
        begun = "".join(self.line(first, *each) for each in (*more, *down, ("SYN_REPORT", "00000000")))
        return (begun + self.line(last, "ABS_MT_TRACKING_ID", "ffffffff") + self.line(last, "SYN_REPORT", "00000000")).encode()

    def test_times_are_read_right_also_where_they_get_wider(self) -> None:
        for first, last in (("999.950000", "1000.050000"), ("     999.950000", "    1000.050000"), ("9.950000", "10.050000")):
            [track] = tracks(parse_events(self.log(first, last)))
            self.assertAlmostEqual(track.lift - track.since, 0.1)

    def test_what_cannot_be_is_left_out_and_named(self) -> None:
        for code, value in (("ABS_MT_SLOT", "7fffffff"), ("ABS_MT_POSITION_X", "123456789abcdef0")):
            events = parse_events(self.log("1.000000", "1.050000", (code, value)))
            self.assertEqual(events.doubts, (f"line 1: {code} cannot be {value}; it is left out",))
            self.assertEqual(len(tracks(events)), 1)
        places = self.line("1.000000", "ABS_MT_POSITION_X", "00000010") + self.line("1.000000", "ABS_MT_POSITION_Y", "00000010")
        self.assertEqual(tracks(parse_events((places + self.line("1.000000", "SYN_REPORT", "00000000")).encode())), [])


if __name__ == "__main__":
    unittest.main()
