"""What may be written at a place, and scripts changed as a whole."""

import unittest

from copione.language import refactor
from copione.language.assist import CompletionContext, SceneOffered, suggestions
from copione.language.document import Document, parse
from copione.language.folding import stretches
from copione.language.parser import parse_line
from copione.language.shapes import built
from copione.model.library import OWN, Library
from copione.model.target import Target

TEXT = """script "Rounds"
data "hives.csv"
needs keeper = "Ada"

scene "Open"
    tap button "Hives"
    find item "Hive 7" in list "Hives"  # the one that is due
    tap item "Hive 7" in list "Hives"
    type {keeper} into field "Name"
    when text "Rate this app" is shown
        tap button "Later"
    end

scene "Look"
    keep label "Weight" as {weight}
    check label "Weight" is more than {weight} - 1
    perform "Open"
"""
AROUND = CompletionContext(
    targets=('button "Save"', 'list "Hives"'),
    scenes=(SceneOffered("Sign in", ("name", "password"), "common.copione"),),
    variables=(("hive", "hives.csv"),),
    tables=("rounds.csv",),
    scripts=("common.copione",),
)


def lines(document: Document) -> list[str]:
    return document.text.splitlines()


class Offered(unittest.TestCase):
    def test_what_fits_is_offered_where_it_fits(self) -> None:
        table = {
            "    ta": ("tap", "tap "),
            "    whe": ("when something is shown", 'when text "‸" is shown\n    \nend'),
            "    tap ": ('button "Save"', 'button "Save" '),
            '    tap button "': ('"Save"', '"Save"'),
            '    check button "Save" ': ("is shown", "is shown"),
            "    when device ": ("is a tablet", "is a tablet"),
            "    perform ": ("Sign in", '"Sign in" with {name} {password}'),
            "    for each row of ": ("rounds.csv", '"rounds.csv"'),
            '    set slider "x" to ': ("{hive}", "{hive}"),
            "    turn d": ("dark mode", "dark mode "),
            "uses ": ("common.copione", '"common.copione"'),
        }
        for line, (words, insert) in table.items():
            with self.subTest(line):
                found = {s.words: s.insert for s in suggestions(line, len(line), AROUND)[1]}
                self.assertEqual(found.get(words), insert)
        for line in ('    note "x" # ta', "    tpa zz", '    press back "'):
            self.assertEqual(suggestions(line, len(line), CompletionContext())[1], [], line)

    def test_whatever_is_put_in_can_be_read_where_it_was_offered(self) -> None:
        for line in ("    tap ", '    check button "Save" ', "    when device ", "    perform ", "    for each row of "):
            start, found = suggestions(line, len(line), AROUND)
            for each in found:
                self.assertEqual(line[:start], line)
                text = f"{line}{each.insert}".replace("‸", "x").split("\n")[0].rstrip()
                problem = parse_line(text, 1)[1]
                self.assertTrue(problem is None or "too early" in problem.message, f"{text}: {problem}")

    def test_lines_of_one_shape_mean_what_the_grammar_says(self) -> None:
        forms = ('tap button "{}"', 'set slider "{}" to {n}', 'check label "{}" is between {n} and 900', 'perform "{}" with "{}" {{x}}')
        for form in forms:
            for n in range(6):
                line = "    " + form.format(f"A {n}", f"B {n}", n=n)
                item, problem = parse_line(line, 4)
                fresh, _ = parse_line(line + " ", 4) if n < 0 else (item, None)
                self.assertIsNone(problem)
                self.assertEqual(item, fresh)
        self.assertIsNone(built('    choose "2026-02-31" in combobox "d"', lambda says: None))
        for seconds in (3, 4, -5, 6, -7):
            problem = parse_line(f'    tap button "x" within {seconds} s', 1)[1]
            self.assertEqual(problem is not None, seconds < 0)
        for day in ("2026-02-27", "2026-02-28", "2026-02-29"):
            problem = parse_line(f'    choose "{day}" in combobox "d"', 1)[1]
            self.assertEqual(problem is not None, day.endswith("29"))


