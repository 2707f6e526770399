import gc
import unittest
import weakref
from dataclasses import replace

from copione.links.adb.server import AdbServer
from copione.model.geometry import Box
from copione.model.outcome import Evidence
from copione.model.portrait import NotFound, Portrait, Sighting
from copione.model.roles import roles_of
from copione.model.screen import Flag, Screen
from copione.model.target import Target
from copione.recognition.ease import ease
from copione.recognition.evidence import pieces, rarity
from copione.recognition.phrases import Interpreter
from copione.recognition.reach import reach
from copione.recognition.sighting import sight
from copione.recording.checks import likely_checks
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import load_models

from ..benches import LabCase, elements, named

PAGES = ("home", "hives", "hive", "form", "saved")
ROLES = ("button", "switch", "slider", "radio", "textbox", "radiogroup", "listitem")


def changed(screen: Screen, **columns: object) -> Screen:
    """A screen with some columns replaced; caches are not carried over."""
    return replace(screen, **columns)


def look(screen: Screen, portrait: Portrait, name: str | None = None) -> Sighting | NotFound:
    role = portrait.element.role
    return sight(screen, Target("", portrait.element.name if name is None else name), (role,), [portrait])


class AcrossModels(LabCase):
    def test_every_control_is_found_as_itself_or_not_at_all(self) -> None:
        wrong, lost, tried = [], [], 0
        for page in PAGES:
            screens = {name: self.screen(name, page) for name in ("Alder 5", "Wren mini", "Plateau 10")}
            for here in screens.values():
                for element in elements(here, *ROLES):
                    for where, there in screens.items():
                        if not any((e.role, e.name) == (element.role, element.name) for e in there):
                            self.assertIsInstance(look(there, Portrait(here, element.row)), NotFound)
                            continue
                        tried += 1
                        found = look(there, Portrait(here, element.row))
                        if isinstance(found, NotFound):
                            lost.append((page, where, element.role, element.name, found.reason))
                        elif (found.element.role, found.element.name) != (element.role, element.name):
                            wrong.append((page, where, element.name, found.element.name))
        self.assertEqual(wrong, [])
        self.assertLessEqual(len(lost), 0.03 * tried, lost)

    def test_another_row_is_found_by_what_it_says(self) -> None:
        recorded = self.screen("Alder 5", "hives")
        portrait = Portrait(recorded, named(recorded, "listitem", "Hive 3").row)
        found = look(self.screen("Plateau 10", "hives"), portrait, "Hive 12")
        assert isinstance(found, Sighting)
        self.assertEqual(found.element.name, "Hive 12")
        self.assertIsInstance(look(recorded, portrait, "Hive 99"), NotFound)


class Memory(LabCase):
    def test_nothing_that_is_found_out_keeps_a_screen(self) -> None:
        """Whatever was asked about a screen goes with it: answers live as long as the screen they are about."""
        home, there = self.screen("Alder 5", "form"), self.screen("Wren mini", "form")
        for element in list(home):
            sight(there, Target("", ""), (), (Portrait(home, element.row),))
            ease(element)
            likely_checks(element)
            Interpreter({"Notes": "Notizen"}).portrait(Portrait(home, element.row))
        self.assertGreater(len(home.kept) + len(there.kept), 5)
        kept = [weakref.ref(home), weakref.ref(there)]
        del home, there, element
        gc.collect()
        self.assertEqual([ref() for ref in kept], [None, None])


