"""What tells an element apart among others that say the same, on trees of every kind."""

import random
import unittest
from collections import Counter
from dataclasses import replace

from benchmarks.apps import CHANGES, Page, Part, walk
from benchmarks.sightings import OTHERWISE, counts, read
from benchmarks.trees import KINDS

from copione.model.outcome import Cause
from copione.model.portrait import NotFound, Portrait, Sighting
from copione.model.roles import roles_of
from copione.model.screen import Element, Flag, Screen
from copione.model.target import Target
from copione.recognition.sighting import sight
from copione.recording.targets import target_of
from copione.screens.android import read_android

CHANCE = random.Random(1)
HIVES = (("Hive 7", "due", "Queen of May"), ("Hive 12", "due", "Swarmed twice"), ("Heath", "seen", "Two supers on"))


def row(number: int, title: str, state: str, more: str, button: str = "Check") -> Part:
    at = number * 10
    said = (Part(at + 2, "title", title, "title"), Part(at + 3, "subtitle", state, "state"), Part(at + 4, "meta", more, "more"))
    return Part(at, "row", "", "row", (Part(at + 1, "thumb", "", "picture"), *said, Part(at + 5, "action", button, "check")))


def page(*rows: Part, width: int = 412) -> Page:
    return Page((Part(1, "heading", "Hives"), Part(2, "list", "", "list", rows)), width=width)


ROWS = [row(number, *said) for number, said in enumerate(HIVES, 1)]
HOME = page(*ROWS)


def look(there: Page, uid: int, kind: str = "nested") -> tuple[Sighting | NotFound, int]:
    """What the part of the home page leads to on another one, and the row that it is there."""
    home, at = read(HOME, kind, CHANCE)
    screen, places = read(there, kind, CHANCE)
    return sight(screen, Target("", ""), (), (Portrait(home, at[uid]),)), places.get(uid, -1)