class Changes(unittest.TestCase):
    def test_names_are_changed_everywhere_and_nothing_else(self) -> None:
        document = parse(TEXT)
        scene = refactor.rename_scene(document, "Open", "Open it")
        self.assertEqual(
            [a for a, b in zip(lines(scene), lines(document), strict=True) if a != b], ['scene "Open it"', '    perform "Open it"']
        )
        value = refactor.rename_variable(document, "weight", "kg")
        self.assertEqual(
            [a for a, b in zip(lines(value), lines(document), strict=True) if a != b],
            ['    keep label "Weight" as {kg}', '    check label "Weight" is more than {kg} - 1'],
        )
        target, keys = refactor.rename_target(document, 'list "Hives"', Target("list", "Colonies"))
        self.assertIn('    find item "Hive 7" in list "Colonies"  # the one that is due', lines(target))
        self.assertEqual(keys['item "Hive 7" in list "Hives"'], 'item "Hive 7" in list "Colonies"')
        with self.assertRaises(refactor.CannotBe):
            refactor.rename_variable(document, "weight", "keeper")

    def test_lines_become_a_scene_whose_values_are_their_words(self) -> None:
        document = parse(TEXT)
        found = refactor.candidates(document, 7, 8)
        self.assertEqual([(c.words, c.name) for c in found], [("Hive 7", "item")])
        made = refactor.scene_of(document, 7, 8, "Find a hive", [refactor.Candidate("Hive 7", "hive")])
        self.assertIn('    perform "Find a hive" with "Hive 7"', lines(made))
        begin = lines(made).index('scene "Find a hive" with {hive}')
        self.assertEqual(lines(made)[begin + 1], '    find item "{hive}" in list "Hives"  # the one that is due')
        self.assertEqual(made.problems, ())
        self.assertTrue(made.script.scene("Find a hive"))
        inner = refactor.scene_of(document, 11, 11, "Later")
        self.assertEqual(lines(inner)[10], '        perform "Later"')
        self.assertIn('    tap button "Later"', lines(inner))
        for first, last, why in ((10, 11, "ends elsewhere"), (11, 12, "begins elsewhere"), (8, 15, "one scene"), (13, 13, "no step")):
            with self.subTest(why), self.assertRaises(refactor.CannotBe) as caught:
                refactor.scene_of(document, first, last, "X")
            self.assertIn(why, caught.exception.sentence)
        with self.assertRaises(refactor.CannotBe):
            refactor.scene_of(document, 7, 8, "Look")

    def test_words_become_a_variable_a_step_a_check_or_is_waited_for(self) -> None:
        document = parse(TEXT)
        made = refactor.with_variable(document, 7, "Hive 7", "hive")
        self.assertEqual(sum("{hive}" in line for line in lines(made)), 2)
        self.assertEqual(refactor.keys_after(document, made)['item "Hive 7" in list "Hives"'], 'item "{hive}" in list "Hives"')
        table = {
            'tap button "Hives"': 'check button "Hives" is shown',
            'type "x" into field "A"': 'check field "A" reads "x"',
            'set slider "A" to 6': 'check slider "A" reads 6',
            'switch on "A"': 'check switch "A" is on',
            'choose "B" in radiogroup "A"': 'check radiogroup "A" reads "B"',
            'wait until label "A" is between 1 and 2': 'check label "A" is between 1 and 2',
        }
        for before, after in table.items():
            self.assertEqual(lines(refactor.turned_into_check(parse(f'script "a"\nscene "b"\n    {before}\n'), 3))[2].strip(), after)
        self.assertEqual(lines(refactor.with_wait(document, 11))[10:12], ['        wait for button "Later"', '        tap button "Later"'])
        for change in (refactor.turned_into_check, refactor.with_wait):
            with self.assertRaises(refactor.CannotBe):
                change(document, 5)

    def test_what_the_caret_is_on_and_where_it_is_made(self) -> None:
        document = parse(TEXT)
        table = [
            (9, 12, refactor.RenameSubject("value", "keeper"), 3),
            (16, 44, refactor.RenameSubject("value", "weight"), 15),
            (17, 14, refactor.RenameSubject("scene", "Open"), 5),
            (7, 30, refactor.RenameSubject("target", 'list "Hives"'), 0),
            (7, 12, refactor.RenameSubject("target", 'item "Hive 7" in list "Hives"'), 0),
        ]
        for line, column, subject, made in table:
            self.assertEqual(refactor.subject_at(document, line, column), subject)
            self.assertEqual(refactor.defined_at(document, subject), made)
        self.assertEqual([(s.head, s.last) for s in stretches(document)], [(5, 12), (10, 12), (14, 17)])
        self.assertEqual(stretches(parse("")), [])

    def test_lines_are_put_as_deep_as_they_belong(self) -> None:
        document = parse(TEXT)
        self.assertEqual(lines(document.with_words_after(10, 'note "in it"'))[10], '        note "in it"')
        self.assertEqual(lines(document.with_words_after(12, 'note "behind it"', "common.copione"))[13], '    note "behind it"')
        self.assertEqual(Library({OWN: document.script}).scene(OWN, "Open").scene.name, "Open")  # type: ignore[union-attr]
