"""Checks: nothing is touched."""

from __future__ import annotations

from dataclasses import replace

from ...language.registry import words_of
from ...model import action as a
from ...model.geometry import Box
from ...model.number import ScreenWords, first_number
from ...model.outcome import Cause, Evidence, Outcome
from ...model.reading import Counted, InDay, InNumber, InOrder, InState, Looked, Moved, Reading, Said, State
from ...model.relation import (
    Between,
    Compares,
    HasItems,
    IsDay,
    IsInOrder,
    IsMoved,
    IsNotShown,
    IsShown,
    IsState,
    LooksAsRecorded,
    Reads,
    Relation,
    Tolerance,
)
from ...model.screen import Element, Flag
from ...model.target import AREA, Target
from ...recognition.evidence import visible
from ...recognition.fingerprint import fingerprint
from ...recognition.movement import moved
from ...recognition.pictures import unlike_at_best
from ...recognition.text import NoReader, said_in
from ...screens.dates import day_of, same_day
from ...screens.numbers import signs_of
from ...screens.reading import value_of_caption
from ..context import StepContext
from ..finder import CALM_S
from ..ordering import sort_key, sorting, unsortable
from .registry import READERS, performs, reads

USUAL = Tolerance(1.5, 0.15)  # a letter is drawn a little elsewhere on a screen of another density
RESIZED = 4.0  # dp from which it is said that a picture has another size
CHECK_S = 3.0  # how long a check waits for the expected value where the script gives no time


@performs(a.Check)
def check(context: StepContext, action: a.Check) -> None:
    """Compare what is there with what is expected; where it differs at first, it is looked at again for a while."""
    _judge(context, action.target, action.relation, context.limit(CHECK_S))
    if action.lasting is None:
        return
    until = context.clock.now() + action.lasting
    while context.outcome is Outcome.HELD and context.clock.now() < until:
        context.watch.pause()
        context.watch.look()
        _judge(context, action.target, action.relation, 0.0)
        if context.outcome is not Outcome.HELD and context.why is not None:
            context.why = replace(context.why, words=f"not for {action.lasting:g} s: {context.why.words}")


@performs(a.Wait)
def wait(context: StepContext, action: a.Wait) -> None:
    """Look until it holds; stuck where patience ends first. What is waited for comes by itself as a rule: scrolling begins late."""
    _judge(context, action.target, action.relation, context.limit(), context.limit() / 2)
    if context.outcome is Outcome.DIFFERS:
        context.outcome = Outcome.STUCK


@performs(a.Keep)
def keep(context: StepContext, action: a.Keep) -> None:
    """Read a target, and have what it says for the steps that follow."""
    found = context.see()
    if found:
        context.reading = _words_of(context, action.target, found.element)
        if context.reading.words:
            context.keep(action.variable, ScreenWords(context.reading.words, signs_of(context.locale)))
        else:
            context.stuck(Cause.NOT_READ, "it says nothing")


def _judge(context: StepContext, target: Target, relation: Relation, patience: float, calm: float = CALM_S) -> None:
    if isinstance(relation, IsNotShown):
        _absent(context, patience)
        return
    found = context.see(patience=patience, calm=calm, still=isinstance(relation, IsShown))
    if not found:
        if isinstance(relation, IsShown) and context.why is not None and context.why.cause is Cause.AMBIGUOUS:
            seen = context.shown()
            if seen.element is not None:  # which of them is meant makes no difference to whether it is shown
                context.outcome, context.why, context.evidence = Outcome.HELD, None, seen.by
                context.box = visible(seen.element)
                return
        if isinstance(relation, IsShown) and context.why is not None and context.why.cause is not Cause.NO_TREE:
            context.differs(Cause.NOT_SHOWN, f"not shown: {context.why.words}")
        return
    if not relation.reads_target:
        return
    if isinstance(relation, LooksAsRecorded):
        looks(context, relation, found.element, patience)
    elif isinstance(relation, IsMoved):
        _moved(context, relation, found.element, patience)
    elif target.role == AREA:
        _written(context, relation, visible(found.element), patience)
    else:
        _reads(context, target, relation, found.element, patience)


