import unittest

import numpy as np

from copione.model.drawn import Pill, Plate, Shapes, SliderTrack, Words
from copione.model.geometry import Box
from copione.model.screen import Flag, Screen, bare
from copione.screens.drawn import read_drawn, tells_nothing

PALE, DARK = (250.0, 250.0, 250.0), (47.0, 75.0, 138.0)
PAGE = bare(400, 800)


def words(*said: tuple[str, float, float]) -> list[Words]:
    """Lines of text by what they say, left and top."""
    return [Words(text, Box(left, top, left + 8 * len(text), top + 18)) for text, left, top in said]


def told(screen: Screen) -> list[tuple[str, str, str, bool]]:
    """Role, name, text and whether it is on, of all but what holds the page."""
    return [(e.role, e.name, e.text, e.has(Flag.CHECKED)) for e in screen if e.row and e.role != "region"]


def row(top: float, name: str) -> tuple[Plate, list[Words]]:
    return Plate(Box(12, top, 388, top + 60), PALE), words((name, 70, top + 8), (f"About {name}", 70, top + 32))


class Drawn(unittest.TestCase):
    def test_roles_by_how_things_look(self) -> None:
        field, choice = Plate(Box(16, 120, 384, 168), PALE), Plate(Box(16, 220, 384, 268), PALE, right_mark=True)
        button = Plate(Box(16, 700, 384, 748), DARK)
        shapes = Shapes((field, choice, button), (Pill(Box(332, 300, 384, 332), True),), (SliderTrack(Box(28, 390, 372, 410), 0.5),))
        said = words(("Load", 14, 96), ("Bowls", 26, 135), ("Glaze", 14, 196), ("Ash", 26, 235), ("▼", 360, 235), ("Kiln on", 14, 306))
        screen = read_drawn(PAGE, shapes, [*said, *words(("Peak", 14, 366), ("●", 195, 391), ("Save", 184, 714))])
        for wanted in (
            ("textbox", "Load", "Bowls", False),
            ("combobox", "Glaze", "Ash", False),
            ("switch", "Kiln on", "", True),
            ("slider", "Peak", "", False),
            ("button", "Save", "Save", False),
        ):
            self.assertIn(wanted, told(screen))
        self.assertEqual({e.text for e in screen} & {"▼", "●"}, set())
        self.assertTrue(screen.read and all(e.has(Flag.GUESSED) for e in screen))

    def test_the_odd_one_of_three_is_chosen_and_two_buttons_are_no_choice(self) -> None:
        plates = [
            Plate(Box(left, top, left + 90, top + 48), fill) for left, top, fill in ((16, 300, PALE), (112, 300, DARK), (16, 356, PALE))
        ]
        said = words(("One", 40, 315), ("Two", 140, 315), ("Three", 40, 371))
        radios = [each for each in told(read_drawn(PAGE, Shapes(tuple(plates)), said)) if each[0] == "radio"]
        self.assertEqual(radios, [("radio", "One", "One", False), ("radio", "Two", "Two", True), ("radio", "Three", "Three", False)])
        two = told(read_drawn(PAGE, Shapes(tuple(plates[:2])), said[:2]))
        self.assertEqual([each[0] for each in two], ["button", "button"])

    def test_plates_alike_are_a_list_and_what_is_cut_off_at_its_end_is_a_part_of_it(self) -> None:
        rows = [row(100 + 70 * n, name) for n, name in enumerate(("Ash", "Fir", "Oak"))]
        said = [w for _, inner in rows for w in inner] + words(("Elm", 70, 318), ("Home", 40, 760))
        screen = read_drawn(PAGE, Shapes(tuple(plate for plate, _ in rows)), said)
        (held,) = [e for e in screen if e.role == "list"]
        self.assertTrue(held.has(Flag.SCROLLABLE))
        self.assertEqual([(e.role, e.name) for e in held.children], [*(("listitem", n) for n in ("Ash", "Fir", "Oak")), ("text", "Elm")])

    def test_where_words_run_leftwards_a_switch_is_on_with_its_knob_at_the_left(self) -> None:
        screen = read_drawn(PAGE, Shapes(pills=(Pill(Box(16, 300, 68, 332), False),)), words(("מצב לילה", 300, 306)))
        self.assertIn(("switch", "מצב לילה", "", True), told(screen))

    def test_only_a_tree_that_says_nothing_is_read_from_its_picture(self) -> None:
        self.assertTrue(tells_nothing(bare(400, 800)))
        self.assertFalse(tells_nothing(None))
        touched = bare(400, 800, spots=((Box(0, 0, 9, 9), "generic", ""),))
        touched.flags[1] |= np.int32(Flag.CLICKABLE)
        self.assertFalse(tells_nothing(touched))
        self.assertFalse(tells_nothing(bare(400, 800, spots=((Box(0, 0, 9, 9), "generic", ""),) * 4)))
