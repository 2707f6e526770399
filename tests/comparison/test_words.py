"""What is said of findings, word for word; measures; what is slow beside what."""

import unittest
from dataclasses import replace

from copione.comparison.apart import share
from copione.comparison.causes import CauseKey
from copione.comparison.measures import same_measure
from copione.comparison.slow import is_slow, slow_ones, usual_beside
from copione.comparison.wording import detail, device_names, expected, remark_title, remark_words, sentence, target_name, title
from copione.model import remark_kinds as kinds
from copione.model.address import Address
from copione.model.deviation import OFF, Deviation
from copione.model.geometry import Box
from copione.model.outcome import Cause, Obstacle, ObstacleKind, Outcome, Reason
from copione.model.remark import Remark
from copione.model.take import TakeName
from copione.model.wording import counted, listed, number

from .test_findings import result

BOTH = ("Alder 5", "Moth 2")


class Titles(unittest.TestCase):
    def test_a_title_for_each_cause(self) -> None:
        dialog, nameless, shade = (
            Obstacle(ObstacleKind.DIALOG, "Rate it"),
            Obstacle(ObstacleKind.DIALOG),
            Obstacle(ObstacleKind.COVER, "cookie bar"),
        )
        page, other = Obstacle(ObstacleKind.PAGE, "Settings"), Obstacle(ObstacleKind.ELSEWHERE, "com.example.maps")
        alder = ("Alder 5",)
        for about, obstacle, names, said in (
            ("dialog", dialog, alder, "The dialog “Rate it” covers the page with “Save” on Alder 5"),
            ("dialog", nameless, BOTH, "The dialog covers the page with “Save” on Alder 5 and Moth 2"),
            ("system", dialog, alder, "The system asks “Rate it” on Alder 5"),
            ("page", page, alder, "The page “Settings” is shown instead of that with “Save” on Alder 5"),
            ("gone", None, alder, "The app ends by itself on Alder 5"),
            ("elsewhere", other, alder, "Another app is in front on Alder 5: com.example.maps"),
            ("keyboard", None, alder, "The keyboard covers “Save” on Alder 5"),
            ("edge", None, alder, "“Save” lies beyond the edge of the screen on Alder 5"),
            ("cover", shade, alder, "“cookie bar” covers “Save” on Alder 5"),
            ("cover", None, alder, "Something covers “Save” on Alder 5"),
            ("silent", None, alder, "Alder 5 does not answer"),
            ("silent", None, BOTH, "Alder 5 and Moth 2 do not answer"),
            ("limit", None, alder, 'Alder 5 cannot do this: tap button "Save"'),
            ("missing", None, alder, "“Save” is missing on Alder 5"),
            ("ambiguous", None, alder, "“Save” cannot be told from another on Alder 5"),
            ("looks otherwise", None, alder, "“Save” looks different on Alder 5"),
            ("not shown", None, alder, "“Save” is not shown on Alder 5"),
            ("shown", None, alder, "“Save” is shown on Alder 5, and should not be"),
            ("disabled", None, alder, "“Save” is disabled on Alder 5"),
            ("unreadable", None, alder, "Alder 5 tells nothing of the screen"),
            ("unreadable", None, BOTH, "Alder 5 and Moth 2 tell nothing of the screen"),
            ("not taken", None, alder, "“Save” does not take what was done on Alder 5"),
            ("something else", None, alder, 'Stuck on Alder 5: tap button "Save"'),
        ):
            with self.subTest(said):
                first = replace(result(1, Outcome.STUCK, "so"), obstacle=obstacle)
                self.assertEqual(title(CauseKey(about), first, names, 0), said)
        back = replace(result(1, Outcome.STUCK, "so", "press back"), obstacle=nameless)
        self.assertEqual(title(CauseKey("dialog"), back, ("Alder 5",), 0), "The dialog covers the page on Alder 5")

    def test_a_title_for_each_way_in_which_something_reads_otherwise(self) -> None:
        for about, said in (
            (Deviation.LANGUAGE.value, "“Frames” is not translated on Alder 5"),
            (Deviation.FORMAT.value, "“Frames” is in another format on Alder 5"),
            (Deviation.CUT.value, "“Frames” is cut short on Alder 5"),
            (Deviation.NOTHING.value, "“Frames” is empty on Alder 5"),
            (f"{OFF}+1", f"“Frames” is {OFF}+1 on Alder 5"),
            ("reads 7", "“Frames” reads “7” on Alder 5"),
        ):
            with self.subTest(said):
                first = result(1, Outcome.DIFFERS, "so", 'check label "Frames" reads "6"', "7")
                first = replace(first, why=Reason(Cause.READS_OTHERWISE, "so", about))
                self.assertEqual(title(CauseKey("reads otherwise"), first, ("Alder 5",), 0), said)
        self.assertEqual(expected(first), "“6”")
        self.assertEqual(expected(result(1)), "")
        self.assertEqual(target_name(first), "“Frames”")
        self.assertEqual(target_name(result(1, step="press back")), "press back")

    def test_small_words(self) -> None:
        for names, said in (
            ("a", "a"),
            ("ab", "a and b"),
            ("abc", "a, b and c"),
            ("abcd", "a and three others"),
            ("abcdefghijklm", "a and twelve others"),
            ("abcdefghijklmn", "a and 13 others"),
        ):
            self.assertEqual(device_names(names), said)
        self.assertEqual([listed("abcdef"), listed("ab", last="or"), listed("")], ["a, b, c, d and two others", "a or b", ""])
        self.assertEqual([number(n) for n in (0, 1, 12, 13)], ["no", "one", "twelve", "13"])
        self.assertEqual([counted(n, "step") for n in (0, 1, 2)], ["0 steps", "1 step", "2 steps"])
        self.assertEqual([sentence(each) for each in ("", "so", "so.", "so?", "so!")], ["", "So.", "So.", "So?", "So!"])
        for chance, said in (
            (0.95, "nearly every case"),
            (0.94, "16 of 17 cases"),
            (0.75, "3 of 4 cases"),
            (0.51, "1 of 2 cases"),
            (0.5, "1 of 2 cases"),
            (0.35, "1 of 3 cases"),
            (0.02, "1 of 50 cases"),
        ):
            self.assertEqual(share(chance), said)

    def test_where_and_how_often(self) -> None:
        for given, said in (
            ((4, 1, 1, (1, 1), (0, 0), "so"), "Step 4, the only device. So."),
            ((4, 1, 3, (1, 1), (1, 1), "so"), "Step 4, 1 of 3 devices, 1 step was never tried because of it. So."),
            ((4, 2, 2, (2, 2), (5, 2), ""), "Step 4, 2 of 2 devices, every data row, 5 steps were never tried on 2 devices because of it."),
            ((4, 1, 2, (1, 3), (0, 0), "so"), "Step 4, 1 of 2 devices, 1 of 3 data rows. So."),
        ):
            self.assertEqual(detail(*given), said)

    def test_a_title_for_each_kind_of_remark(self) -> None:
        said = {
            kinds.MISSING: "“Save” is not there on Alder 5",
            kinds.NEW: "“Save” is there on Alder 5, and nowhere else",
            kinds.WORDS: "“Save” reads H on Alder 5",
            kinds.CUT: "E ends early on Alder 5: H",
            kinds.SPILLS: "“Save” does not fit on Alder 5",
            kinds.OVERLAPS: "“Save” lies H on Alder 5",
            kinds.REACH: "“Save” is beyond the edge on Alder 5",
            kinds.SMALL: "“Save” is H small on Alder 5",
            kinds.UNTRANSLATED: "H is not translated on Alder 5",
            kinds.FORMAT: "H is in another format on Alder 5",
            kinds.PICTURE: "“Save” is another picture on Alder 5",
            kinds.CONTRAST: "“Save” is hard to read on Alder 5: H",
            kinds.LOST: "“Save” is H after the turn on Alder 5",
            kinds.FOCUS: "The focus comes to “Save” H on Alder 5",
            kinds.STATE: "“Save” is H on Alder 5",
            kinds.VALUE: "“Save” reads H on Alder 5",
            kinds.ORDER: "H stand in another order on Alder 5",
            kinds.COLOUR: "“Save” stands on another colour on Alder 5",
            kinds.DISABLED: "“Save” is H on Alder 5",
            kinds.HIDDEN: "“Save” is H on Alder 5",
            kinds.HEAVIER: "The app takes H of memory on Alder 5",
            kinds.GROWS: "The app takes more and more memory on Alder 5: H",
        }
        for kind in kinds.kinds():
            remark = Remark(kind, "save", "Save", "H", "E", TakeName("Alder 5"), Address.of(1), Box(0, 0, 1, 1), "", ())
            self.assertEqual(remark_title(remark, ("Alder 5",)), said[kind])
        self.assertEqual(remark_words(remark), "H here, E elsewhere.")
        remark = replace(remark, kind=kinds.WORDS, name="1 photos", here="“1 photos”", elsewhere="“1 photo”")
        self.assertEqual(remark_title(remark, ("Alder 5",)), "“1 photo” reads “1 photos” on Alder 5", "what it is called is what is wrong")


