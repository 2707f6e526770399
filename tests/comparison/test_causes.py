"""What a bad outcome comes of, what follows from what, who failed and who cannot tell, and what is told of it to programs."""

import unittest
from dataclasses import replace

from copione.comparison.causes import CauseKey, FindingKind, chains, key_of
from copione.comparison.finding import sides_of
from copione.comparison.findings import findings, fold_case
from copione.comparison.lanes import Lane, lay
from copione.comparison.standing import FindingStanding
from copione.comparison.telling import to_dict
from copione.model import remark_kinds as kinds
from copione.model.address import Address, AddressPart
from copione.model.deviation import Deviation
from copione.model.device import DeviceProfile
from copione.model.geometry import Box
from copione.model.outcome import Cause, Obstacle, ObstacleKind, Outcome, Reason, Result
from copione.model.reading import Looked
from copione.model.remark import Remark
from copione.model.take import TakeName

from .test_findings import ALDER, MOTH, PLATEAU, WREN, lane, result

SAVE, FRAMES, LOOKS = 'tap button "Save"', 'check label "Frames" reads "6"', 'check area "Comb" looks as recorded'


def bad(number: int, cause: Cause, obstacle: Obstacle | None = None, step: str = SAVE, read: str = "", about: str = "") -> Result:
    made = result(number, Outcome.DIFFERS if step.startswith("check") else Outcome.STUCK, "so", step, read)
    return replace(made, why=Reason(cause, "so", about), obstacle=obstacle)


def unreached(number: int, after: int | None) -> Result:
    why = Reason(Cause.AFTER, "after", str(Address.of(after))) if after is not None else None
    return replace(result(number, Outcome.UNREACHED), why=why)


