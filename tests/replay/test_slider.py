import unittest

from copione.replay.slider import TRIES, aim, settle


class Sliders(unittest.TestCase):
    def test_a_range_that_begins_anywhere_is_met_in_four_tries(self) -> None:
        for low, high in ((0, 10), (0, 100), (5, 25), (-20, 20), (0, 1000)):
            for wanted in (low, low + (high - low) // 3, high):
                for known in ([], [(0.5, (low + high) / 2)]):

                    def slide(share: float, low: int = low, high: int = high) -> float:
                        return float(round(low + (high - low) * min(1, max(0, (share - 0.03) / 0.94))))

                    read, tries = settle(wanted, known, slide)
                    self.assertLessEqual(tries, TRIES)
                    self.assertLessEqual(abs((read or 0) - wanted), (high - low) / 100, (low, high, wanted, known, read))

    def test_with_nothing_known_it_begins_in_the_middle(self) -> None:
        self.assertEqual(aim(7, []), 0.5)
        self.assertAlmostEqual(aim(6, [(0.3, 3.0)]), 0.6)
        self.assertAlmostEqual(aim(6, [(0.2, 2.0), (0.8, 8.0)]), 0.6)

    def test_a_value_that_cannot_be_read_ends_it(self) -> None:
        self.assertEqual(settle(5, [], lambda share: None), (None, 1))
