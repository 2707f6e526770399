"""What is expected, what is new since an earlier run, what is gone; and the evidence as dots."""

import unittest
from dataclasses import replace
from datetime import date

from copione.comparison.apart import Discriminator, Rule, Test
from copione.comparison.evidence import Dot, Dots, dots_of
from copione.comparison.findings import findings
from copione.comparison.lanes import Lanes, lay
from copione.comparison.standing import Allowance, DeviceScope, allowance_for, assess
from copione.comparison.traits import TraitSubject
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
            (replace(whole, scope=DeviceScope(devices=("Wren mini",))), ""),
            (replace(whole, scope=DeviceScope(width_to=360.0)), "no room, Ada, 2026-11-01"),
            (replace(whole, scope=DeviceScope(platform="ios")), ""),
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
        self.assertEqual([(dot.many, dot.failing) for dot in width.dots], [(1, True), (1, True), (1, False), (1, False)])
        released = [("Android 9", "android", "9"), ("Android 12", "android", "12"), ("iOS 17", "ios", "17")]
        line = Dots("Release", tuple(Dot(n / 2, words, 1, False, *of) for n, (words, *of) in enumerate(released)))
        self.assertEqual(line.said(False), "Android 9, 12, iOS 17")

    def test_dots_of_every_scale(self) -> None:
        def side(trait: str, *values: object) -> tuple[TraitSubject, ...]:
            return tuple(TraitSubject(f"{value}", {trait: value} if value is not None else {}) for value in values)

        (finding,) = findings(run("Wren mini", "Moth 2"))
        nine, ten = ("android", (9,)), ("android", (10, 1))
        for trait, bad, good, places, gap, said in (
            ("width", (300.0,), (400.0, 500.0), [0.0, 0.5, 1.0], (0.0, 0.5), ("300 dp", "400 dp to 500 dp")),
            ("width", (500.0,), (300.0, 400.0), [0.0, 0.5, 1.0], (0.5, 1.0), ("500 dp", "300 dp to 400 dp")),
            ("width", (300.0, 500.0), (400.0,), [0.0, 0.5, 1.0], None, ("300 dp, 500 dp", "400 dp")),
            ("width", (300.0,), (300.0, 500.0), [0.0, 0.0, 1.0], None, ("300 dp", "300 dp, 500 dp")),
            ("width", (500.0,), (300.0, 500.0), [0.0, 1.0, 1.0], None, ("500 dp", "300 dp, 500 dp")),
            ("width", (300.0,), (None,), [0.5], None, ("300 dp", "")),
            ("width", (), (300.0,), [0.5], None, ("", "300 dp")),
            ("release", (nine,), (ten, ("ios", (17,))), [1 / 6, 3 / 6, 5 / 6], (1 / 6, 3 / 6), ("Android 9", "Android 10.1 to iOS 17")),
            ("language", ("he",), ("en", "de"), [1 / 6, 3 / 6, 5 / 6], None, ("he", "de, en")),
        ):
            with self.subTest(trait, bad=bad, good=good):
                sides = replace(finding.sides, subjects=(side(trait, *bad), side(trait, *good), ()))
                rule = Rule((Test(trait, "at most", (0.0,)),))
                vars(sides)["apart"] = Discriminator(1, 2, (rule,))
                (line,) = dots_of(replace(finding, sides=sides))
                self.assertEqual(([round(dot.place, 6) for dot in line.dots], line.gap), ([round(p, 6) for p in places], gap))
                self.assertEqual((line.said(True), line.said(False)), said)
                self.assertEqual([(d.platform, d.version) for d in line.dots][:1], [("android", "9") if trait == "release" else ("", "")])
        five = tuple(Rule((Test(trait, "at most", (0.0,)),)) for trait in ("width", "height", "density", "keyboard", "text size"))
        vars(sides)["apart"] = Discriminator(1, 2, five)
        facts = dict.fromkeys(("width", "height", "density", "keyboard", "text size"), 1.0)
        sides = replace(sides, subjects=((TraitSubject("a", facts),), (TraitSubject("b", facts),), ()))
        vars(sides)["apart"] = Discriminator(1, 2, five)
        self.assertEqual([line.title for line in dots_of(replace(finding, sides=sides))][-1], "Height of the keyboard", "no more than four")
        sides = replace(sides, subjects=((), (), ()))
        vars(sides)["apart"] = Discriminator(1, 2, five)
        self.assertEqual(dots_of(replace(finding, sides=sides)), ())

    def test_scopes_and_how_long_an_allowance_lasts(self) -> None:
        for scope, words, names in (
            (DeviceScope(), "every device", "Alder 5, Wren mini, Plateau 10, Moth 2"),
            (DeviceScope(devices=("Wren mini", "Moth 2")), "Wren mini, Moth 2", "Wren mini, Moth 2"),
            (DeviceScope(platform="android", form="tablet"), "android, tablets", "Plateau 10"),
            (DeviceScope(form="phone"), "phones", "Alder 5, Wren mini, Moth 2"),
            (DeviceScope(language="EN", width_to=360.0), "EN, up to 360 dp wide", "Wren mini, Moth 2"),
            (DeviceScope(language="de"), "de", ""),
            (DeviceScope(text_from=1.3), "text from 130%", "Wren mini"),
        ):
            with self.subTest(words):
                self.assertEqual(scope.words, words)
                self.assertEqual(", ".join(d.name for d in (ALDER, WREN, PLATEAU, MOTH) if scope.fits(d)), names)
        allowance = Allowance("Spring", "missing", "Save", until_build="2.5")
        self.assertEqual([allowance.lasts(TODAY, build) for build in ("2.4.9", "2.5", "2.10", "")], [True, False, False, True])
        self.assertEqual((allowance.words, replace(allowance, who="Ada").words), ("expected", "expected, Ada"))
        lanes = run("Wren mini")
        (finding,) = findings(lanes)
        about, what, variant = finding.key
        either = [Allowance("", about, what, DeviceScope(devices=(name,)), why=name) for name in ("Wren mini", "Moth 2")]
        self.assertEqual(assess((finding,), lanes, "Spring", either, TODAY).standing[0].expected, "Wren mini")
        known = assess((finding,), lanes, "Spring", [replace(either[0], variant="other")], TODAY)
        self.assertEqual((known.standing[0].expected, len(known.stale), known.open), ("", 1, (finding,)))
        nobody = replace(either[0], what="x", scope=DeviceScope(devices=("Nobody",)))
        self.assertEqual(assess((finding,), lanes, "Spring", [nobody], TODAY).stale, (), "none of its devices took part")
        both, one = run("Wren mini", "Moth 2"), run("Wren mini")
        wider = assess(findings(both), both, "Spring", (), TODAY, (findings(one), one))
        self.assertEqual(([each.new for each in wider.standing], wider.gone), ([True], ()))
        unreached = lay([lane(MOTH, result(1, Outcome.UNREACHED)), lane(WREN, result(1, Outcome.STUCK, "covered"))], "Moth 2")
        since = assess(findings(both), both, "Spring", (), TODAY, (findings(unreached), unreached))
        self.assertEqual([each.new for each in since.standing], [False], "Moth did not come to it then")
        self.assertEqual(assess((), unreached, "Spring", (), TODAY, (findings(run("Moth 2")), run("Moth 2"))).gone, ())
        self.assertEqual(variant, "")


if __name__ == "__main__":
    unittest.main()
