import random
import unittest
from dataclasses import replace

from copione.comparison.findings import Findings as FoundSoFar
from copione.comparison.findings import findings, what_sets_apart
from copione.comparison.lanes import Lane, lay
from copione.language.parser import parse_line
from copione.model.address import Address, Place
from copione.model.device import DeviceProfile
from copione.model.outcome import Cause, Outcome, Reason, Result
from copione.model.reading import Said
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

    def test_a_check_across_devices_is_judged_row_by_row_against_the_first(self) -> None:
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
        self.assertEqual(lanes.lanes[1].result(Address.of(1)).reason, "reads “7” here, “6” on Alder 5")

    def test_the_same_everywhere_is_judged_however_its_line_ends(self) -> None:
        line = f"{self.SAME} within 1 s"
        lanes = lay([lane(ALDER, result(1, step=line, read="6")), lane(WREN, result(1, step=line, read="7"))], "Alder 5")
        self.assertEqual([x.result(Address.of(1)).outcome for x in lanes.lanes], [Outcome.HELD, Outcome.DIFFERS])

    def test_takes_that_went_different_ways_stand_side_by_side(self) -> None:
        """Columns are the union of what was done, in the order of the script: a loop's turns, a branch that one take alone went."""
        loop = Address.of(3)
        places = [Address.of(2), Address((Place(3, 1),)).then(4), Address((Place(3, 2),)).then(4), Address.of(6)]
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
            found = found.updated(folded, {cell.address for cell in folded.changed})
        whole = lay(folded.lanes, "Alder 5")
        self.assertEqual(found.ordered(), findings(whole))
        self.assertEqual({o: n for o, n in folded.counts.items() if n}, dict(whole.counts))
        self.assertEqual([list(x.judged) for x in folded.lanes], [list(x.judged) for x in whole.lanes])
        self.assertEqual((folded.longest, folded.columns), (whole.longest, whole.columns))


class Findings(unittest.TestCase):
    def test_one_finding_a_step_and_reason_gathered_over_devices_and_rows_worst_first(self) -> None:
        stuck = result(2, Outcome.STUCK, "covered by the keyboard")
        lanes = lay(
            [
                lane(ALDER, result(1), result(2), result(3)),
                lane(WREN, result(1, Outcome.DIFFERS, "reads “x”"), stuck, result(3, Outcome.UNREACHED)),
                lane(WREN, result(1, Outcome.DIFFERS, "reads “y”"), stuck, result(3, Outcome.UNREACHED), row=2),
                lane(PLATEAU, result(1), result(2), result(3)),
            ],
            "Alder 5",
        )
        first, second = findings(lanes)
        self.assertEqual(first.title, 'Stuck on Wren mini: tap button "Save"')
        self.assertEqual(first.detail, "Step 2, on 1 of 3 devices, 2 of 2 data rows. Covered by the keyboard.")
        self.assertEqual((second.outcome, second.number, len(second.takes)), (Outcome.DIFFERS, 1, 2))

    def test_nothing_wrong_gives_none(self) -> None:
        self.assertEqual(findings(lay([lane(ALDER, result(1), result(2, Outcome.ADAPTED))], "Alder 5")), ())

    def test_what_sets_the_failing_devices_apart(self) -> None:
        table = [
            (
                [WREN],
                [ALDER, PLATEAU],
                "The only device with: 320 dp wide (the others 412 dp wide and more); text at 130 % (the others 100 %); "
                "release Android 12.",
            ),
            ([BRAMBLE], [ALDER, PLATEAU], "The only device with: language de-DE."),
            ([PLATEAU], [ALDER, MOTH], "The only device with: 800 dp wide (the others 412 dp wide and less)."),
            ([WREN, MOTH], [ALDER], "The only devices with: 360 dp wide or less (the others 412 dp wide)."),
            ([ALDER], [replace(ALDER, name="Twin")], ""),
            ([ALDER], [], ""),
        ]
        for failing, passing, words in table:
            with self.subTest(words):
                self.assertEqual(what_sets_apart(failing, passing), words)

    def test_a_step_that_takes_one_device_several_times_as_long_is_a_finding(self) -> None:
        def timed(device: DeviceProfile, seconds: float) -> Lane:
            return lane(device, replace(result(1), seconds=seconds))

        usual = [timed(replace(ALDER, name=f"Alder {i}"), 0.3) for i in range(4)]
        (finding,) = findings(lay([*usual, timed(WREN, 3.4)], "Alder 0"))
        self.assertEqual((finding.flag, finding.title), ("slow", 'Slow on Wren mini: tap button "Save"'))
        self.assertEqual(finding.detail, "Step 1 took 3.4 s, 0.3 s elsewhere.")
        for lanes in ([*usual, timed(WREN, 1.5)], [*usual[:2], timed(WREN, 9.0)]):
            self.assertEqual(findings(lay(lanes, "Alder 0")), ())
