import dataclasses
import json
import random
import re
import unittest
from dataclasses import replace
from pathlib import Path

from copione.language.colouring import textmate
from copione.language.document import formatted, parse
from copione.language.printer import script_text, step_line, step_words
from copione.language.problems import nearest
from copione.language.registry import kinds_of
from copione.model import action as a
from copione.model import fact as f
from copione.model import relation as r
from copione.model.errors import ScriptBroken
from copione.model.step import Step
from copione.model.target import Target
from copione.model.words import InvalidValue
from copione.replay.performers import PERFORMERS

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
        hives, notes, label = Target("list", "Hives"), Target("field", "Notes"), Target("label", "A")
        table = {
            "launch afresh": a.Launch(a.Start.AFRESH),
            "launch keeping its data": a.Launch(a.Start.KEEPING),
            "launch": a.Launch(),
            "quit": a.Quit(),
            'tap "Save"': a.Tap(Target("", "Save")),
            'find item "Hive 7" in list "Hives"': a.Find(Target("item", "Hive 7", hives)),
            'type {note} into field "Notes"': a.Type(notes, "{note}"),
            'type 12 into field "Notes"': a.Type(notes, "12"),
            'set slider "Frames" to 6': a.SetTo(Target("slider", "Frames"), "6"),
            'switch off "Queen seen"': a.Switch(False, Target("switch", "Queen seen")),
            'choose "Calm" in radiogroup "Temper"': a.Choose(Target("radiogroup", "Temper"), "Calm"),
            'swipe up on list "Hives"': a.Swipe(a.Direction.UP, hives),
            "press home": a.Press(a.Key.HOME),
            "press volume up": a.Press(a.Key.VOLUME_UP),
            "pause 1.5 s": a.Pause(1.5),
            'keep label "A" as {weight}': a.Keep(label, "weight"),
            'check text "x" is not shown': a.Check(Target("text", "x"), r.IsNotShown()),
            'check field "Notes" contains "comb"': a.Check(notes, r.Contains("comb")),
            'check label "A" reads like "* hives due"': a.Check(label, r.ReadsLike("* hives due")),
            'check list "Hives" has 3 items': a.Check(hives, r.HasItems(3)),
            'check list "Hives" has at least 3 items': a.Check(hives, r.HasItems(3, r.CountBound.AT_LEAST)),
            'check list "Hives" has at most 3 items': a.Check(hives, r.HasItems(3, r.CountBound.AT_MOST)),
            'check label "A" reads the same on every device': a.Check(label, r.SameEverywhere()),
            'check label "A" looks as recorded allowing 3 dp 20 %': a.Check(label, r.LooksAsRecorded(r.Tolerance(3.0, 0.2))),
        }
        table = {line: Step(action) for line, action in table.items()}
        table['tap button "Save" within 2 s'] = Step(a.Tap(Target("button", "Save")), within=2.0)
        for line, step in table.items():
            with self.subTest(line):
                document = parse(script(line))
                self.assertEqual(document.problems, ())
                self.assertEqual([s for _, s in document.script.steps()], [step])

    def test_a_step_prints_as_it_is_read(self) -> None:
        for _, step in parse(TEXT).script.steps():
            again = [s for _, s in parse(script(step_words(step))).script.steps()]
            self.assertEqual([(s.action, s.within, s.place) for s in again], [(step.action, step.within, step.place)])

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
        'set slider "B" to "four"': (23, "four is not a number.", ""),
        'check text "a" matches "("': (28, "This is not a valid regular expression: missing ) at position 1.", ""),
        'draw on canvas "c" path "hello"': (29, "hello is no path. One looks like M .2 .2 L .8 .6.", ""),
        'check text "a" is between 5 and 3': (37, "The range ends before it begins.", ""),
        'pinch canvas "c" by 0': (25, "A pinch factor must be above 0.", ""),
        'choose "2026-02-31" in combobox "d"': (12, "2026-02-31 is not a valid date.", ""),
        'check list "x" has 2.5 items': (24, "2.5 is not a whole number.", ""),
        'tap button "x" within -3 s': (27, "A time limit cannot be negative.", ""),
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
        self.assertIn("words in quotes.", problem.sentence)

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


