"""Apps, keys, and words for people."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...language.words import KEYS
from ...model.step import Step
from ..act import Act
from ..looking import Lost

if TYPE_CHECKING:
    from ..take import Take


def launch(take: Take, step: Step, act: Act, _scene: str) -> None:
    take.link.launch(take.package, afresh=step.value == "afresh")
    deadline = take.clock.now() + take.script.patience
    while True:
        moment = take.eye.look()
        if moment.screen is not None and moment.screen.app == take.package:
            return
        if take.clock.now() >= deadline:
            act.stuck(Lost(moment.trouble or f"{take.package} did not come to the front"))
            return
        take.eye.pause()


def quit(take: Take, _step: Step, _act: Act, _scene: str) -> None:
    take.link.stop(take.package)
    take.eye.look()


def press(take: Take, step: Step, _act: Act, _scene: str) -> None:
    take.link.press(KEYS[step.value])
    take.eye.look()


def note(take: Take, _step: Step, _act: Act, _scene: str) -> None:
    """Words for people."""


def snap(take: Take, _step: Step, act: Act, _scene: str) -> None:
    """A picture of the moment, once the screen rests, kept under the step's words."""
    take.eye.look()
    act.before = take.stem


def turn(take: Take, step: Step, _act: Act, _scene: str) -> None:
    take.link.turn(step.value)
    take.eye.look()
