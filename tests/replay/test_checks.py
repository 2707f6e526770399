import unittest

from copione.model.outcome import Cause, Outcome

from .test_take import RunCase

HIVES = ("launch afresh", 'tap button "Hives"')
FORM = (*HIVES, 'tap item "Hive 2"', 'tap button "New inspection"')
LONG = "The brood pattern is even and calm, no signs of swarming, stores are good, the queen was seen on the third frame, and so on"


class Shown(RunCase):
    def test_what_is_shown_twice_is_shown(self) -> None:
        table = {
            'check text "due" is not shown': Outcome.DIFFERS,  # two rows say it
            'check text "due" is shown': Outcome.HELD,
            'check text "due" in item "Hive 4" is not shown': Outcome.DIFFERS,
            'check text "due" in item "Hive 5" is not shown': Outcome.HELD,
            'check text "due" in item "Hive 5" is shown': Outcome.DIFFERS,
            'check text like "Last seen *" is not shown': Outcome.DIFFERS,
            'check text "Nobody" is not shown': Outcome.HELD,
        }
        results = self.one(*HIVES, *table)[2:]
        self.assertEqual({r.step: r.outcome for r in results}, table)
        self.assertEqual({r.why.cause for r in results if r.outcome.bad and "not shown" in r.step}, {Cause.SHOWN})

    def test_a_block_is_entered_by_the_same_rule(self) -> None:
        lines = (
            'when text "due" is not shown',
            'tap button "Nobody"',
            "end",
            'repeat until text "due" is shown at most 2 times',
            "press back",
            "end",
        )
        results = self.one(*HIVES, *lines)
        self.assertEqual([r.step for r in results if r.outcome.bad], [])


class Emptied(RunCase):
    def test_a_field_is_emptied_on_both_sides_of_the_caret_and_filled_anew(self) -> None:
        notes = 'field "Notes"'
        steps = (
            f'type "{LONG}" into {notes}',
            f"tap {notes}",  # which puts the caret into its middle
            f"clear {notes}",
            f'check {notes} reads ""',
            f'type "{LONG}" into {notes}',
            f"tap {notes}",  # which puts the caret into its middle
            f'type "Calm" into {notes}',
            f'check {notes} reads "Calm"',
            f'type "{LONG}" into {notes}',
            f"tap {notes}",  # which puts the caret into its middle
            f'append " at last" to {notes}',
            f'check {notes} reads "{LONG} at last"',
        )
        self.assertEqual([(r.step, r.reason) for r in self.one(*FORM, *steps) if r.outcome.bad], [])

    def test_a_field_that_keeps_its_text_is_not_cleared(self) -> None:
        phone = self.lab.phones["LABALDER5"]
        key = phone.key
        phone.key = lambda name: None if "DEL" in name else key(name)
        result = self.one(*FORM, 'type "Calm" into field "Notes"', 'clear field "Notes"')[-1]
        self.assertEqual((result.outcome, result.reason), (Outcome.STUCK, "it still holds “Calm” after it was emptied"))


if __name__ == "__main__":
    unittest.main()