class Tables(unittest.TestCase):
    """Every type is registered with the language once, and has its performer."""

    def test_every_action_relation_and_fact_is_registered_and_every_action_performed(self) -> None:
        for base in (a.Action, r.Relation, f.Fact):
            self.assertEqual(set(kinds_of(base)), _leaves(base))
        self.assertEqual(set(PERFORMERS), _leaves(a.Action))

    def test_every_text_of_every_action_says_what_kind_of_text_it_is(self) -> None:
        not_texts = {(a.Draw, "path"), (a.Keep, "variable"), (Target, "role")}  # a drawing, a variable's name, a word of the language
        not_texts |= {(a.Have, "value"), (a.Perform, "scene"), (a.ForEach, "table")}  # of the device; a scene's name, a file's
        for kind in (*kinds_of(a.Action), *kinds_of(r.Relation), Target):
            for field in dataclasses.fields(kind):
                if field.type == "str" and (kind, field.name) not in not_texts:
                    self.assertIn("text", field.metadata, f"{kind.__name__}.{field.name}")

    def test_whatever_a_text_becomes_its_line_can_be_read_again(self) -> None:
        """Renaming, translating, filling in and making variables go through `map_text`; no change of texts breaks a line."""
        chance = random.Random(11)
        letters = ['"', "\\", "#", "\n", "\r", " within 3 s", "{x}", "ü", "42", " in list ", "", "on"]
        for _, step in parse(TEXT).script.steps():
            for _ in range(20):
                words = "".join(chance.choices(letters, k=3))
                try:
                    changed = step.map_text(lambda said, kind, words=words: words)
                except InvalidValue:
                    continue
                again = parse(script(step_words(changed)))
                self.assertEqual([s for _, s in again.script.steps()], [replace(changed, comment="")], step_words(changed))


def _leaves(kind: type) -> set[type]:
    below = [each for each in kind.__subclasses__() if each.__module__.startswith("copione.")]  # tests define some of their own
    return {leaf for each in below for leaf in _leaves(each)} if below else {kind}


class Colours(unittest.TestCase):
    """The grammar for other editors is what the specs make of it, and knows every word of a script."""

    def test_the_file_is_current_and_every_word_has_a_colour(self) -> None:
        made = textmate()
        kept = Path(__file__).parents[2] / "docs" / "copione.tmLanguage.json"
        self.assertEqual(json.loads(kept.read_text("utf-8")), made, "python -m copione.language.colouring > docs/copione.tmLanguage.json")
        patterns = [re.compile(each["match"]) for each in made["patterns"] if "match" in each]
        for line in (
            'check list "x" has at least 3 items',
            "launch keeping its data",
            'drag item "a" above item "b"',
            "turn landscape",
            "otherwise",
        ):
            plain = re.sub(r'"[^"]*"', lambda quoted: '"' + " " * (len(quoted.group()) - 2) + '"', line)
            seen = {place for pattern in patterns for match in pattern.finditer(plain) for place in range(*match.span())}
            self.assertEqual([c for place, c in enumerate(plain) if c.isalnum() and place not in seen], [], line)


class Editing(unittest.TestCase):
    def test_a_step_is_replaced_and_every_other_line_stays(self) -> None:
        document = parse(TEXT)
        line = next(s.line for _, s in document.script.steps() if isinstance(s.action, a.Hold))
        changed = document.with_step(line, Step(a.Tap(Target("item", "Hive 9"))))
        self.assertEqual(changed.lines[line - 1].text, '    tap item "Hive 9"')
        self.assertEqual(changed.text.splitlines()[: line - 1], TEXT.splitlines()[: line - 1])
        self.assertEqual(changed.text.splitlines()[line:], TEXT.splitlines()[line:])

    def test_a_step_is_added_and_taken_away(self) -> None:
        document = parse(TEXT)
        added = document.with_step_after(8, Step(a.Press(a.Key.BACK)))
        self.assertEqual(added.lines[8].text, "    press back")
        self.assertEqual(added.without_line(9).text, TEXT)

    def test_a_comment_goes_with_its_step(self) -> None:
        (step,) = [s for _, s in parse(TEXT).script.steps() if s.comment]
        self.assertEqual(step_line(step), '    tap button "Hives"  # two blanks too many')
        changed = parse(TEXT).with_step(step.line, Step(a.Tap(Target("item", "Hive 9"))))
        self.assertEqual(changed.lines[step.line - 1].text, '    tap item "Hive 9"  # two blanks too many')

    def test_what_no_person_wrote_is_not_read_for_ever(self) -> None:
        (problem,) = parse('script "a"\nscene "b"\n    note ' + "{x" + " + x" * 50_000 + "}\n").problems
        self.assertIn("A line has at most 10,000 characters", problem.message)
        self.assertLess(len(problem.text), 200)
        strange = parse('script "a"\n' + "".join(f"nonsense {n}\n" for n in range(3000)))
        self.assertIn("It is not read: 1000 lines above have problems.", strange.problems[-1].message)
