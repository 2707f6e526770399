"""What is kept of recordings and runs is read back as it was, and what is damaged of it is left out; scripts with what they use."""

import json
import subprocess
import sys
import tempfile
import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal
from pathlib import Path

from copione.engine.judging import Before, assessed, found_in, usual_baseline
from copione.language.document import parse_line
from copione.model import remark_kinds as kinds
from copione.model.address import Address
from copione.model.doubt import Doubt
from copione.model.errors import FileTrouble
from copione.model.geometry import Box
from copione.model.outcome import Cause, Obstacle, ObstacleKind, Outcome, Reason
from copione.model.portrait import Portrait
from copione.model.reading import BranchTaken, InDay, InNumber, InOrder, Moved
from copione.model.remark import Remark
from copione.model.screen import Moment, Screen
from copione.model.take import TakeName
from copione.model.target import Target
from copione.project.apps import word_for
from copione.project.archive import RunEnd, RunWriter, TakeRecord, read_run
from copione.project.journal import JOURNAL, Journal, JournalStep, offer_again, unfinished
from copione.project.loading import MOST_LINES, load
from copione.project.naming import frames_folder, name_in, portraits_path
from copione.project.portraits import load_portraits
from copione.project.portraying import portray_from, row_at, screen_of
from copione.project.remarks import MutedRemark, lines_of, read_remarks, wanted_off
from copione.project.renaming import rename_scene_elsewhere
from copione.project.results import ResultReader, result_record
from copione.project.scopes import DeviceScope
from copione.screens.android import read_android

from ..comparison.test_findings import ALDER, MOTH, WREN, result

NODE = (
    '<node class="android.widget.{kind}" text="{text}" resource-id="org.example.a:id/{id}" content-desc="" bounds="[{box}]" '
    'clickable="{click}" enabled="true"/>'
)


def tree(*nodes: tuple[str, str, str, str]) -> bytes:
    """An Android tree of (class, text, id, bounds) in pixels."""
    inner = "".join(
        NODE.format(kind=kind, text=text, id=id, box=box.replace(";", "]["), click=str(kind == "Button").lower())
        for kind, text, id, box in nodes
    )
    frame = "<node class='android.widget.FrameLayout' package='org.example.a' bounds='[0,0][824,1784]'>"
    return f"<hierarchy>{frame}{inner}</node></hierarchy>".encode()


TREE = tree(("TextView", "Frames", "", "40,99;400,160"), ("Button", "Save", "save", "40,300;400,396"), ("Button", "", "", "40,300;400,396"))


def screen() -> Screen:
    return read_android(TREE, 824, 1784, 320)


class FolderCase(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))


def kept(uid: int, words: str, *portraits: tuple[Target, Portrait], **more: object) -> JournalStep:
    step, _ = parse_line(words, 0)
    return JournalStep(uid, "One", step, portraits, **{"shot": "0001", "mark": ((1.0, 2.0),), "scrolled": False, "bars": 3} | more)


