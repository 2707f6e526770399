"""Where each rule of the remarks begins and ends, to the dp and the vote."""

import unittest
from dataclasses import replace

from copione.comparison.appearance import Coloured, had_ground, once_for_each_ground
from copione.comparison.remarks import remarks
from copione.comparison.views import View
from copione.model import remark_kinds as kinds
from copione.model.geometry import Box
from copione.model.remark import Remark
from copione.model.take import TakeName

from .test_remarks import GREEN, HERE, ODD, RED, changed, noticed, page, text, without


def held_against(odd: View, *others: View) -> list[Remark]:
    views = {TakeName(f"Device {n}"): other for n, other in enumerate(others)} | {ODD: odd}
    return [r for r in remarks(HERE, views) if r.take == ODD]


def says(words: str, **more: object) -> View:
    return changed("seen", said=words, text=words)(page(**more))


def kinds_of(found: list[Remark]) -> list[str]:
    return [r.kind.value for r in found]


class Votes(unittest.TestCase):
    def test_two_have_to_agree_and_two_thirds(self) -> None:
        for others, expected in (
            ("AA", ["other words"]),
            ("A", []),
            ("AB", []),
            ("AAB", ["other words"]),
            ("AABB", []),
            ("AABC", []),
            ("AAAABB", ["other words"]),
            ("AAAABBC", []),
        ):
            with self.subTest(others):
                self.assertEqual(kinds_of(held_against(says("Z"), *map(says, others))), expected)

    def test_of_what_shows_the_same_page(self) -> None:
        own = page().elements
        for shared, expected in ((5, ["other words"]), (4, [])):  # of 8 elements; 5 of 11 are less than half, of all that either shows
            rest = tuple(text(f"x{n}", f"X {n}", 400 + 20 * n) for n in range(2))
            other = replace(page(), elements=(*own[2 : 2 + shared], *rest))
            with self.subTest(shared):
                self.assertEqual(kinds_of(held_against(says("Z"), other, other)), expected)

    def test_a_wide_page_may_show_a_narrow_one_beside_others(self) -> None:
        rest = tuple(text(f"x{n}", f"X {n}", 400 + 20 * n) for n in range(20))
        wide = replace(page(), elements=(*page().elements, *rest), wide=True, width=800)
        picture = changed("comb", fingerprint=RED)
        narrow = replace(page(), elements=(*page().elements[:6], *(text(f"n{n}", f"N {n}", 700 + 20 * n) for n in range(4))))
        for odd, found in ((narrow, ["other picture"]), (replace(narrow, elements=narrow.elements[1:]), [])):  # 6 of 10, 5 of 9
            with self.subTest(len(odd.elements)):
                self.assertEqual([k for k in kinds_of(held_against(picture(odd), wide, wide)) if k == "other picture"], found)

    def test_words_in_another_layout_count_where_the_pages_are_nearly_the_same(self) -> None:
        def wide(extra: int) -> View:
            rest = tuple(text(f"x{n}", f"X {n}", 400 + 20 * n) for n in range(extra))
            return replace(page(), elements=(*page().elements, *rest), wide=True, width=800)

        for extra, found in ((2, ["other words"]), (3, [])):  # 8 of 10 the same, 8 of 11
            self.assertEqual([k for k in kinds_of(held_against(says("Z"), wide(extra), wide(extra))) if k == "other words"], found)

    def test_a_few_of_the_same_layout_decide(self) -> None:
        wide = replace(page(), wide=True, width=800)
        lacking = without("note")
        narrow = [page(), page(), page()]
        self.assertEqual(kinds_of(held_against(lacking(wide), wide, wide, *map(lacking, narrow))), ["missing"])
        self.assertEqual(kinds_of(held_against(lacking(wide), wide, *map(lacking, narrow))), [])


