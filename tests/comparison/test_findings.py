import random
import unittest
from dataclasses import replace
from pathlib import Path

from copione.comparison.findings import Findings as FoundSoFar
from copione.comparison.findings import findings
from copione.comparison.lanes import Lane, lay
from copione.language.parser import parse_line
from copione.model import remark_kinds as kinds
from copione.model.address import Address, AddressPart
from copione.model.device import DeviceProfile
from copione.model.geometry import Box
from copione.model.outcome import Cause, Obstacle, ObstacleKind, Outcome, Reason, Result
from copione.model.reading import Said
from copione.model.remark import Remark, RemarkKind
from copione.model.take import TakeName

ALDER = DeviceProfile("Alder 5", "android", "14", 824, 1784, 320, 1.0, "en-GB")
WREN = DeviceProfile("Wren mini", "android", "12", 480, 960, 240, 1.3, "en-GB")
PLATEAU = DeviceProfile("Plateau 10", "android", "14", 1200, 1920, 240, 1.0, "en-GB")
BRAMBLE = replace(ALDER, name="Bramble", locale="de-DE")
MOTH = replace(ALDER, name="Moth 2", width_px=720, release="9")


def result(number: int, outcome: Outcome = Outcome.HELD, reason: str = "", step: str = 'tap button "Save"', read: str = "") -> Result:
    why = Reason(Cause.UNDER_KEYBOARD if outcome is Outcome.STUCK else Cause.READS_OTHERWISE, reason) if reason else None
    action = parse_line(step, 0)[0].action
    return Result(number, Address.of(number), "One", step, "", outcome, action, why=why, reading=Said(read), seconds=0.5)


def lane(device: DeviceProfile, *results: Result, row: int = 1) -> Lane:
    return Lane.of(TakeName(device.name, row), device, results)


