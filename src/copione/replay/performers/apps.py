"""Apps, keys, and words for people."""

from __future__ import annotations

import contextlib

from ...files.naming import inside
from ...files.reading import FileKind, read_bytes
from ...links.link import HasConditions, HasKeys, InstallsApps, OpensAddresses, ReloadsPages, RunsApps
from ...model import action as a
from ...model.condition import Condition
from ...model.errors import AppMissing, CannotDo, FileTrouble
from ...model.outcome import Cause
from ...model.reading import Said
from ..context import StepContext
from .registry import performs


@performs(a.Launch)
def launch(context: StepContext, action: a.Launch) -> None:
    """Start an app and wait until it is in front."""
    _bring(context, action.app, action.start)


@performs(a.SwitchTo)
def switch_to(context: StepContext, action: a.SwitchTo) -> None:
    """Bring an app to the front as it is."""
    _bring(context, action.app, a.Start.FRONT)


def _bring(context: StepContext, word: str, start: a.Start) -> None:
    package = context.package_of(word)
    context.link.able(RunsApps).launch(package, start)
    context.package = package
    context.watch.look()

    def attempt(last: bool) -> bool | None:
        moment = context.watch.moment
        if moment.screen is not None and moment.screen.app == package:
            return True
        if last:
            context.stuck(Cause.DEVICE, moment.trouble or f"{package} did not come to the foreground")
        return False if last else None

    context.watch.until(context.patience, attempt)


@performs(a.Quit)
def quit_app(context: StepContext, action: a.Quit) -> None:
    """Stop an app, and see that it is gone."""
    package = context.package_of(action.app)
    context.link.able(RunsApps).stop(package)
    moment = context.watch.look()
    if package and moment.screen is not None and moment.screen.app == package:
        context.stuck(Cause.NOT_TAKEN, f"{package} is still in front")


@performs(a.Install)
def install(context: StepContext, action: a.Install) -> None:
    """Install a package file, and read back which version is there now."""
    package, folder = context.package_of(action.app), context.plan.builds
    if folder is None:
        raise CannotDo("There is no project with builds here.")
    try:
        data = read_bytes(inside(folder, action.file), FileKind.PACKAGE)
    except FileTrouble as error:  # the take's own file, and not one of its archive
        raise CannotDo(error.sentence) from error
    link = context.link.able(InstallsApps)
    before = link.installation(package)
    link.install(data)
    try:
        context.reading = Said(context.link.able(RunsApps).version(package))
        other = bool(before) and link.installation(package) == before
    except AppMissing:
        other = True
    if other:
        context.stuck(Cause.NOT_TAKEN, f"{action.file} holds another app: it was installed, and {package} was not")
    context.watch.look()


@performs(a.Uninstall)
def uninstall(context: StepContext, action: a.Uninstall) -> None:
    """Remove an app, and see that it is gone."""
    package = context.package_of(action.app)
    with contextlib.suppress(AppMissing):
        context.link.able(InstallsApps).uninstall(package)
    if package in context.link.able(RunsApps).packages():
        context.stuck(Cause.NOT_TAKEN, f"{package} is still there")
    context.watch.look()


@performs(a.ClearData)
def clear_data(context: StepContext, action: a.ClearData) -> None:
    """Stop an app, and delete what it has stored."""
    context.link.able(RunsApps).clear(context.package_of(action.app))
    context.watch.look()


@performs(a.Press)
def press(context: StepContext, action: a.Press) -> None:
    """Press a key. Back first closes a keyboard that is up; where it would leave the page instead, the first press is skipped."""
    if action.key is a.Key.BACK and context.watch.skip_back():
        context.notes.append("nothing was pressed: on this device, going back does not close the keyboard and would leave the page")
        return
    context.link.able(HasKeys).press(action.key)
    context.watch.acted()
    context.watch.look()


@performs(a.HideKeyboard)
def hide_keyboard(context: StepContext, _action: a.HideKeyboard) -> None:
    """Close the keyboard, and see that it is gone."""
    screen = context.watch.look().screen
    if screen is None or screen.keyboard is None:
        return
    if context.link.able(HasKeys).back_closes_keyboard:
        context.watch.close_keyboard()
        context.watch.made_room = False  # that is what the step is for
    else:
        context.link.able(HasKeys).hide_keyboard()
    screen = context.watch.look().screen
    if screen is None or screen.keyboard is not None:
        context.stuck(Cause.NOT_TAKEN, "the keyboard is still there")


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
    screen = context.watch.look().screen
    if screen is not None and screen.app in context.plan.packages.values():
        context.package = screen.app


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
