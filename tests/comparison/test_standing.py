"""What is expected, what is new since an earlier run, what is gone; and the evidence as dots."""

import unittest
from dataclasses import replace
from datetime import date

from copione.comparison.evidence import Dot, Dots, dots_of
from copione.comparison.findings import findings
from copione.comparison.lanes import Lanes, lay
from copione.comparison.standing import Scope, allowance_for, assess
from copione.model.outcome import Outcome

from .test_findings import ALDER, MOTH, PLATEAU, WREN, lane, result

TODAY = date(2026, 11, 26)


def run(*stuck: str, step: str = 'tap button "Save"') -> Lanes:
    lanes = []
    for device in (ALDER, WREN, PLATEAU, MOTH):
        bad = device.name in stuck
        lanes.append(lane(device, result(1, Outcome.STUCK if bad else Outcome.HELD, "covered by the keyboard" if bad else "", step)))
    return lay(lanes, "Alder 5")


class Standings(unittest.TestCase):
    def test_expected_only_where_every_device_is_allowed_and_as_long_as_it_lasts(self) -> None:
        lanes = run("Wren mini", "Moth 2")
        (finding,) = findings(lanes)
        whole = allowance_for(finding, "Spring", "Ada", "2026-11-01", "no room")
        table = [
            (whole, "no room, Ada, 2026-11-01"),
            (replace(whole, script="Autumn"), ""),
            (replace(whole, scope=Scope(devices=("Wren mini",))), ""),
            (replace(whole, scope=Scope(width_to=360.0)), "no room, Ada, 2026-11-01"),
            (replace(whole, scope=Scope(platform="ios")), ""),
            (replace(whole, until="2026-11-25"), ""),
            (replace(whole, until="2026-11-26"), "no room, Ada, 2026-11-01"),
            (replace(whole, what="something else"), ""),
        ]
        for allowance, words in table:
            with self.subTest(allowance):
                known = assess((finding,), lanes, "Spring", [allowance], TODAY)
                self.assertEqual(known.standing[0].expected, words)
        self.assertEqual(len(known.stale), 1, "an allowance that nothing matches is told")

    def test_new_and_gone_since_an_earlier_run(self) -> None:
        before, now = run("Wren mini"), run("Moth 2")
        known = assess(findings(now), now, "Spring", (), TODAY, (findings(before), before), "yesterday")
        self.assertEqual([(each.finding.devices, each.new) for each in known.standing], [(("Moth 2",), True)])
        self.assertEqual([f.devices for f in known.gone], [("Wren mini",)])
        same = assess(findings(now), now, "Spring", (), TODAY, (findings(now), now))
        self.assertEqual(([each.new for each in same.standing], same.gone), ([False], ()))

    def test_the_evidence_is_where_the_values_lie_with_the_gap_between_them(self) -> None:
        (finding,) = findings(run("Wren mini", "Moth 2"))
        width = next(line for line in dots_of(finding) if line.title == "Width")
        self.assertEqual(
            [(dot.words, dot.failing, dot.place) for dot in width.dots][:2], [("320 dp", True, 0.0), ("360 dp", True, 40 / 480)]
        )
        self.assertEqual(width.gap, (40 / 480, 92 / 480))
        self.assertEqual((width.said(True), width.said(False)), ("320 dp to 360 dp", "412 dp to 800 dp"))
        released = [("Android 9", "android", "9"), ("Android 12", "android", "12"), ("iOS 17", "ios", "17")]
        line = Dots("Release", tuple(Dot(n / 2, words, 1, False, *of) for n, (words, *of) in enumerate(released)))
        self.assertEqual(line.said(False), "Android 9, 12, iOS 17")


if __name__ == "__main__":
    unittest.main()
