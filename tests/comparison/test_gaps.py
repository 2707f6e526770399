"""What stands on one device between two things that are neighbours on another."""

import unittest
from collections.abc import Sequence

import numpy as np

from copione.comparison.gaps import gaps, told_of
from copione.comparison.viewing import contrast
from copione.comparison.views import SeenElement, View, lie_over, like, like_pages, within
from copione.model.geometry import Box
from copione.recognition.pictures import Picture

PANE, OTHER = Box(0, 0, 400, 600), Box(0, 0, 400, 700)


def seen(key: str, top: float, **more: object) -> SeenElement:
    return SeenElement(key, "text", key, key, key, Box(16, top, 200, top + 20), **more)


def page(elements: Sequence[SeenElement], bottom: float = 800) -> View:
    return View(tuple(elements), 400, 800, Box(0, 0, 400, bottom), "android", False, "en-GB", 1.0)


def letters(words: str, **more: dict[str, object]) -> list[SeenElement]:
    """An element a letter, 30 dp apart."""
    return [seen(each, 30 * n, **more.get(each, {})) for n, each in enumerate(words)]


def found(here: Sequence[SeenElement], there: Sequence[SeenElement], bottom: float = 800) -> list[str]:
    return ["".join(each.key for each in run) for run in gaps(page(here, bottom), page(there))]


class Gaps(unittest.TestCase):
    def test_between_two_that_are_neighbours_here(self) -> None:
        for here, there, expected in (
            ("ab", "ab", []),
            ("ab", "axb", ["x"]),
            ("abc", "axyb", ["xy"]),
            ("abc", "axbyc", ["x", "y"]),
            ("acb", "axb", []),  # something else stands there
            ("ba", "axb", []),  # the other way round
            ("ab", "xab", []),  # before all
            ("b", "axb", []),
            ("abx", "axb", []),  # it is here, elsewhere
        ):
            with self.subTest(here, there=there):
                self.assertEqual(found(letters(here), letters(there)), expected)

    def test_what_does_not_count(self) -> None:
        for words, here, there, expected in (
            ("cut there", letters("ab"), letters("axb", x={"cut": True}), []),
            ("one of several there", letters("ab"), letters("axb", x={"alone": False}), []),
            ("it holds something there", letters("ab"), letters("axb", x={"leaf": False}), []),
            ("a neighbour is cut here", letters("ab", b={"cut": True}), letters("axb"), []),
            ("the first is cut here", letters("abc", a={"cut": True}), letters("axbyc"), ["y"]),
            ("what holds others lies between", letters("acb", c={"leaf": False}), letters("axb"), ["x"]),
            ("what scrolls elsewhere lies between", letters("acb", c={"pane": PANE}), letters("axb"), ["x"]),
            (
                "in the same pane",
                [seen(k, n, pane=PANE) for n, k in enumerate("acb")],
                [seen(k, n, pane=PANE) for n, k in enumerate("axb")],
                [],
            ),
            (
                "both of one pane",
                [seen(k, n, pane=PANE) for n, k in enumerate("ab")],
                [seen(k, n, pane=PANE) for n, k in enumerate("axb")],
                ["x"],
            ),
            ("the end of what scrolls", letters("ab", b={"pane": PANE}), letters("axb"), []),
            ("another part of the page", letters("ab", b={"part": 1}), letters("axb"), []),
            ("in another pane there", letters("ab"), letters("axb", x={"pane": PANE}), []),
        ):
            with self.subTest(words):
                self.assertEqual(found(here, there), expected)

    def test_what_was_last_where_there_is_room_for_it(self) -> None:
        a = letters("a")  # ends at 20; what comes behind takes 20 + 24, and 40 stay free
        for words, here, there, bottom, expected in (
            ("room", a, letters("ax"), 104.1, ["x"]),
            ("no room", a, letters("ax"), 104.0, []),
            ("two need more", a, letters("axy"), 148.1, ["xy"]),
            ("no room for two", a, letters("axy"), 148.0, []),
            ("something stands behind", letters("ac"), letters("ax"), 800, []),
            ("what holds others behind", letters("ac", c={"leaf": False}), letters("ax"), 800, ["x"]),
            ("behind in another part", letters("ac", c={"part": 1}), letters("ax"), 800, ["x"]),
            ("it scrolls there", a, letters("ax", x={"pane": PANE}), 800, []),
            ("both scroll", letters("a", a={"pane": PANE}), letters("ax", a={"pane": PANE}, x={"pane": PANE}), 800, []),
            ("the last one is cut here", letters("a", a={"cut": True}), letters("ax"), 800, []),
        ):
            with self.subTest(words):
                self.assertEqual(found(here, there, bottom), expected)

    def test_one_stands_for_all_of_a_gap_that_are_meant(self) -> None:
        x, y, z = letters("xyz", y={"tappable": True})
        told = [(each.key, "".join(sorted(keys))) for each, keys in told_of([[x, y, z], [x], [z]], {"x", "y"})]
        self.assertEqual(told, [("y", "xy"), ("x", "x")])


class Alike(unittest.TestCase):
    def test_how_much_two_pages_have_in_common(self) -> None:
        one, other = page(letters("abcd")), page(letters("cdef"))
        self.assertEqual((like(one, other), within(one, page(letters("ab"))), within(one, other)), (2 / 6, 1.0, 0.5))
        self.assertEqual((like(page(()), page(())), within(page(()), one)), (1.0, 0.0))
        rows = page(letters("abcd", c={"repeated": True}, d={"repeated": True}))
        others = page(letters("abef", e={"repeated": True}, f={"repeated": True}))
        self.assertEqual((like(rows, others), like_pages(rows, others)), (2 / 6, 1.0))
        self.assertEqual(like_pages(page(letters("a", a={"repeated": True})), page(letters("b", b={"repeated": True}))), 0.0)

    def test_what_lies_over_what(self) -> None:
        one = seen("a", 0)  # 184 x 20
        for top, left, over in ((15, 16, True), (16, 16, False), (16.5, 16, False), (0, 172.3, True), (0, 172.5, False), (40, 16, False)):
            other = SeenElement("b", "text", "b", "b", "b", Box(left, top, left + 184, top + 20))
            self.assertIs(lie_over(one, other), over, (top, left))
            self.assertIs(lie_over(other, one), over)
        thin = SeenElement("c", "text", "c", "c", "c", Box(16, 0, 20, 20))
        self.assertFalse(lie_over(one, thin), "4 dp are not enough")

    def test_contrast(self) -> None:
        for ratio, large, weak in ((0.0, False, False), (4.4, False, True), (4.5, False, False), (3.0, True, False), (2.9, True, True)):
            self.assertIs(seen("a", 0, contrast=ratio, large=large).is_weak, weak)
        words = np.full((60, 200, 3), 230, np.uint8)
        words[:20] = 255  # the edge of another plate
        words[30:40, 20:60:4] = 100
        measured, ground = contrast(Picture(words, 2.0))
        self.assertEqual((round(measured, 1), ground), (4.7, "e6e6e6"))
        self.assertEqual([seen("a", 0, plain=plain).template for plain in ("", "row")], ["a", "row"])
        self.assertEqual(page(()).language, "en")


if __name__ == "__main__":
    unittest.main()
