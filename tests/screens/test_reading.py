"""Which words belong to which, whatever the language of the device and of the app."""

import unittest
from dataclasses import replace

from copione.model.geometry import Box
from copione.model.screen import Screen, bare
from copione.model.words import plain
from copione.recognition.evidence import fold
from copione.screens.dates import day_of, same_day
from copione.screens.reading import value_of_caption

from ..benches import named


def lines(*words: tuple[str, str], mirrored: bool = False, locale: str = "en-GB") -> Screen:
    """Captions with their values on one line each, in English or as it is given; `mirrored`: laid out from right to left."""
    spots = []
    for n, (caption, value) in enumerate(words):
        for said, (left, right) in ((caption, (20, 20 + 9 * len(caption))), (value, (380 - 9 * len(value), 380))):
            left, right = (400 - right, 400 - left) if mirrored else (left, right)
            spots.append((Box(left, 100 + 60 * n, right, 120 + 60 * n), "text", said))
    screen = bare(400, 800, spots=tuple(spots))
    return replace(screen, texts=screen.names, locale=locale)


class Captions(unittest.TestCase):
    HEBREW = (("נבדק", "2024"), ("הוקם", "2023"))
    ENGLISH = (("Seen", "2024"), ("Founded", "2023"))

    def test_a_value_stands_behind_its_caption(self) -> None:
        for words, mirrored, locale in (
            (self.ENGLISH, False, "en-GB"),
            (self.HEBREW, True, "he-IL"),
            (self.ENGLISH, True, "ar-EG"),  # an app that does not speak it, laid out as the device is
            (self.ENGLISH, False, "he-IL"),  # and one that is not
            (self.HEBREW, True, "en-GB"),
            (self.ENGLISH, False, ""),
        ):
            with self.subTest(words=words, mirrored=mirrored, locale=locale):
                screen = lines(*words, mirrored=mirrored, locale=locale)
                self.assertEqual([value_of_caption(named(screen, "text", caption)) for caption, _ in words], ["2024", "2023"])

    def test_captions_that_fill_their_lines_say_nothing_of_the_direction(self) -> None:
        words = [
            (Box(20, 100 + 40 * n, 310, 120 + 40 * n), Box(320, 100 + 40 * n, 380, 120 + 40 * n), *pair)
            for n, pair in enumerate(self.ENGLISH)
        ]
        spots = [spot for left, right, caption, value in words for spot in ((left, "text", caption), (right, "text", value))]
        screen = bare(400, 800, spots=tuple(spots))
        screen = replace(screen, texts=screen.names, locale="he-IL")
        self.assertEqual([value_of_caption(named(screen, "text", caption)) for caption, _ in self.ENGLISH], ["2024", "2023"])

    def test_what_is_a_value_has_none_itself(self) -> None:
        screen = lines(("Weight", "29 kg"), ("Seen", "Today"))
        self.assertEqual([value_of_caption(named(screen, "text", value)) for value in ("29 kg", "Today")], ["", ""])

    def test_digits_of_every_script_and_signs_that_are_not_seen(self) -> None:
        for said, folded in (("٢٠٢٤", "2024"), ("Hive ٧", "Hive 7"), ("१२", "12"), ("\u200f23\u200e kg", "23 kg"), ("½", "½"), ("²", "²")):
            self.assertEqual((plain(said), fold(said)), (folded, folded.casefold()))

    def test_days_in_the_language_of_the_device_or_of_the_app(self) -> None:
        for words, locale in (
            ("20 October 2026", "fr-FR"),
            ("20 octobre 2026", "fr-FR"),
            ("20. Oktober 2026", "de-DE"),
            ("٢٠ أكتوبر ٢٠٢٦", "ar-EG"),
            ("20 October 2026", "ar-EG"),
        ):
            self.assertEqual(str(day_of(words, locale)), "2026-10-20", words)
        for told, read, locale, same in (
            ("23 November 2026", "23. November 2026", "de-DE", True),
            ("November 23, 2026", "23. November 2026", "de-DE", True),
            ("23. November 2026", "23 November 2026", "en-GB", True),
            ("23 Nov 2026", "23.11.2026", "de-DE", True),
            ("23 November 2026", "23.11.2026", "de-DE", False),  # another form
            ("23 November 2026", "23 Nov 2026", "en-GB", False),  # in its own language a form is a form
            ("23 November 2026", "23/11/2026", "en-GB", False),
            ("2026-11-23", "23 November 2026", "en-GB", False),
            ("23 November 2026", "24. November 2026", "de-DE", False),
            ("23/11/2026", "11/23/26", "en-US", False),
            ("Hive 7", "Hive 7", "en-GB", False),
        ):
            self.assertIs(same_day(told, read, locale), same, (told, read))


if __name__ == "__main__":
    unittest.main()
