import random
import unittest
from dataclasses import replace

from copione.language.document import formatted, parse
from copione.language.printer import script_text, step_words
from copione.language.registry import kinds_of
from copione.language.script_problems import DocumentContext, script_problems
from copione.model import action as a
from copione.model import fact as f
from copione.model import relation as r
from copione.model.blocks import Block, nested
from copione.model.library import OWN, Library
from copione.model.number import first_number
from copione.model.reading import InDay, InNumber, InOrder, Moved
from copione.model.step import Step
from copione.model.target import Naming, Target
from copione.model.words import InvalidValue, Text
from copione.recognition.phrases import Interpreter
from copione.replay.ordering import sort_key
from copione.screens.numbers import signs_of

from .generating import Maker

SCRIPTS = 10_000
COMMON = """script "Common"
scene "Sign in" with {name} {password}
    type {name} into field "Name"
    type {password} into field "Password"
scene "Rate"
    tap button "Later"
"""
BLOCKS = """script "Blocks"
uses "common.copione"
needs password secret
scene "Work"
    perform "Sign in" with "Ada" {password}
    when dialog "Rate this app" is shown
        perform "Rate"
    otherwise
        repeat 3 times
            note "again"
        end
    end
    tap button "Done"
"""


def remarks(text: str, **known: object) -> list[str]:
    document = parse(text)
    scripts = {OWN: document.script, "common.copione": parse(COMMON).script}
    told = DocumentContext(Library(scripts), **known)  # type: ignore[arg-type]
    return [f"{p.line}:{p.column} {p.message}" for p in (*document.problems, *script_problems(document, told))]


class Saying(unittest.TestCase):
    def test_each_line_means_what_it_says_and_is_printed_so(self) -> None:
        weight, hives = Target("label", "Weight"), Target("list", "Hives")
        table = {
            'tap button "+" 3 times': a.Tap(Target("button", "+"), 3),
            'tap item like "* due"': a.Tap(Target("item", "* due", naming=Naming.LIKE)),
            'tap item with "Queen" in list "Hives"': a.Tap(Target("item", "Queen", hives, naming=Naming.WITH)),
            'tap button "Remove" under "Hive 7"': a.Tap(Target("button", "Remove", under="Hive 7")),
            'wait for page "Hives"': a.Wait(Target("page", "Hives"), r.IsShown()),
            'check text "x" is shown for 2 s': a.Check(Target("text", "x"), r.IsShown(), 2.0),
            'check label "Weight" is more than {weight} + 1': a.Check(weight, r.Compares(r.Than.MORE, "{weight + 1}")),
            'check label "Weight" is at most 4': a.Check(weight, r.Compares(r.Than.AT_MOST, "4")),
            'check label "Weight" is the day today + 7 days': a.Check(weight, r.IsDay("{today + 7 days}")),
            'check list "Hives" is in falling order by "Last seen"': a.Check(hives, r.IsInOrder(r.SortOrder.FALLING, "Last seen")),
            'check canvas "m" is turned by 30': a.Check(Target("canvas", "m"), r.IsMoved(r.Moving.TURNED, 30.0)),
            'perform "Sign in" with "Ada" {password} {n} + 1': a.Perform("Sign in", ("Ada", "{password}", "{n + 1}")),
            'when {role} reads "Keeper"': a.WhenValue(r.Reads("Keeper"), "{role}"),
            "when device is narrower than 360 dp": a.WhenDevice(f.Width(f.Side.NARROWER, 360.0)),
            "when device runs android before 12": a.WhenDevice(f.RunsPlatform("android", f.Since.BEFORE, "12")),
            'repeat until text "End" is shown at most 20 times': a.RepeatUntil(Target("text", "End"), r.IsShown(), 20),
            'for each row of "rounds.csv"': a.ForEach("rounds.csv"),
        }
        for line, action in table.items():
            with self.subTest(line):
                document = parse(f'script "a"\nscene "b"\n    {line}\n')
                (step,) = document.script.scenes[0].steps
                self.assertEqual((step.action, step_words(step)), (action, line))

    def test_ten_thousand_scripts_come_back_as_they_were_made(self) -> None:
        """Printed and read again they are the same; a text that is not changed is not changed by a letter."""
        maker = Maker(random.SystemRandom().randrange(1 << 30))
        seen: set[type] = set()
        for number in range(SCRIPTS):
            script = maker.script()
            text = script_text(script)
            document = parse(text)
            again = document.script
            if again != script or document.problems:
                self.fail(f"script {number}:\n{text}\n{document.problems[:1]}")
            self.assertEqual(document.text, text)
            if number % 20 == 0:
                self.assertEqual(formatted(text), text)
                self.assertEqual(formatted("\n".join(line.strip() for line in text.split("\n"))), text)
            seen |= {type(step.action) for scene in script.scenes for step in scene.steps}
        self.assertEqual(seen, set(kinds_of(a.Action)))

    def test_renaming_and_translating_never_touch_the_languages_own_words(self) -> None:
        """Over all actions: whatever the texts become, the line begins with its verb and means the same type."""

        def renaming(words: str, kind: Text) -> str:
            return "Save" if kind is Text.NAME else words

        def other_variables(words: str, kind: Text) -> str:
            return words if kind is Text.APP else words.replace("hive", "colony")

        maker = Maker(5)
        translate = Interpreter(dict.fromkeys(("on", "off", "button", "Hive 7", "up", "Brood frames", "end", "today"), "zzz"))
        for kind in (k for k in kinds_of(a.Action) for _ in range(40)):
            step = maker.step(kind)
            kept = {words for words, text in step.action.texts() if not text.of_app}
            told = translate.step(step)
            self.assertTrue(kept <= {words for words, _ in told.action.texts()}, step_words(step))
            for change in (renaming, other_variables):
                try:
                    changed = step.map_text(change)
                except InvalidValue:
                    continue
                (again,) = parse(f'script "a"\nscene "b"\n    {step_words(changed)}\n').script.scenes[0].steps
                self.assertEqual((again.action, again.verb), (changed.action, kind.verb), step_words(changed))


