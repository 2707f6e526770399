"""Values put into fields, sliders, switches and choices: act, read back, correct."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...model.outcome import Outcome
from ...model.screen import Flag
from ...model.step import Step
from ...recognition.evidence import visible
from ...screens.reading import reads
from ...touch.making import swipe
from .. import checking, slider
from ..act import Act
from ..looking import Lost

if TYPE_CHECKING:
    from ..take import Take


def type_words(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    if not found.element.has(Flag.FOCUSED):
        take.touch(act, found.point)
    if found.element.text:
        take.link.press("Backspace", len(found.element.text) + 4)
    take.link.type_text(step.value)
    take.eye.look()
    if found.element.has(Flag.PASSWORD):
        return
    again = take.again(step, scene)
    act.read = again.text if again else ""
    if again and checking.plain(act.read) != checking.plain(step.value):
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
        act.outcome, act.reason = Outcome.STUCK, f"it is still {act.read or 'unreadable'} after the tap"


def set_value(take: Take, step: Step, act: Act, scene: str) -> None:
    found = take.find_target(step, act, scene)
    if not found:
        return
    try:
        wanted = float(step.value)
    except ValueError:
        act.stuck(Lost(f"{step.value} is not a number"))
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
        act.stuck(Lost("its value cannot be read"))
    elif read != wanted:
        act.outcome, act.reason = Outcome.STUCK, f"it reads {read:g} after {tries} tries"


def _number(words: str) -> float | None:
    try:
        return float(words)
    except ValueError:
        return None
