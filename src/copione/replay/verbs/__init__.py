"""What each verb of the language does on a device: a function of the take, the step, what it gathers, and the scene's name."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from ...model.step import Step
from ..act import Act
from . import apps, checks, choosing, touching, values

if TYPE_CHECKING:
    from ..take import Take

VERBS: dict[str, Callable[[Take, Step, Act, str], None]] = {
    "launch": apps.launch,
    "quit": apps.quit,
    "press": apps.press,
    "turn": apps.turn,
    "note": apps.note,
    "whenever": apps.note,
    "tap": touching.tap,
    "double-tap": touching.double_tap,
    "hold": touching.hold,
    "swipe": touching.swipe,
    "fling": touching.fling,
    "drag": touching.drag,
    "pinch": touching.pinch,
    "twist": touching.twist,
    "draw": touching.draw,
    "find": touching.find,
    "type": values.type_words,
    "append": values.append_words,
    "clear": values.clear,
    "set": values.set_value,
    "switch": values.switch,
    "choose": choosing.choose,
    "snap": apps.snap,
    "keep": checks.keep,
    "check": checks.check,
    "wait": checks.wait,
}