class ByEvidence(LabCase):
    def setUp(self) -> None:
        super().setUp()
        self.form = self.screen("Alder 5", "form")
        self.save = Portrait(self.form, named(self.form, "button", "Save inspection").row)

    def test_a_translated_label_is_found_by_its_id_and_says_so(self) -> None:
        german = {
            "Save inspection": "Durchsicht speichern",
            "Brood frames": "Brutwaben",
            "Notes": "Notizen",
            "Queen seen": "Königin gesehen",
        }

        def say(words: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(german.get(w, w) for w in words)

        there = changed(self.form, texts=say(self.form.texts), names=say(self.form.names))
        found = look(there, self.save)
        assert isinstance(found, Sighting)
        self.assertEqual(found.by[0], Evidence.ID)
        self.assertEqual(found.weaker, "it reads “Durchsicht speichern”")

    def test_without_ids_it_is_found_by_its_words_and_says_so(self) -> None:
        there = changed(self.form, ids=("",) * len(self.form))
        found = look(there, self.save)
        assert isinstance(found, Sighting)
        self.assertEqual(found.by[0], Evidence.TEXT)
        self.assertEqual(found.weaker, "its id is gone")

    def test_neither_id_nor_words_is_not_enough(self) -> None:
        texts = tuple("" if t == "Save inspection" else t for t in self.form.texts)
        names = tuple("" if t == "Save inspection" else t for t in self.form.names)
        there = changed(self.form, ids=("",) * len(self.form), texts=texts, names=names)
        self.assertIsInstance(look(there, self.save), NotFound)

    def test_its_neighbour_is_never_taken_for_it(self) -> None:
        gone = self.save.row
        keep = [i for i in range(len(self.form)) if i != gone]

        def pick(column: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(column[i] for i in keep)

        f = self.form
        there = changed(
            f,
            roles=pick(f.roles),
            names=pick(f.names),
            texts=pick(f.texts),
            labels=pick(f.labels),
            ids=pick(f.ids),
            boxes=f.boxes[keep],
            flags=f.flags[keep],
            parents=f.parents[keep],
        )
        self.assertIsInstance(look(there, self.save), NotFound)

    def test_two_alike_are_told_apart_by_nothing_and_both_named(self) -> None:
        f = self.form
        twin = named(f, "radio", "Calm").row
        rename = lambda column, value: tuple(value if i in (twin, twin + 1) else v for i, v in enumerate(column))  # noqa: E731
        there = changed(f, names=rename(f.names, "Calm"), texts=rename(f.texts, "Calm"), ids=rename(f.ids, "temper"))
        found = sight(there, Target("radio", "Calm"), ("radio",))
        assert isinstance(found, NotFound)
        self.assertTrue(found.ambiguous)
        self.assertIn("2 elements are", found.reason)

    def test_by_hand_role_and_name_are_enough_and_a_container_narrows(self) -> None:
        found = sight(self.form, Target("slider", "brood  FRAMES"), roles_of("slider"))
        assert isinstance(found, Sighting)
        self.assertEqual(found.by, (Evidence.ROLE_AND_NAME,))
        group = named(self.form, "radiogroup", "Temper")
        self.assertIsInstance(sight(self.form, Target("button", "Save inspection"), roles_of("button"), inside=group), NotFound)
        self.assertIsInstance(sight(self.form, Target("radio", "Hot"), roles_of("radio"), inside=group), Sighting)

    def test_a_portrait_lists_its_evidence_strongest_first(self) -> None:
        found = {p.kind: p for p in pieces(self.save)}
        self.assertEqual(list(found)[:2], ["id", "text"])
        self.assertEqual(found["id"].uniqueness, "only one")
        self.assertEqual(found["near"].value, "No photo")
        self.assertEqual(found["place"].uniqueness, "last resort")

    def test_how_easy_it_will_be_to_find_again(self) -> None:
        hives = self.screen("Alder 5", "hives")
        self.assertEqual(ease(named(self.form, "button", "Save inspection")), 3)
        self.assertEqual(ease(next(e for e in hives if e.text == "due")), 2)

    def test_what_everything_shares_identifies_nothing(self) -> None:
        self.assertEqual([rarity(1, 50), rarity(50, 50)], [1.0, 0.0])
        self.assertGreater(rarity(2, 50), rarity(20, 50))


class Reaching(LabCase):
    def test_what_keeps_a_finger_away_is_said(self) -> None:
        form = self.screen("Alder 5", "form")
        save = named(form, "button", "Save inspection")
        x, y = reach(save).point or (0, 0)
        self.assertTrue(save.box.contains(x, y))
        keyboard = changed(form, keyboard=Box(0, save.box.top - 4, form.width, form.height))
        self.assertEqual(reach(keyboard.element(save.row)).reason, "covered by the keyboard")
        below = form.boxes.copy()
        below[save.row] += (0, 900, 0, 900)
        self.assertEqual(reach(changed(form, boxes=below).element(save.row)).reason, "off the screen")
        dead = form.flags.copy()
        dead[save.row] &= ~int(Flag.ENABLED)
        self.assertEqual(reach(changed(form, flags=dead).element(save.row)).reason, "disabled")

    def test_a_dialog_over_it_is_named(self) -> None:
        form = self.screen("Alder 5", "form")
        save, last = named(form, "button", "Save inspection"), len(form) - 1
        boxes, flags, parents = form.boxes.copy(), form.flags.copy(), form.parents.copy()
        names = (*form.names[:last], "Update now")
        if last == save.row:  # the button is the last of the tree: let the first text lie over it instead
            over = named(form, "radio", "Hot").row
            boxes[over], flags[over] = save.box, int(Flag.CLICKABLE | Flag.ENABLED)
            last, names = over, form.names
        there = changed(form, boxes=boxes, flags=flags, parents=parents, names=names)
        self.assertIsNotNone(reach(there.element(save.row)).point)
        order = [i for i in range(len(form)) if i != last] + [last]
        moved = {old: new for new, old in enumerate(order)}
        lifted = changed(
            there,
            roles=tuple(there.roles[i] for i in order),
            names=tuple(there.names[i] for i in order),
            texts=tuple(there.texts[i] for i in order),
            labels=tuple(there.labels[i] for i in order),
            ids=tuple(there.ids[i] for i in order),
            boxes=boxes[order],
            flags=flags[order],
            parents=parents[order] * 0 - 1,
        )
        self.assertIn("covered by radio", reach(lifted.element(moved[save.row])).reason)


class Screens(unittest.TestCase):
    def test_an_unknown_role_word_stands_for_itself(self) -> None:
        self.assertEqual(roles_of("tree"), ("tree",))
        self.assertEqual(roles_of(""), ())


class LookAlikes(LabCase):
    def test_rows_with_the_same_words_are_told_apart_or_not_touched(self) -> None:
        screens = [self.screen(name, "tasks") for name in ("Alder 5", "Wren mini", "Plateau 10")]
        wrong = 0
        for here in screens:
            for number, element in enumerate(e for e in here if e.id == "task_done"):
                for there in screens:
                    seen = sight(there, Target("switch", element.name), ("switch",), [Portrait(here, element.row)])
                    if isinstance(seen, Sighting):
                        wrong += [e.row for e in there if e.id == "task_done"].index(seen.element.row) != number
        self.assertEqual(wrong, 0)


class AcrossBuilds(LabCase):
    """Recorded on build 2.4; build 2.5 renames ids, rewords a label, sorts the list anew, and moves a button into the overflow."""

    def newer(self, place: str) -> Screen:
        old, self.lab = self.lab, LabBench([m for m in load_models() if m.name == "Alder 5"], build="2.5")
        self.addCleanup(setattr, self, "lab", old)
        with LabServer(self.lab) as face:
            server, self.server = self.server, AdbServer(port=face.port)
            found = self.screen("Alder 5", place)
            self.server, self.lab = server, old
        return found

    def test_what_is_still_there_is_found_and_what_is_not_is_not_replaced(self) -> None:
        table = [
            ("home", "button", "Hives", "its id is now nav_hives"),
            ("form", "button", "Save inspection", "its id is now inspection_save"),
            ("hive", "button", "New inspection", "it reads “Begin inspection”"),
            ("hives", "listitem", "Hive 7", "its id is now row_hive"),
            ("home", "button", "About", None),
        ]
        for place, role, name, weaker in table:
            with self.subTest(name):
                recorded = self.screen("Alder 5", place)
                seen = look(self.newer(place), Portrait(recorded, named(recorded, role, name).row))
                if weaker is None:
                    self.assertIsInstance(seen, NotFound)
                else:
                    assert isinstance(seen, Sighting), seen
                    self.assertEqual(seen.weaker, weaker)