class Words(unittest.TestCase):
    def test_another_language_is_known_by_its_phrasebook_or_by_figures(self) -> None:
        known = {"today": "Heute"}
        for words, locale, translated, expected in (
            ("Z", "de-DE", known, ["other words"]),
            ("Z", "de-DE", {"else": "Sonst"}, []),
            ("Z", "en-US", {}, ["other words"]),
        ):
            with self.subTest(locale=locale, translated=translated):
                odd = says(words, locale=locale, translated=translated)
                self.assertEqual([k for k in kinds_of(held_against(odd, page(), page(), page())) if k == "other words"], expected)
        figures = changed("weight", said="31.4", text="31.4")
        german = changed("weight", said="30.1", text="30.1")(page(locale="de-DE", translated={"else": "Sonst"}))
        self.assertEqual(kinds_of(held_against(german, *(figures(page()) for _ in range(3)))), ["other words"])

    def test_what_is_not_compared(self) -> None:
        for more in ({"cut": True}, {"said": ""}):
            with self.subTest(more):
                odd = changed("seen", **{"said": "Z", "text": "Z"} | more)(page())
                self.assertEqual([r.key for r in held_against(odd, page(), page()) if r.kind is kinds.WORDS], [])
        for said, kind in (
            ("TODAY", ["other words"]),
            ("To-day", ["other format"]),
            ("Tod…", ["text cut"]),
            ("Tod...", ["text cut"]),
            ("3/4/25", ["other format"]),
        ):
            self.assertEqual(kinds_of(held_against(says(said), page(), page())), kind)
        for here, there, kind in (
            ("201%", "199%", []),
            ("201°", "198°", []),
            ("202%", "198%", ["other words"]),
            ("7%", "8%", ["other words"]),
        ):
            self.assertEqual(kinds_of(held_against(says(here), says(there), says(there))), kind)
        whole = [says("Read on …") for _ in range(2)]
        self.assertEqual(kinds_of(held_against(says("Read …"), *whole)), ["other words"], "elsewhere it ends so too")

    def test_what_is_told_beside_a_remark(self) -> None:
        others = [page(shot=f"{n}.png") for n in range(3)]
        (remark,) = held_against(replace(without("note")(page()), shot="odd.png"), *others)
        self.assertEqual((remark.name, remark.here, remark.elsewhere), ("No note", "it is not there", "it is there"))
        self.assertEqual(
            (remark.shot, remark.example_shot, remark.fine), ("odd.png", "0.png", tuple(TakeName(f"Device {n}") for n in range(3)))
        )
        self.assertEqual((remark.box, remark.example_box), (Box(16, 230, 300, 348), Box(16, 270, 200, 290)))
        (remark,) = held_against(says("Z"), page(), page())
        self.assertEqual((remark.box, remark.example_box), (Box(16, 170, 200, 190), Box(16, 170, 200, 190)))


class Layout(unittest.TestCase):
    def test_a_text_in_less_height_than_it_takes_elsewhere(self) -> None:
        def tall(height: float, **more: object) -> View:
            return changed("note", box=Box(16, 270, 200, 270 + height))(page(**more))

        for here, there, scale, spills in (
            (13.9, 20, 1.0, True),
            (14.0, 20, 1.0, False),  # a line is no lower
            (11.9, 15, 1.0, True),
            (12.0, 15, 1.0, False),  # four fifths of a line
            (9.0, 13, 1.0, False),  # no line anywhere
            (25.0, 20, 2.0, True),
            (29.0, 20, 2.0, False),
        ):
            with self.subTest(here=here, there=there, scale=scale):
                found = held_against(tall(here, text_scale=scale), tall(there), tall(there))
                self.assertEqual(kinds_of([r for r in found if r.key == "note"]), ["spills over"] * spills)
        self.assertEqual(
            (held_against(tall(9), tall(20), tall(26))[0].here, held_against(tall(9), tall(20), tall(26))[0].elsewhere),
            ("9 dp high", "23 dp"),
        )

    def test_a_text_beyond_the_edge_of_what_it_stands_in(self) -> None:
        def at(left: float, right: float, holder: int = -1, **more: object) -> View:
            return changed("note", box=Box(left, 270, right, 290), holder=holder)(page(**more))

        for odd, spills in (
            (at(-3.1, 200), True),
            (at(-3.0, 200), False),
            (at(16, 403.1), True),
            (at(16, 403.0), False),
            (at(16, 203.1, holder=0), True),  # the title's box ends at 200
            (at(16, 203.0, holder=0), False),
            (at(12.9, 200, holder=0), True),
            (at(13.0, 200, holder=0), False),
        ):
            box = next(e.box for e in odd.elements if e.key == "note")
            with self.subTest(box):
                self.assertEqual(kinds_of(held_against(odd, page(), page())), ["spills over"] * spills)
        self.assertEqual(kinds_of(held_against(at(-9, 200), at(-9, 200), at(-9, 200))), [], "it is so everywhere")
        self.assertEqual(held_against(at(-9, 200), page(), page())[0].here, "9 dp beyond its edge")

    def test_a_control_of_which_less_than_half_is_on_the_screen(self) -> None:
        def at(box: Box, **more: object) -> View:
            return changed("save", box=box, **more)(page())

        for box, out in (
            (Box(-151, 300, 149, 348), True),
            (Box(-150, 300, 150, 348), False),
            (Box(251, 300, 551, 348), True),
            (Box(250, 300, 550, 348), False),
            (Box(16, -25, 300, 23), True),
            (Box(16, -24, 300, 24), False),
            (Box(16, 777, 300, 825), True),
            (Box(16, 776, 300, 824), False),
        ):
            with self.subTest(box):
                found = [r.kind for r in held_against(at(box), page(), page())]
                self.assertEqual(kinds.REACH in found, out)
        gone = Box(410, 300, 660, 348)
        self.assertNotIn(kinds.REACH, [r.kind for r in held_against(at(gone, tappable=False), page(), page())])
        self.assertNotIn(kinds.REACH, [r.kind for r in held_against(at(gone, pane=Box(0, 0, 400, 800)), page(), page())])
        self.assertNotIn(kinds.REACH, [r.kind for r in held_against(at(gone), page(), without("save")(page()))])

    def test_a_target_below_the_least_size(self) -> None:
        def tall(height: float, **more: object) -> View:
            return changed("save", box=Box(16, 300, 300, 300 + height), **more)(page())

        for here, there, small in ((23.4, 48, True), (23.5, 48, False), (20, 23.5, True), (20, 23.4, False)):
            with self.subTest(here=here, there=there):
                self.assertEqual(kinds_of(held_against(tall(here), tall(there), tall(there))), ["small target"] * small)
        (remark,) = held_against(tall(12), tall(30), tall(40))
        self.assertEqual((remark.here, remark.elsewhere), ("12 dp", "35 dp"))
        narrow = changed("save", box=Box(16, 300, 36, 348))(page())
        self.assertEqual(held_against(narrow, page(), page())[0].here, "20 dp")
        self.assertEqual(kinds_of(held_against(tall(12, tappable=False), tall(30), tall(40))), ["spills over"])