class Structure(unittest.TestCase):
    def test_lines_are_blocks_within_blocks(self) -> None:
        perform, when, tap = nested(parse(BLOCKS).script.scenes[0].steps)
        assert isinstance(perform, Step) and isinstance(when, Block) and isinstance(tap, Step)
        (repeat,) = when.instead
        assert isinstance(repeat, Block)
        self.assertEqual([len(when.body), len(repeat.body), repeat.head.action], [1, 1, a.Repeat("3")])
        bare = "\n".join(line.strip() for line in BLOCKS.split("\n"))
        self.assertEqual(formatted(bare), BLOCKS)

    def test_what_is_wrong_with_blocks_stands_where_it_is(self) -> None:
        def scene(*lines: str) -> str:
            return "\n".join(['script "a"', 'scene "b"', *lines]) + "\n"

        table = {
            scene("repeat 2 times", 'note "x"'): "3:1 This repeat has no end in its scene.",
            scene('note "x"', "end"): "4:1 No block is open that could end here.",
            scene('note "x"', "otherwise"): "4:1 This `otherwise` has no `when` above it.",
            scene(
                "repeat 2 times", "otherwise", "end"
            ): "4:1 Only a `when` can have an `otherwise`; the block that is open here starts in line 3.",
            scene("when device is a tablet", "otherwise", "otherwise", "end"): "5:1 The `when` in line 3 already has an `otherwise`.",
            scene("repeat 5000 times", "end"): "3:8 A block cannot be repeated 5000 times.",
            scene(*["repeat 2 times"] * 60, *["end"] * 60): "43:1 Blocks stand within one another more than 40 deep: "
            "make scenes of the inner ones.",
        }
        for text, problem in table.items():
            self.assertIn(problem, remarks(text))
            nested(parse(text).script.scenes[0].steps)

    def test_what_is_wrong_with_the_whole_stands_where_it_is(self) -> None:
        head = 'script "a"\nuses "common.copione"\n'
        self.assertEqual(remarks(BLOCKS), [])
        table = {
            head + 'scene "b"\nperform "Sing in" with "a" "b"\n': "4:9 No scene is called Sing in.",
            head + 'scene "b"\nperform "Sign in" with "a"\n': "4:9 Sign in asks for {name} {password} and is given 1.",
            head + 'scene "b"\nperform "Rate" with 1\n': "4:9 Rate asks for no values and is given 1.",
            'script "a"\nscene "A"\nperform "B"\nscene "B"\nperform "A"\n': "3:9 A performs B performs A: that never ends.",
            'script "a"\nscene "A"\nperform "A"\n': "3:9 A performs A: that never ends.",
            'script "a"\nscene "A"\nnote "1"\nscene "A"\nscene "C"\nperform "A"\n': "6:9 2 scenes are called A: give one another name.",
            'script "a"\nscene "A"\nfor each row of "hvies.csv"\nend\n': "3:17 There is no table hvies.csv in the project's data.",
            'script "a"\nscene "A"\ntype {secret} into field "x"\n': "3:6 {secret} has no value: "
            "add a column to the data, or write `needs secret` above the scenes.",
            'script "a"\nneeds idle\nscene "A"\n': "2:7 Nothing uses idle.",
            'script "a"\nscene "A"\n    pause 3 s\n': "3:5 A pause is too long on a quick device and too short on a slow one: "
            "`wait for` something that shows it is done.",
            'script "a"\nscene "A" with {x}\nnote "{x}"\n': "2:7 Nothing performs A.",
            'script "a"\nscene "A" with {x}\nnote "y"\nscene "B"\nperform "A" with 1\n': "2:16 Nothing in A uses x.",
            head + 'scene "b"\nnote "x"\n': "2:6 No scene of common.copione is performed.",
        }
        for text, problem in table.items():
            with self.subTest(problem):
                self.assertIn(problem, remarks(text, columns={"hives.csv": ("hive",)}))
        document = parse('script "a"\nscene "Sign in"\nscene "b"\nperform "Sing in"\n')
        (problem,) = script_problems(document, DocumentContext(Library({OWN: document.script})))
        self.assertEqual(problem.near, "Sign in")

    def test_many_times_performed_is_told_before_it_is_run(self) -> None:
        scenes = "".join(f'scene "{n}" with {{x}}\n' + f'perform "{n + 1}" with {{x}}\n' * 2 for n in range(40))
        text = f'script "a"\nscene "Go"\nperform "0" with 1\n{scenes}scene "40" with {{x}}\nnote "{{x}}"\n'
        self.assertIn("3:9 This comes to more than 20000 steps: perform less at once.", remarks(text))