class Journals(FolderCase):
    SAVE = Target("button", "Save", inside=Target("list", "Hives"))

    def steps(self) -> list[JournalStep]:
        seen = screen()
        portrait = Portrait(seen, 2, "One", "0001.png", "6", 0.25, Box(0.0, 0.0, 0.5, 1.0), grip=True)
        other = kept(9, 'tap text "Frames"', (Target("text", "Frames"), Portrait(seen, 1, "One")))
        return [
            kept(1, 'tap button "Save"', (self.SAVE, portrait), scrolled=True, bars=1, doubt=Doubt.STALE, others=(other,)),
            kept(2, "press back", shot="0002"),
        ]

    def journal(self) -> Journal:
        journal = Journal(self.folder, "org.example.a", into={"line": 4})
        self.assertEqual(journal.moment(Moment(1.0, b"png", screen())), "0001")
        journal.steps(self.steps(), "One", {"hive": "Hive 7"})
        return journal

    def test_a_recording_that_was_cut_short_is_read_back(self) -> None:
        journal = self.journal()
        journal.close()
        (found,) = unfinished(self.folder)
        self.assertEqual(
            (found.app, found.scene, found.into, dict(found.values)), ("org.example.a", "One", {"line": 4}, {"hive": "Hive 7"})
        )
        first, second = found.steps
        expected = self.steps()[0]
        for name in ("uid", "scene", "step", "shot", "mark", "scrolled", "bars", "doubt"):
            self.assertEqual(getattr(first, name), getattr(expected, name), name)
        self.assertEqual((second.step, second.shot, second.doubt, second.others), (self.steps()[1].step, "0002", None, ()))
        ((target, portrait),) = first.portraits
        self.assertEqual(target, self.SAVE)
        self.assertEqual((portrait.element.name, portrait.picture, portrait.value, portrait.share), ("Save", "0001.png", "6", 0.25))
        self.assertEqual((portrait.part, portrait.grip, portrait.scene), (Box(0.0, 0.0, 0.5, 1.0), True, "One"))
        ((_, beside),) = first.others[0].portraits
        self.assertIs(beside.screen, portrait.screen, "a screen is kept once")
        self.assertEqual(beside.element.name, "Frames")

    def test_going_on_counts_on_and_what_was_taken_back_is_gone(self) -> None:
        self.journal().close()
        folder = unfinished(self.folder)[0].folder
        again = Journal(self.folder, "org.example.a", folder)
        self.assertEqual(again.moment(Moment(2.0, b"", None)), "0002")
        again.steps([*self.steps()[1:], kept(3, "press home")], "Two")
        again.close()
        (found,) = unfinished(self.folder)
        self.assertEqual(([step.uid for step in found.steps], found.scene), ([2, 3], "Two"))

    def test_what_is_saved_or_thrown_away_is_not_offered_till_it_is_brought_back(self) -> None:
        journal = self.journal()
        journal.done("saved")
        self.assertEqual(unfinished(self.folder), [])
        offer_again(journal.folder)
        self.assertEqual(len(unfinished(self.folder)), 1)
        empty = Journal(self.folder, "org.example.a")
        empty.close()
        self.assertEqual(len(unfinished(self.folder)), 1, "one without steps is none")
        with self.assertRaises(FileTrouble):
            offer_again(self.folder / "none")

    def test_what_is_damaged_is_passed_over(self) -> None:
        journal = self.journal()
        journal.close()
        path = journal.folder / JOURNAL
        whole = path.read_text("utf-8")
        for damage, uids, portraits in (
            (lambda text: text + '{"order": [1', [1, 2], 1),
            (lambda text: text + '{"order": "x"}\n[]\nnull\n', [1, 2], 1),
            (lambda text: text.replace("tap button", "tap buttonless thing"), [2], None),
            (lambda text: text.replace('"order": [1, 2]', '"order": [2, 7, 1]'), [2, 1], 1),
            (lambda text: text.replace('"mark": [[1.0, 2.0]]', '"mark": [["x", 2.0]]'), [], None),
            (lambda text: text.replace('"0001-1"', '"../../0001-1"').replace('"0001"', '"../0001"'), [1, 2], 0),
        ):
            path.write_text(damage(whole), "utf-8")
            found = unfinished(self.folder)
            self.assertEqual([step.uid for step in (found[0].steps if found else ())], uids)
            if portraits is not None:
                self.assertEqual(len(next(step for step in found[0].steps if step.uid == 1).portraits), portraits)
        path.write_text(whole, "utf-8")
        for file in journal.folder.glob("*.json"):
            file.write_text("{}", "utf-8")
        self.assertEqual([len(step.portraits) for step in unfinished(self.folder)[0].steps], [0, 0], "steps stay without their portraits")


