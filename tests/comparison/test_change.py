import unittest
from dataclasses import replace

from copione.comparison.change import changes
from copione.comparison.lanes import lay
from copione.model.outcome import Outcome
from copione.model.reading import Counted, InState, Looked, Said, State

from .test_findings import ALDER, MOTH, WREN, lane, result


class Changes(unittest.TestCase):
    def test_what_ended_otherwise_the_worse_first(self) -> None:
        open_, save = 'tap button "Open"', 'tap button "Save"'
        before = lay(
            [
                lane(ALDER, result(1, step=open_), result(2, step=save)),
                lane(WREN, result(1, Outcome.STUCK, "gone", step=open_), result(2, Outcome.UNREACHED, step=save)),
                lane(MOTH, result(1, step=open_)),
            ],
            "Alder 5",
        )
        now = lay(
            [
                lane(ALDER, result(1, step='note "new"'), result(2, step=open_), result(3, Outcome.STUCK, "covered", step=save)),
                lane(WREN, result(1, step='note "new"'), result(2, step=open_), result(3, step=save)),
            ],
            "Alder 5",
        )
        told = [(c.take.device, c.step, c.before.outcome.value, c.now.outcome.value, c.worse) for c in changes(before, now)]
        self.assertEqual(
            told,
            [
                ("Alder 5", save, "held", "stuck", True),
                ("Wren mini", open_, "stuck", "held", False),
                ("Wren mini", save, "unreached", "held", False),
            ],
        )
        self.assertEqual(changes(now, now), ())
        self.assertEqual(changes(before, now)[0].said, "held then, stuck now. covered")

    def test_what_reads_or_looks_otherwise_or_takes_longer(self) -> None:
        check = 'check label "Frames" reads "6"'
        plain = result(1, step=check, read="6")
        red, green = (f"0bb8{'00' * 64}{ink * 25}" for ink in ("3030c0", "305030"))
        looked = replace(plain, reading=Looked(0.0, "", red))
        for was, now, worse, said in (
            (plain, plain, None, None),
            (plain, replace(plain, outcome=Outcome.ADAPTED), True, "held then, adapted now."),
            (replace(plain, outcome=Outcome.ADAPTED), plain, False, "adapted then, held now."),
            (replace(plain, outcome=Outcome.SKIPPED), plain, False, "skipped then, held now."),
            (plain, replace(plain, outcome=Outcome.SKIPPED), False, "held then, skipped now."),
            (replace(plain, outcome=Outcome.STUCK), replace(plain, outcome=Outcome.DIFFERS), False, "stuck then, differs now."),
            (replace(plain, outcome=Outcome.ADAPTED), replace(plain, outcome=Outcome.UNREACHED), True, "adapted then, unreached now."),
            (plain, replace(plain, reading=Said("7")), False, "read “6” then, “7” now"),
            (plain, replace(plain, reading=InState(State.ON)), None, None),
            (replace(plain, reading=Counted(3)), replace(plain, reading=Counted(4)), None, None),
            (looked, replace(plain, reading=Looked(0.0, "", green)), False, "looks otherwise now"),
            (looked, replace(plain, reading=Looked(0.01, "", red)), None, None),
            (looked, plain, None, None),
            (replace(plain, answer=0.3), replace(plain, answer=2.4), False, "took the app 0.3 s then, 2.4 s now"),
            (replace(plain, answer=0.3), replace(plain, answer=1.2), None, None),
        ):
            with self.subTest(was=was.outcome, now=now.outcome, said=said):
                found = changes(lay([lane(ALDER, was)], "Alder 5"), lay([lane(ALDER, now)], "Alder 5"))
                self.assertEqual([(c.worse, c.said) for c in found], [(worse, said)] if said else [])

    def test_of_several_steps_of_the_same_words_the_nearest_is_meant(self) -> None:
        step = 'check label "Frames" reads "6"'
        before = lay([lane(ALDER, *(result(n, step=step, read=str(n)) for n in (2, 5, 9)))], "Alder 5")
        now = lay([lane(ALDER, result(6, step=step, read="5"), result(7, step=step, read="5"), result(8, step=step, read="5"))], "Alder 5")
        self.assertEqual([c.said for c in changes(before, now)], ["read “9” then, “5” now"])