class Looks(unittest.TestCase):
    def test_contrast_below_what_is_asked_for_and_well_below_the_others(self) -> None:
        def inked(contrast: float, **more: object) -> View:
            return changed("note", contrast=contrast, **more)(page())

        for here, there, weak in (
            (4.1, 7.0, True),
            (4.2, 7.0, False),
            (4.4, 13.0, True),
            (4.5, 13.0, False),
            (2.0, 4.4, False),
            (2.6, 4.5, True),
        ):
            with self.subTest(here=here, there=there):
                self.assertEqual(kinds_of(held_against(inked(here), inked(there), inked(there))), ["weak contrast"] * weak)
        self.assertEqual(kinds_of(held_against(inked(3.1, large=True), page(), page())), [])
        (remark,) = held_against(inked(2.0), inked(9.0), inked(10.0))
        self.assertEqual((remark.here, remark.elsewhere), ("2.0 to 1", "9.5 to 1"))

    def test_where_much_of_a_page_is_weak_it_fades_in(self) -> None:
        rows = [text(f"row{n}", f"Row {n}", 400 + 30 * n) for n in range(12)]
        whole = replace(page(), elements=tuple(rows))

        def faded(many: int, of: int = 12) -> View:
            return replace(whole, elements=tuple(replace(e, contrast=2.0) if n < many else e for n, e in enumerate(rows[:of])))

        for many, of, said in ((6, 12, 6), (7, 12, 0), (4, 6, 4), (5, 6, 0), (5, 10, 5)):
            with self.subTest(many=many, of=of):
                other = replace(whole, elements=tuple(rows[:of]))
                found = kinds_of(held_against(faded(many, of), other, other))
                self.assertEqual(found, ["weak contrast"] * said)

    def test_pictures_beside_those_in_the_same_light(self) -> None:
        red = changed("comb", fingerprint=RED)
        blue = changed("comb", fingerprint="0bb8" + "00" * 64 + "c03030" * 25)
        self.assertEqual(kinds_of(held_against(red(page()), page(), page(), blue(page()))), ["other picture"])
        self.assertEqual(kinds_of(held_against(red(page()), page(), blue(page()))), [])
        self.assertEqual(kinds_of(held_against(red(page()), page(), page(), red(page()), red(page()))), [])
        self.assertEqual(kinds_of(held_against(red(page(dark=True)), page(), page(dark=True))), [])
        self.assertEqual(kinds_of(held_against(red(page(dark=True)), page(), page(dark=True), page(dark=True))), ["other picture"])
        self.assertEqual(noticed(changed("comb", fingerprint="")(page())), [])
        self.assertEqual(noticed(changed("comb", fingerprint=RED, cut=True)(page())), [])
        self.assertEqual(held_against(red(page()), page(), page())[0].fine, (TakeName("Device 0"), TakeName("Device 1")))
        self.assertEqual(GREEN == RED, False)

    def test_grounds_of_another_colour(self) -> None:
        def on(ground: str, key: str = "title", **more: object) -> View:
            return changed(key, ground=ground, **more)(page())

        for here, there, more, expected in (
            ("f6f3bc", "f6f3ec", {}, ["other colour"]),  # 48 in the blue
            ("f6f3bd", "f6f3ec", {}, []),
            ("b03a2e", "f6f3ec", {"lit": True}, []),  # it is chosen here
            ("b03a2e", "", {}, []),
            ("b03a2e", "204020", {}, ["other colour"]),
        ):
            with self.subTest(here, there=there):
                self.assertEqual(kinds_of(held_against(on(here, **more), on(there), on(there))), expected)
        self.assertEqual(kinds_of(held_against(on("b03a2e"), on("204020"), on("f6f3ec"), page())), [], "each its own")
        for grounds, other in (
            (("33546b",), True),
            (("38513a",), False),
            (("38513a", "f6f3ec"), False),
            ((), False),
            (("38513a", "2f5169"), True),
        ):
            self.assertIs(had_ground("385038", "305068", grounds), other, grounds)
        bar = changed("seen", ground="b03a2e")(on("b03a2e"))
        found = held_against(bar, page(), page())
        self.assertEqual(kinds_of(found), ["other colour"] * 2)
        coloured = [Coloured(remark, "b03a2e", "f6f3ec") for remark in found]
        both = {(ODD, remark.key): {"f6f3ec"} for remark in found}
        self.assertEqual(list(once_for_each_ground(coloured, both)), found[:1], "one bar is one remark")
        last = {(ODD, found[1].key): {"f6f3ec"}}
        self.assertEqual(list(once_for_each_ground(coloured, last)), found[1:], "the first has never had the usual one")
        self.assertEqual(list(once_for_each_ground(coloured, {})), [])
        self.assertEqual(kinds_of(held_against(replace(on("b03a2e"), dark=True), page(), page())), [])

    def test_values_of_controls(self) -> None:
        def at(value: str, **more: object) -> View:
            return changed("queen", role="spinbutton", state="", value=value)(page(**more))

        german, known = "de-DE", {"sunny": "Sonnig"}
        for odd, usual, expected in (
            (at("3"), at("2"), ["other value"]),
            (at("3", locale=german), at("2"), ["other value"]),  # a figure needs no translation
            (at("Trüb", locale=german, translated=known), at("Sunny"), ["other value"]),
            (at("Trüb", locale=german), at("Sunny"), []),
            (at("Rainy"), at("Sunny"), ["other value"]),
            (at("201%"), at("199%"), []),
            (at(""), at("2"), []),
        ):
            with self.subTest(odd=odd.locale, value=odd.by_key["queen"].value):
                self.assertEqual(kinds_of(held_against(odd, usual, usual)), expected)

    def test_states_and_the_focus(self) -> None:
        on = changed("queen", state="on")
        for others, expected in (
            ((page(), page(), on(page())), ["other state"]),
            ((page(), on(page())), []),
            ((page(), page(), on(page()), on(page())), []),
        ):
            self.assertEqual(kinds_of(held_against(on(page()), *others)), expected)
        (remark,) = held_against(on(page()), page(), page())
        self.assertEqual((remark.here, remark.elsewhere), ("on", "off"))
        jump = changed("save", jump="before “Queen”")
        self.assertEqual(kinds_of(held_against(jump(page()), page(), page(), jump(page()))), ["focus order"])
        self.assertEqual(kinds_of(held_against(jump(page()), page(), page(), jump(page()), jump(page()))), [])
        self.assertEqual(kinds_of(held_against(changed("save", jump="x", cut=True)(page()), page(), page())), [])