class Causes(unittest.TestCase):
    def test_the_key_of_a_cause(self) -> None:
        in_loop = Address((AddressPart(3, 2),)).then(4)
        save, here = 'button "Save"', (1,)
        for outcome, key in (
            (result(1), None),
            (replace(result(1), outcome=Outcome.ADAPTED), None),
            (result(1, Outcome.UNREACHED), None),
            (bad(1, Cause.STOPPED), None),
            (bad(1, Cause.AFTER), None),
            (result(1, Outcome.STUCK), CauseKey("stuck", save, here)),
            (bad(1, Cause.CANNOT, Obstacle(ObstacleKind.DIALOG, "Rate it")), CauseKey("limit", "tap", here)),
            (bad(1, Cause.NOT_HERE), CauseKey("missing", save, here)),
            (replace(bad(1, Cause.NOT_HERE), address=in_loop), CauseKey("missing", save, (3, 4))),
            (bad(1, Cause.NOT_TAKEN, about="x"), CauseKey("not taken", save, here)),
            (
                bad(1, Cause.READS_OTHERWISE, step=FRAMES, about="off by +1"),
                CauseKey("reads otherwise", 'label "Frames"', here, "off by +1"),
            ),
            (bad(1, Cause.NOT_HERE, step="press back"), CauseKey("missing", "press back", here)),
            (bad(1, Cause.NOT_HERE, Obstacle(ObstacleKind.DIALOG, "Rate it")), CauseKey("dialog", "Rate it")),
            (bad(1, Cause.NOT_HERE, Obstacle(ObstacleKind.DIALOG)), CauseKey("dialog", "", here)),
            (bad(1, Cause.NOT_HERE, Obstacle(ObstacleKind.PAGE, "Settings")), CauseKey("page", "Settings", here)),
            (bad(1, Cause.COVERED, Obstacle(ObstacleKind.COVER, "bar")), CauseKey("cover", f"{save} bar", here)),
        ):
            with self.subTest(outcome=outcome.outcome, why=outcome.why, obstacle=outcome.obstacle):
                self.assertEqual(key_of(outcome), key)

    def test_what_follows_from_what(self) -> None:
        rate, news, settings = (
            Obstacle(ObstacleKind.DIALOG, "Rate it"),
            Obstacle(ObstacleKind.DIALOG, "News"),
            Obstacle(ObstacleKind.PAGE, "Settings"),
        )
        again = 'check label "Frames" reads the same on every device'
        for words, met, expected in (
            ("nothing", [result(1), bad(2, Cause.STOPPED)], []),
            ("one dialog, two steps", [bad(1, Cause.NOT_HERE, rate), bad(2, Cause.NOT_HERE, rate, FRAMES)], [("stuck", 1, 0)]),
            ("two dialogs", [bad(1, Cause.NOT_HERE, rate), bad(2, Cause.NOT_HERE, news)], [("stuck", 0, 0), ("stuck", 0, 0)]),
            ("one page", [bad(1, Cause.NOT_HERE, settings), bad(2, Cause.NOT_HERE, settings, FRAMES)], [("stuck", 1, 0)]),
            ("a dialog after what is missing", [bad(1, Cause.NOT_HERE), bad(2, Cause.NOT_HERE, rate)], [("stuck", 0, 0), ("stuck", 0, 0)]),
            (
                "another cover",
                [bad(1, Cause.COVERED, Obstacle(ObstacleKind.COVER, "a")), bad(2, Cause.COVERED, Obstacle(ObstacleKind.COVER, "a"))],
                2,
            ),
            (
                "the worst is what it is",
                [bad(1, Cause.NOT_SHOWN, step=FRAMES), bad(2, Cause.NOT_HERE, step='tap label "Frames"')],
                ["stuck"],
            ),
            ("the same way", [bad(n, Cause.READS_OTHERWISE, step=FRAMES, read=str(n), about="cut") for n in (1, 2)], [("differs", 1, 0)]),
            ("the same words", [bad(n, Cause.READS_OTHERWISE, None, FRAMES, "7", str(n)) for n in (1, 2)], [("differs", 1, 0)]),
            ("other words", [bad(n, Cause.READS_OTHERWISE, None, FRAMES, str(n), str(n)) for n in (1, 2)], 2),
            (
                "another thing",
                [bad(1, Cause.READS_OTHERWISE, step=FRAMES), bad(2, Cause.READS_OTHERWISE, step=FRAMES.replace("F", "G"))],
                2,
            ),
            ("the same everywhere", [bad(n, Cause.NOT_THE_SAME, None, again, "7", "7") for n in (1, 2)], [("differs", 1, 0)]),
            ("limits", [bad(1, Cause.CANNOT), bad(2, Cause.CANNOT)], [("limit", 1, 0)]),
            ("steps after it", [bad(1, Cause.NOT_HERE), unreached(2, 1), unreached(3, 1)], [("stuck", 0, 2)]),
            ("after the one that follows", [bad(1, Cause.NOT_HERE), bad(2, Cause.NOT_HERE), unreached(3, 2)], [("stuck", 1, 1)]),
            ("after none that is known", [bad(1, Cause.NOT_HERE), unreached(2, None), unreached(3, 9)], [("stuck", 0, 0)]),
            (
                "each its own",
                [bad(1, Cause.NOT_HERE), bad(2, Cause.NOT_HERE, step='tap button "B"'), unreached(3, 2), unreached(4, 1)],
                [("stuck", 0, 1), ("stuck", 0, 1)],
            ),
        ):
            with self.subTest(words):
                found = chains(met)
                if isinstance(expected, int):
                    self.assertEqual(len(found), expected)
                elif expected == ["stuck"]:
                    self.assertEqual([(c.kind, len(c.follows)) for c in found], [(FindingKind.STUCK, 1)])
                else:
                    self.assertEqual([(c.kind.value, len(c.follows), c.untried) for c in found], expected)

    def test_what_stood_right_before_an_interruption_and_is_something_else_since_is_lost(self) -> None:
        turn, queen = result(3, step="turn landscape"), 'check switch "Queen" is on'
        before = [result(1, step='set slider "Frames" to 6'), result(2, step='switch on switch "Queen"'), turn]
        frames = bad(4, Cause.READS_OTHERWISE, step=FRAMES.replace("label", "slider"), read="0", about="off by -6")
        off = bad(5, Cause.READS_OTHERWISE, step=queen, read="off", about="off")
        written = replace(frames, why=replace(frames.why, about=Deviation.FORMAT.value))
        lost = CauseKey("lost", "turn landscape", (3,))
        for words, met, keys in (
            ("both", [*before, frames, off], [lost]),
            ("what was not so before", [turn, frames, off], ["reads otherwise"] * 2),
            ("what was right since", [*before, result(4, step=frames.step), replace(frames, address=Address.of(6))], ["reads otherwise"]),
            ("told in another format", [*before, written], ["reads otherwise"]),
            ("not there", [*before, bad(4, Cause.NOT_SHOWN, step=queen)], ["missing"]),
            ("nothing was to be kept", [*before[:2], result(3, step="launch afresh"), frames], ["reads otherwise"]),
            ("something was touched since", [*before, result(4), replace(off, address=Address.of(6))], ["reads otherwise"]),
            ("by the first of two", [*before, replace(turn, address=Address.of(4), step="turn portrait"), off], [lost]),
        ):
            with self.subTest(words):
                self.assertEqual([c.key if c.key.about == "lost" else c.key.about for c in chains(met)], keys)
        lanes = lay([lane(ALDER, *before, replace(frames, outcome=Outcome.HELD, why=None)), lane(MOTH, *before, frames, off)], "Alder 5")
        (finding,) = findings(lanes)
        self.assertEqual(finding.title, "“Frames” and 1 other are lost after “turn landscape” on Moth 2")
        self.assertEqual(finding.names, ("Frames", "Queen"))

    def test_kinds_are_drawn_in_the_ink_of_an_outcome(self) -> None:
        inks = [kind.outcome for kind in FindingKind]
        self.assertEqual(inks, [Outcome.STUCK, Outcome.DIFFERS, Outcome.UNREACHED, Outcome.HELD, Outcome.HELD])

    def test_who_failed_who_did_it_and_who_cannot_tell(self) -> None:
        skipped = replace(result(1), outcome=Outcome.SKIPPED)
        held = replace(result(1), turned=True, keyboard=250.0)
        twin = Lane.of(TakeName("Alder 5", 1, 2), ALDER, [held])
        lanes = lay(
            [
                lane(ALDER, bad(1, Cause.NOT_HERE)),
                twin,
                lane(WREN, result(1)),
                lane(MOTH, skipped),
                lane(PLATEAU, unreached(1, 0)),
                lane(replace(MOTH, name="Later")),
            ],
            "Alder 5",
        )
        sides = sides_of(lanes, Address.of(1), [TakeName("Alder 5", 1)], "missing")
        names = [[subject.name for subject in part] for part in sides.subjects]
        self.assertEqual(names, [["Alder 5"], ["Alder 5 2", "Wren mini"], ["Plateau 10", "Later"]])
        self.assertEqual([sides.subjects[1][n].facts.get("keyboard") for n in (0, 1)], [250.0, None])
        self.assertEqual([sides.subjects[1][n].facts["held"] for n in (0, 1)], ["across", "upright"])
        rows = lay(
            [
                lane(ALDER, bad(1, Cause.NOT_HERE), row=2),
                lane(ALDER, result(1)),
                lane(WREN, result(1)),
                lane(WREN, row=2),
                lane(MOTH, row=2),
            ],
            "Alder 5",
        )
        by_row = sides_of(rows, Address.of(1), [TakeName("Alder 5", 2)], "missing").subjects
        self.assertEqual(
            [[s.name for s in part] for part in by_row],
            [["Alder 5, data row 2"], ["Alder 5, data row 1", "Wren mini, data row 1"], ["Wren mini, data row 2", "Moth 2, data row 2"]],
        )
        self.assertEqual(by_row[0][0].facts["data row"], "2")
        plain = sides_of(rows, Address.of(1), [TakeName("Alder 5", 1), TakeName("Alder 5", 2)], "missing").subjects
        self.assertEqual([[s.name for s in part] for part in plain], [["Alder 5"], ["Wren mini"], ["Moth 2"]])

    def test_what_programs_are_told(self) -> None:
        stuck = [bad(1, Cause.NOT_HERE), replace(bad(2, Cause.NOT_HERE), before="0002.png", box=Box(1, 2, 3, 4)), unreached(3, 1)]
        fine = [result(n) for n in (1, 2, 3)]
        lanes = lay([lane(ALDER, *fine), lane(WREN, *stuck), lane(PLATEAU), lane(MOTH, *fine)], "Alder 5")
        (finding,) = findings(lanes)
        self.assertEqual(
            to_dict(finding, FindingStanding(finding, "no room", True)),
            {
                "kind": "stuck",
                "about": "missing",
                "line": 1,
                "step": 1,
                "words": SAVE,
                "address": "1",
                "devices": ["Wren mini"],
                "passing": ["Alder 5", "Moth 2"],
                "unknown": ["Plateau 10"],
                "sentence": "“Save” is missing on Wren mini",
                "reason": "so",
                "apart": [{"trait": "text size", "test": "at least", "value": 1.3, "gap": [1.3, 1.0]}],
                "or": to_dict(finding)["or"],
                "but": "",
                "explained": False,
                "said": finding.apart,
                "chance": round(finding.sides.apart.chance, 4),
                "untried": 1,
                "follows": ["2"],
                "new": True,
                "allowed": "no room",
            },
        )
        self.assertEqual((to_dict(finding)["new"], to_dict(finding)["allowed"]), (False, ""))
        self.assertEqual([rule[0]["trait"] for rule in to_dict(finding)["or"]][:1], ["width"])
        self.assertIn("What sets them apart cannot be told", finding.apart)
        self.assertEqual((finding.outcome, finding.flag, fold_case("Save_the-Date 2")), (Outcome.STUCK, "stuck", "savethedate2"))
        take = TakeName("Wren mini", 1)
        self.assertEqual(finding.place_on(take, stuck[1]), ("0002.png", Box(1, 2, 3, 4)))
        self.assertEqual(finding.place_on(take, replace(stuck[0], after="0001.png")), ("0001.png", None))
        self.assertEqual(finding.place_on(take, None), ("", None))
        remark = Remark(
            kinds.SMALL, "save", "Save", "12 dp", "48 dp", take, Address.of(2), Box(5, 6, 7, 8), "0003.png", (TakeName("Moth 2", 1),)
        )
        remark = replace(remark, example_shot="0009.png", example_box=Box(0, 0, 9, 9))
        noticed = next(f for f in findings(lanes, [remark]) if f.kind is FindingKind.REMARK)
        self.assertEqual(noticed.place_on(take, stuck[1]), ("0003.png", Box(5, 6, 7, 8)))
        self.assertEqual(noticed.place_on(TakeName("Moth 2", 1), stuck[1]), ("0009.png", Box(0, 0, 9, 9)))
        self.assertEqual(noticed.place_on(TakeName("Alder 5", 1), stuck[1]), ("0002.png", Box(1, 2, 3, 4)))
        self.assertEqual((noticed.flag, noticed.number), ("small target", 2))
        names = [[subject.name for subject in part] for part in noticed.sides.subjects]
        self.assertEqual(names, [["Wren mini"], ["Moth 2"], ["Alder 5", "Plateau 10"]])
        self.assertEqual(noticed.sides.unknown, (TakeName("Alder 5", 1), TakeName("Plateau 10", 1)))
        again = replace(remark, address=Address.of(3), take=TakeName("Alder 5", 1), fine=(TakeName("Nobody", 1),))
        twice = next(f for f in findings(lanes, [again, remark]) if f.kind is FindingKind.REMARK)
        self.assertEqual((twice.number, [cell.address.line for cell in twice.follows], len(twice.takes)), (2, [3], 2))
        self.assertEqual(noticed.detail, "Step 2, 1 of 2 devices that show it. 12 dp here, 48 dp elsewhere.")


