import random
import unittest

from copione.language.document import data_problems, formatted, parse
from copione.language.printer import script_text, step_line, step_words
from copione.language.problems import nearest
from copione.model.errors import ScriptBroken
from copione.model.step import Step, Target

TEXT = """# what the spring round does
script "Spring inspection"   # a name
app hive-diary
patience 8 s
data "hives.csv"

scene "Open the hive"
    launch afresh
    tap   button "Hives"     # two blanks too many
    find item "{hive}" in list "Hives"
    tap item "{hive}" within 2.5 s

scene "Note what was seen"
    set slider "Brood frames" to {frames}
    switch on "Queen seen"
    switch off checkbox "Fed"
    choose "Calm" in radiogroup "Temper"
    type "{note}" into field "Notes"
    type "say \\"hm\\" # not a comment" into field "Notes"
    append " and {note}" to field "Notes"
    clear field "Notes"
    set stepper "Honey supers" to 2
    keep label "Weight" as {weight}
    snap "The form"
    hold item "Hive 7"
    swipe left on item "Hive 7"
    double-tap image "Comb picture"
    fling up on list "Hives"
    drag item "Orchard" below item "Lime avenue"
    drag canvas "Apiary map" by 0.2 -.1
    pinch canvas "Apiary map" by 2.5
    twist canvas "Apiary map" by -45
    draw on canvas "Comb sketch" path "M .2 .2 L .8 .6"
    turn landscape
    wait for text "Ready"
    wait until button "Save" is enabled within 20 s
    tap item "Hive 1" within 2 s allow place
    whenever text "Allow it?" tap button "Allow"
    press back
    note "the smoker was lit"

scene "After saving"
    check text "Inspection saved" is shown within 3 s
    check text "Error" is not shown
    check label "Last seen" reads "Today"
    check label "Brood frames" reads 6
    check label "Note" contains "comb"
    check switch "Queen seen" is on
    check list "Hives" has 24 items
    check label "Weight" is between 20 and 40.5
    check text "Total" matches "^\\d+ kg$"
    check tab "Now" is not selected
    check image "Comb picture" looks as recorded
    check area "Comb picture 2" looks as recorded allowing 3 dp 20 % within 5 s
    check area "Spot 1" reads "34 kg" allow place
    check label "Brood frames" reads the same on every device
    quit
"""


def script(line: str) -> str:
    return f'script "a"\nscene "b"\n    {line}\n'


class Reading(unittest.TestCase):
    def test_a_whole_script_has_no_problem_and_its_text_comes_back_letter_by_letter(self) -> None:
        document = parse(TEXT)
        self.assertEqual(document.problems, ())
        self.assertEqual(document.text, TEXT)
        self.assertEqual([s.name for s in document.script.scenes], ["Open the hive", "Note what was seen", "After saving"])

    def test_text_without_a_last_newline_keeps_none(self) -> None:
        self.assertEqual(parse('script "a"').text, 'script "a"')

    def test_each_verb_means_what_it_says(self) -> None:
        hives, notes = Target("list", "Hives"), Target("field", "Notes")
        table = {
            "launch afresh": Step("launch", value="afresh"),
            "launch": Step("launch"),
            "quit": Step("quit"),
            'tap "Save"': Step("tap", Target("", "Save")),
            'tap button "Save" within 2 s': Step("tap", Target("button", "Save"), within=2.0),
            'find item "Hive 7" in list "Hives"': Step("find", Target("item", "Hive 7", hives)),
            'type {note} into field "Notes"': Step("type", notes, "{note}"),
            'type 12 into field "Notes"': Step("type", notes, "12"),
            'set slider "Frames" to 6': Step("set", Target("slider", "Frames"), "6"),
            'switch off "Queen seen"': Step("switch", Target("switch", "Queen seen"), "off"),
            'choose "Calm" in radiogroup "Temper"': Step("choose", Target("radiogroup", "Temper"), "Calm"),
            'swipe up on list "Hives"': Step("swipe", hives, "up"),
            "press home": Step("press", value="home"),
            'check text "x" is not shown': Step("check", Target("text", "x"), "", "is not shown"),
            'check field "Notes" contains "comb"': Step("check", notes, "comb", "contains"),
            'check label "A" reads the same on every device': Step("check", Target("label", "A"), "", "reads the same on every device"),
        }
        for line, step in table.items():
            with self.subTest(line):
                document = parse(script(line))
                self.assertEqual(document.problems, ())
                self.assertEqual([s for _, s in document.script.steps()], [step])

    def test_a_step_prints_as_it_is_read(self) -> None:
        for _, step in parse(TEXT).script.steps():
            again = [s for _, s in parse(script(step_words(step))).script.steps()]
            self.assertEqual(
                [(s.verb, s.target, s.value, s.relation, s.within) for s in again],
                [(step.verb, step.target, step.value, step.relation, step.within)],
            )

    def test_formatting_changes_spacing_only_and_once(self) -> None:
        once = formatted(TEXT)
        self.assertIn('    tap button "Hives"  # two blanks too many\n', once)
        self.assertEqual(formatted(once), once)
        self.assertEqual([s for _, s in parse(once).script.steps()], [s for _, s in parse(TEXT).script.steps()])

    def test_a_recorded_script_is_canonical(self) -> None:
        plain = script_text(parse(TEXT).script)
        self.assertEqual(formatted(plain), plain)


