import unittest

from .fuzz import TARGETS, fuzz

ROUNDS = {"script": 150, "touch": 300, "adb": 25, "webdriver": 40, "trees": 60, "project": 40, "files": 60}


class Fuzzed(unittest.TestCase):
    """A little of `python -m tests.fuzz`, always the same inputs."""

    def test_whatever_comes_from_outside_ends_in_a_value_or_a_sentence(self) -> None:
        self.assertEqual(set(ROUNDS), set(TARGETS))
        for name, rounds in ROUNDS.items():
            with self.subTest(name):
                count, bad = fuzz(name, 7, lambda number, rounds=rounds: number < rounds)
                self.assertEqual((count, bad), (rounds, []))


if __name__ == "__main__":
    unittest.main()