class Numbers(unittest.TestCase):
    def test_measures_in_two_units(self) -> None:
        for one, other, same in (
            ("1 kg", "2.2 lb", True),
            ("1 kg", "2.26 lb", False),
            ("28 g", "1 oz", True),
            ("8 km", "5 mi", True),
            ("3 m", "10 ft", True),
            ("30.5 cm", "12 in", True),
            ("3.8 l", "1 gal", True),
            ("20 °C", "68 °F", True),
            ("98 °C", "212 °F", True),
            ("20 °C", "68 F", True),
            ("-10 °C", "14 °F", True),
            ("20 °C", "70 °F", False),
            ("1 kg", "1.01 kg", False),  # in one unit they are what they say
            ("1 kg", "1 lb", False),
            ("0.01 kg", "0.05 lb", True),  # beside one of the unit both round to nothing
            ("0.1 kg", "0.3 lb", False),
            ("5 kg", "5 km", False),
            ("weighs 1 kg", "2.2 lb", False),
            ("Today", "today", same_measure("Today", "today")),
        ):
            with self.subTest(one, other=other):
                self.assertIs(same_measure(one, other), same)
                self.assertIs(same_measure(other, one), same)

    def test_slow_is_so_many_times_and_so_much_more(self) -> None:
        for seconds, usual, slow in ((2.51, 1.0, True), (2.5, 1.0, False), (1.9, 0.3, True), (1.8, 0.3, False), (1.7, 0.3, False)):
            self.assertIs(is_slow(seconds, usual), slow)
        self.assertEqual(usual_beside(4.0, [0.5, 0.4, 0.6]), 0.5)
        self.assertIsNone(usual_beside(4.0, [0.5, 0.4]))
        self.assertIsNone(usual_beside(1.0, [0.5, 0.4, 0.6]))

    def test_who_is_slow_of_some(self) -> None:
        for samples, strain, told in (
            ([[0.3], [0.3], [0.3], [3.0]], (), ([3], 0.3)),
            ([[3.0], [0.3], [0.5]], (), ([0], 0.4)),
            ([[0.3], [0.3], [0.3], [1.8]], (), ([], 0.3)),  # not by so much more
            ([[0.3], [0.3], [0.3], [1.3, 1.3]], (), ([3], 0.3)),  # seen twice, less is enough
            ([[0.3], [0.3], [0.3], [1.1, 1.1]], (), ([], 0.3)),
            ([[0.3], [0.3], [0.3], [3.0, 3.0], [1.9]], (), ([4, 3], 0.3)),
            ([[2.0], [2.0], [2.0], [4.9]], (), ([], 2.0)),  # not so many times
            ([[0.3], [0.3], [0.3], [3.0]], (1, 1, 1, 1.5), ([3], 0.3)),
            ([[0.3], [0.3], [0.3], [2.6]], (1, 1, 1, 1.5), ([], 0.3)),
            ([[0.3], [0.3], [0.3], [2.6]], (1, 1, 1, 0.5), ([3], 0.3)),  # quicker at all else is no excuse
            ([[0.3], [3.2]], (), ([], 0.3)),  # of two it has to be more
            ([[0.3], [3.4]], (), ([1], 0.3)),
            ([[0.3], [3.0], [3.0], [3.0]], (), ([3, 2, 1], 0.3)),
            ([[0.3], [0.3], [3.0], [3.0], [3.0]], (), ([], 0.3)),  # most of them: the others are quick
            ([[0.3]], (), ([], 0.0)),
        ):
            with self.subTest(samples, strain=strain):
                slow, usual = slow_ones(samples, strain)
                self.assertEqual((sorted(slow), round(usual, 6)), (sorted(told[0]), told[1]))


if __name__ == "__main__":
    unittest.main()
