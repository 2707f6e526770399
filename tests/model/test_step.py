import unittest

from copione.model.action import Append, Check, Choose, Draw, Find, Keep, Note, Pinch, SetTo, Tap
from copione.model.address import Address, AddressPart
from copione.model.formula import NoSum, renamed
from copione.model.library import OWN, Library
from copione.model.reading import Counted, Said
from copione.model.relation import Between, CountBound, HasItems, Matches, Reads, ReadsLike, Tolerance
from copione.model.step import Scene, Script, Step
from copione.model.target import Target
from copione.model.unbound_variables import wants
from copione.model.words import InvalidValue, UnknownVariable, fill

FIELD = Target("field", "Notes")


class Variables(unittest.TestCase):
    def test_they_are_filled_from_the_row_everywhere(self) -> None:
        step = Step(Find(Target("item", "{hive}", Target("list", "{list}"))))
        self.assertEqual(step.filled({"hive": "Hive 7", "list": "Hives"}).key(), 'item "Hive 7" in list "Hives"')
        self.assertEqual(Step(Append(FIELD, "{n} of {n}")).filled({"n": "3"}).action.text, "3 of 3")
        self.assertEqual(Step(Check(FIELD, Reads("{n}"))).filled({"n": "3"}).action.relation, Reads("3"))
        self.assertEqual(Step(Check(FIELD, Matches("^{n}$"))).filled({"n": "3 (b)"}).action.relation.pattern, r"^3\ \(b\)$")

    def test_a_missing_column_is_named_with_those_there_are(self) -> None:
        with self.assertRaises(UnknownVariable) as caught:
            fill("{hvie}", {"hive": "x", "note": "y"})
        self.assertEqual(caught.exception.sentence, "Nothing gives {hvie} a value. Known here: hive, note.")

    def test_a_script_knows_which_have_to_be_given(self) -> None:
        steps = (Step(Tap(Target("item", "{a}", Target("list", "{b}")))), Step(Note("{c} and {not a name} {d}")), Step(Keep(FIELD, "d")))
        library = Library({OWN: Script("s", scenes=(Scene("x", steps),))})
        self.assertEqual({want.name for want in wants(library, (), {})}, {"a", "b", "c"})

    def test_sums_counts_and_days(self) -> None:
        row = {"frames": "6", "kg": "34,5", "visit": "2026-01-30", "note": "Calm", "today": "2026-11-25"}
        table = {
            "{frames + 1} of {frames}": "7 of 6",
            "{frames - 8}": "-2",
            "{kg + frames}": "40.5",
            "{today + 7 days}": "2026-12-02",
            "{today}": "2026-11-25",
            "{visit + 1 month}": "2026-02-28",
            "{visit - 2 weeks}": "2026-01-16",
            "^\\d{4}$": "^\\d{4}$",
        }
        for words, said in table.items():
            self.assertEqual(fill(words, row), said, words)
        for words in ("{note + 1}", "{frames + 2 days}", "{frames + note}"):
            with self.assertRaises(NoSum, msg=words):
                fill(words, row)
        self.assertEqual(renamed("{frames + 1} frames {frames_now}", "frames", "combs"), "{combs + 1} frames {frames_now}")
        self.assertEqual(renamed("{today + 7 days} {days - 2} {today + days}", "days", "n"), "{today + 7 days} {n - 2} {today + n}")


class Expected(unittest.TestCase):
    def test_words_that_vary(self) -> None:
        table = {
            ("* hives due", "12 hives due"): True,
            ("* hives due", "hives due"): False,
            ("*hives due", "hives due"): True,
            ("Last * days ago", "Last seen 3 days ago"): True,
            ("Last * days ago", "Last days ago"): False,
            ("a*b*a", "aba"): True,
            ("a*b*a", "ab"): False,
            ("a*a", "a"): False,  # one letter is not both
            ("no star", "no star"): True,
            ("no star", "no stars"): False,
        }
        for (pattern, words), fits in table.items():
            self.assertIs(ReadsLike(pattern).fits(Said(words)), fits, (pattern, words))

    def test_counts_have_bounds(self) -> None:
        for bound, fitting in ((CountBound.EXACTLY, {3}), (CountBound.AT_LEAST, {3, 4}), (CountBound.AT_MOST, {2, 3})):
            self.assertEqual({n for n in (2, 3, 4) if HasItems(3, bound).fits(Counted(n))}, fitting)
            self.assertFalse(HasItems(3, bound).fits(Said("3")))


class Meant(unittest.TestCase):
    def test_what_cannot_be_meant_cannot_be_built(self) -> None:
        table = (
            (lambda: Matches("("), "not a valid regular expression"),
            (lambda: Matches("a{99999999999}"), "not a valid regular expression"),
            (lambda: Between(5, 3), "ends before it begins"),
            (lambda: HasItems(-1), "cannot be negative"),
            (lambda: Tolerance(3, 20), "colours is out of range"),
            (lambda: SetTo(FIELD, "four"), "four is not a number"),
            (lambda: SetTo(FIELD, "1e400"), "is not a number"),
            (lambda: Step(SetTo(FIELD, "{n}")).filled({"n": "inf"}), "inf is not a number"),
            (lambda: Choose(FIELD, "2026-02-31"), "2026-02-31 is not a valid date"),
            (lambda: Pinch(FIELD, 0.0), "must be above 0"),
            (lambda: Draw(FIELD, "hello"), "is no path"),
            (lambda: Draw(FIELD, ".2 .3"), "does not begin with M"),
            (lambda: Draw(FIELD, "M 1e999 0"), "too far away"),
            (lambda: Step(Tap(FIELD), within=-1), "limit cannot be negative"),
        )
        for build, words in table:
            with self.subTest(words), self.assertRaises(InvalidValue) as caught:
                build()
            self.assertIn(words, caught.exception.sentence)


class Addresses(unittest.TestCase):
    def test_they_are_ordered_as_the_script_is_gone_through(self) -> None:
        loop = Address((AddressPart(10, 2),))
        ordered = [Address.of(9), Address.of(10).then(11), Address((AddressPart(10, 1),)).then(12), loop.then(11), Address.of(20).then(5)]
        mixed = ordered[::-1]
        self.assertEqual(sorted(mixed), ordered)
        for address in ordered:
            self.assertEqual(Address.parse(str(address)), address)
        self.assertEqual((str(loop.then(11)), loop.then(11).line), ("10:2/11", 11))