class Conventions(unittest.TestCase):
    def test_what_all_of_a_kind_and_only_they_have_is_their_way(self) -> None:
        small = changed("save", box=Box(16, 300, 300, 314))

        def found(*views: View) -> list[str]:
            told = remarks(HERE, {TakeName(f"D{n}"): view for n, view in enumerate(views)})
            return [f"{r.take.device} {r.kind.value}" for r in told]

        droid, pear, other = page(), page(platform="ios"), changed("comb", fingerprint=RED)
        wide_droid, wide_pear = replace(droid, wide=True), replace(pear, wide=True)
        mixed = (droid, wide_droid) * 3 + (pear,) * 2 + (small(wide_pear),) * 2
        for words, views, expected in (
            ("both of a platform", (droid,) * 5 + (small(pear),) * 2, []),
            ("one of a platform", (droid,) * 5 + (small(pear), pear), ["D5 small target"]),
            ("the only one of its platform", (droid,) * 5 + (small(pear),), ["D5 small target"]),
            ("two of the platforms", (droid,) * 6 + (small(droid), small(pear)), ["D6 small target", "D7 small target"]),
            ("all of a layout", (droid,) * 5 + (small(wide_droid),) * 2, []),
            ("of a platform and a layout", mixed, []),
            (
                "pictures are no convention",
                (droid,) * 5 + (other(pear),) * 2,
                ["D5 other picture", "D6 other picture"],
            ),
        ):
            with self.subTest(words):
                self.assertEqual(found(*views), expected)


if __name__ == "__main__":
    unittest.main()
