"""What an app costs its device: told, kept, and remarked on where it is more than it should be."""

import unittest
from dataclasses import replace

from copione.comparison.costs import Stretch, TakeCosts, cost_remarks, summed
from copione.links.adb.costs import read
from copione.model import remark_kinds as kinds
from copione.model.address import Address
from copione.model.cost import Cost
from copione.model.take import TakeName
from copione.project.archive import read_run

from ..replay.test_take import RunCase
from .test_findings import ALDER

SAID = """4000 (le.hive (diary)) S 612 612 0 0 -1 1077952832 41 0 0 0 375 125 0 0 10 -10 31 0
           TOTAL PSS:   84,312            TOTAL RSS:   170586
Total frames rendered: 400
Janky frames: 12 (3.00%)
    lo:    1200      12    0    0    0     0          0         0     1200      12    0
 wlan0:    9000      10    0    0    0     0          0         0      700       1    0
rmnet0:     500       1    0    0    0     0          0         0       50       1    0
  level: 84
  temperature: 291
"""


def take(name: str, memory_mb: float, width: int = 1080) -> TakeCosts:
    device = replace(ALDER, name=name, width_px=width, height_px=2 * width)
    return TakeCosts(TakeName(name), device, [Cost(float(n), memory_kb=round(1000 * memory_mb)) for n in range(5)])


def loop(memory_mb: list[float], name: str = "Alder 5") -> TakeCosts:
    """A turn a second, one look in each."""
    steps = [Stretch(Address.of(4).then(5, n).then(6), float(n), n + 0.9) for n in range(1, len(memory_mb) + 1)]
    return TakeCosts(TakeName(name), ALDER, [Cost(n + 0.5, memory_kb=round(1000 * m)) for n, m in enumerate(memory_mb, 1)], steps)


class Costs(unittest.TestCase):
    def test_what_a_phone_tells(self) -> None:
        table = (
            (SAID, Cost(7.0, 84312, 5.0, 400, 12, 9500, 750, 84, 29.1)),
            ("   TOTAL    60000    2000\n", Cost(7.0, 60000)),
            ("No process found for: org.example\ncat: /proc/1/stat: No such file\n", Cost(7.0)),
            ("TOTAL PSS: ,\nTotal frames rendered: many\n  temperature: hot\n", Cost(7.0)),
        )
        for said, cost in table:
            self.assertEqual(read(said, 7.0), cost)

    def test_a_take_is_summed_up_across_starts_of_the_app(self) -> None:
        costs = [Cost(0.0, 100, 1.0, 100, 1, 0, 0, 90, 29.0), Cost(10.0, 300, 3.0, 200, 3, 500, 70, 90, 29.5)]
        costs += [Cost(20.0, 200, 1.0, 100, 8, 900, 80, 90, 30.0)]  # started anew: what is counted begins at nought
        found = summed(costs)
        self.assertEqual((found.memory_kb, found.peak_kb, found.received, found.sent, found.warmer), (200, 300, 900, 80, 1.0))
        self.assertAlmostEqual(found.processor, 3.0 / 20)
        self.assertAlmostEqual(found.late, (2 + 8) / (100 + 100))
        self.assertEqual(summed([]), summed([Cost(1.0)]))

    def test_heavier_is_beside_what_a_screen_of_that_size_needs(self) -> None:
        usual = [take(f"Phone {n}", 60 + 0.00003 * w * 2 * w, w) for n, w in enumerate((480, 720, 1080, 1440, 1600, 1080))]
        self.assertEqual(cost_remarks(usual), [])
        [found] = cost_remarks([*usual, take("Much", 290)])
        self.assertEqual((found.kind, found.take.device, len(found.fine)), (kinds.HEAVIER, "Much", 6))
        self.assertIn("290 MB", found.here)
        for silent in (
            [*usual, take("Little", 150)],  # more, but not by enough
            [*usual[:3], take("Much", 290)],  # too few to know
            [*usual[:4], *(take(f"Much {n}", 290) for n in range(4))],  # which are usual?
        ):
            self.assertEqual(cost_remarks(silent), [])

    def test_what_grows_from_turn_to_turn_without_end(self) -> None:
        [found] = cost_remarks([loop([100 + 8 * n for n in range(12)]), loop([100.0] * 12, "Wren mini")])
        self.assertEqual((found.kind, found.take.device, str(found.address)), (kinds.GROWS, "Alder 5", "4/5"))
        self.assertEqual([take.device for take in found.fine], ["Wren mini"])
        for memory in (
            [100 + min(60, 12 * n) for n in range(14)],  # caches fill up
            [100, *[160 + n % 3 for n in range(12)]],  # the first turn needs it
            [100 + 8 * n for n in range(5)],  # too few turns
            [100 + (30 if n % 2 else 0) for n in range(14)],  # up and down
            [100 + 0.9 * n for n in range(14)],  # little
        ):
            self.assertEqual(cost_remarks([loop([float(m) for m in memory])]), [], memory)


class Beside(RunCase):
    def test_it_is_asked_beside_a_take_and_kept_with_it(self) -> None:
        self.script("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"')
        heard = self.run_on("Alder 5", "Plateau 10")
        self.assertFalse(heard.remarks)
        for record in read_run(self.run_made.folder).takes:
            self.assertTrue(record.costs)
            self.assertEqual(record.costs, self.run_made.costs(record.name))
            self.assertTrue(all(50_000 < cost.memory_kb < 400_000 for cost in record.costs if cost.memory_kb is not None))
