import tempfile
import unittest
from dataclasses import replace
from datetime import date
from pathlib import Path

from lxml import etree, html
from PIL import Image

from copione.comparison.lanes import Lanes
from copione.comparison.standing import Assessed, assess
from copione.engine.judging import found_in, lanes_of
from copione.model.geometry import Box
from copione.model.outcome import Outcome
from copione.model.take import TakeName
from copione.project.archive import RunRecord, TakeRecord
from copione.report.junit import junit
from copione.report.page import page, write_page
from copione.report.writeup import as_html, markdown, save, write_up

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

    def known(self) -> tuple[Lanes, Assessed]:
        lanes, found = found_in(self.run_record)
        return lanes, assess(found, lanes, "Spring", (), date(2026, 11, 26))

    def test_the_page_is_whole_in_itself_and_what_devices_say_is_escaped(self) -> None:
        text = page(self.run_record, *self.known())
        tree = html.fromstring(text)
        self.assertEqual(tree.xpath("//script"), [])
        self.assertEqual([x for x in tree.xpath("//@src | //link/@href") if not x.startswith("data:")], [])
        self.assertEqual(len(tree.xpath("//details[@id='s1']//img")), 1)
        self.assertIn("One thing differs between 2 devices.", tree.text_content())
        self.assertIn("alert('x')", tree.text_content())
        for words in ("1 held", "1 adapted", "1 stuck", "1 unreached", "cut short", "en-GB2.4", "its id is gone", "no picture here"):
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

    def test_junit_carries_the_findings_and_the_pictures_of_what_went_wrong(self) -> None:
        lanes, known = self.known()
        root = etree.fromstring(junit(lanes, "Spring", ("HD-1",), known))
        suite = root.findall("testsuite")[-1]
        self.assertEqual((suite.get("tests"), suite.get("errors")), ("1", "1"))
        facts = {p.get("name"): p.get("value") for p in suite.iter("property")}
        self.assertEqual((facts["kind"], facts["about"], facts["new"]), ("stuck", "keyboard", "false"))
        self.assertRegex(etree.tostring(root, encoding="unicode"), r"\[\[ATTACHMENT\|/.*missing\.png\]\]")

    def test_a_finding_is_written_up_with_steps_log_and_lines_and_its_pictures_beside(self) -> None:
        folder = self.run_record.folder
        (folder / "device.log").write_text("999999999.5 a\n1000000000.2 mine `x`\n1000000009.0 late\n", "utf-8")
        lanes, known = self.known()
        finding = known.standing[0].finding
        told = write_up(lanes, finding)
        self.assertEqual((told.steps, told.lines), (("Tap button “Save”",), ('tap button "Save"',)))
        self.assertEqual(len(told.log), 3, "the log has no time of this step: its end is told")
        self.assertNotIn("<script", as_html(told))
        path = save(folder / "defects", lanes, (finding, finding), "Two of them")
        text = path.read_text("utf-8")
        self.assertEqual((text.count("\n## "), sorted(p.suffix for p in path.parent.iterdir())), (2, [".md", ".png", ".png"]))
        self.assertIn(markdown(told, ("01-alder-5.png",), 2).splitlines()[0], text)

    def test_pictures_beside_the_page(self) -> None:
        path = self.run_record.folder / "report.html"
        shares: list[float] = []
        write_page(path, self.run_record, *self.known(), beside=True, progress=shares.append)
        sources = html.fromstring(path.read_text("utf-8")).xpath("//img/@src")
        self.assertTrue(sources and all((path.parent / src).is_file() for src in sources))
        self.assertEqual((shares, shares[-1]), (sorted(shares), 1.0))