class Rows(unittest.TestCase):
    def test_nothing_wrong_is_found_on_pages_nobody_has_seen(self) -> None:
        seed = random.randrange(2**32)
        chance, whole = random.Random(seed), Counter[str]()
        for kind in KINDS:
            for change in (*CHANGES, OTHERWISE):
                count = counts(chance, kind, change, 40)
                self.assertFalse(count["wrong"], (seed, kind, change))
                self.assertFalse(change == "the same page" and count["missed"], (seed, kind))
                whole += count
        self.assertGreaterEqual(whole["found"], 0.95 * (whole["found"] + whole["missed"]), seed)

    def test_a_row_in_a_flat_tree_is_what_stands_on_its_line_though_the_edges_cut_off_others(self) -> None:
        """The first row's words are cut off, and the last one's button: the button over the last row's words is not its own."""
        first, *middle = (row(number, *said) for number, said in enumerate((*HIVES, ("Marsh", "seen", "Late swarm")), 1))
        cut = [replace(first, children=first.children[-1:]), *middle[:-1], replace(middle[-1], children=middle[-1].children[:-1])]
        home, at = read(page(first, *middle), "nested", CHANCE)
        screen, _ = read(page(*cut), "flat", CHANCE)
        seen = sight(screen, Target("", ""), (), (Portrait(home, at[45]),))
        self.assertIsInstance(seen, NotFound)

    def test_the_only_one_left_of_several_is_no_row_of_all_that_its_list_holds(self) -> None:
        left = [replace(r, children=tuple(p for p in r.children if p.kind != "action" or r.uid == 30)) for r in ROWS]
        home, at = read(HOME, "nested", CHANCE)
        screen, _ = read(page(*left), "flat", CHANCE)
        self.assertIsInstance(sight(screen, Target("", ""), (), (Portrait(home, at[15]),)), NotFound)

    def test_the_only_one_of_its_kind_is_not_told_by_what_another_row_says(self) -> None:
        """A list of one row, whose button has no name: now another row has the only such button."""

        def with_more(number: int, *said: str) -> Part:
            whole = row(number, *said)
            return replace(whole, children=(*whole.children[1:-1], Part(number * 10 + 6, "more", "", "more")))

        own = with_more(1, "Candle poppy", "Birch", "Thistle 59")
        other = with_more(2, "Linen flint", "seen", "Late swarm")
        reworded = replace(own, children=(replace(own.children[0], words="Reed walnut"), *own.children[1:-1]))
        for kind in KINDS:
            home, at = read(page(own), kind, CHANCE)
            for rows, there_too in (((other, reworded), False), ((other, own), True), ((own,), True)):
                with self.subTest(kind, rows=len(rows), there=there_too):
                    screen, places = read(page(*rows), kind, CHANCE)
                    found = sight(screen, Target("", ""), (), (Portrait(home, at[16]),))
                    row_of = found.element.row if isinstance(found, Sighting) else -1
                    self.assertEqual(row_of, places[16] if there_too else -1)

    def test_a_row_tells_which_of_its_like_is_meant(self) -> None:
        reworded = [
            replace(r, children=tuple(replace(p, words="gone" if p.kind == "subtitle" else p.words) for p in r.children)) for r in ROWS
        ]
        pages = {
            "in another order": page(ROWS[2], ROWS[0], ROWS[1]),
            "others came": page(row(7, "Orchard", "due", "New"), *ROWS),
            "one text of three is another": page(*reversed(reworded)),
            "in one line": page(*reversed(ROWS), width=800),
        }
        for said, there in pages.items():
            for kind in KINDS:
                _, at = read(HOME, kind, CHANCE)
                for part in walk(tuple(ROWS)):
                    if part.uid in at and part.kind in {"row", "thumb", "action", "title"}:
                        found, right = look(there, part.uid, kind)
                        self.assertTrue(isinstance(found, Sighting) and found.element.row == right, (said, kind, part, found))

    def test_of_a_row_and_its_copy_neither_is_taken(self) -> None:
        copy = row(8, *HIVES[0])
        for kind in KINDS:
            for rows in ((copy, *ROWS), (*reversed(ROWS), copy)):
                found, _ = look(page(*rows), 15, kind)
                assert isinstance(found, NotFound), kind
                self.assertTrue(found.ambiguous, (kind, found.reason))
                self.assertIn("could be it", found.reason)

    def test_a_row_that_is_gone_is_said_to_be_gone(self) -> None:
        for rows in (ROWS[1:], ROWS[2:]):
            found, _ = look(page(*rows), 15)
            assert isinstance(found, NotFound)
            self.assertEqual(
                (found.why.cause, found.reason), (Cause.NOT_HERE, "it is not on this screen: nothing like it is beside “Hive 7”")
            )

    def test_the_script_says_in_which_row(self) -> None:
        screen, at = read(HOME, "nested", CHANCE)
        said = {11: 'image in item "Hive 7"', 15: 'button "Check" in item "Hive 7"', 10: 'item "Hive 7"', 12: 'text "Hive 7"'}
        for uid, words in said.items():
            target = target_of(screen.element(at[uid]))
            self.assertEqual(target.words(), words)
            holder = screen.element(at[10]) if target.inside else None
            for portraits in ((), (Portrait(screen, at[uid]),)):
                there, places = read(page(*reversed(ROWS)), "nested", CHANCE)
                found = sight(there, target, roles_of(target.role), portraits, holder and there.element(places[10]))
                self.assertTrue(isinstance(found, Sighting) and found.element.row == places[uid], (words, found))
        copied, at = read(page(*ROWS, row(8, *HIVES[0])), "nested", CHANCE)
        self.assertIsNone(target_of(copied.element(at[15])).inside)  # there are two of that name


def dump(*nodes: str) -> Screen:
    whole = "".join(f'<node {node} bounds="[0,{top}][400,{top + 60}]"/>' for top, node in zip(range(100, 2000, 70), nodes, strict=False))
    text = f'<hierarchy><node class="android.view.View" bounds="[0,0][412,892]">{whole}</node></hierarchy>'
    return read_android(text.encode(), 412, 892, 160)


class Roles(unittest.TestCase):
    def test_what_no_class_tells_its_behaviour_shows(self) -> None:
        cases = {
            'class="a.Knob" text="Alarm" checkable="true" clickable="true"': "checkbox",
            'class="a.Thing" content-desc="Send" clickable="true"': "button",
            'class="a.Thing" content-desc="Send"': "text",
            'class="a.Pane" scrollable="true"': "region",
        }
        for node, role in cases.items():
            element: Element = dump(node).element(1)
            self.assertEqual((element.role, element.has(Flag.GUESSED)), (role, role != "generic"), node)
