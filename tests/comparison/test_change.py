import unittest

from copione.comparison.change import changes
from copione.comparison.lanes import lay
from copione.model.outcome import Outcome

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