class LanesLaid(unittest.TestCase):
    SAME = 'check label "Frames" reads the same on every device'

    def test_the_lead_stands_first_and_columns_are_the_longest_takes(self) -> None:
        lanes = lay([lane(WREN, result(1)), lane(ALDER, result(1), result(2))], "Alder 5")
        self.assertEqual([x.device.name for x in lanes.lanes], ["Alder 5", "Wren mini"])
        self.assertEqual(len(lanes.columns), 2)
        self.assertEqual(lanes.counts[Outcome.HELD], 3)

    def test_a_check_across_devices_is_judged_row_by_row_by_what_most_read(self) -> None:
        lanes = lay(
            [
                lane(ALDER, result(1, step=self.SAME, read="6")),
                lane(PLATEAU, result(1, step=self.SAME, read="7")),
                lane(WREN, result(1, step=self.SAME, read="6")),
                lane(PLATEAU, result(1, step=self.SAME, read="2"), row=2),
            ],
            "Alder 5",
        )
        outcomes = {(x.device.name, x.row): x.result(Address.of(1)).outcome for x in lanes.lanes}
        self.assertIs(outcomes["Plateau 10", 1], Outcome.DIFFERS)
        self.assertIs(outcomes["Plateau 10", 2], Outcome.HELD)
        self.assertIs(outcomes["Wren mini", 1], Outcome.HELD)
        self.assertEqual(lanes.lanes[1].result(Address.of(1)).reason, "reads “7” here, “6” on Alder 5 and 1 other")

    def test_the_same_everywhere_is_judged_however_its_line_ends(self) -> None:
        line = f"{self.SAME} within 1 s"
        lanes = lay([lane(ALDER, result(1, step=line, read="6")), lane(WREN, result(1, step=line, read="7"))], "Alder 5")
        self.assertEqual([x.result(Address.of(1)).outcome for x in lanes.lanes], [Outcome.HELD, Outcome.DIFFERS])

    def test_takes_that_went_different_ways_stand_side_by_side(self) -> None:
        """Columns are the union of what was done, in the order of the script: a loop's turns, a branch that one take alone went."""
        loop = Address.of(3)
        places = [Address.of(2), Address((AddressPart(3, 1),)).then(4), Address((AddressPart(3, 2),)).then(4), Address.of(6)]
        every = [replace(result(n), address=address) for n, address in enumerate(places, 1)]
        lanes = lay(
            [lane(ALDER, every[0], every[1], every[3]), lane(WREN, *every[:3], replace(every[3], outcome=Outcome.STUCK))], "Alder 5"
        )
        self.assertEqual([column.address for column in lanes.columns], places)
        self.assertIsNone(lanes.lanes[0].result(places[2]))
        (finding,) = findings(lanes)
        self.assertEqual((finding.address, finding.number), (places[3], 4))
        self.assertLess(loop, places[1])

    def test_results_folded_in_one_at_a_time_are_the_same_as_all_at_once(self) -> None:
        chance = random.Random(9)
        steps = [f'tap button "{n}"' for n in range(12)] + [self.SAME, f"{self.SAME} within 2 s"]
        devices = [ALDER, WREN, PLATEAU, BRAMBLE, MOTH]
        outcomes = (Outcome.HELD, Outcome.HELD, Outcome.HELD, Outcome.ADAPTED, Outcome.STUCK)
        told = []
        for device in devices:
            for row in (1, 2):
                for number, step in enumerate(steps, 1):
                    outcome = Outcome.HELD if step.startswith("check") else chance.choice(outcomes)
                    each = result(number, outcome, "covered" if outcome is Outcome.STUCK else "", step, chance.choice("67"))
                    told.append((TakeName(device.name, row), replace(each, seconds=chance.choice((0.5, 0.6, 9.0)))))
        chance.shuffle(told)
        folded = lay([Lane(TakeName(d.name, row), d) for d in devices for row in (1, 2)], "Alder 5")
        found = FoundSoFar.of(folded)
        for name, each in told:
            folded = folded.with_result(name, each)
            found = found.updated(folded, folded.changed)
        whole = lay(folded.lanes, "Alder 5")
        self.assertEqual(found.ordered(), findings(whole))
        self.assertEqual({o: n for o, n in folded.counts.items() if n}, dict(whole.counts))
        self.assertEqual([list(x.judged) for x in folded.lanes], [list(x.judged) for x in whole.lanes])
        self.assertEqual((folded.longest, folded.columns, folded.done), (whole.longest, whole.columns, len(told)))
        self.assertEqual({a: n for a, n in folded.wrong.items() if n}, {a: n for a, n in whole.wrong.items() if n})
        for one, other in zip(folded.lanes, whole.lanes, strict=True):
            self.assertAlmostEqual(one.seconds, other.seconds)
            self.assertEqual(one.own_s[0], sum(r.outcome.good for r in one.own.values()))
            self.assertAlmostEqual(one.own_s[1], other.own_s[1])
        longest = max(each.seconds for _, each in told)
        self.assertEqual(folded.longest, longest)

    def test_times_beside_the_apps_own(self) -> None:
        for seconds, answer, outcome, own in (
            (3.0, 1.0, Outcome.HELD, (1, 2.0)),
            (9.0, 1.0, Outcome.ADAPTED, (1, 5.0)),
            (0.5, 0.7, Outcome.HELD, (1, 0.0)),
            (3.0, 1.0, Outcome.STUCK, (0, 0.0)),
        ):
            each = replace(result(1), seconds=seconds, answer=answer, outcome=outcome)
            self.assertEqual(lane(ALDER, each).own_s, own)
            begun = lay([Lane(TakeName("Alder 5"), ALDER)], "Alder 5")
            self.assertEqual((begun.lanes[0].own_s, begun.lanes[0].seconds, begun.longest), ((0, 0.0), 0.0, 0.0))
            self.assertEqual(begun.with_result(TakeName("Alder 5"), each).lanes[0].own_s, own)

    def test_the_lead_says_a_step_with_its_own_data(self) -> None:
        names = TakeName("Alder 5"), TakeName("Wren mini")
        lanes = lay([Lane(names[0], ALDER), Lane(names[1], WREN)], "Alder 5", [result(2, step='tap text "{hive}"'), result(1)])
        self.assertEqual([(c.number, c.words) for c in lanes.columns], [(1, 'tap button "Save"'), (2, 'tap text "{hive}"')])
        lanes = lanes.with_result(names[1], result(2, step='tap text "Hive 2"'))
        self.assertEqual(lanes.columns[1].words, 'tap text "{hive}"')
        lanes = lanes.with_result(names[0], result(2, step='tap text "Hive 7"'))
        self.assertEqual([c.words for c in lanes.columns], ['tap button "Save"', 'tap text "Hive 7"'])
        self.assertEqual(lanes.column(Address.of(2)).action, result(2, step='tap text "Hive 7"').action)
        begun = lanes.with_take(names[1], Path("takes/wren"), "2.5")
        self.assertEqual([(each.folder, each.build) for each in begun.lanes], [(None, ""), (Path("takes/wren"), "2.5")])
        self.assertEqual((begun.changed, len(begun.lane(names[1]).own), begun.lane(TakeName("Nobody"))), ((), 1, None))


