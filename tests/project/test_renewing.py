"""What an app does otherwise on purpose is taken over into the script: another reading, state or picture, an element in another's place."""

import unittest
from dataclasses import replace
from functools import partial

from copione.comparison.lanes import Lane
from copione.engine.judging import lanes_of
from copione.files.writing import write_whole
from copione.model.outcome import Outcome, Result
from copione.model.reading import Said
from copione.project.archive import read_run
from copione.project.naming import portraits_path
from copione.project.portraits import save_portraits
from copione.project.renewing import NothingToTakeOver, renewal_of, renewals_of, take_over, take_over_all
from copione.recognition.phrases import Interpreter
from copione.replay.evidence import Here, RecordedEvidence
from copione_lab.model import Fault
from copione_lab.phone import APPS

from ..benches import APP, SERIALS
from ..replay.test_take import RunCase

MORE = """scene "More"
    check label "Temper" reads "Quiet"
    check label "Weight" reads "{note}"
    tap button "New inspection"
    check switch "Queen seen" is on
    tap button "Save it"
"""
KEPT = 'image "Comb picture"'


class Renewing(RunCase):
    def test_what_is_taken_over_holds(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.spoilt = (Fault("f", "another-picture", (), "", "hive", "comb_picture"),)
        text = self.demo.read_text("utf-8")
        head = text[: text.index("looks as recorded") + len("looks as recorded")]
        write_whole(self.demo, f"{head}\n\n{MORE}".encode())
        before = self.run_on("Alder 5").results["Alder 5"]
        self.assertEqual([r.line for r in before if r.outcome.bad], [11, 14, 15, 17, 18])
        (lane,) = lanes_of(read_run(self.run_made.folder)).lanes
        said = []
        for result in (r for r in before if r.outcome.bad):
            loaded = self.project.load(self.demo)
            try:
                renewal = renewal_of(loaded, lane, result.address, Interpreter({}))
            except NothingToTakeOver as error:
                self.assertIn("comes from the data", error.sentence)
                continue
            said.append((renewal.then, renewal.now))
            self.assertTrue(renewal.seen is not None and renewal.seen.path.exists())
            document, portraits = take_over(loaded, renewal)
            write_whole(self.demo, document.text.encode())
            if portraits is not None:
                save_portraits(portraits_path(self.demo), portraits)
        picture, *others = said
        self.assertEqual(picture[0], "as recorded")
        self.assertEqual(others, [("Quiet", "Nervous"), ("on", "off"), ("button “Save it”", "button “Save inspection”")])
        after = self.run_on("Alder 5").results["Alder 5"]
        self.assertEqual([(r.line, r.outcome) for r in after if r.outcome.bad], [(15, Outcome.DIFFERS)])

    def test_a_new_build_is_taken_over_at_once_and_the_old_one_goes_on(self) -> None:
        def on_build(build: str) -> list[Result]:
            for phone in self.lab.phones.values():
                phone._installed[APP] = partial(APPS[APP], phone, build)
            return self.run_on("Alder 5").results["Alder 5"]

        self.assertEqual([r.line for r in on_build("2.5") if r.outcome is not Outcome.HELD], [8, 9, 10, 14, 20])
        (lane,) = lanes_of(read_run(self.run_made.folder)).lanes
        loaded = self.project.load(self.demo)
        found = renewals_of(loaded, lane, Interpreter({}))
        self.assertEqual(
            [(r.step.line, r.renamed is not None) for r in found], [(8, False), (9, False), (10, False), (14, True), (20, False)]
        )
        document, portraits = take_over_all(loaded, found)
        self.assertIn('tap button "Begin inspection"', document.text)
        write_whole(self.demo, document.text.encode())
        save_portraits(portraits_path(self.demo), portraits)
        self.assertEqual([r for r in on_build("2.5") if r.outcome is not Outcome.HELD], [])
        older = [(r.line, r.outcome, r.reason) for r in on_build("2.4") if r.outcome is not Outcome.HELD]
        self.assertEqual(older, [(14, Outcome.ADAPTED, "it reads “New inspection”")])

    def test_what_cannot_be_taken_over_is_said(self) -> None:
        self.script("launch afresh", 'check button "Hives" is not shown', 'check text "Good morning" reads "Good evening"')
        results = self.run_on("Alder 5").results["Alder 5"]
        (lane,) = lanes_of(read_run(self.run_made.folder)).lanes
        loaded = self.project.load(self.demo)
        self.script("launch afresh", 'check button "Hives" is shown', "launch afresh")
        changed = self.project.load(self.demo)
        braced = Lane.of(lane.name, lane.device, [replace(lane.result(results[2].address), reading=Said("Good {hive}"))])
        for script, on, result, words in (
            (loaded, lane, results[0], "Nothing of it can be taken over"),
            (loaded, lane, results[1], "Nothing of it can be taken over"),
            (changed, lane, results[2], "Line 7 is another one now"),
            (loaded, braced, results[2], "what stands in braces is a variable"),
        ):
            with self.subTest(words), self.assertRaises(NothingToTakeOver) as raised:
                renewal_of(script, on, result.address, Interpreter({}))
            self.assertIn(words, raised.exception.sentence)

    def test_a_portrait_that_was_taken_over_counts_from_its_build_on(self) -> None:
        (recorded, *_) = self.project.load(self.demo).portraits[KEPT]
        taken = replace(recorded, build="2.10", picture="new.png")
        learned = replace(recorded, device="Moth 2", build="2.10", locale="en-GB", picture="moth.png")
        for build, first in (("2.10", "new.png"), ("3", "new.png"), ("2.9", recorded.picture), ("", recorded.picture)):
            known = RecordedEvidence({KEPT: (recorded, learned, taken)}, Interpreter({}), None, Here("Alder 5", build, "de-DE"))
            step = next(s for _, s in self.project.load(self.demo).script.steps() if s.key() == KEPT)
            self.assertEqual(known.of(step.target, "")[0].picture, first, build)


if __name__ == "__main__":
    unittest.main()
