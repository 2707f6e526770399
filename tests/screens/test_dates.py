import unittest
from datetime import date

from copione.screens.dates import day_of, month_named, month_of


class Days(unittest.TestCase):
    def test_a_day_is_read_in_the_language_of_the_device(self) -> None:
        table = [
            ("23 November 2026", "en-GB", date(2026, 11, 23)),
            ("Mon, Nov 3, 2025", "en-US", date(2025, 11, 3)),
            ("1. März 2027", "de-DE", date(2027, 3, 1)),
            ("23 בנובמבר 2026", "he-IL", date(2026, 11, 23)),
            ("2026-10-20", "en", date(2026, 10, 20)),
            ("31 February 2026", "en", None),
            ("Hive 17", "en", None),
            ("23 November", "en", None),
            ("1 March 2027", "xx-nowhere", date(2027, 3, 1)),
        ]
        for words, locale, day in table:
            with self.subTest(words):
                self.assertEqual(day_of(words, locale), day)

    def test_headings_and_names_of_months(self) -> None:
        self.assertEqual(month_of("November 2026", "en"), (2026, 11))
        self.assertEqual(month_of("נובמבר 2026", "he"), (2026, 11))
        self.assertIsNone(month_of("Hives 2026 and 12", "en"))
        self.assertEqual((month_named("Oktober", "de"), month_named("Oct.", "en"), month_named("Sunny", "en")), (10, 10, None))
