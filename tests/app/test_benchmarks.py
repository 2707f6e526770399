"""A small round of the benchmarks that need a window; how fast they are is not judged."""

import unittest

from ..test_benchmarks import Round

TIMED = (
    Round("editing", "it.LINES, it.MANY, it.KEYS = 600, 800, 5"),
    Round("memory", "it.MOMENTS, it.WARM_UP, it.REPLAYS, it.FIRST = 40, 10, 2, 1"),
    Round("scale", "it.made_up.DEVICES, it.made_up.STEPS, it.FINDINGS = 8, 60, 60"),
)


class SmallRounds(unittest.TestCase):
    def test_each_runs(self) -> None:
        for each in TIMED:
            with self.subTest(each.name):
                code, said = each.ended()
                self.assertIn(code, (0, 1), said)
                self.assertNotIn("Traceback", said)