class Runs(FolderCase):
    def run_of(self, *results: object, script: str = "Spring") -> Path:
        writer = RunWriter(self.folder / "runs", script, "text", "bees", ["Alder 5", "Moth 2"])
        for device in (MOTH, ALDER):
            take = writer.take(device, TakeName(device.name), {"hive": "x"}, "2.4")
            stem = take.moment(Moment(1.0, b"picture", None))
            (take.folder / "trees" / f"{stem}.xml").write_bytes(TREE)
            for each in results:
                take.step(replace(each, before=f"{stem}.png", tree=f"{stem}.xml", target='button "Save"', box=Box(20, 150, 200, 198)))
            take.close()
        writer.finish(2.0, RunEnd.COMPLETE)
        return writer.folder

    def test_every_kind_of_reading_comes_back(self) -> None:
        for reading in (
            InDay(date(2026, 5, 4), "4 May"),
            InDay(None, "soon"),
            InNumber(Decimal("1250.5"), "1,250.5"),
            InNumber(None, "many"),
            InOrder(("a", "b")),
            Moved(12.5, 1.25),
            BranchTaken("in", True),
            BranchTaken("by", False),
        ):
            with self.subTest(reading):
                whole = replace(
                    result(1), reading=reading, obstacle=Obstacle(ObstacleKind.DIALOG, "Rate it"), turned=True, keyboard=250.0, own=4
                )
                back = ResultReader().result(json.loads(json.dumps(result_record(whole))))
                self.assertEqual(back, whole)

    def test_portraits_are_taken_from_a_run(self) -> None:
        script = self.folder / "scripts" / "spring.copione"
        script.parent.mkdir()
        held = result(1)
        for bad in (replace(held, outcome=Outcome.STUCK), replace(held, turned=True)):
            self.assertEqual(portray_from(read_run(self.run_of(bad)), script), [])
        run = read_run(self.run_of(held, replace(held, number=2)))
        self.assertEqual(portray_from(run, script), ['button "Save"'])
        (portrait,) = load_portraits(portraits_path(script))['button "Save"']
        self.assertEqual((portrait.element.id, portrait.device, portrait.build, portrait.scene), ("save", "Alder 5", "2.4", "One"))
        self.assertEqual((frames_folder(script) / portrait.picture).read_bytes(), b"picture")
        self.assertEqual(portray_from(run, script), [], "it has one by now")
        for nowhere in (replace(run.takes[0].results[0], box=None), replace(run.takes[0].results[0], box=Box(0, 0, 1, 1))):
            take = replace(run.takes[0], results=(nowhere,))
            self.assertEqual(portray_from(replace(run, takes=(take,)), script.with_name("other.copione")), [])
        portraits_path(script).unlink()
        self.assertEqual(portray_from(run, script, "moth 2"), ['button "Save"'])
        with self.assertRaisesRegex(FileTrouble, "has no take on Wren mini. It has Alder 5, Moth 2."):
            portray_from(run, script, "Wren mini")

    def test_the_screen_of_a_step_and_the_element_at_a_box(self) -> None:
        folder = read_run(self.run_of(result(1))).takes[0].folder
        told = replace(result(1), tree="0001.xml")
        found = screen_of(folder, ALDER, told)
        assert found is not None
        self.assertEqual([element.name for element in found][1:3], ["Frames", "Save"])
        self.assertEqual(screen_of(folder, ALDER, replace(told, tree="../../../trees/0001.xml")).width, 412.0)  # type: ignore[union-attr]
        for device, tree_file in ((ALDER, ""), (ALDER, "0009.xml"), (replace(ALDER, platform="web"), "0001.xml")):
            self.assertIsNone(screen_of(folder, device, replace(told, tree=tree_file)))
        (folder / "trees" / "0002.xml").write_bytes(b"<hierarchy")
        self.assertIsNone(screen_of(folder, ALDER, replace(told, tree="0002.xml")))
        for box, row in (
            (Box(20, 150, 200, 198), 2),
            (Box(21.5, 150, 200, 198), 2),
            (Box(21.6, 150, 200, 198), None),
            (Box(20, 49.5, 200, 80), 1),
        ):
            self.assertEqual(row_at(found, box), row)

    def test_findings_beside_an_earlier_run(self) -> None:
        stuck = replace(result(1, Outcome.STUCK, "gone"), why=Reason(Cause.NOT_HERE, "gone"))
        earlier, later = self.run_of(result(1)), self.run_of(stuck)
        run = read_run(later)
        lanes, found = found_in(run)
        self.assertEqual([lane.device.name for lane in lanes.lanes], ["Alder 5", "Moth 2"])
        before = Before.of(earlier)
        self.assertEqual((before.findings, len(before.called)), ((), len("01 Dec, 03:00")))
        known = assessed(self.folder, run, lanes, found, earlier, date(2026, 5, 4))
        self.assertEqual(([each.new for each in known.standing], known.since), ([True], before.called))
        allowance = '[[allowed]]\nscript = "Spring"\nabout = "x"\nwhat = "y"\n'
        (self.folder / "allowances.toml").write_text(allowance, "utf-8")
        known = assessed(self.folder, run, lanes, found, later, date(2026, 5, 4))
        self.assertEqual(([each.new for each in known.standing], len(known.stale)), ([False], 1))
        cut = assessed(self.folder, replace(run, end=RunEnd.STOPPED), lanes, found, None, date(2026, 5, 4))
        self.assertEqual(cut.stale, (), "it may match what was not come to")
        self.assertEqual((usual_baseline(later, "Spring"), usual_baseline(earlier, "Spring")), (earlier, None))

    def test_a_picture_is_one_of_its_take(self) -> None:
        take = TakeRecord(self.folder, TakeName("Alder 5"), ALDER, {})
        self.assertEqual(take.picture("../../x.png"), self.folder / "shots" / "x.png")


