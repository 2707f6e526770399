"""Checks: nothing is touched."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from ...model.outcome import Outcome
from ...model.screen import Element
from ...model.step import Step
from ...recognition.evidence import visible
from ...recognition.reach import Reach, reach
from .. import checking
from ..act import Act

if TYPE_CHECKING:
    from ..take import Take


CHECK_S = 3.0  # how long a check waits for the expected value where the script gives no time


def check(take: Take, step: Step, act: Act, scene: str) -> None:
    if step.relation == "is not shown":
        _absent(take, step, act, scene)
        return
    patience = step.within if step.within is not None else min(CHECK_S, take.script.patience)
    found = take.find_target(step, act, scene, patience=patience, at=_looked_at)
    if not found:
        if step.relation == "is shown":
            act.outcome, act.reason = Outcome.DIFFERS, f"not shown: {act.reason}"
        return
    if step.relation == "is shown":
        return
    deadline = take.clock.now() + patience
    element: Element | None = found.element
    while True:
        act.read = checking.reading(step, element) if element is not None else ""
        if element is not None and checking.satisfied(step, act.read):
            return
        if take.clock.now() >= deadline:
            act.outcome, act.reason = Outcome.DIFFERS, f"reads “{act.read}”, expected {step.relation} “{step.value}”".replace(" “”", "")
            return
        take.eye.pause()
        take.eye.look()
        act.before = take.stem
        element = take.again(step, scene)


def _absent(take: Take, step: Step, act: Act, scene: str) -> None:
    deadline = take.clock.now() + (step.within if step.within is not None else min(CHECK_S, take.script.patience))
    while True:
        element = take.again(step, scene)
        act.before = take.stem
        if element is None and take.eye.moment.screen is not None:
            return
        if take.clock.now() >= deadline:
            act.box = visible(element) if element is not None else None
            act.outcome = Outcome.DIFFERS if element is not None else Outcome.STUCK
            act.reason = "it is shown" if element is not None else take.eye.moment.trouble
            return
        take.eye.pause()
        take.eye.look()


def _looked_at(element: Element) -> Reach:
    """For a check it is enough that the element can be seen; a disabled one can."""
    there = reach(element)
    if there.point is None and there.reason == "disabled":
        return Reach(element.box.centre)
    return there


def wait(take: Take, step: Step, act: Act, scene: str) -> None:
    """Look until it holds; stuck where patience ends first."""
    patience = step.within if step.within is not None else take.script.patience
    check(take, replace(step, within=patience), act, scene)
    if act.outcome is Outcome.DIFFERS:
        act.outcome = Outcome.STUCK
