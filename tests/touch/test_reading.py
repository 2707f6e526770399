import random
import unittest

from copione.model.gesture import Contact
from copione.touch.making import drag, hold, swipe, tap
from copione.touch.reading import HOLD_S, SLOP, read_contacts


def jittered(contact: Contact, chance: random.Random, dp: float) -> Contact:
    """The same contact from a shaking hand, with samples dropped."""
    path = [(t, x + chance.gauss(0, dp), y + chance.gauss(0, dp)) for t, x, y in contact.path]
    kept = [p for i, p in enumerate(path) if i in (0, len(path) - 1) or chance.random() > 0.2]
    return Contact(contact.finger, tuple(kept), contact.lift)


class OneFinger(unittest.TestCase):
    def test_a_shaking_hand_means_what_it_means(self) -> None:
        chance = random.Random(11)
        wrong = 0
        for _ in range(900):
            kind = chance.choice(["tap", "hold", "swipe"])
            x, y = chance.uniform(40, 370), chance.uniform(40, 850)
            if kind == "tap":
                made = Contact(0, tuple((i * 0.016, x, y) for i in range(chance.randrange(1, 12))), chance.uniform(0.03, 0.3))
            elif kind == "hold":
                made = Contact(0, tuple((i * 0.05, x, y) for i in range(15)), chance.uniform(0.6, 1.5))
            else:
                made = swipe(
                    x, y, x + chance.choice([-1, 1]) * chance.uniform(30, 200), y + chance.uniform(-20, 20), chance.uniform(0.08, 0.8)
                )
            wrong += read_contacts([jittered(made, chance, 1.5)]).kind != kind
        self.assertEqual(wrong, 0)

    def test_what_is_made_is_read_as_it_was_meant(self) -> None:
        table = {"tap": tap(5, 5), "hold": hold(5, 5), "swipe": swipe(10, 300, 10, 100)}
        for kind, contact in table.items():
            self.assertEqual(read_contacts([contact]).kind, kind)
        self.assertEqual(read_contacts([drag(200, 700, 200, 300)]).direction, "up")

    def test_directions(self) -> None:
        for direction, (dx, dy) in {"left": (-90, 10), "right": (90, -10), "up": (5, -90), "down": (5, 90)}.items():
            self.assertEqual(read_contacts([swipe(200, 200, 200 + dx, 200 + dy)]).direction, direction)

    def test_near_the_line_it_is_unsure_and_names_the_other_reading(self) -> None:
        unsure = read_contacts([Contact(0, ((0, 10, 10), (0.1, 10 + SLOP * 1.05, 10)), 0.1)])
        sure = read_contacts([swipe(10, 10, 300, 10)])
        self.assertEqual((unsure.kind, unsure.second), ("swipe", "tap"))
        self.assertLess(unsure.confidence, 0.6)
        self.assertGreater(sure.confidence, 0.9)
        self.assertEqual(read_contacts([Contact(0, ((0, 10, 10),), HOLD_S * 0.97)]).second, "hold")

    def test_out_and_back_is_a_swipe_and_one_jump_of_the_panel_is_not(self) -> None:
        out = [(i * 0.02, 100 + 80 * (1 - abs(i - 10) / 10), 100.0) for i in range(21)]
        jump = [(i * 0.02, 160.0 if i == 4 else 100.0, 100.0) for i in range(10)]
        self.assertEqual(read_contacts([Contact(0, tuple(out), 0.42)]).kind, "swipe")
        self.assertEqual(read_contacts([Contact(0, tuple(jump), 0.2)]).kind, "tap")

    def test_several_fingers_have_no_reading_yet(self) -> None:
        with self.assertRaises(ValueError):
            read_contacts([tap(1, 1), tap(9, 9)])
