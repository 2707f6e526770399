"""Stretches of a script tried on a stand-in phone over its real wire, stopped and gone on with."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from unittest import mock

from copione.links.worker import Through
from copione.model.clock import SystemClock
from copione.model.outcome import Outcome
from copione.project.project import Project
from copione.replay.trial import Trial, TrialRequest, TrialStop, Tried

from .test_take import RunCase

STEPS = (
    "launch afresh",
    'tap button "Hives"',
    "repeat 2 times",
    'fling up on list "Hives"',
    "end",
    'find item "Hive 2" in list "Hives" within 20 s',
    'keep text "Hives" as {title}',
    'check text "Hives" reads {title}',
)


class Ear:
    """Hears a trial, and has it go on as it is told: `at` gives what to do where it waits."""

    def __init__(self) -> None:
        self.log: list[str] = []
        self.tried_: list[Tried] = []
        self.values: Mapping[str, str] = {}
        self.trouble = ""
        self.over = threading.Event()
        self.at: Mapping[int, str] = {}
        self.trial: Trial | None = None

    def waits(self, standing: TrialStop) -> None:
        self.log.append(f"waits {standing.line}")
        assert self.trial is not None
        getattr(self.trial, self.at.get(standing.line, "go_on"))()

    def goes_on(self, standing: TrialStop) -> None:
        self.log.append(f"does {standing.line}")

    def tried(self, tried: Tried) -> None:
        self.tried_.append(tried)

    def ended(self, values: Mapping[str, str], trouble: str) -> None:
        self.values, self.trouble = values, trouble
        self.over.set()


class Trials(RunCase):
    def tried(self, asked: TrialRequest, at: Mapping[int, str] | None = None) -> Ear:
        ear = Ear()
        ear.at = at or {}
        (device,) = self.devices("Alder 5")
        trial = ear.trial = Trial(Project(self.project.folder), self.project.load(self.demo), asked, ear, SystemClock())
        trial.run(Through(device.worker))  # type: ignore[arg-type]
        self.assertTrue(ear.over.is_set())
        return ear

    def test_it_stops_before_a_line_and_goes_on_step_by_step(self) -> None:
        self.script(*STEPS)
        ear = self.tried(TrialRequest(5, 12, stops=frozenset({8})), {8: "step", 10: "go_on"})
        self.assertEqual(
            ear.log,
            ["does 5", "does 6", "does 7", "waits 8", "does 8", "waits 8", "does 8", "waits 10", *(f"does {n}" for n in (10, 11, 12))],
        )
        self.assertEqual((ear.values, ear.trouble), ({"title": "Hives"}, ""))
        self.assertEqual({t.result.outcome for t in ear.tried_}, {Outcome.HELD})

    def test_a_stop_between_two_steps_ends_it_and_an_error_of_the_program_is_told(self) -> None:
        self.script(*STEPS)
        ear = Ear()
        (device,) = self.devices("Alder 5")
        trial = ear.trial = Trial(
            Project(self.project.folder), self.project.load(self.demo), TrialRequest(5, 12, stepping=True), ear, SystemClock()
        )
        clear = trial._go.clear
        trial._go.clear = lambda: (trial.stop(), clear())  # it comes just before the trial begins to wait
        trial.run(Through(device.worker))  # type: ignore[arg-type]
        self.assertEqual(ear.log, ["does 5", "does 6"])
        with mock.patch("copione.replay.trial.cut", side_effect=ValueError("never seen")), self.assertLogs("copione.replay.trial", "ERROR"):
            ear = self.tried(TrialRequest(5, 6))
        self.assertEqual(ear.trouble, "This is an error in Copione: ValueError.")

    def test_a_line_or_a_stretch_is_tried_alone_with_what_was_kept_before(self) -> None:
        self.script(*STEPS)
        self.tried(TrialRequest(5, 6))
        ear = self.tried(TrialRequest(7, 7))
        self.assertEqual([t.result.step for t in ear.tried_], ["repeat 2 times", *['fling up on list "Hives"'] * 2])
        ear = self.tried(TrialRequest(12, 12, given={"title": "Hives"}))
        self.assertEqual([(t.result.step, t.result.outcome) for t in ear.tried_], [('check text "Hives" reads "Hives"', Outcome.HELD)])

    def test_where_it_is_stuck_the_likely_elements_are_told_and_can_be_learned(self) -> None:
        self.script("launch afresh", 'tap button "Hvies" within 0.2 s', 'note "after"')
        ear = self.tried(TrialRequest(5, 7))
        stuck = ear.tried_[-1]
        self.assertEqual((stuck.result.outcome, stuck.near[0][0].name), (Outcome.STUCK, "Hives"))
        portrait = stuck.portrait(stuck.near[0][0], "One", "x.png")
        assert portrait is not None
        self.assertEqual((portrait.element.name, portrait.device, portrait.build, portrait.locale), ("Hives", "Alder 5", "2.4", "en-GB"))

    def test_it_can_be_ended_while_it_waits(self) -> None:
        self.script(*STEPS)
        ear = self.tried(TrialRequest(5, 12, stepping=True), {6: "stop"})
        self.assertEqual(ear.log[:2], ["does 5", "waits 6"])
        self.assertEqual(ear.tried_[-1].result.reason, "Stopped by you; button “Hives” was touched for it.")
