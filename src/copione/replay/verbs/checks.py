"""Checks: nothing is touched."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from ...model.geometry import Box
from ...model.outcome import Outcome
from ...model.screen import Element
from ...model.step import Step
from ...recognition.evidence import visible
from ...recognition.pictures import unlike_at_best
from ...recognition.reach import Reach, reach
from ...recognition.text import NoReader, said_in
from .. import checking
from ..act import Act
from ..pictured import AREA, area_picture

if TYPE_CHECKING:
    from ..take import Take


LOOKS = "looks as recorded"
UNLIKE = 0.01  # share of a picture that may be unlike beyond the tolerances
RESIZED = 4.0  # dp from which it is said that a picture has another size
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
    if step.relation == LOOKS:
        _looks(take, step, act, scene, found.element, patience)
        return
    if step.target is not None and step.target.role == AREA:
        _written(take, step, act, visible(found.element), patience)
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


def keep(take: Take, step: Step, act: Act, scene: str) -> None:
    """Read a target, and have what it says for the steps that follow."""
    found = take.find_target(step, act, scene, at=_looked_at)
    if found:
        act.read = checking.reading(step, found.element)
        if act.read:
            take.values[step.value.strip("{}")] = act.read
        else:
            act.outcome, act.reason = Outcome.STUCK, "it says nothing"


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


def _looks(take: Take, step: Step, act: Act, scene: str, element: Element, patience: float) -> None:
    """Beside the recorded picture of it, within the tolerances."""
    known = next(((p, frame) for p in take.portraits_of(take.template(step), scene) if (frame := take.frame(p)) is not None), None)
    if known is None:
        act.outcome, act.reason = Outcome.STUCK, "no picture of it was recorded"
        return
    portrait, frame = known
    recorded = portrait.box.clipped(Box(0.0, 0.0, portrait.screen.width, portrait.screen.height))
    box, deadline = visible(element), take.clock.now() + patience
    reach_dp, colour = checking.tolerances(step)
    while True:
        seen = area_picture(take.eye, box)
        if seen is None or seen.pixels.size == 0:
            act.outcome, act.reason = Outcome.STUCK, "there is no picture of the screen"
            return
        share = unlike_at_best(frame.cut(recorded), seen, reach_dp, colour)
        act.read = "as recorded" if share <= UNLIKE else f"{share:.0%} unlike"
        if share <= UNLIKE:
            if max(abs(box.width - recorded.width), abs(box.height - recorded.height)) > RESIZED:
                act.read += ", {:.0f} × {:.0f} dp large and {:.0f} × {:.0f} there".format(*_size(box), *_size(recorded))
            return
        if take.clock.now() >= deadline:
            act.outcome, act.reason = Outcome.DIFFERS, f"{share:.0%} of it looks different"
            return
        take.eye.pause()
        take.eye.look()
        act.before = take.stem


def _size(box: Box) -> tuple[float, float]:
    return box.width, box.height


def _written(take: Take, step: Step, act: Act, box: Box, patience: float) -> None:
    """What is written in an area of the picture."""
    deadline = take.clock.now() + patience
    while True:
        seen = area_picture(take.eye, box)
        try:
            act.read = said_in(seen) if seen is not None and seen.pixels.size else ""
        except NoReader as error:
            act.outcome, act.reason = Outcome.STUCK, error.sentence
            return
        if checking.satisfied(step, act.read):
            return
        if take.clock.now() >= deadline:
            if act.by == ("place",):
                act.outcome, act.reason = Outcome.STUCK, f"at its place is written “{act.read}”; it may have moved"
            else:
                act.outcome, act.reason = Outcome.DIFFERS, f"reads “{act.read}”, expected {step.relation} “{step.value}”"
            return
        take.eye.pause()
        take.eye.look()
        act.before = take.stem


def wait(take: Take, step: Step, act: Act, scene: str) -> None:
    """Look until it holds; stuck where patience ends first."""
    patience = step.within if step.within is not None else take.script.patience
    check(take, replace(step, within=patience), act, scene)
    if act.outcome is Outcome.DIFFERS:
        act.outcome = Outcome.STUCK
