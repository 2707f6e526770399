import unittest

from copione.model.outcome import Outcome

from ..benches import SERIALS
from .test_take import RunCase


class SeveralFingers(RunCase):
    def test_they_come_down_together_and_stay_on_the_target(self) -> None:
        phone, seen = self.lab.phones[SERIALS["Alder 5"]], {}
        pointer = phone.pointer

        def told(action: str, finger: int, x: float, y: float, at: float) -> None:
            seen.setdefault(finger, []).append((action, x / phone.model.density))
            pointer(action, finger, x, y, at)

        phone.pointer = told
        results = self.one("launch afresh", 'tap button "Apiary map"', 'drag canvas "Apiary map" by 0.1 0 using 3 fingers')
        self.assertEqual(results[-1].outcome, Outcome.HELD)
        fingers = [[x for _, x in seen[finger]] for finger in sorted(seen)]
        self.assertEqual(len(fingers), 3)
        box = results[-1].box
        self.assertTrue(all(box.left <= x <= box.right for finger in fingers[1:] for x in finger))
        self.assertTrue(all(finger[-1] - finger[0] > box.width / 15 for finger in fingers[1:]))

    def test_what_is_too_small_for_them_is_not_touched(self) -> None:
        results = self.one("launch afresh", 'tap button "Hives"', 'tap button "Search" using 9 fingers')
        self.assertEqual(results[-1].outcome, Outcome.STUCK)
        self.assertIn("too small for 9 fingers", results[-1].reason)


if __name__ == "__main__":
    unittest.main()