def read(context: StepContext, target: Target, relation: Relation, element: Element) -> Reading:
    """What the target of a check says, as what the relation is about: its words, unless a reader is registered for the relation."""
    reader = READERS.get(type(relation))
    return reader(context, target, relation, element) if reader is not None else _words_of(context, target, element)


@reads(IsDay)
def _day(context: StepContext, target: Target, _relation: IsDay, element: Element) -> InDay:
    words = _words_of(context, target, element).words
    return InDay(day_of(words, context.locale), words)


@reads(Between, Compares)
def _number(context: StepContext, target: Target, _relation: Relation, element: Element) -> InNumber:
    words = _words_of(context, target, element).words
    return InNumber(first_number(words, signs_of(context.locale)), words)


@reads(IsInOrder)
def _order(context: StepContext, _target: Target, relation: IsInOrder, element: Element) -> InOrder:
    values = tuple(value for _, value in sorting(element, relation.by))
    return InOrder(values, tuple(sort_key(value, context.locale) for value in values))


@reads(HasItems)
def _items(_context: StepContext, _target: Target, _relation: HasItems, element: Element) -> Counted:
    return Counted(sum(e.role in {"listitem", "option"} and e.parent == element for e in element.screen))


@reads(IsState)
def _state(context: StepContext, target: Target, relation: IsState, element: Element) -> Reading:
    if relation.state in (State.ENABLED, State.DISABLED):
        return InState(State.ENABLED if element.has(Flag.ENABLED) else State.DISABLED)
    if relation.state in (State.SELECTED, State.NOT_SELECTED):
        return InState(State.SELECTED if element.has(Flag.SELECTED) or element.has(Flag.CHECKED) else State.NOT_SELECTED)
    return _words_of(context, target, element)


def _words_of(context: StepContext, target: Target, element: Element) -> Said:
    """A label's value is what stands beside it, anything else speaks for itself."""
    if target.role == "label":
        return Said(value_of_caption(element) or element.text or element.name)
    return Said(context.says(element))


def _reads(context: StepContext, target: Target, relation: Relation, first: Element, patience: float) -> None:
    element: Element | None = first

    def attempt(last: bool) -> bool | None:
        nonlocal element
        if context.watch.stem != context.before:
            context.note_moment()
            element = context.again()
        context.reading = read(context, target, relation, element) if element is not None else Said("")
        if element is not None and (relation.fits(context.reading) or _same_day(context, relation)):
            return True
        if last:
            doubt = unsortable(element, relation) if element is not None and isinstance(relation, IsInOrder) else ""
            if doubt:
                context.stuck(Cause.NOT_READ, doubt)
            else:
                context.differs(Cause.READS_OTHERWISE, f"reads “{context.reading.words}”, expected {_expected(relation)}")
        return False if last else None

    context.watch.until(patience, attempt)


def _same_day(context: StepContext, relation: Relation) -> bool:
    """Were the same words expected in another language: both name one day, each as its language does?"""
    if not isinstance(relation, Reads) or context.reading is None:
        return False
    return same_day(relation.text, context.reading.words, context.locale)


def _expected(relation: Relation) -> str:
    return words_of(relation).replace('"', "“", 1).replace('"', "”", 1)


def _absent(context: StepContext, patience: float) -> None:
    def attempt(last: bool) -> bool | None:
        seen = context.shown()
        context.note_moment()
        if seen.element is None and seen.unclear is None:
            return True
        if last and seen.element is not None:
            context.box, context.evidence = visible(seen.element), seen.by
            context.differs(Cause.SHOWN, "it is shown")
        elif last and seen.unclear is not None:
            context.stuck(seen.unclear.cause, seen.unclear.words, seen.unclear.about)
        return False if last else None

    context.watch.until(patience, attempt)