class Pictures(unittest.TestCase):
    """A recorded picture that most do not show is the odd one itself."""

    GREEN, RED, BLUE = (f"0bb8{'00' * 64}{ink * 25}" for ink in ("305030", "3030c0", "c03030"))

    def outcomes(self, *prints: str) -> list[tuple[str, str]]:
        """Of devices that show these pictures, where the first one was recorded."""
        lanes = []
        for number, shown in enumerate(prints):
            outcome = Outcome.HELD if shown == prints[0] else Outcome.DIFFERS
            looked = replace(result(1, outcome, step=LOOKS), reading=Looked(0.0 if outcome is Outcome.HELD else 0.5, "", shown))
            device: DeviceProfile = replace(ALDER, name=f"D{number}")
            lanes.append(lane(device, replace(looked, why=Reason(Cause.LOOKS_OTHERWISE, "other") if outcome.bad else None)))
        laid = lay(lanes, "D0")
        return [(r.outcome.value, r.reason) for _, r in laid.cells(Address.of(1))]

    def test_what_most_show_is_right(self) -> None:
        other = ("differs", "other")
        self.assertEqual(self.outcomes(self.GREEN, self.RED), [("held", ""), other])
        self.assertEqual(self.outcomes(self.GREEN, self.GREEN, self.RED, self.RED), [("held", "")] * 2 + [other] * 2)
        self.assertEqual(self.outcomes(self.GREEN, self.RED, self.BLUE), [("held", "")] + [other] * 2)
        self.assertEqual(
            self.outcomes(self.GREEN, self.RED, self.RED),
            [("differs", "looks as recorded; on D1 and 1 other it looks otherwise, and alike")]
            + [("adapted", "unlike the recorded picture, as on most devices (2 of 3)")] * 2,
        )
        self.assertEqual(self.outcomes(self.GREEN, self.RED, self.RED, self.BLUE), [("held", "")] + [other] * 3)
        several = self.outcomes(self.GREEN, self.RED, self.RED, self.RED, self.BLUE)
        self.assertEqual([said for said, _ in several], ["differs", "adapted", "adapted", "adapted", "differs"])
        self.assertIn("on D1 and 2 others it looks", several[0][1])
        self.assertEqual(several[4], other)


if __name__ == "__main__":
    unittest.main()