class Findings(unittest.TestCase):
    def test_one_finding_a_cause_gathered_over_devices_and_rows_worst_first(self) -> None:
        stuck = result(2, Outcome.STUCK, "covered by the keyboard")
        later = replace(result(3, Outcome.UNREACHED), why=Reason(Cause.AFTER, "after step 2 was stuck", str(stuck.address)))
        check = 'check label "Frames" reads "6"'
        lanes = lay(
            [
                lane(ALDER, result(1, step=check), result(2), result(3)),
                lane(WREN, result(1, Outcome.DIFFERS, "reads “x”", check, "x"), stuck, later),
                lane(WREN, result(1, Outcome.DIFFERS, "reads “y”", check, "y"), stuck, later, row=2),
                lane(PLATEAU, result(1, step=check), result(2), result(3)),
            ],
            "Alder 5",
        )
        first, second = findings(lanes)
        self.assertEqual(first.title, "The keyboard covers “Save” on Wren mini")
        words = "Step 2, 1 of 3 devices, every data row, 2 steps were never tried because of it. Covered by the keyboard."
        self.assertEqual((first.detail, first.untried), (words, 2))
        self.assertEqual((second.kind.value, second.number, len(second.takes)), ("differs", 1, 2))

    def test_nothing_wrong_gives_none(self) -> None:
        self.assertEqual(findings(lay([lane(ALDER, result(1), result(2, Outcome.ADAPTED))], "Alder 5")), ())

    def test_what_follows_from_a_cause_belongs_to_it(self) -> None:
        """What lies over the page, an app that has ended, a value that is wrong: each is met by several steps, and is one finding."""

        def bad(number: int, step: str, cause: Cause, obstacle: Obstacle | None = None, read: str = "", about: str = "") -> Result:
            outcome = Outcome.DIFFERS if step.startswith("check") else Outcome.STUCK
            made = result(number, outcome, "so", step, read)
            return replace(made, why=Reason(cause, "so", about), obstacle=obstacle)

        dialog, ended = Obstacle(ObstacleKind.DIALOG, "Rate this app"), Obstacle(ObstacleKind.GONE, "IllegalStateException: no hive")
        shown, label, save = 'check text "Saved" is shown', 'check label "Frames" reads "6"', 'tap button "Save"'
        again = 'check label "Frames" reads the same on every device'
        table = [
            (
                "dialog",
                [bad(1, shown, Cause.NOT_SHOWN, dialog), bad(2, label, Cause.NOT_HERE, dialog), bad(3, save, Cause.NOT_HERE, dialog)],
                1,
            ),
            ("gone", [bad(1, shown, Cause.NOT_SHOWN, ended), bad(2, label, Cause.NOT_HERE, ended)], 1),
            (
                "reads otherwise",
                [bad(1, label, Cause.READS_OTHERWISE, None, "7", "off by +1"), bad(2, again, Cause.NOT_THE_SAME, None, "7", "reads 7")],
                1,
            ),
            ("missing", [bad(1, 'check button "Save" is shown', Cause.NOT_SHOWN), bad(2, save, Cause.NOT_HERE)], 1),
            ("missing", [bad(1, shown, Cause.NOT_SHOWN), bad(2, save, Cause.NOT_HERE)], 2),
            ("limit", [bad(1, 'pinch canvas "Map" by 2', Cause.CANNOT)], 1),
        ]
        for about, wrong, many in table:
            with self.subTest(about, many=many):
                fine = [result(r.number, step=r.step, read="6") for r in wrong]
                found = findings(
                    lay([lane(WREN, *wrong), *(lane(replace(ALDER, name=f"Alder {n}"), *fine) for n in range(3))], "Wren mini")
                )
                self.assertEqual([f.about for f in found][:1], [about])
                self.assertEqual(len(found), many, [f.title for f in found])
                self.assertEqual(len(found[0].follows), len(wrong) - 1 if many == 1 else 0)

    def test_other_causes_at_one_step_are_other_findings_whatever_was_read(self) -> None:
        step = 'check label "Seen" reads "Today"'

        def reads(device: DeviceProfile, read: str, about: str) -> Lane:
            return lane(device, replace(result(1, Outcome.DIFFERS, "so", step, read), why=Reason(Cause.READS_OTHERWISE, read, about)))

        lanes = [
            lane(ALDER, result(1, step=step, read="Today")),
            reads(BRAMBLE, "Today", "in another language"),
            reads(replace(BRAMBLE, name="Tamarisk", locale="he-IL"), "Today", "in another language"),
            reads(MOTH, "No", "reads no"),
        ]
        found = findings(lay(lanes, "Alder 5"))
        self.assertEqual(
            [(f.title, f.devices) for f in found],
            [
                ("“Seen” is not translated on Bramble and Tamarisk", ("Bramble", "Tamarisk")),
                ("“Seen” reads “No” on Moth 2", ("Moth 2",)),
            ],
        )
        self.assertEqual([f.sides.about for f in found], ["in another language", "reads no"])

    def test_most_devices_are_right_not_the_lead(self) -> None:
        same = LanesLaid.SAME
        others = [replace(ALDER, name=f"Alder {n}") for n in range(4)]

        def odd(reads: list[str]) -> list[str]:
            lanes = [lane(device, result(1, step=same, read=read)) for device, read in zip([WREN, *others], reads, strict=False)]
            return [name for finding in findings(lay(lanes, "Wren mini")) for name in finding.devices]

        self.assertEqual(odd(["7", "6", "6", "6"]), ["Wren mini"])
        self.assertEqual(odd(["6", "6", "7", "6"]), ["Alder 1"])
        self.assertEqual(odd(["2.2 lb", "1 kg", "1 kg"]), [])
        camps = lay([lane(d, result(1, step=same, read=r)) for d, r in zip([WREN, *others], "7766", strict=False)], "Wren mini")
        self.assertIn("two camps of 2", camps.lanes[2].result(Address.of(1)).reason)
        pair = lay([lane(d, result(1, step=same, read=r)) for d, r in zip([WREN, *others], "76", strict=False)], "Wren mini")
        self.assertEqual(pair.lanes[1].result(Address.of(1)).reason, "reads “6” here, “7” on Wren mini")

    def test_a_step_for_which_the_app_takes_several_times_as_long_is_a_finding(self) -> None:
        def timed(device: DeviceProfile, answer: float, seconds: float = 9.0) -> Lane:
            return lane(device, replace(result(1), seconds=seconds, answer=answer))

        usual = [timed(replace(ALDER, name=f"Alder {i}"), 0.3) for i in range(4)]
        (finding,) = findings(lay([*usual, timed(WREN, 3.4)], "Alder 0"))
        self.assertEqual((finding.flag, finding.title), ("slow", 'Slow on Wren mini: tap button "Save"'))
        self.assertEqual(finding.detail, "Step 1: the app took 3.4 s to show what came of it, 0.3 s elsewhere.")
        (several,) = findings(lay([*usual[:2], timed(WREN, 4.0), timed(MOTH, 4.2)], "Alder 0"))
        self.assertEqual(several.devices, ("Wren mini", "Moth 2"))
        for lanes in (
            [*usual, timed(WREN, 1.2)],
            [*usual, timed(WREN, 0.3, 60.0)],
            [usual[0], *(timed(replace(WREN, name=f"{n}"), 4.0) for n in range(5))],
        ):
            self.assertEqual(findings(lay(lanes, "Alder 0")), ())

    def test_a_device_that_is_slow_at_everything_is_not_slow_at_this(self) -> None:
        def timed(name: str, own: float, answer: float, steps: int = 4) -> Lane:
            each = [replace(result(n), seconds=own, answer=0.0) for n in range(2, steps + 1)]
            return lane(replace(ALDER, name=name), replace(result(1), seconds=own + answer, answer=answer), *each)

        usual = [timed(f"Alder {n}", 1.5, 1.0) for n in range(3)]
        for own, steps, found in ((1.5, 4, 1), (1.5, 8, 1), (4.5, 4, 0), (4.5, 3, 1), (1.8, 4, 1), (0.1, 4, 1)):
            with self.subTest(own=own, steps=steps):
                self.assertEqual(len(findings(lay([*usual, timed("Wren", own, 3.3, steps)], "Alder 0"))), found)
        rows = [Lane.of(TakeName("Wren", n), WREN, timed("Wren", 3.0, 3.3, 2).own.values()) for n in (1, 2)]
        self.assertEqual(findings(lay([*usual, *rows], "Alder 0")), (), "its takes together have steps enough to tell")
        worded = replace(result(1), seconds=5.0, answer=4.0, why=Reason(Cause.OTHER_WAY, "by another way"))
        (finding,) = findings(lay([*usual, lane(WREN, worded)], "Alder 0"))
        self.assertEqual((finding.reason, finding.sides.about), ("by another way", "slow"))
        (finding,) = findings(lay([*usual, timed("Wren", 1.0, 4.0)], "Alder 0"))
        self.assertEqual(finding.reason, finding.detail)

    def test_the_turns_of_a_loop_are_one_finding_where_the_same_devices_are_slow(self) -> None:
        turns = [Address((AddressPart(3, turn),)).then(4) for turn in (1, 2, 3)]

        def timed(name: str, *answers: float) -> Lane:
            every = zip(turns, answers, strict=True)
            return lane(replace(ALDER, name=name), *(replace(result(n), address=a, answer=s) for n, (a, s) in enumerate(every, 1)))

        usual = [timed(f"Alder {n}", 0.3, 0.3, 0.3) for n in range(3)]
        (one,) = findings(lay([*usual, timed("Wren", 4.0, 0.3, 4.0)], "Alder 0"))
        self.assertEqual((one.address, [cell.address for cell in one.follows]), (turns[0], [turns[2]]))
        first, second = findings(lay([*usual, timed("Wren", 4.0, 0.3, 0.3), timed("Moth", 0.3, 4.0, 0.3)], "Alder 0"))
        self.assertEqual((first.devices, second.devices, first.follows), (("Wren",), ("Moth",), ()))

    def test_steps_that_come_in_between_are_counted_in(self) -> None:
        stuck, late = result(5, Outcome.STUCK, "covered"), replace(result(7), answer=4.0)
        devices = [ALDER, WREN, MOTH, PLATEAU]
        lanes = lay([Lane(TakeName(device.name, 1), device) for device in devices], "Alder 5")
        found = FoundSoFar.of(lanes)
        remark = Remark(kinds.SMALL, "save", "Save", "12 dp", "48 dp", TakeName("Alder 5", 1), Address.of(6), Box(0, 0, 1, 1), "", ())

        def come(name: str, each: Result) -> None:
            nonlocal lanes, found
            lanes = lanes.with_result(TakeName(name, 1), each)
            found = found.updated(lanes, lanes.changed)

        come("Wren mini", stuck)
        self.assertEqual(found.with_remarks(lanes, [remark]).ordered(), found.ordered(), "its step is not known yet")
        come("Alder 5", result(6))
        found = found.with_remarks(lanes, [remark])
        for name in ("Wren mini", "Moth 2", "Plateau 10"):
            come(name, replace(late, answer=0.3) if name != "Moth 2" else late)
        come("Alder 5", replace(late, answer=0.3))
        self.assertEqual([(f.flag, f.number) for f in found.ordered()], [("stuck", 1), ("slow", 3), ("small target", 2)])
        come("Alder 5", result(3))
        self.assertEqual([(f.flag, f.number) for f in found.ordered()], [("stuck", 2), ("slow", 4), ("small target", 3)])
        come("Wren mini", replace(stuck, outcome=Outcome.HELD, why=None))
        come("Moth 2", replace(late, answer=0.3))
        self.assertEqual([f.flag for f in found.ordered()], ["small target"], "what was bad or slow and is not any more")

    def test_a_remark_that_a_cause_explains_is_left_out(self) -> None:
        fine = [lane(replace(ALDER, name=f"Alder {n}"), result(1), result(2), result(3)) for n in range(3)]
        missing = replace(result(2, Outcome.STUCK, "gone"), why=Reason(Cause.NOT_HERE, "gone"))
        wren = lane(WREN, result(1), missing, result(3))
        lanes = lay([*fine, wren, lane(MOTH, result(1), result(2), result(3))], "Alder 0")

        def told(kind: RemarkKind, name: str, line: int, *devices: str) -> list[tuple[str, ...]]:
            noticed = [
                Remark(kind, "x", name, "so", "else", TakeName(each, 1), Address.of(line), Box(0, 0, 1, 1), "", (TakeName("Alder 0", 1),))
                for each in devices
            ]
            return [f.devices for f in findings(lanes, noticed) if f.remarks]

        for kind, name, line, devices, expected in (
            (kinds.MISSING, "Save", 3, ("Wren mini",), []),
            (kinds.MISSING, "save", 2, ("Wren mini",), []),
            (kinds.MISSING, "Save", 1, ("Wren mini",), []),  # in the same scene
            (kinds.MISSING, "Open", 3, ("Wren mini",), [("Wren mini",)]),
            (kinds.PICTURE, "Save", 3, ("Wren mini",), [("Wren mini",)]),
            (kinds.MISSING, "Save", 3, ("Moth 2",), [("Moth 2",)]),
            (kinds.MISSING, "Save", 3, ("Wren mini", "Moth 2"), [("Moth 2",)]),
            (kinds.CONTRAST, "Save", 3, ("Wren mini", "Moth 2"), [("Wren mini", "Moth 2")]),
        ):
            with self.subTest(kind, name=name, line=line, devices=devices):
                self.assertEqual(told(kind, name, line, *devices), expected)
