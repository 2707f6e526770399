"""One of several: an option of a group, of a list that opens, of a wheel; a day of a calendar or of three wheels."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from typing import TYPE_CHECKING

from ...model.outcome import Outcome
from ...model.screen import Element, Flag, Screen
from ...model.step import Step, Target
from ...recognition.evidence import fold, visible
from ...recognition.reach import Reach
from ...screens.dates import day_of, month_named
from ...screens.reading import reads
from ...touch.making import drag
from ..act import Act
from ..looking import WHEEL_TALL, Found, Lost

if TYPE_CHECKING:
    from ..take import Take

TURNS = 16  # of one wheel, at most
MONTHS = 40  # a calendar is leafed through, at most
FULL = 20  # days from which a screen is a calendar


def choose(take: Take, step: Step, act: Act, scene: str) -> None:
    holder = take.find_target(
        step, act, scene, at=lambda element: Reach(element.box.centre) if element.role == "radiogroup" else take.reach(element)
    )
    if not holder or step.target is None:
        return
    if holder.element.role == "combobox":
        _combo(take, step, act, scene, holder)
    else:
        _option(take, step, act, scene)


def _option(take: Take, step: Step, act: Act, scene: str) -> None:
    act.by, act.notes = (), []
    found = take.eye.find(
        Target("", step.value, step.target), (), take.script.patience, inside_portraits=take.portraits_of(take.template(step), scene)
    )
    if isinstance(found, Lost):
        act.stuck(Lost(f"“{step.value}”: {found.reason}", found.element))
        return
    act.found(found)
    act.before = take.stem
    if not found.element.has(Flag.CHECKED):
        take.touch(act, found.point)
    again = take.again(step, scene)
    act.read = reads(again) if again else ""
    if again and act.read != step.value:
        act.outcome, act.reason = Outcome.STUCK, f"“{act.read or 'nothing'}” is chosen after the tap"


def _combo(take: Take, step: Step, act: Act, scene: str, holder: Found) -> None:
    locale = take.link.profile().locale
    day = day_of(step.value, locale)

    def settled(now: Element | None) -> bool:
        if now is None:
            return False
        act.read = reads(now)
        return day_of(act.read, locale) == day if day else fold(act.read) == fold(step.value)

    if settled(holder.element):
        return
    if day is None and holder.element.box.height >= WHEEL_TALL:
        _turn(take, lambda: take.again(step, scene), lambda words: fold(words) == fold(step.value))
    else:
        take.touch(act, holder.point)
        reason = _day(take, day, locale) if day else _listed(take, step.value)
        if reason:
            act.outcome, act.reason = Outcome.STUCK, reason
            return
    if not settled(take.again(step, scene)):
        act.outcome, act.reason = Outcome.STUCK, f"it reads “{act.read}” after choosing"


def _listed(take: Take, value: str) -> str:
    """Tap the option in the list that opened; why not, or nothing."""
    found = take.eye.find(Target("", value), (), take.script.patience, eager=True)
    if isinstance(found, Lost):
        return f"“{value}”: {found.reason}"
    take.gesture_tap(found.point)
    return ""


# wheels


def _turn(take: Take, wheel: Callable[[], Element | None], right: Callable[[str], bool], guess: int = 0) -> bool:
    """Turn a wheel until it reads what it should: by `guess` rows at once first, then a row at a time, down to its end and back."""
    down, last = guess >= 0, ""
    for turn in range(TURNS * 3):
        now = wheel()
        if now is None:
            return False
        read = reads(now)
        if right(read):
            return True
        if turn and read == last:
            if not down:
                return False
            down = False
        last = read
        box = visible(now)
        rows = guess if turn == 0 and guess else 1 if down else -1
        x, y = box.centre
        take.gesture([drag(x, y + 4 * (rows > 0), x, y - rows * box.height / 3, 0.3)])
    return False


def _day(take: Take, day: date, locale: str) -> str:
    """Pick a day in whatever opened; why not, or nothing."""
    screen = take.eye.moment.screen
    if screen is None:
        return take.eye.moment.trouble
    if len(_days(screen, locale)) >= FULL:
        reason = _calendar(take, day, locale)
    else:
        reason = _wheels(take, day, locale)
    if reason:
        return reason
    _confirm(take, locale)
    return ""


def _wheels(take: Take, day: date, locale: str) -> str:
    """Three wheels, told apart by what they read; the day last, since months are not equally long."""

    def kinds() -> dict[str, Element]:
        screen = take.eye.moment.screen
        found: dict[str, Element] = {}
        for element in screen or ():
            if element.role == "combobox":
                words = reads(element)
                kind = (
                    "month"
                    if month_named(words, locale)
                    else "year"
                    if words.isdigit() and int(words) > 31
                    else "day"
                    if words.isdigit()
                    else ""
                )
                found.setdefault(kind, element)
        return found

    if not {"day", "month", "year"} <= set(kinds()):
        return "nothing to pick a day from opened"
    wanted = {"year": day.year, "month": day.month, "day": day.day}

    def number(kind: str, words: str) -> int | None:
        return month_named(words, locale) if kind == "month" else int(words) if words.isdigit() else None

    for kind, value in wanted.items():
        for _ in range(4):
            wheel = kinds().get(kind)
            now = number(kind, reads(wheel)) if wheel else None
            if now is None:
                return f"the wheel of the {kind} cannot be read"
            if now == value:
                break
            _turn(take, partial(_get, kinds, kind), partial(_is, number, kind, value), _most(value - now))
    return ""


def _get(kinds: Callable[[], dict[str, Element]], kind: str) -> Element | None:
    return kinds().get(kind)


def _is(number: Callable[[str, str], int | None], kind: str, value: int, words: str) -> bool:
    return number(kind, words) == value


def _most(rows: int) -> int:
    """So many rows are turned at once that the finger stays on the glass."""
    return max(-6, min(6, rows))


# calendars


def _days(screen: Screen, locale: str) -> dict[date, Element]:
    found = {}
    for element in screen:
        day = day_of(element.label or element.text, locale) if element.has(Flag.CLICKABLE) else None
        if day is not None:
            found[day] = element
    return found


def _calendar(take: Take, day: date, locale: str) -> str:
    """Leaf to the month and tap the day."""
    backwards: int | None = None  # which of the two ways leads to earlier months
    for _ in range(MONTHS):
        screen = take.eye.moment.screen
        days = _days(screen, locale) if screen else {}
        if not days:
            return "the calendar is gone"
        if day in days:
            take.gesture_tap(visible(days[day]).centre)
            return ""
        ways = _ways(days)
        if len(ways) != 2:
            return "the calendar shows no way to another month"
        shown = min(days)
        earlier = day < shown
        pick = (0 if earlier else 1) if backwards is None else backwards if earlier else 1 - backwards
        take.gesture_tap(visible(ways[pick]).centre)
        after = take.eye.moment.screen
        now = min(_days(after, locale), default=shown) if after else shown
        if now != shown:
            backwards = pick if now < shown else 1 - pick
    return f"the calendar does not get to {day.isoformat()}"


def _ways(days: dict[date, Element]) -> list[Element]:
    """The two buttons over the days, in what holds them all."""
    top = min(e.box.top for e in days.values())
    for holder in next(iter(days.values())).ancestors():
        if all(e.within(holder) for e in days.values()):
            over = [e for e in holder.descendants() if e.role == "button" and e.has(Flag.CLICKABLE) and e.box.bottom <= top + 1]
            if over:
                return over
    return []


def _confirm(take: Take, locale: str) -> None:
    """What closes a picker that is still open: its last button, which platforms let follow the one that gives up."""
    screen = take.eye.moment.screen
    if screen is None:
        return
    days = _days(screen, locale)
    wheels = [e for e in screen if e.role == "combobox"]
    if len(days) < FULL and len(wheels) < 3:
        return
    low = max(e.box.top for e in (days.values() if len(days) >= FULL else wheels))
    ends = [e for e in screen if e.role == "button" and e.box.top > low]
    if ends:
        take.gesture_tap(visible(ends[-1]).centre)