class Problems(unittest.TestCase):
    TABLE = {
        'tpa button "Save"': (5, "No step begins with tpa.", "tap"),
        'tap buton "Save"': (9, "buton is not a kind of element.", "button"),
        'tap item "a" in lst "b"': (21, "lst is not a kind of element.", "list"),
        "tap button": (15, "The line ends too early.", ""),
        'tap button "Save': (16, "These quotes are not closed.", ""),
        'set slider "B" tp 6': (20, "tp does not fit here.", ""),
        'swipe lft on item "x"': (11, "lft does not fit here.", ""),
        'check text "a" is shwn': (23, "shwn does not fit here.", "shown"),
        'type into field "a"': (10, "into does not fit here.", ""),
        'tap button "x" within 3': (28, "The line ends too early.", ""),
        "press sideways": (11, "sideways does not fit here.", ""),
        'tap button "a" "b"': (20, '"b" does not fit here.', ""),
    }

    def test_each_has_line_column_words_and_the_nearest_known_word(self) -> None:
        for line, (column, message, near) in self.TABLE.items():
            with self.subTest(line):
                (problem,) = parse(script(line)).problems
                self.assertEqual((problem.line, problem.column, problem.message, problem.near), (3, column, message, near))

    def test_the_caret_stands_under_the_place_at_the_end_of_a_file_too(self) -> None:
        (problem,) = parse('script "a"\nscene "b"\n    tap button').problems
        *_, text, caret = problem.pointed().splitlines()
        self.assertEqual(caret.index("^"), len(text))
        self.assertIn("Expected words in quotes.", problem.sentence)

    def test_what_is_expected_is_said_in_words(self) -> None:
        (problem,) = parse(script('set slider "B" tp 6')).problems
        self.assertIn("Expected in or to.", problem.sentence)

    def test_one_broken_line_leaves_the_others_readable(self) -> None:
        document = parse(script('tap button "A"\n    tpa\n    tap button "B"'))
        self.assertEqual([s.target.name for _, s in document.script.steps()], ["A", "B"])
        self.assertEqual(len(document.problems), 1)

    def test_a_step_outside_of_a_scene_and_a_script_without_a_name(self) -> None:
        self.assertIn("stands in a scene", parse('script "a"\ntap button "b"\n').problems[0].message)
        self.assertIn("no name", parse('scene "a"\n').problems[0].message)

    def test_a_broken_script_is_not_run(self) -> None:
        with self.assertRaises(ScriptBroken) as caught:
            parse(script("tpa\n    tpa")).sound()
        self.assertEqual(len(caught.exception.problems), 2)

    def test_a_variable_that_no_column_gives(self) -> None:
        document = parse(script('tap item "{hvie}"'))
        (problem,) = data_problems(document, ["hive", "note"])
        self.assertEqual((problem.column, problem.near), (15, "hive"))

    def test_nothing_is_suggested_for_what_resembles_nothing(self) -> None:
        self.assertEqual(nearest("xyzzy", ("tap", "find")), "")

    def test_no_text_at_all_breaks_the_parser(self) -> None:
        chance = random.Random(7)
        for _ in range(1500):
            letters = list(TEXT)
            for _ in range(chance.randrange(1, 12)):
                place = chance.randrange(len(letters))
                letters[place] = chance.choice(['"', "{", "}", "#", "\n", "\\", "\t", "in", "é", "\x00", "9", ""])
            text = "".join(letters)
            document = parse(text)
            self.assertEqual(document.text, text)
            for problem in document.problems:
                self.assertLessEqual(problem.column, len(problem.text) + 1)


class Editing(unittest.TestCase):
    def test_a_step_is_replaced_and_every_other_line_stays(self) -> None:
        document = parse(TEXT)
        line = next(s.line for _, s in document.script.steps() if s.verb == "hold")
        changed = document.with_step(line, Step("tap", Target("item", "Hive 9")))
        self.assertEqual(changed.lines[line - 1].text, '    tap item "Hive 9"')
        self.assertEqual(changed.text.splitlines()[: line - 1], TEXT.splitlines()[: line - 1])
        self.assertEqual(changed.text.splitlines()[line:], TEXT.splitlines()[line:])

    def test_a_step_is_added_and_taken_away(self) -> None:
        document = parse(TEXT)
        added = document.with_step_after(8, Step("press", value="back"))
        self.assertEqual(added.lines[8].text, "    press back")
        self.assertEqual(added.without_line(9).text, TEXT)

    def test_a_comment_goes_with_its_step(self) -> None:
        (step,) = [s for _, s in parse(TEXT).script.steps() if s.comment]
        self.assertEqual(step_line(step), '    tap button "Hives"  # two blanks too many')
