import shutil
import tempfile
import unittest
from pathlib import Path

from copione.engine.judging import lanes_of
from copione.model.clock import SystemClock
from copione.model.errors import FileTrouble
from copione.model.outcome import Outcome
from copione.project.archive import RunEnd
from copione.project.demo import copy_demo
from copione.project.project import Project
from copione.project.shelf import (
    bring_back,
    duplicate_script,
    name_in,
    new_script,
    put_run_aside,
    put_script_aside,
    rename_script,
    runs_of,
    scripts_of,
)
from copione.replay.run import Run

from ..benches import Heard, LabCase


class Scripts(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "hive-diary"
        self.assertIsNone(copy_demo(self.folder))
        self.project = Project(self.folder)
        for path in [p for p in self.project.scripts_folder.iterdir() if not p.name.startswith("spring-inspection")]:
            shutil.rmtree(path) if path.is_dir() else path.unlink()

    def names(self) -> list[str]:
        return [entry.name for entry in scripts_of(self.project)]

    def files(self) -> list[str]:
        return sorted(path.name for path in self.project.scripts_folder.iterdir())

    def test_a_script_is_renamed_with_all_that_belongs_to_it(self) -> None:
        before = self.project.load(self.project.script_path("Spring inspection"))
        path = rename_script(self.project, self.project.script_path("Spring inspection"), "Spring, “late” inspection")
        after = self.project.load(path)
        self.assertEqual((self.names(), after.script.name), (["Spring, “late” inspection"],) + ("Spring, “late” inspection",))
        self.assertEqual((after.script.scenes, set(after.portraits)), (before.script.scenes, set(before.portraits)))
        self.assertEqual(self.files(), [f"spring-late-inspection.{end}" for end in ("copione", "frames", "portraits.json")])
        self.assertEqual(rename_script(self.project, path, "Spring late inspection"), path)  # the same file

    def test_another_scripts_name_is_not_taken(self) -> None:
        first = self.project.script_path("Spring inspection")
        new_script(self.project, "Sign in", "hive-diary")
        with self.assertRaises(FileTrouble) as caught:
            rename_script(self.project, first, "Sign in")
        self.assertIn("There is a script called Sign in already", caught.exception.sentence)
        self.assertEqual(self.names(), ["Sign in", "Spring inspection"])

    def test_a_copy_has_the_next_free_name_and_a_new_one_is_sound(self) -> None:
        copy = duplicate_script(self.project, self.project.script_path("Spring inspection"))
        self.assertEqual((copy.name, name_in(copy.read_text("utf-8"))), ("spring-inspection-2.copione", "Spring inspection 2"))
        self.assertTrue(self.project.load(copy).portraits)
        made = self.project.load(new_script(self.project, 'A "quoted" name', "hive-diary"))
        self.assertEqual((made.script.name, made.document.problems), ('A "quoted" name', ()))

    def test_what_was_deleted_comes_back_also_beside_what_took_its_place(self) -> None:
        entry, before = scripts_of(self.project)[0], self.files()
        aside = put_script_aside(self.project, entry)
        self.assertEqual((self.names(), self.files()), ([], []))
        bring_back(aside)
        self.assertEqual(self.files(), before)
        aside = put_script_aside(self.project, entry)
        new_script(self.project, "Spring inspection", "")
        bring_back(aside)
        self.assertEqual(len(self.names()), 2)

    def test_the_demo_is_kept_and_begun_afresh_when_asked(self) -> None:
        mine = self.project.script_path("Spring inspection")
        mine.write_text(mine.read_text("utf-8") + "# mine\n", "utf-8")
        self.assertIsNone(copy_demo(self.folder))
        self.assertIn("# mine", mine.read_text("utf-8"))
        aside = copy_demo(self.folder, anew=True)
        self.assertNotIn("# mine", mine.read_text("utf-8"))
        self.assertIn("# mine", (aside / "scripts" / mine.name).read_text("utf-8"))


class Runs(LabCase):
    def test_runs_are_listed_newest_first_and_come_back(self) -> None:
        folder = self.scratch / "hive-diary"
        copy_demo(folder)
        project = Project(folder)
        loaded = project.load(project.script_path("Spring inspection"))
        run = Run(project, loaded, self.devices("Alder 5", "Wren mini"), Heard(), SystemClock())
        run.start()
        run.wait()
        (project.runs_folder / "2020-01-01-000000-broken").mkdir()
        (project.runs_folder / "2020-01-01-000000-broken" / "run.json").write_text("{", "utf-8")
        counted = []

        def count(record):
            counted.append(record.folder)
            return lanes_of(record).counts

        (entry,) = runs_of(project, {}, count)
        self.assertEqual((entry.script, entry.builds, entry.end), ("Spring inspection", ("2.4",), RunEnd.COMPLETE))
        self.assertEqual(entry.devices, ("Alder 5", "Wren mini"))
        self.assertEqual(sum(entry.counts.values()), 30)
        self.assertEqual(entry.counts.get(Outcome.STUCK), None)
        self.assertEqual(runs_of(project, {entry.folder: entry}, count), (entry,))
        self.assertEqual(len(counted), 1)  # what is known is not read again
        aside = put_run_aside(project, entry)
        self.assertEqual(runs_of(project, {}, count), ())
        bring_back(aside)
        self.assertEqual([each.folder for each in runs_of(project, {}, count)], [entry.folder])
