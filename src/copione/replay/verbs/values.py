"""Values put into fields, sliders, switches and choices: act, read back, correct."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...model.outcome import Outcome
from ...model.screen import Element, Flag
from ...model.step import Step
from ...recognition.evidence import visible
from ...screens.reading import ends_of, reads
from ...touch.making import swipe, tap
from .. import checking, slider
from ..act import Act
from ..looking import Lost

if TYPE_CHECKING:
    from ..take import Take

COUNTS = 12  # looks at a stepper, at most


def type_words(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    if not found.element.has(Flag.FOCUSED):
        take.touch(act, found.point)
    if found.element.text:
        take.link.press("Backspace", len(found.element.text) + 4)
    _typed(take, step, act, scene, found.element, step.value)


def append_words(take: Take, step: Step, act: Act, scene: str) -> None:
    """Type behind what the field holds."""
    found = take.find_target(step, act, scene)
    if found:
        if not found.element.has(Flag.FOCUSED):
            take.touch(act, found.point)
        take.link.press("End")
        _typed(take, step, act, scene, found.element, found.element.text + step.value)


def _typed(take: Take, step: Step, act: Act, scene: str, field: Element, expected: str) -> None:
    """Type the step's words, and read back what the field holds then; of a secret field nothing can be read."""
    take.link.type_text(step.value)
    take.eye.look()
    if field.has(Flag.PASSWORD):
        return
    again = take.again(step, scene)
    act.read = again.text if again else ""
    if again and checking.plain(act.read) != checking.plain(expected):
        act.outcome, act.reason = Outcome.STUCK, f"the field reads “{act.read}” after typing"


def clear(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if found:
        if not found.element.has(Flag.FOCUSED):
            take.touch(act, found.point)
        take.link.press("Backspace", len(found.element.text) + 4)
        take.eye.look()


def switch(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    if reads(found.element) != step.value:
        take.touch(act, found.point)
    again = take.again(step, scene)
    act.read = reads(again) if again else ""
    if act.read != step.value:
        still = f"it is still {act.read} after the tap" if act.read else ""
        act.outcome, act.reason = Outcome.STUCK, still or take.eye.moment.trouble or "it cannot be read after the tap"


def set_value(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    try:
        wanted = float(step.value)
    except ValueError:
        act.stuck(Lost(f"{step.value} is not a number"))
        return
    if found.element.role == "spinbutton":
        _count(take, step, act, scene, found.element, wanted)
        return
    known = [
        (p.share, float(p.value))
        for p in take.portraits_of(take.template(step), scene)
        if p.share >= 0 and p.value.replace(".", "", 1).isdigit()
    ]
    element = found.element
    now = _number(reads(element))
    if now == wanted:
        act.read = reads(element)
        return
    here = slider.aim(now, known) if now is not None else 0.5

    def slide(share: float) -> float | None:
        nonlocal here
        box = visible(element)
        y = (box.top + box.bottom) / 2
        act.mark = ((box.left + here * box.width, y), (box.left + share * box.width, y))
        take.link.touch([swipe(*act.mark[0], *act.mark[1], 0.35)])
        here = share
        take.eye.look()
        again = take.again(step, scene)
        return _number(reads(again)) if again else None

    read, tries = slider.settle(wanted, known, slide)
    act.read = "" if read is None else f"{read:g}"
    if read is None:
        act.stuck(Lost(take.eye.moment.trouble or "its value cannot be read"))
    elif read != wanted:
        act.outcome, act.reason = Outcome.STUCK, f"it reads {read:g} after {tries} tries"


def _count(take: Take, step: Step, act: Act, scene: str, stepper: Element, wanted: float) -> None:
    """Tap the button on the right side as often as it takes: one tap tells how far it goes, and which way."""
    up: int | None = None  # which of the two buttons counts up
    for _ in range(COUNTS):
        now = _number(reads(stepper))
        act.read = reads(stepper)
        if now is None:
            act.stuck(Lost(take.eye.moment.trouble or "its value cannot be read"))
            return
        if now == wanted:
            return
        ends = ends_of(stepper)
        side = _plus(ends) if up is None else up
        side = side if wanted > now else 1 - side
        take.touch(act, visible(ends[side]).centre)
        again = take.again(step, scene)
        after = _number(reads(again)) if again is not None else None
        if again is None or after is None or after == now:
            break
        up = side if after > now else 1 - side
        stepper, gone = again, abs(after - now)
        rest = round(abs(wanted - after) / gone) - 1
        if (wanted - after) * (wanted - now) > 0 and rest > 0:
            for _ in range(rest):
                take.link.touch([tap(*visible(ends_of(stepper)[side]).centre)])
            take.eye.look()
            stepper = take.again(step, scene) or stepper
    act.read = reads(stepper)
    act.outcome, act.reason = Outcome.STUCK, f"it stays at {act.read}"


def _plus(ends: tuple[Element, Element]) -> int:
    """Which of the two is likely to count up: the one that says so, else the later one."""
    return 0 if "+" in ends[0].text + ends[0].label else 1


def _number(words: str) -> float | None:
    try:
        return float(words)
    except ValueError:
        return None
