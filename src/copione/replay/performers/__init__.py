"""What each action does on a device: a function of the step's context and the action, filled in and in the device's language."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...model import action as a
from ..context import StepContext
from . import apps, checks, choosing, deciding, touching, values

Performer = Callable[[StepContext, Any], None]

PERFORMERS: dict[type[a.Action], Performer] = {
    a.Launch: apps.launch,
    a.Quit: apps.quit_app,
    a.Press: apps.press,
    a.Turn: apps.turn,
    a.Have: apps.have,
    a.Ring: apps.ring,
    a.Open: apps.open_address,
    a.Reload: apps.reload,
    a.Note: apps.nothing,
    a.Whenever: apps.nothing,
    a.Snap: apps.snap,
    a.Tap: touching.tap,
    a.DoubleTap: touching.double_tap,
    a.Hold: touching.hold,
    a.Swipe: touching.swipe,
    a.Fling: touching.fling,
    a.DragTo: touching.drag_to,
    a.DragBy: touching.drag_by,
    a.Pinch: touching.pinch,
    a.Twist: touching.twist,
    a.Draw: touching.draw,
    a.Find: touching.find,
    a.Type: values.type_words,
    a.Append: values.append_words,
    a.Clear: values.clear,
    a.SetTo: values.set_to,
    a.Switch: values.switch,
    a.Choose: choosing.choose,
    a.Keep: checks.keep,
    a.Check: checks.check,
    a.Wait: checks.wait,
    a.Perform: deciding.perform_scene,
    a.When: deciding.when,
    a.WhenValue: deciding.when_value,
    a.WhenDevice: deciding.when_device,
    a.Repeat: deciding.repeat,
    a.RepeatUntil: deciding.repeat_until,
    a.ForEach: deciding.for_each,
    a.Otherwise: apps.nothing,
    a.End: apps.nothing,
}


def perform(context: StepContext) -> None:
    """Do the context's step. What becomes of it is left in the context; CopioneError is raised where the device fails."""
    action = context.step.action
    PERFORMERS[type(action)](context, action)