class Printed(unittest.TestCase):
    def test_what_goes_wrong_is_printed_without_secrets(self) -> None:
        for how, shown in (
            ("raise ValueError('honey7comb went wrong')", "ValueError: {password} went wrong"),
            ("threading.Thread(target=lambda: 1 / len('honey7comb'[9:0])).start()", "ZeroDivisionError"),
            ("threading.Thread(target=sys.exit, args=('honey7comb',)).start()", ""),
            ("logging.getLogger('copione.x').info('to the file only')", ""),
            ("logging.getLogger('copione.x').warning('honey7comb')", "WARNING copione.x: {password}"),
        ):
            with self.subTest(how), tempfile.TemporaryDirectory() as folder:
                log = Path(folder) / "deep" / "log.txt"
                code = "import logging, sys, threading\nfrom pathlib import Path\nfrom copione.model.secrecy import Redactor\n"
                code += "from copione.project.outlets import guard\n"
                code += f"for _ in range(2): guard(Redactor({{'password': 'honey7comb'}}), Path({str(log)!r}))\n{how}\n"
                ran = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
                self.assertIn(shown, ran.stderr)
                self.assertEqual(bool(ran.stderr), bool(shown))
                told = log.read_text("utf-8")
                self.assertNotIn("honey7comb", ran.stderr + told)
                self.assertEqual(told.count("to the file only"), int("to the file only" in how))
                self.assertEqual(told.count("ZeroDivisionError") > 0, shown == "ZeroDivisionError")


class Remarks(FolderCase):
    def test_a_remark_comes_back_whole(self) -> None:
        take, fine = TakeName("Alder 5", 2, 3), (TakeName("Moth 2"), TakeName("Wren mini", 2))
        remark = Remark(kinds.OVERLAPS, "save", "Save", "over it", "beside it", take, Address.of(4), Box(1, 2, 3, 4), "0001.png", fine)
        remark = replace(remark, over="foot", page=2, example_box=Box(5, 6, 7, 8), example_shot="0009.png")
        (self.folder / "remarks.jsonl").write_text(lines_of([remark, replace(remark, box=None, example_box=None)]), "utf-8")
        self.assertEqual(read_remarks(self.folder), (remark, replace(remark, box=None, example_box=None)))
        self.assertEqual(read_remarks(self.folder / "none"), ())

    def test_kinds_that_are_not_wanted(self) -> None:
        text = '[[off]]\nkind = "small target"\nelement = "Save"\ndevices = ["Alder 5"]\nwhy = "known"\n'
        (self.folder / "remarks.toml").write_text(text, "utf-8")
        (off,) = wanted_off(self.folder)
        self.assertEqual(off, MutedRemark(kinds.SMALL, DeviceScope(devices=("Alder 5",)), "Save", "known"))
        remark = Remark(kinds.SMALL, "save_it", "SAVE", "", "", TakeName("Alder 5"), Address.of(1), None, "", ())
        for each, device, fits in (
            (remark, ALDER, True),
            (replace(remark, name="x", key="Save"), ALDER, True),
            (replace(remark, name="x"), ALDER, False),
            (remark, WREN, False),
            (replace(remark, kind=kinds.CUT), ALDER, False),
        ):
            self.assertIs(off.fits(each, device), fits)
        self.assertTrue(replace(off, element="").fits(replace(remark, name="x"), ALDER))
        (self.folder / "remarks.toml").write_text('[[off]]\nkind = "tiny"\n', "utf-8")
        with self.assertRaisesRegex(FileTrouble, "'tiny' is no kind of remark; there are missing"):
            wanted_off(self.folder)


