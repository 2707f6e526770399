import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from lxml import etree, html
from PIL import Image

from copione.model.geometry import Box
from copione.model.outcome import Outcome
from copione.model.take import TakeName
from copione.project.archive import RunRecord, TakeRecord
from copione.report.junit import junit
from copione.report.lanes_of import lanes_of
from copione.report.page import page

from ..comparison.test_findings import ALDER, WREN, result

EVIL = "</td><script>alert('x')</script>\x07&"


class Reports(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        folder = Path(scratch.name)
        (folder / "shots").mkdir()
        Image.new("RGB", (824, 1784), "#38513A").save(folder / "shots" / "0001.png")
        good = replace(result(1), before="0001.png", box=Box(10, 10, 100, 60))
        bad = replace(result(1, Outcome.STUCK, EVIL), before="missing.png", box=Box(0, 0, 9, 9))
        takes = (
            TakeRecord(folder, TakeName(ALDER.name), ALDER, {}, "2.4", (good, result(2, Outcome.ADAPTED, "its id is gone"))),
            TakeRecord(folder, TakeName(EVIL), replace(WREN, name=EVIL), {}, "", (bad, result(2, Outcome.UNREACHED))),
        )
        self.run_record = RunRecord(folder, "Spring", 'tap "<b>"', "bees", 1e9, 3.0, "Alder 5", takes, False)

    def test_the_page_is_whole_in_itself_and_what_devices_say_is_escaped(self) -> None:
        text = page(self.run_record)
        tree = html.fromstring(text)
        self.assertEqual(tree.xpath("//script"), [])
        self.assertEqual([x for x in tree.xpath("//@src | //link/@href") if not x.startswith("data:")], [])
        self.assertEqual(len(tree.xpath("//img")), 1)
        self.assertIn("alert('x')", tree.text_content())
        for words in ("1 held", "1 adapted", "1 stuck", "1 unreached", "cut short", "build 2.4", "its id is gone", "no picture"):
            self.assertIn(words, tree.text_content())

    def test_junit_has_a_suite_a_take_and_a_case_a_step(self) -> None:
        root = etree.fromstring(junit(lanes_of(self.run_record), "Spring"))
        suites = root.findall("testsuite")
        self.assertEqual(
            [(s.get("tests"), s.get("failures"), s.get("errors"), s.get("skipped")) for s in suites],
            [("2", "0", "0", "0"), ("2", "0", "1", "1")],
        )
        self.assertEqual(suites[1].find("testcase/error").get("type"), "stuck")
        self.assertNotIn("\x07", etree.tostring(root, encoding="unicode"))
        self.assertEqual(root.find(".//system-out").text, "adapted: its id is gone")
