"""Heads of blocks: is it so, and how often? Nothing is touched, and nothing is scrolled in search of it."""

from __future__ import annotations

from ...model import action as a
from ...model.number import first_number, signs_in
from ...model.outcome import Cause, Outcome
from ...model.portrait import Sighting
from ...model.reading import BranchTaken, InNumber, Said
from ...model.relation import Between, Compares, IsNotShown, IsShown, LooksAsRecorded, Relation
from ...model.screen import Element
from ...recognition.evidence import visible
from ...recognition.reach import in_sight
from ..context import StepContext
from .checks import looks, read
from .registry import performs

#: Why something cannot be decided: it may be so, or not.
OPEN = frozenset({Cause.NO_TREE, Cause.AMBIGUOUS})


@performs(a.When)
def when(context: StepContext, action: a.When) -> None:
    """Of something on the screen, looked at once, or for as long as the line says."""
    _decide(context, action.relation)


@performs(a.RepeatUntil)
def repeat_until(context: StepContext, action: a.RepeatUntil) -> None:
    """Does it hold yet?"""
    _decide(context, action.relation)


@performs(a.WhenValue)
def when_value(context: StepContext, action: a.WhenValue) -> None:
    """Of a value."""
    asked = context.asked.action
    assert isinstance(asked, a.WhenValue)
    numeric = isinstance(action.relation, Between | Compares)
    so = action.relation.fits(InNumber(first_number(action.value, signs_in(action.value)), action.value) if numeric else Said(action.value))
    said = "a value that is not told" if context.secret else f"“{action.value}”"
    context.reading = BranchTaken(f"{asked.value} is {said}", so)


@performs(a.WhenDevice)
def when_device(context: StepContext, action: a.WhenDevice) -> None:
    """Of the device."""
    device = context.link.profile()
    screen = context.watch.moment.screen
    width = screen.width if screen is not None else device.width
    so = action.fact.holds(device, width)
    context.reading = BranchTaken(action.fact.said(device, width), so)


@performs(a.Repeat)
def repeat(context: StepContext, action: a.Repeat) -> None:
    """So many turns."""
    many = a.turns(action.times)
    context.turns = ({},) * many
    context.reading = BranchTaken(f"{many} turn{'' if many == 1 else 's'}", many > 0)


@performs(a.ForEach)
def for_each(context: StepContext, action: a.ForEach) -> None:
    """A turn for each row."""
    rows = context.turns = context.plan.tables.get(action.table, ())
    context.reading = BranchTaken(f"{len(rows)} row{'' if len(rows) == 1 else 's'}", bool(rows))


@performs(a.Perform)
def perform_scene(context: StepContext, action: a.Perform) -> None:
    """With those values."""
    context.values = action.values


def _decide(context: StepContext, relation: Relation) -> None:
    """Leaves `BranchTaken`, or is stuck where it cannot be told whether it holds."""
    what = context.step.action.targets()[0].words().replace('"', "“", 1).replace('"', "”", 1)

    def attempt(last: bool) -> bool | None:
        context.note_moment()
        context.outcome, context.why, context.box = Outcome.HELD, None, None
        so, said = _holds(context, relation)
        if context.outcome is Outcome.STUCK:
            return False if last else None
        if so or last:
            context.reading = BranchTaken(f"{what} {said}", so)
        return True if so or last else None

    context.watch.look()
    context.watch.until(context.step.within or 0.0, attempt)


def _holds(context: StepContext, relation: Relation) -> tuple[bool, str]:
    """Whether it holds on the newest moment, and what is so, as the rest of a sentence about the target."""
    if isinstance(relation, IsShown | IsNotShown):
        return _seen(context, relation)
    found = context.finder.now(context.wanted())
    element: Element | None = None
    if isinstance(found, Sighting):
        element = found.element if in_sight(found.element).point is not None else None
        context.evidence = found.by
    elif found.why.cause in OPEN:
        context.stuck(found.why.cause, found.why.words, found.why.about)
        return False, ""
    if element is None:
        return False, "is not shown"
    context.box = visible(element)
    if isinstance(relation, LooksAsRecorded):
        looks(context, relation, element, 0.0)
        so = context.outcome is Outcome.HELD
        context.outcome = Outcome.STUCK if context.outcome is Outcome.STUCK else Outcome.HELD
        context.why = context.why if context.outcome is Outcome.STUCK else None
        return so, "looks as recorded" if so else "looks otherwise"
    reading = read(context, context.step.action.targets()[0], relation, element)
    return relation.fits(reading), f"reads “{reading.words}”"


def _seen(context: StepContext, relation: Relation) -> tuple[bool, str]:
    """Of `is shown` and `is not shown`."""
    seen = context.shown()
    if seen.unclear is not None:
        context.stuck(seen.unclear.cause, seen.unclear.words, seen.unclear.about)
        return False, ""
    if seen.element is not None:
        context.box, context.evidence = visible(seen.element), seen.by
    so = (seen.element is not None) == isinstance(relation, IsShown)
    return so, "is shown" if seen.element is not None else "is not shown"
