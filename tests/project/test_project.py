import json
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from copione.files.reading import FileKind, read_text
from copione.files.writing import write_whole
from copione.language.document import parse
from copione.model.action import SetTo
from copione.model.address import Address
from copione.model.errors import FileTrouble
from copione.model.geometry import Box
from copione.model.outcome import Cause, Evidence, Outcome, Reason, Result
from copione.model.reading import Counted, InState, Looked, Said, State
from copione.model.screen import Moment
from copione.model.take import TakeName
from copione.model.target import Target
from copione.project.archive import RunWriter, read_run, runs_in
from copione.project.data import load_rows, save_rows
from copione.project.naming import name_in, portraits_path
from copione.project.portraits import dump_portraits, load_portraits
from copione.project.project import Project
from copione.project.results import ResultReader, result_record
from copione.project.shelf import new_script, rename_script, scripts_of

from ..benches import EXAMPLE
from ..comparison.test_findings import ALDER, result


class FolderCase(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.folder = Path(scratch.name)


class Data(FolderCase):
    def rows(self, text: str) -> list[dict[str, str]]:
        path = self.folder / "hives.csv"
        path.write_text(text, "utf-8")
        return load_rows(path)

    def test_rows_are_text_by_column_and_empty_lines_do_not_count(self) -> None:
        self.assertEqual(self.rows('\ufeffhive,note\nHive 7,"a, b"\n\n'), [{"hive": "Hive 7", "note": "a, b"}])

    def test_what_a_spreadsheet_would_compute_is_marked_in_the_file_and_nothing_else_is(self) -> None:
        path = self.folder / "hives.csv"
        for value, cell in (("=1+1", "'\u2060=1+1"), ("-x", "'\u2060-x"), ("Alder", "Alder"), ("-1.5", "-1.5"), ("+12", "+12")):
            save_rows(path, [{"note": value}])
            self.assertEqual(path.read_text("utf-8").splitlines()[1], cell)
            self.assertEqual(load_rows(path), [{"note": value}])

    def test_what_is_wrong_is_said_with_its_line(self) -> None:
        table = {
            "": "is empty",
            "hive,hive\na,b\n": "two columns named hive",
            "hive,note\na\n": "line 2 has 1 values for 2 columns",
            "hive\n": "no rows",
        }
        for text, words in table.items():
            with self.subTest(text), self.assertRaises(FileTrouble) as caught:
                self.rows(text)
            self.assertIn(words, caught.exception.sentence)


class Portraits(FolderCase):
    def test_what_is_written_is_read_back_and_written_the_same(self) -> None:
        path = portraits_path(EXAMPLE / "scripts" / "spring-inspection.copione")
        portraits = load_portraits(path)
        self.assertEqual(dump_portraits(portraits), path.read_text("utf-8"))
        save = portraits['button "Save inspection"'][0]
        self.assertEqual((save.element.role, save.element.id, save.scene), ("button", "save_inspection", "Note what was seen"))

    def test_a_damaged_file_is_said_and_the_script_works_without(self) -> None:
        good = portraits_path(EXAMPLE / "scripts" / "spring-inspection.copione").read_text("utf-8")
        record = json.loads(good)
        record["targets"]['button "Hives"'][0]["row"] = 9999
        damaged = [good[:500], "[]", '{"format": 1}', good.replace('"format": 1', '"format": 7', 1), json.dumps(record), "null"]
        script = self.folder / "scripts" / "a.copione"
        write_whole(script, b'script "a"\nscene "b"\n    launch\n')
        for text in damaged:
            portraits_path(script).write_text(text, "utf-8")
            loaded = Project(self.folder).load(script)
            self.assertEqual((loaded.portraits, len(loaded.notes)), ({}, 1))
            self.assertIn("a.portraits.json is", loaded.notes[0])


class Projects(FolderCase):
    def test_a_new_one_learns_the_app_once_for_each_platform(self) -> None:
        project = Project.create(self.folder / "p", "Bees")
        self.assertEqual(project.learn_app("org.example.hive_diary", "android"), "hive-diary")
        self.assertEqual(project.learn_app("org.example.hive_diary", "android"), "hive-diary")
        project.learn_app("com.example.hive-diary", "ios")
        again = Project(self.folder / "p")
        self.assertEqual((again.name, again.package("hive-diary", "ios")), ("Bees", "com.example.hive-diary"))
        with self.assertRaises(FileTrouble) as caught:
            again.package("hive-diary", "other")
        self.assertIn("does not say which other app hive-diary is", caught.exception.sentence)

    def test_a_script_finds_its_project_from_anywhere_below(self) -> None:
        project = Project.around(EXAMPLE / "scripts" / "spring-inspection.copione")
        self.assertEqual(project.folder, EXAMPLE.resolve())
        self.assertEqual(Project.around(self.folder / "lone.copione").apps, {})

    def test_trouble_with_files_has_sentences(self) -> None:
        (self.folder / "project.toml").write_text("name = ", "utf-8")
        table = [
            (lambda: Project(self.folder), "not valid TOML"),
            (lambda: read_text(self.folder / "none", FileKind.SCRIPT), "There is no file"),
            (lambda: write_whole(self.folder / "project.toml" / "x", b""), "a file is where a folder should be"),
        ]
        for act, words in table:
            with self.assertRaises(FileTrouble) as caught:
                act()
            self.assertIn(words, caught.exception.sentence)

    def test_a_column_that_is_missing_is_a_problem_of_its_line(self) -> None:
        script = EXAMPLE / "scripts" / "spring-inspection.copione"
        write_whole(self.folder / "data" / "hives.csv", b"hive,frame,note\na,b,c\n")
        write_whole(self.folder / "scripts" / script.name, script.read_bytes())
        problems = Project(self.folder).load(self.folder / "scripts" / script.name).problems()
        said = "{frames} has no value: add a column to the data, or write `needs frames` above the scenes."
        self.assertEqual({p.message for p in problems}, {said})
        self.assertEqual({p.near for p in problems}, {"frame"})

    def test_a_word_means_one_app_for_good(self) -> None:
        (self.folder / "project.toml").write_text('# ours\n[apps."our.app"]\nandroid = "org.our.app"\n\n[custom]\nkey = 1\n', "utf-8")
        project = Project(self.folder)
        packages = ("com.bees.android", "com.wasps.android", "com.bees.hive", "org.wasps.hive", "de.9gag", "org.our.app")
        words = [project.learn_app(package, "android") for package in packages]
        self.assertEqual(words, ["bees", "wasps", "hive", "wasps-hive", "app-9gag", "our.app"])
        self.assertEqual(project.learn_app("com.hornets.hive", "ios"), "hornets-hive")  # another maker's
        self.assertEqual(project.learn_app("io.bees.hive", "ios"), "hive")
        again = Project(self.folder)
        self.assertEqual([again.package(word, "android") for word in words], list(packages))
        text = (self.folder / "project.toml").read_text("utf-8")
        self.assertIn("# ours", text)
        self.assertIn("[custom]\nkey = 1", text)
        for word in words:
            self.assertEqual(parse(f'script "a"\napp {word}\n').problems, (), word)

    def test_scripts_whose_names_make_one_file_name_have_files_of_their_own(self) -> None:
        project = Project.create(self.folder / "p", "Bees")
        names = ("Fern 2", "Fern 2+", "fern-2", "蜂箱", "蜂箱!")
        paths = [new_script(project, name, "") for name in names]
        self.assertEqual(len(set(paths)), 5)
        self.assertEqual([path.stem for path in paths[:2]], ["fern-2", "fern-2-2"])
        self.assertEqual([entry.name for entry in scripts_of(project)], sorted(names, key=str.casefold))
        self.assertEqual(project.free_name("FERN 2"), "FERN 2 2")
        self.assertEqual(name_in(rename_script(project, paths[1], "Fern 2!").read_text("utf-8")), "Fern 2!")

    def test_devices_whose_names_differ_in_signs_have_folders_of_their_own(self) -> None:
        writer = RunWriter(self.folder / "runs", "S", "", "", ["Fern 2", "Fern 2+", "蕨", "苔"])
        for name in ("Fern 2", "Fern 2+", "蕨", "苔"):
            take = writer.take(replace(ALDER, name=name), TakeName(name), {}, "")
            take.step(result(1))
            take.close()
        writer.finish(1.0)
        takes = read_run(writer.folder).takes
        self.assertEqual([(t.device.name, len(t.results)) for t in takes], [(n, 1) for n in ("Fern 2", "Fern 2+", "蕨", "苔")])


class Archive(FolderCase):
    RESULT = Result(
        number=3,
        address=Address.of(4).then(9, 2),
        scene="One",
        step='set slider "Frames" to 6',
        target='slider "Frames"',
        outcome=Outcome.ADAPTED,
        action=SetTo(Target("slider", "Frames"), "6"),
        evidence=(Evidence.ID, Evidence.ROLE_AND_NAME),
        seconds=0.5,
        why=Reason(Cause.COVERED, "covered by it", "it"),
        reading=Said("6"),
        box=Box(1, 2, 3, 4),
        before="a.png",
        mark=((1.0, 2.0),),
        usual=0.1,
    )

    def test_a_result_comes_back_as_it_was(self) -> None:
        for reading in (Said("6"), Said("on"), InState(State.NOT_SELECTED), Counted(0), Looked(0.25, ", larger"), None):
            result = replace(self.RESULT, reading=reading)
            self.assertEqual(ResultReader().result(json.loads(json.dumps(result_record(result)))), result)

    def test_a_run_cut_short_is_read_up_to_its_last_whole_line(self) -> None:
        run = RunWriter(self.folder, "Spring", "text", "bees", ["Alder 5"])
        take = run.take(ALDER, TakeName(ALDER.name), {"hive": "x"}, "2.4")
        for _ in range(3):
            take.step(self.RESULT)
        stem = take.moment(Moment(0.0, b"png", None, "", b"<x/>"))
        take.close()
        path = take.folder / "steps.jsonl"
        path.write_bytes(path.read_bytes()[:-20])
        record = read_run(run.folder)
        self.assertEqual((len(record.takes[0].results), record.complete, record.takes[0].values), (2, False, {"hive": "x"}))
        self.assertEqual(record.takes[0].picture(f"{stem}.png").read_bytes(), b"png")
        run.finish(1.5)
        self.assertEqual(read_run(run.folder).seconds, 1.5)

    def test_runs_and_takes_of_one_name_do_not_meet(self) -> None:
        first, second = (RunWriter(self.folder, "Spring", "", "", []) for _ in range(2))
        self.assertNotEqual(first.folder, second.folder)
        takes = [first.take(ALDER, TakeName(ALDER.name, 1, which), {}, "") for which in (1, 2)]
        self.assertNotEqual(takes[0].folder, takes[1].folder)
        for take in takes:
            take.close()
        self.assertEqual(len(runs_in(self.folder)), 2)

    def test_a_damaged_run_is_said(self) -> None:
        facts = b'"script": "a", "text": "", "app": "", "lead": "", "takes": [], "started": 1e300'
        for record in (b'{"script": 1}', b"{" + facts + b"}", b"[]", b"[" * 9000, b"\xff"):
            write_whole(self.folder / "r" / "run.json", record)
            with self.assertRaises(FileTrouble) as caught:
                read_run(self.folder / "r")
            self.assertIn("is damaged", caught.exception.sentence)

    def test_a_full_disk_is_said_and_what_was_written_stays(self) -> None:
        run = RunWriter(self.folder, "Spring", "", "", [])
        take = run.take(ALDER, TakeName(ALDER.name), {}, "")
        take.step(self.RESULT)
        take.close()
        take._steps = Path("/dev/full").open("w", encoding="utf-8")  # noqa: SIM115
        with self.assertRaises(FileTrouble) as caught:
            take.step(self.RESULT)
        self.assertIn("The disk is full", caught.exception.sentence)
        take.close()
        self.assertEqual(len(read_run(run.folder).takes[0].results), 1)
