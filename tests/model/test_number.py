import pickle
import unittest
from decimal import Decimal

from copione.model.number import SCRIPT, NumberSigns, ScreenWords, first_number, signs_in, whole_number
from copione.model.reading import InNumber, Said
from copione.model.relation import Between, Compares, Reads, Than
from copione.model.words import fill, plain
from copione.screens.numbers import signs_of


class Read(unittest.TestCase):
    def test_a_number_is_read_as_its_locale_writes_it(self) -> None:
        table = {
            ("en", "1,250"): "1250",
            ("de", "1,250"): "1.250",
            ("de", "1.250"): "1250",
            ("de", "1.250,5 kg"): "1250.5",
            ("de", "1.5"): "1.5",  # cannot be grouped: the app writes numbers its own way
            ("fr", "1\u202f250,5"): "1250.5",
            ("fr", "1\u00a0250"): "1250",
            ("fr", "Ruche 7, 250 kg"): "7",
            ("fr", "1 250 kg"): "1250",
            ("de-CH", "1\u2019250.50"): "1250.50",
            ("en-IN", "1,25,000"): "125000",
            ("ar", "\u0661\u066c\u0662\u0665\u0660\u066b\u0665"): "1250.5",
            ("en", "\u22125 \u00b0C"): "-5",
            ("en", "-$1,250"): "-1250",
            ("en", "3-5 frames"): "3",
            ("en", "Hive-7"): "7",
            ("en", "12:30"): "12",
            ("", "2.5"): "2.5",
        }
        for (locale, words), number in table.items():
            self.assertEqual(first_number(words, signs_of(locale)), Decimal(number), (locale, words))

    def test_what_can_mean_more_than_one_number_or_none_is_none(self) -> None:
        for signs, words in [(SCRIPT, "1,250"), (signs_of("en"), "30.11.2026"), (signs_of("fr"), "Ruche 7 250 kg"), (SCRIPT, "no digits")]:
            self.assertIsNone(first_number(words, signs), words)
        self.assertIsNone(first_number("9" * 500, SCRIPT))
        self.assertIsNone(whole_number("7 frames"))
        self.assertIsNone(whole_number("1e3"))

    def test_scripts_write_a_point_or_a_comma_that_can_only_be_one(self) -> None:
        self.assertEqual(
            [whole_number(words) for words in ("1250.5", " 2,5 ", "-3", "+4")], [Decimal(n) for n in ("1250.5", "2.5", "-3", "4")]
        )


class Kept(unittest.TestCase):
    def test_a_value_from_a_screen_stays_its_number_wherever_it_is_handed_on(self) -> None:
        weight = ScreenWords("1.250", signs_of("de"))
        handed_on = fill("{weight}", {"weight": weight})
        self.assertEqual((handed_on, fill("{weight + 1}", {"weight": weight})), ("1.250", "1251"))
        sent = pickle.loads(pickle.dumps(handed_on))
        self.assertEqual(first_number(sent, signs_in(sent)), 1250)
        self.assertTrue(Compares(Than.MORE, handed_on).fits(InNumber(Decimal(1251), "1.251")))
        self.assertEqual(fill("{weight} kg", {"weight": weight}), "1.250 kg")


class Compared(unittest.TestCase):
    def test_texts_are_the_same_by_their_letters_and_numbers_by_their_value(self) -> None:
        self.assertTrue(Reads("Hive  7").fits(Said("Hive 7 ")))
        for expected, read in [("0042", "42"), ("1000", "1e3"), ("6", "6.0"), ("7", "07")]:
            self.assertFalse(Reads(expected).fits(Said(read)), (expected, read))
        self.assertEqual(plain(" 6.0\n kg "), "6.0 kg")
        large = Decimal("9007199254740993")
        self.assertTrue(Compares(Than.MORE, "9007199254740992").fits(InNumber(large, str(large))))
        self.assertTrue(Between(0.1, 0.3).fits(InNumber(Decimal("0.1"), "0.1")))
        self.assertFalse(Between(1, 2).fits(InNumber(None, "1,250")))
        self.assertEqual(signs_of("xx-none"), NumberSigns(".", ","))


if __name__ == "__main__":
    unittest.main()