def looks(context: StepContext, relation: LooksAsRecorded, element: Element, patience: float) -> None:
    """Beside the recorded picture of it, within the tolerances."""
    frames = ((p, context.finder.recorded.frame(p)) for p in context.portraits())
    known = next(((p, frame) for p, frame in frames if frame is not None), None)
    if known is None:
        context.stuck(Cause.NO_RECORD, "no picture of it was recorded")
        return
    portrait, frame = known
    recorded = portrait.box.clipped(Box(0.0, 0.0, portrait.screen.width, portrait.screen.height))
    box, allowed = visible(element), relation.tolerance or USUAL

    def attempt(last: bool) -> bool | None:
        context.note_moment()
        seen = context.picture_in(box)
        if seen is None:
            context.stuck(Cause.NO_TREE, "there is no picture of the screen")
            return False
        unlike = unlike_at_best(frame.cut(recorded), seen, allowed.reach_dp, allowed.colour)
        context.reading = Looked(unlike, _resized(box, recorded), fingerprint(seen))
        if relation.fits(context.reading):
            return True
        if last:
            context.reading = replace(context.reading, remark="")
            context.differs(Cause.LOOKS_OTHERWISE, f"{context.reading.unlike:.0%} of it looks different")
        return False if last else None

    context.watch.until(patience, attempt)


def _moved(context: StepContext, relation: IsMoved, element: Element, patience: float) -> None:
    """Beside how it was before a finger first moved it in this take, else beside the recorded picture of it."""
    before = context.unmoved.get(context.asked.key())
    if before is None:
        frames = ((p, context.finder.recorded.frame(p)) for p in context.portraits())
        before = next((frame.cut(p.box) for p, frame in frames if frame is not None), None)
    if before is None:
        context.stuck(Cause.NO_RECORD, "nothing moved it before, and no picture of it was recorded")
        return
    box, known = visible(element), before

    def attempt(last: bool) -> bool | None:
        context.note_moment()
        seen = context.picture_in(box)
        found = moved(known, seen) if seen is not None else None
        if found is None:
            if last:
                context.stuck(Cause.NOT_READ, "too little of it is the same to tell how far it moved")
            return False if last else None
        context.reading = Moved(*found)
        if relation.fits(context.reading):
            return True
        if last:
            context.differs(Cause.READS_OTHERWISE, f"is {context.reading.words}, expected {_expected(relation)}")
        return False if last else None

    context.watch.until(patience, attempt)


def _resized(box: Box, recorded: Box) -> str:
    if max(abs(box.width - recorded.width), abs(box.height - recorded.height)) <= RESIZED:
        return ""
    return f", {box.width:.0f} × {box.height:.0f} dp large and {recorded.width:.0f} × {recorded.height:.0f} there"


def _written(context: StepContext, relation: Relation, box: Box, patience: float) -> None:
    """What is written in an area of the picture."""

    def attempt(last: bool) -> bool | None:
        context.note_moment()
        seen = context.picture_in(box)
        try:
            words = said_in(seen) if seen is not None else ""
            numeric = isinstance(relation, Between | Compares)
            context.reading = InNumber(first_number(words, signs_of(context.locale)), words) if numeric else Said(words)
        except NoReader as error:
            context.stuck(Cause.NOT_READ, error.sentence)
            return False
        if relation.fits(context.reading):
            return True
        if last and context.evidence == (Evidence.PLACE,):
            context.stuck(Cause.NOT_HERE, f"at its place is written “{context.reading.words}”; it may have moved")
        elif last:
            words = f"reads “{context.reading.words}”, expected {_expected(relation)}"
            context.differs(Cause.READS_OTHERWISE, words)
        return False if last else None

    context.watch.until(patience, attempt)
