"""Whatever way a target is found by: nothing is taken that was recorded beside it as something else."""

import random
import unittest
from dataclasses import replace

from benchmarks.heights import KINDS, wrong

from copione.model.geometry import Box
from copione.model.outcome import Cause, Evidence
from copione.model.portrait import NotFound, Portrait, Sighting
from copione.model.roles import roles_of
from copione.model.screen import Element, Flag, Screen, bare
from copione.model.target import Target
from copione.recognition.evidence import stable_ids
from copione.recognition.gate import known_as, passed
from copione.recognition.sighting import sight
from copione_lab.model import load_models


def page(*spots: tuple[str, str, str], clickable: bool = True) -> Screen:
    """Elements of a role, a name and an id, one under the other."""
    screen = bare(400, 800, spots=tuple((Box(20, 40 * n, 380, 40 * n + 30), role, name) for n, (role, name, _) in enumerate(spots, 1)))
    flags = screen.flags.copy()
    flags[1:] |= int(Flag.CLICKABLE) * clickable
    return replace(screen, flags=flags, ids=("", *(id for _, _, id in spots)))


def element(screen: Screen, row: int) -> Element:
    return screen.element(row)


HOME = page(("combobox", "Temper", "temper"), ("button", "Save", "save"), ("text", "Calm", ""), ("button", "Cancel", ""))


class Gate(unittest.TestCase):
    def test_what_is_known_as_something_else(self) -> None:
        for role, name, id, other in (
            ("combobox", "Temper", "temper", None),
            ("button", "Nervous", "temper", None),  # its id says that it is the one
            ("button", "Temper", "", None),  # built otherwise, called the same
            ("button", "Nervous", "", None),  # never seen before
            ("button", "Save", "save", "Save"),
            ("button", "Store it", "save", "Save"),  # by its id
            ("button", "SAVE", "", "Save"),
            ("text", "Save", "", "Save"),  # built otherwise
            ("combobox", "Save", "", "Save"),  # takes touches as that does
            ("button", "Cancel", "cancel", "Cancel"),  # it had no id then
            ("button", "", "", None),
        ):
            with self.subTest(role, name=name, id=id):
                found = known_as(element(page((role, name, id)), 1), element(HOME, 1))
                self.assertEqual(found.name if found is not None else None, other)
        still = page(("slider", "Save", ""), clickable=False)
        self.assertIsNone(known_as(element(still, 1), element(HOME, 1)), "another kind of thing that is called so")

    def test_what_the_script_fills_in_is_meant_though_it_was_recorded_as_another(self) -> None:
        rows = page(("listitem", "Hive 7", ""), ("listitem", "Hive 9", ""))
        there = Sighting(element(page(("listitem", "Hive 9", "")), 1), (Evidence.NAME,), 1.0, 1.0)
        known = (Portrait(rows, 1),)
        self.assertIs(passed(there, known, "Hive 9"), there)
        refused = passed(there, known, "Hive 7")
        assert isinstance(refused, NotFound)
        self.assertEqual((refused.why.cause, refused.second, refused.score), (Cause.NOT_HERE, there.element, 1.0))
        self.assertIn("“Hive 9” stands where it could be, and was recorded as something else", refused.reason)

    def test_of_the_same_name_the_role_decides(self) -> None:
        both = page(("heading", "Hives", ""), ("button", "Hives", ""))
        only = page(("button", "Hives", ""))
        target = Target("text", "Hives")
        self.assertIsInstance(sight(only, target, roles_of("text"), (Portrait(both, 1),)), NotFound)

    def test_in_windows_of_any_height(self) -> None:
        seed = random.SystemRandom().randrange(10**6)
        model = next(model for model in load_models() if model.name == "Alder 5")
        for kind in KINDS:
            with self.subTest(kind, seed=seed):
                counts, told = wrong("form", kind, model, 60, random.Random(seed))
                self.assertEqual(dict(told), {})
                self.assertGreater(counts["right"], counts["not found"])


if __name__ == "__main__":
    unittest.main()


class Alike(unittest.TestCase):
    def test_a_name_that_is_nearly_that_of_its_neighbour_is_told_from_it_by_being_that_name(self) -> None:
        home = page(("tab", "Load", ""), ("tab", "Loads", ""))
        other = page(("tab", "Loads", ""), ("tab", "Load", ""), ("tab", "More", ""))  # each stands where the other one was recorded
        for row, name in ((1, "Load"), (2, "Loads")):
            found = sight(other, Target("tab", name), ("tab",), [Portrait(home, row)])
            self.assertEqual(found.element.name if isinstance(found, Sighting) else found.reason, name)

    def test_on_a_page_two_ids_that_differ_in_figures_are_counted(self) -> None:
        for app, lasting in (("http://127.0.0.1", ("", "")), ("org.example.app", ("ionsel0", "ionsel1"))):
            screen = replace(page(("button", "Glaze", "ion-sel-0"), ("button", "Clay", "ion-sel-1")), app=app)
            self.assertEqual(stable_ids(screen)[1:], lasting)
