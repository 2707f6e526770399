"""Apps, keys, and words for people."""

from __future__ import annotations

from ...links.link import HasConditions, HasKeys, OpensAddresses, ReloadsPages, RunsApps
from ...model import action as a
from ...model.condition import Condition
from ...model.outcome import Cause
from ..context import StepContext
from .registry import performs


@performs(a.Launch)
def launch(context: StepContext, action: a.Launch) -> None:
    """Start the app and wait until it is in front."""
    context.link.able(RunsApps).launch(context.package, action.start)
    context.watch.look()

    def attempt(last: bool) -> bool | None:
        moment = context.watch.moment
        if moment.screen is not None and moment.screen.app == context.package:
            return True
        if last:
            context.stuck(Cause.DEVICE, moment.trouble or f"{context.package} did not come to the foreground")
        return False if last else None

    context.watch.until(context.patience, attempt)


@performs(a.Quit)
def quit_app(context: StepContext, _action: a.Quit) -> None:
    """Stop the app, and see that it is gone."""
    context.link.able(RunsApps).stop(context.package)
    moment = context.watch.look()
    if context.package and moment.screen is not None and moment.screen.app == context.package:
        context.stuck(Cause.NOT_TAKEN, f"{context.package} is still in front")


@performs(a.Press)
def press(context: StepContext, action: a.Press) -> None:
    """Press a key. Back first closes a keyboard that is up; where it would leave the page instead, the first press is skipped."""
    if action.key is a.Key.BACK and context.watch.skip_back():
        context.notes.append("nothing was pressed: on this device, going back does not close the keyboard and would leave the page")
        return
    context.link.able(HasKeys).press(action.key)
    context.watch.acted()
    context.watch.look()


@performs(a.Note, a.Whenever, a.Otherwise, a.End)
def nothing(_context: StepContext, _action: a.Action) -> None:
    """Words for people, and what stands by until it is needed."""


@performs(a.Pause)
def pause(context: StepContext, action: a.Pause) -> None:
    """Let so many seconds go by, and look."""
    until = context.clock.now() + action.seconds
    while context.clock.now() < until:
        context.watch.pause()
    context.watch.look()


@performs(a.Snap)
def snap(context: StepContext, _action: a.Snap) -> None:
    """A picture of the moment, once the screen rests, kept under the step's title."""
    context.watch.look()
    context.note_moment()


@performs(a.Turn)
def turn(context: StepContext, action: a.Turn) -> None:
    """Hold the device the other way, until the take ends."""
    context.conditions.remember(Condition.ORIENTATION)
    context.link.able(HasConditions).turn(action.orientation.value)
    context.watch.look()


@performs(a.Have)
def have(context: StepContext, action: a.Have) -> None:
    """Have the device in another condition, until the take ends."""
    context.conditions.have(action.condition, action.value)
    if action.condition is Condition.LANGUAGE:
        context.speak(action.value)
    context.watch.look()


@performs(a.Open)
def open_address(context: StepContext, action: a.Open) -> None:
    """Go to an address, and wait until a page is there."""
    context.link.able(OpensAddresses).open(action.address)
    context.watch.look()


@performs(a.Reload)
def reload(context: StepContext, _action: a.Reload) -> None:
    """The page anew."""
    context.link.able(ReloadsPages).reload()
    context.watch.look()


@performs(a.Ring)
def ring(context: StepContext, action: a.Ring) -> None:
    """A call comes in."""
    context.conditions.ring(action.caller)
    context.watch.look()
