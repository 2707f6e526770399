"""Values put into fields, sliders, switches and choices: act, read back, correct."""

from __future__ import annotations

from ...links.link import HasKeys
from ...model import action as a
from ...model.number import SCRIPT, whole_number
from ...model.outcome import Cause, Outcome
from ...model.reading import InState, Said, State
from ...model.screen import Element, Flag
from ...model.words import plain
from ...recognition.evidence import visible
from ...recognition.reach import clear_area, in_sight
from ...screens.numbers import signs_of
from ...screens.reading import ends_of, reads
from ...touch.making import swipe, tap
from .. import slider
from ..context import StepContext
from ..finder import ROOM_DP
from .registry import performs

REREAD_S = 3.0  # for bringing a field back into sight
SPARE = 4  # keys more than a field's text has characters: a tree may cut it short
EMPTYINGS = 4  # rounds of emptying a field, at most
COUNTS = 12  # looks at a stepper, at most
AT_ONCE = 100  # taps on it between two looks, at most
MOST_NUMBER = 1e12


@performs(a.Type)
def type_words(context: StepContext, action: a.Type) -> None:
    """Empty the field, then type."""
    field = _focused(context)
    if field is None:
        return
    left = _emptied(context, field) if field.text else ""
    if left == field.text:  # nothing could be deleted: a prompt that its platform tells as text, or the reading after typing differs
        left = ""
    if left:
        _not_emptied(context, field, left)
    elif context.outcome is not Outcome.STUCK:
        _typed(context, field, action.text, action.text)


@performs(a.Append)
def append_words(context: StepContext, action: a.Append) -> None:
    """Type behind what the field holds."""
    field = _focused(context)
    if field is not None:
        context.link.able(HasKeys).press(a.Key.END)
        _typed(context, field, action.text, field.text + action.text)


@performs(a.Clear)
def clear(context: StepContext, _action: a.Clear) -> None:
    """Empty the field."""
    field = _focused(context)
    left = _emptied(context, field) if field is not None else ""
    if field is not None and left:
        _not_emptied(context, field, left)


def _focused(context: StepContext) -> Element | None:
    """The field, with the focus in it."""
    found = context.find()
    if found is None:
        return None
    if not found.element.has(Flag.FOCUSED) and not context.touch(found.element, found.point):
        return None
    if found.element.has(Flag.PASSWORD):
        context.hide()
    return found.element


def _emptied(context: StepContext, field: Element) -> str:
    """Delete a field's text on both sides of its caret, read back, and return what is left. The step is stuck where it cannot be read."""
    before = field.text
    for _ in range(EMPTYINGS):
        for key in (a.Key.BACKSPACE, a.Key.DELETE):
            context.link.able(HasKeys).press(key, len(before) + SPARE)
        context.watch.look()
        again = context.again()
        if again is None:
            context.stuck(Cause.NOT_READ, context.trouble or "what it holds cannot be read after it was emptied")
            return ""
        if not again.text or (again.text == before and _is_prompt(again, field.text)):
            return ""
        if again.text == before:
            break
        before = again.text
    return before


def _is_prompt(field: Element, first: str) -> bool:
    """Is what a field still says a prompt that its platform tells as its text? Deleting makes no new words, but may leave `0,00`."""
    return field.text == field.name or (field.text not in first and any(map(str.isalpha, field.text)))


def _not_emptied(context: StepContext, field: Element, left: str) -> None:
    held = "something" if context.secret or field.has(Flag.PASSWORD) else f"“{left}”"
    context.stuck(Cause.NOT_TAKEN, f"it still holds {held} after it was emptied")


def _typed(context: StepContext, field: Element, words: str, expected: str) -> None:
    """Type, and read back what the field holds then; of a secret field nothing can be read."""
    context.link.able(HasKeys).type_text(words)
    context.watch.look()
    if field.has(Flag.PASSWORD):
        return
    again = context.again()
    screen = context.watch.moment.screen
    if screen is not None and screen.keyboard is not None and clear_area(screen).height >= ROOM_DP:  # on less no app shows all of a field
        context.hidden = again is None or in_sight(again).point is None
    if again is None and context.watch.close_keyboard():  # it left no room for the field
        found = context.finder.find_element(context.wanted(), context.limit(REREAD_S), eager=True, reachable=in_sight)
        again = found.element
    if again is None:
        if not words.endswith("\n"):  # which sends it off, and the field may go
            context.stuck(Cause.NOT_READ, context.trouble or "what it holds cannot be read after typing")
        return
    context.reading = Said(again.text)
    if plain(again.text) != plain(expected):
        held = "something else" if context.secret else f"“{again.text}”"
        context.stuck(Cause.NOT_TAKEN, f"the field reads {held} after typing")
    if context.secret:
        context.reading = None


