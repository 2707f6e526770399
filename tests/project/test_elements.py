"""The elements that the scripts of a project know; tables in place."""

import tempfile
import unittest
from pathlib import Path

from copione.model.errors import FileTrouble
from copione.model.target import Target
from copione.project.data import add_column, load_rows, rename_column, save_rows, sniffed
from copione.project.demo import copy_demo
from copione.project.elements import elements_of, forget_element, merge_elements, rename_element, unused
from copione.project.project import Project
from copione.project.renaming import rename_scene_elsewhere


class Elements(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "hive-diary"
        copy_demo(self.folder)
        self.project = Project(self.folder)

    def known(self) -> dict[str, object]:
        return {e.words: e for e in elements_of(self.project)}

    def text(self, name: str) -> str:
        return self.project.script_path(name).read_text("utf-8")

    def test_each_stands_on_its_page_with_what_uses_it(self) -> None:
        known = {e.words: e for e in elements_of(self.project)}
        self.assertEqual(known['button "Save inspection"'].page, "New inspection")
        hives = known['list "Hives"']
        self.assertEqual({use.path.stem for use in hives.uses}, {"spring-inspection", "common", "a-week-of-rounds", "two-apps"})
        self.assertEqual([e.words for e in unused(known.values())], ['item "Hive 3"'])

    def test_one_is_renamed_in_every_script_with_its_portraits(self) -> None:
        self.assertEqual(len(rename_element(self.project, 'list "Hives"', Target("list", "Colonies"))), 4)
        self.assertIn('in list "Colonies"', self.text("Common"))
        known = {e.words: e for e in elements_of(self.project)}
        self.assertNotIn('list "Hives"', known)
        self.assertTrue(known['item "{hive}" in list "Colonies"'].portraits)
        for path in self.project.scripts():
            self.assertEqual(self.project.load(path).document.problems, ())

    def test_two_become_one_and_what_nothing_uses_is_forgotten(self) -> None:
        before = {e.words: e for e in elements_of(self.project)}
        merge_elements(self.project, 'label "Last seen"', 'label "Brood frames"')
        after = {e.words: e for e in elements_of(self.project)}
        self.assertNotIn('label "Last seen"', after)
        self.assertGreater(len(after['label "Brood frames"'].portraits), len(before['label "Brood frames"'].portraits))
        self.assertEqual(forget_element(self.project, 'list "Hives"'), [])
        self.assertEqual(forget_element(self.project, 'item "Hive 3"'), ["a-week-of-rounds.copione"])
        self.assertNotIn('item "Hive 3"', self.known())

    def test_a_scene_is_renamed_where_it_is_made_and_performed(self) -> None:
        home = self.project.script_path("Common")
        self.assertEqual(rename_scene_elsewhere(home, "Sign in", "Log on", home), ["a-week-of-rounds.copione"])
        self.assertIn('perform "Log on" with {keeper} {password}', self.text("A week of rounds"))
        self.assertIn('scene "Sign in"', self.text("Common"))


class Tables(unittest.TestCase):
    def test_separator_and_encoding_of_a_table_are_found_out(self) -> None:
        rows = [["hive", "note"], ["Hive 7", "Größe, 3"]]
        table = [
            'hive,note\nHive 7,"Größe, 3"\n'.encode(),
            "hive;note\r\nHive 7;Größe, 3\r\n".encode("utf-8-sig"),
            "hive\tnote\nHive 7\tGröße, 3\n".encode("utf-16"),
            "hive;note\nHive 7;Größe, 3\n".encode("cp1252"),
            "hive|note\nHive 7|Größe, 3".encode(),
        ]
        for data in table:
            self.assertEqual(sniffed(data), rows, data)
        self.assertEqual(sniffed(b"one cell"), [["one cell"]])
        self.assertEqual(sniffed(b"a\tb\nc\n"), [["a", "b"], ["c", ""]])
        for data in (b"", b"\n \n", b"\xff\xfe\x00"):
            with self.assertRaises(FileTrouble):
                sniffed(data)

    def test_columns_come_and_change_their_names(self) -> None:
        path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "a.csv"
        save_rows(path, [{"a": "1", "b": "=x"}])
        rename_column(path, "a", "c")
        add_column(path, "d", "9")
        self.assertEqual(load_rows(path), [{"c": "1", "b": "=x", "d": "9"}])