class StandingAnswers(unittest.TestCase):
    def test_they_have_the_values_that_stand_all_the_time(self) -> None:
        text = """script "a"
needs app = "Hives"
scene "One" with {who}
    keep label "Weight" as {kept}
    whenever text "{app} {today}" tap button "OK"
    whenever text "{kept}" tap button "{who}"
    note "{kept} {who}"
scene "Two"
    perform "One" with "Ada"
"""
        why = "whenever is looked for at any time, and {{{}}} has a value only on the way. Use words, a need, or the data.".format
        self.assertEqual(remarks(text), [f"6:{column} W{why(name)[1:]}" for column, name in ((20, "kept"), (40, "who"))])


class Fitting(unittest.TestCase):
    def test_relations_hold_of_what_was_read(self) -> None:
        day = parse('script "a"').script and __import__("datetime").date(2026, 2, 28)

        def number(words: str) -> InNumber:
            return InNumber(first_number(words, signs_of("en")), words)

        def order(*words: str, locale: str = "en") -> InOrder:
            return InOrder(words, tuple(sort_key(each, locale) for each in words))

        table = [
            (r.Compares(r.Than.MORE, "34"), number("34.5 kg"), True),
            (r.Compares(r.Than.MORE, "34 kg"), number("34 kg"), False),
            (r.Compares(r.Than.AT_LEAST, "34"), number("34"), True),
            (r.Compares(r.Than.LESS, "2"), number("-3"), True),
            (r.Compares(r.Than.LESS, "2"), number("none"), False),
            (r.IsDay("2026-02-28"), InDay(day, "28 February 2026"), True),
            (r.IsDay("2026-02-27"), InDay(day, "28 February 2026"), False),
            (r.IsDay("2026-02-28"), InDay(None, "soon"), False),
            (r.IsInOrder(), order("Hive 2", "Hive 10", "hive 11"), True),
            (r.IsInOrder(), order("Hive 10", "Hive 2"), False),
            (r.IsInOrder(), order("1.250 kg", "1.5 kg"), True),
            (r.IsInOrder(), order("1.250 kg", "1.5 kg", locale="de"), False),
            (r.IsInOrder(), InOrder(("Hive 2", "Hive 10")), False),
            (r.IsInOrder(r.SortOrder.FALLING), order("12 days ago", "9 days ago", "9 days ago"), True),
            (r.IsMoved(r.Moving.TURNED, -350), Moved(12.0, 1.0), True),
            (r.IsMoved(r.Moving.TURNED, 30), Moved(12.0, 1.0), False),
            (r.IsMoved(r.Moving.SCALED, 2), Moved(0.0, 1.9), True),
        ]
        for relation, reading, fits in table:
            self.assertEqual(relation.fits(reading), fits, (relation, reading))

    def test_facts_hold_of_a_device(self) -> None:
        from copione.model.device import DeviceProfile

        phone = DeviceProfile("Moth 2", "android", "8.1", 720, 1280, 320, 1.3, "de-AT")
        table = [
            (f.Width(f.Side.NARROWER, 361.0), True),
            (f.Width(f.Side.WIDER, 360.0), False),
            (f.Size(f.Build.PHONE), True),
            (f.RunsPlatform("android"), True),
            (f.RunsPlatform("android", f.Since.BEFORE, "8.2"), True),
            (f.RunsPlatform("android", f.Since.FROM, "8.1"), True),
            (f.RunsPlatform("ios"), False),
            (f.Speaks("de"), True),
            (f.Speaks("de-DE"), False),
            (f.LargeText(1.2), True),
        ]
        for fact, holds in table:
            self.assertEqual(fact.holds(phone, phone.width), holds, fact)
        self.assertEqual(f.Width(f.Side.WIDER, 500.0).holds(phone, 640.0), True)
        self.assertEqual(replace(phone, locale="").locale, "")