@performs(a.Switch)
def switch(context: StepContext, action: a.Switch) -> None:
    """Tap the switch where it is not as it should be."""
    found = context.find()
    if not found:
        return
    wanted = State.ON if action.on else State.OFF
    if _state(found.element) is not wanted and not context.touch(found.element, found.point):
        return
    again = context.again()
    if again is None:
        context.stuck(Cause.NOT_READ, context.trouble or "it cannot be read after the tap")
        return
    context.reading = InState(_state(again))
    if context.reading.state is not wanted:
        context.stuck(Cause.NOT_TAKEN, f"it is still {context.reading.words} after the tap")


def _state(element: Element) -> State:
    return State.ON if element.has(Flag.CHECKED) else State.OFF


@performs(a.SetTo)
def set_to(context: StepContext, action: a.SetTo) -> None:
    """Slide, or count, until the number is there."""
    wanted = action.number
    found = context.find()
    if not found:
        return
    if found.element.role == "spinbutton":
        _count(context, found.element, wanted)
    else:
        _slide(context, found.element, wanted)


def _slide(context: StepContext, element: Element, wanted: float) -> None:
    known = [(p.share, value) for p in context.portraits() if p.share >= 0 and (value := _number(p.value)) is not None]
    now = _number(reads(element), context.locale)
    if now == wanted:
        context.reading = Said(reads(element))
        return
    limits = element.screen.limits.get(element.row)

    def place(value: float) -> float:
        """Where along it the knob stands: some sliders take no touch beside it."""
        if limits is None:
            return slider.aim(value, known)
        return min(1.0, max(0.0, (value - limits[0]) / (limits[1] - limits[0])))

    here = place(now) if now is not None else 0.5

    def slide(share: float) -> float | None:
        nonlocal here
        box = visible(element)
        y = (box.top + box.bottom) / 2
        context.mark = ((box.left + here * box.width, y), (box.left + share * box.width, y))
        if not context.gesture([swipe(*context.mark[0], *context.mark[1], 0.35)], element):
            return None
        again = context.again()
        read = _number(reads(again), context.locale) if again else None
        here = place(read) if read is not None and limits is not None else share
        return read

    read, tries = slider.settle(wanted, known, slide, limits)
    if context.outcome is Outcome.STUCK:
        return
    if read is None:
        context.stuck(Cause.NOT_READ, context.trouble or "its value cannot be read")
        return
    context.reading = Said(f"{read:g}")
    if read != wanted:
        context.stuck(Cause.NOT_TAKEN, f"it reads {read:g} after {tries} tries")


def _count(context: StepContext, stepper: Element, wanted: float) -> None:
    """Tap the button on the right side as often as it takes: one tap tells how far it goes, and which way."""
    up: int | None = None  # which of the two buttons counts up
    for _ in range(COUNTS):
        now = _number(reads(stepper), context.locale)
        context.reading = Said(reads(stepper))
        if now is None:
            context.stuck(Cause.NOT_READ, context.trouble or "its value cannot be read", element=stepper)
            return
        if now == wanted:
            return
        ends = ends_of(stepper)
        side = _plus(ends) if up is None else up
        side = side if wanted > now else 1 - side
        if not context.touch(ends[side]):
            return
        again = context.again()
        after = _number(reads(again), context.locale) if again is not None else None
        if again is None or after is None or after == now:
            break
        up = side if after > now else 1 - side
        stepper, gone = again, abs(after - now)
        rest = round(min(AT_ONCE + 1.0, abs(wanted - after) / gone)) - 1
        if (wanted - after) * (wanted - now) > 0 and rest > 0:
            for _ in range(min(rest, AT_ONCE)):
                context.watch.touch([tap(*visible(ends_of(stepper)[side]).centre)])
            context.watch.look()
            stepper = context.again() or stepper
    context.reading = Said(reads(stepper))
    context.stuck(Cause.NOT_TAKEN, f"it stays at {context.reading.words}")


def _plus(ends: tuple[Element, Element]) -> int:
    """Which of the two is likely to count up: the one that says so, else the later one."""
    return 0 if "+" in ends[0].text + ends[0].label else 1


def _number(words: str, locale: str = "") -> float | None:
    """The number that a control says, by the signs of its locale, in digits of any script; without one, by those of scripts."""
    number = whole_number(words, signs_of(locale) if locale else SCRIPT)
    return float(number) if number is not None and abs(number) < MOST_NUMBER else None