class Scripts(FolderCase):
    def put(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text, "utf-8")
        return path

    def test_what_a_script_uses_and_what_of_it_is_not_there(self) -> None:
        scene = 'scene "{0}"\n    press back\n'
        own = self.put(
            "own.copione",
            'script "Own"\nuses "a.copione"\nuses "own.copione"\nuses "none.copione"\nuses "bad.copione"\n' + scene.format("O"),
        )
        self.put("a.copione", 'script "A"\nuses "b.copione"\n' + scene.format("A"))
        self.put("b.copione", 'script "B"\nuses "own.copione"\nuses "a.copione"\n' + scene.format("B"))
        self.put("bad.copione", 'script "Bad"\nscene "X"\n    wave a hand\n')
        loaded = load(own, self.folder)
        self.assertEqual(sorted(loaded.used), ["a.copione", "b.copione", "bad.copione"])
        self.assertEqual(sorted(loaded.broken), ["bad.copione", "none.copione", "own.copione"])
        self.assertIn("cannot use itself", loaded.broken["own.copione"])
        self.assertIn("bad.copione has a problem in line 3: ", loaded.broken["bad.copione"])
        self.put("a.portraits.json", "[]")
        self.put("own.portraits.json", "[]")
        self.assertEqual(
            [note.split(" is ")[0].rpartition("/")[2] for note in load(own, self.folder).notes], ["own.portraits.json", "a.portraits.json"]
        )

    def test_all_that_a_text_names_has_been_looked_for(self) -> None:
        scene = 'scene "S"\n    for each row of "hives.csv"\n        press back\n    end\n'
        own = self.put("own.copione", f'script "Own"\nuses "none.copione"\ndata "rows.csv"\n{scene}')
        self.put("hives.csv", "hive\nHive 1\n")
        self.put("rows.csv", "note\nx\n")
        loaded = load(own, self.folder)
        self.assertTrue(loaded.complete)
        self.assertEqual((sorted(loaded.tables), sorted(loaded.broken)), (["hives.csv", "rows.csv"], ["none.copione"]))
        self.assertFalse(replace(loaded, tables={"rows.csv": loaded.tables["rows.csv"]}).complete)
        self.assertFalse(replace(loaded, tables={}).complete)
        self.assertFalse(replace(loaded, broken={}).complete)
        self.assertTrue(replace(loaded, tables={}, no_tables={"hives.csv": "gone", "rows.csv": "gone"}).complete)

    def test_scenes_that_others_perform(self) -> None:
        own = self.put("own.copione", 'script "Own"\nscene "Sign in"\n    press back\nscene "Alone"\n    press back\n')
        self.put("other.copione", 'script "Other"\nuses "own.copione"\nscene "Main"\n    perform "Sign in"\n')
        self.put("third.copione", 'script "Third"\nscene "Main"\n    perform "Alone"\n')
        self.assertEqual(load(own, self.folder).elsewhere, frozenset({"Sign in"}))

    def test_a_scene_is_called_otherwise_wherever_it_is_performed_and_nowhere_else(self) -> None:
        scene = 'scene "Sign in"\n    press back\n'
        own = self.put("own.copione", f'script "Own"\n{scene}')
        performs = 'scene "Main"\n    perform "Sign in"\n'
        self.put("uses.copione", f'script "Uses"\nuses "own.copione"\n{performs}')
        self.put("alone.copione", f'script "Alone"\n{performs}{scene}')
        self.put("both.copione", f'script "Both"\nuses "own.copione"\n{performs}{scene}')
        self.assertEqual(rename_scene_elsewhere(own, "Sign in", "Log in", own), ["uses.copione"])
        self.assertIn('perform "Log in"', (own.parent / "uses.copione").read_text("utf-8"))

    def test_no_more_than_a_hundred_and_no_longer_than_it_can_be_worked_with(self) -> None:
        scene = 'scene "S"\n    press back\n'
        for number in range(101):
            self.put(f"u{number}.copione", f'script "U{number}"\n' + scene)
        own = self.put("own.copione", 'script "Own"\n' + "".join(f'uses "u{n}.copione"\n' for n in range(101)) + scene)
        loaded = load(own, self.folder)
        self.assertEqual((len(loaded.used), loaded.broken), (100, {"u100.copione": "A script may use 100 others."}))
        rest = 'script "Long"\n' + scene
        load(self.put("long.copione", rest + "\n" * (MOST_LINES - 3)), self.folder)
        with self.assertRaisesRegex(FileTrouble, "has more than 25,000 lines"):
            load(self.put("longer.copione", rest + "\n" * (MOST_LINES - 2)), self.folder)

    def test_a_script_says_its_name_near_its_beginning(self) -> None:
        for before, name in ((0, "Own"), (3980, "Own"), (4000, "")):
            self.assertEqual(name_in("#" * before + '\nscript "Own"\n'), name)

    def test_what_an_app_is_called(self) -> None:
        for package, platform, apps, word in (
            ("org.example.hive_diary", "android", {}, "hive-diary"),
            ("org.example.bees.android", "android", {}, "bees"),
            ("http://localhost:8000/", "web", {}, "web-app"),
            ("https://www.hives.example/app", "web", {}, "hives"),
            ("http://192.168.0.7/", "web", {}, "web-app"),
            ("org.example.bees", "android", {"bees": {"android": "org.other.bees"}}, "example-bees"),
            ("org.example.bees", "android", {"bees": {"android": "org.example.bees"}}, "bees"),
            ("org.example.bees", "ios", {"bees": {"android": "org.example.bees"}}, "bees"),
            ("bees", "android", {"bees": {"android": "wasps"}}, "bees-2"),
        ):
            with self.subTest(package, apps=apps):
                self.assertEqual(word_for(package, platform, apps), word)


if __name__ == "__main__":
    unittest.main()
