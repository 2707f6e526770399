"""Scripts that several programs write: nothing of the one is written over by the other."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from copione.files.reading import FileKind
from copione.files.writing import FileChanged, version_of
from copione.model.errors import FileTrouble
from copione.project.demo import copy_demo
from copione.project.keeping import Edit, ScriptFiles
from copione.project.merging import THERE, merge_portraits, merge_texts
from copione.project.naming import portraits_path
from copione.project.portraits import load_portraits
from copione.project.project import Project
from copione.project.shelf import rename_script

LINES = ["one", "two", "three", "four", "five", "six"]


def text(**changed: str) -> str:
    return "".join(f"    {changed.get(line, line)}\n" for line in LINES)


class Merging(unittest.TestCase):
    def test_what_both_changed_is_there_in_the_end(self) -> None:
        base = text()
        for mine, theirs, merged, clashes in (
            (base, text(two="2"), text(two="2"), 0),
            (text(two="2"), base, text(two="2"), 0),
            (text(two="2"), text(two="2"), text(two="2"), 0),
            (text(one="1"), text(six="6"), text(one="1", six="6"), 0),
            (text(two="2"), text(two="zwei"), text(two=f"2\n    {THERE} zwei"), 1),
            (base.replace("    two\n", ""), text(two="zwei"), base.replace("    two\n", f"    {THERE} zwei\n"), 1),
            (base + "    mine\n", base + "    theirs\n", base + f"    mine\n    {THERE} theirs\n", 1),
        ):
            with self.subTest(mine=mine, theirs=theirs):
                found = merge_texts(base, mine, theirs)
                self.assertEqual((found.text, found.clashes), (merged, clashes))


class Keeping(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "hive-diary"
        self.assertIsNone(copy_demo(folder))
        self.project = Project(folder)
        self.path = self.project.script_path("Spring inspection")
        self.loaded = self.project.load(self.path)
        self.files = ScriptFiles()

    def edit(self, old: str, new: str) -> Edit:
        return Edit(self.path, self.loaded.document.text.replace(old, new), self.loaded.as_read)

    def there(self) -> str:
        return self.path.read_text("utf-8")

    def test_one_edit_after_the_other_is_written_and_another_programs_is_not_written_over(self) -> None:
        self.assertIsNone(self.files.write(self.edit("Calm", "Hive 1")))
        self.assertIsNone(self.files.write(self.edit("Calm", "Hive 2")))
        self.assertIn("Hive 2", self.there())
        theirs = self.there() + "    # of another program\n"
        self.path.write_text(theirs, "utf-8")
        met = self.files.write(self.edit("Calm", "Hive 3"))
        self.assertEqual((self.there(), met.text, "Hive 2" in met.base, met.here), (theirs, theirs, True, False))
        self.assertEqual(self.files.look(self.path, self.loaded.as_read, {}).text, met)

    def test_a_file_that_is_gone_is_not_made_anew(self) -> None:
        self.path.rename(self.path.with_name("elsewhere.copione"))
        self.assertIsNone(self.files.write(self.edit("Calm", "Hive 3")).text)
        self.assertFalse(self.path.exists())

    def test_two_who_edit_one_script_lose_nothing(self) -> None:
        other, theirs = ScriptFiles(), self.edit("Calm", "Hive 5")
        self.assertIsNone(other.write(theirs))
        mine = self.edit('script "Spring inspection"', 'script "Summer"')
        self.assertTrue(self.files.settle(mine, self.files.write(mine)))
        self.assertIn('script "Summer"', self.there())
        self.assertIn("Hive 5", self.there())

    def test_what_was_typed_while_a_script_was_renamed_goes_to_its_new_file(self) -> None:
        to = rename_script(self.project, self.path, "Summer inspection")
        self.files.moved(self.path, to)
        edit = self.edit("Calm", "Hive 5")
        self.assertTrue(self.files.settle(edit, self.files.write(edit)))
        self.assertFalse(self.path.exists())
        self.assertEqual(("Summer" in to.read_text("utf-8"), "Hive 5" in to.read_text("utf-8")), (True, True))

    def test_portraits_of_both_are_kept(self) -> None:
        path = portraits_path(self.path)
        one, two, *_ = self.loaded.portraits
        theirs = {key: kept for key, kept in self.loaded.portraits.items() if key != one}
        mine = {**self.loaded.portraits, 'button "New"': self.loaded.portraits[two]}
        self.assertIsNone(ScriptFiles().write(replace(self.edit("", ""), portraits=theirs)))
        merged = self.files.write(replace(self.edit("", ""), portraits=mine))
        self.assertEqual((set(merged), set(load_portraits(path))), (set(theirs) | {'button "New"'},) * 2)
        base = self.loaded.portraits
        both = merge_portraits(base, {**base, one: base[two]}, {**base, one: base[two][:1] + base[one]})
        self.assertEqual(both[one], (*base[two], *base[one]))

    def test_a_table_that_was_read_before_another_program_wrote_it_is_not_written(self) -> None:
        (name, version), *_ = self.loaded.as_read.tables.items()
        path = self.project.data_path(name)
        self.files.write_table(path, [{"hive": "1"}], version)
        between = version_of(path, FileKind.TABLE)
        self.files.write_table(path, [{"hive": "2"}], version)
        self.files.write_table(path, [{"hive": "3"}], between)  # what was read between two writes is told after the second
        path.write_text("hive\n4\n", "utf-8")
        self.assertRaises(FileChanged, self.files.write_table, path, [{"hive": "5"}], version)
        path.write_text("hive\n2\n", "utf-8")  # as this program had it once
        self.files.write_table(path, [{"hive": "5"}], version_of(path, FileKind.TABLE))
        path.write_text("hive\n4\n", "utf-8")
        self.assertEqual(self.files.look(self.path, self.loaded.as_read, {name: path}).tables, (name,))

    def test_a_table_that_this_program_wrote_is_no_other_programs(self) -> None:
        (name, version), *_ = self.loaded.as_read.tables.items()
        path = self.project.data_path(name)
        self.files.write_table(path, [{"hive": "1"}], version)
        self.assertEqual(self.files.look(self.path, self.loaded.as_read, {name: path}).tables, ())

    def test_lines_go_on_ending_as_they_did(self) -> None:
        self.path.write_bytes(self.path.read_bytes().replace(b"\n", b"\r\n"))
        self.loaded = self.project.load(self.path)
        self.assertNotIn("\r", self.loaded.document.text)
        self.files.write(self.edit("Calm", "Hive 3"))
        data = self.path.read_bytes()
        self.assertEqual((data.count(b"\r\n"), b"Hive 3" in data), (data.count(b"\n"), True))

    def test_a_folder_in_its_place_is_left_alone(self) -> None:
        self.path.unlink()
        self.path.mkdir()
        self.assertRaises(FileTrouble, self.files.write, self.edit("Calm", "Hive 3"))
        self.assertRaises(FileTrouble, self.files.look, self.path, self.loaded.as_read, {})
        self.assertTrue(self.path.is_dir())
