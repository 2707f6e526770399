"""One of several: an option of a group, of a list that opens, of a wheel; a day of a calendar or of three wheels."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from functools import partial
from itertools import pairwise

from ...links.link import HasKeys
from ...model import action as a
from ...model.outcome import Cause
from ...model.portrait import NotFound
from ...model.reading import Said
from ...model.screen import Element, Flag, Screen
from ...model.target import Target
from ...recognition.evidence import fold, visible
from ...recognition.obstacles import SAME_PAGE, like_page, plate_over
from ...recognition.reach import Reach, reach, scroller_of
from ...screens.dates import day_of, month_named
from ...screens.reading import is_wheel, reads
from ...touch.making import drag, tap
from ..context import AIMS, StepContext
from ..evidence import WantedTarget
from ..found import Found, Lost
from ..presence import key_of, keys_of
from ..scrolling import scroll
from .registry import performs

TURNS = 16  # of one wheel, at most
MONTHS = 40  # a calendar is leafed through, at most
PRESSED = frozenset({"button", "text", "generic", "img"})  # what a button may be told as
FULL = 12  # days from which a screen is a calendar: two weeks, where a low screen shows no more
WHEELS = 3  # for a day
OPENS_S = 2.0  # what choices may take to open
OPTIONS = frozenset({"option", "radio", "menuitem", "listitem"})


@performs(a.Choose)
def choose(context: StepContext, action: a.Choose) -> None:
    """An option of a group, or whatever a choice opens."""
    option = _option_of(context, action)
    holder = context.find(reachable=_group_or_reach, instead=option)
    if holder is None:
        return
    if option is not None and fold(holder.element.name) == fold(action.option) and holder.element.role != "radiogroup":
        _alone(context, action, option, holder)
    elif holder.element.role == "combobox" or action.target.role == "combobox":
        _from_what_opens(context, action, holder)
    else:
        _from_group(context, action)


def _option_of(context: StepContext, action: a.Choose) -> WantedTarget | None:
    """The option as it was recorded in its group, to be looked for by itself: flat trees tell of no groups."""
    found = []
    for portrait in context.portraits():
        parts = [e for e in portrait.element.descendants() if fold(e.name) == fold(action.option) and e.has(Flag.CHECKABLE)]
        found += [replace(portrait, row=part.row) for part in parts[:1]]
    return WantedTarget(Target("", action.option), tuple(found)) if found and action.target.role == "radiogroup" else None


def _alone(context: StepContext, action: a.Choose, option: WantedTarget, found: Found) -> None:
    if not found.element.has(Flag.CHECKED) and not context.touch(found.element, found.point):
        return
    again = context.finder.now(option)
    if isinstance(again, NotFound) or not again.element.has(Flag.CHECKABLE):
        context.stuck(Cause.NOT_READ, "whether it is chosen cannot be read")
        return
    on = again.element.has(Flag.CHECKED)
    context.reading = Said(action.option if on else "")
    if not on:
        context.stuck(Cause.NOT_TAKEN, f"“{action.option}” is not chosen after the tap")


def _group_or_reach(element: Element) -> Reach:
    """A group need not be touched itself."""
    return Reach(element.box.centre) if element.role == "radiogroup" else reach(element)


def _from_group(context: StepContext, action: a.Choose) -> None:
    context.evidence, context.notes, context.scrolled = (), [], False
    found = context.find_named(action.option, action.target)
    if isinstance(found, Lost):
        context.lost(found, f"“{action.option}”: ")
        return
    context.found(found)
    context.note_moment()
    if not found.element.has(Flag.CHECKED):
        context.mark = (found.point,)
        if not context.tap(found.element, found.point):
            return
    again = context.again()
    if again is None:
        if not context.trouble and isinstance(context.finder.now(WantedTarget(Target("", action.option), ())), NotFound):
            context.notes.append("its choices closed after the tap, so that what is chosen could not be read")
        else:
            context.stuck(Cause.NOT_READ, context.trouble or "what is chosen cannot be read after the tap")
        return
    context.reading = Said(reads(again))
    if context.reading.words != action.option:
        context.stuck(Cause.NOT_TAKEN, f"“{context.reading.words or 'nothing'}” is chosen after the tap")


def _from_what_opens(context: StepContext, action: a.Choose, holder: Found) -> None:
    locale = context.locale
    day = day_of(action.option, locale)

    def settled(now: Element | None) -> bool:
        if now is None:
            return False
        words = context.says(now)
        context.reading = Said(words)
        return day_of(words, locale) == day if day else fold(words) == fold(action.option)

    if settled(holder.element):
        return
    if day is None and is_wheel(holder.element):
        _turn(context, context.again, lambda words: fold(words) == fold(action.option))
    else:
        before = context.watch.moment.screen
        if not context.touch(holder.element, holder.point):
            return
        if context.weak and holder.element.role != "combobox" and not _opened(context, before, action.option, day):
            _take_back(context, before, holder.element)
            return
        if day is None:
            listed = _from_list(context, action.option)
            if not listed:
                return
        elif reason := _pick_day(context, day, locale):
            context.stuck(Cause.NOT_TAKEN, reason)
            return
    if not settled(context.again()):
        read = context.reading.words if context.reading is not None else ""
        context.stuck(Cause.NOT_TAKEN, f"it reads “{read}” after choosing")


def _opened(context: StepContext, before: Screen | None, option: str, day: date | None) -> bool:
    """Did what was touched open choices: the option among others like it, or what a day is picked from?"""

    def choices(screen: Screen) -> bool:
        if day is not None:
            return len(_days(screen, context.locale)) >= FULL or sum(e.role == "combobox" for e in screen) >= WHEELS
        known = keys_of(before) if before is not None else frozenset()
        new = [e for e in screen if key_of(e) not in known and (e.has(Flag.CLICKABLE) or e.has(Flag.CHECKABLE) or e.role in OPTIONS)]
        mine = [e for e in new if fold(e.name) == fold(option)]
        return any(e.role == one.role and fold(e.name) != fold(option) for one in mine for e in new)

    def attempt(last: bool) -> bool | None:
        screen = context.watch.moment.screen
        return True if screen is not None and choices(screen) else False if last else None

    return context.watch.until(min(context.patience, OPENS_S), attempt)


def _take_back(context: StepContext, before: Screen | None, touched: Element) -> None:
    """Something else was touched: back from the page or the dialog that it opened, where that is all it takes, and no further step."""
    screen, what = context.watch.moment.screen, "what came of it could not be taken back"
    if screen is not None and before is not None:
        if screen.signature == before.signature:
            what = "nothing came of it"
        elif _opened_over(before, screen):
            context.link.able(HasKeys).press(a.Key.BACK)
            after = context.watch.look().screen
            if after is not None and after.signature == before.signature:
                what = "it was taken back"
    context.stuck(Cause.TOUCHED, f"{touched.called} was touched, which opens no choices: {what}", touched.called, touched)


def _opened_over(before: Screen, now: Screen) -> bool:
    """Is it another page, or a dialog over the same one? What has only changed stays: a way back would leave the page.

    In a browser the way back is that of its addresses, which a dialog in a page does not change.
    """
    if (now.app, now.activity) != (before.app, before.activity):
        return True
    if now.is_web:
        return False
    return like_page(now, before) < SAME_PAGE or (plate_over(now) is not None and plate_over(before) is None)


def _from_list(context: StepContext, option: str) -> bool:
    """Tap the option in the list that opened; False, and the step is stuck, where it is not there."""
    for _ in range(AIMS):  # a list moves while it opens
        found = context.find_named(option, eager=True)
        if isinstance(found, Lost):
            context.lost(found, f"“{option}”: ")
            return False
        if context.watch.sure(found.element):
            return context.tap(found.element, found.point)
    context.stuck(Cause.PASSED, f"“{option}” does not stay where it is")
    return False


# wheels


def _turn(context: StepContext, wheel: Callable[[], Element | None], right: Callable[[str], bool], guess: int = 0) -> bool:
    """Turn a wheel until it reads what it should: by `guess` rows at once first, then a row at a time, down to its end and back."""
    down, last, tapped = guess >= 0, "", False
    for turn in range(TURNS * 3):
        now = wheel()
        if now is None:
            return False
        read = context.says(now)
        if right(read):
            return True
        still, last = turn > 0 and read == last, read
        box, parts = visible(now), [e for e in now.descendants() if e.role == "option"]
        x, y = box.centre
        wanted = next((e for e in parts if right(e.name)), None)
        if still and parts and not tapped:  # it does not follow a finger: what is seen in it is touched
            tapped = True
            touched = wanted or (parts[-1] if down else parts[0])
            if not context.gesture([tap(*visible(touched).centre)], now):
                return False
            continue
        if still:
            if not down:
                return False
            down, tapped = False, False
        tall = _pitch(parts) or box.height / 3
        if wanted is not None:
            rows = round((wanted.box.centre[1] - y) / tall) or (1 if wanted.box.centre[1] > y else -1)
        else:
            rows = guess if turn == 0 and guess else 1 if down else -1
        if not context.gesture([drag(x, y + 4 * (rows > 0), x, y - rows * tall, 0.3)], now):
            return False
    return False


def _pitch(parts: list[Element]) -> float:
    """The distance between a wheel's choices, dp; 0 if fewer than four of them are known."""
    middles = [e.box.centre[1] for e in parts[1:-1]]  # the outer ones may be cut
    return min((b - a for a, b in pairwise(middles)), default=0.0)


def _pick_day(context: StepContext, day: date, locale: str) -> str:
    """Pick a day in whatever opened; why not, or nothing."""
    screen = context.watch.moment.screen
    if screen is None:
        return context.trouble
    if len(_days(screen, locale)) >= FULL:
        reason = _calendar(context, day, locale)
    else:
        reason = _wheels(context, day, locale)
    if reason:
        return reason
    _confirm(context, locale)
    return ""


def _wheels(context: StepContext, day: date, locale: str) -> str:
    """Three wheels, told apart by what they read; the day last, since months are not equally long."""

    def kinds() -> dict[str, Element]:
        screen = context.watch.moment.screen
        found: dict[str, Element] = {}
        for element in screen or ():
            if element.role == "combobox":
                found.setdefault(_wheel_kind(context.says(element), locale), element)
        return found

    if not {"day", "month", "year"} <= set(kinds()):
        return "nothing to pick a day from opened"
    wanted = {"year": day.year, "month": day.month, "day": day.day}

    def number(kind: str, words: str) -> int | None:
        return month_named(words, locale) if kind == "month" else int(words) if words.isdigit() else None

    for kind, value in wanted.items():
        for _ in range(4):
            wheel = kinds().get(kind)
            now = number(kind, context.says(wheel)) if wheel else None
            if now is None:
                return f"the wheel of the {kind} cannot be read"
            if now == value:
                break
            _turn(context, partial(_get, kinds, kind), partial(_is, number, kind, value), _most(value - now))
    return ""


def _wheel_kind(words: str, locale: str) -> str:
    """What a wheel that reads so is of: month, year or day; empty for anything else."""
    if month_named(words, locale):
        return "month"
    if not words.isdigit():
        return ""
    return "year" if int(words) > 31 else "day"


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


def _calendar(context: StepContext, day: date, locale: str) -> str:
    """Leaf to the month and tap the day."""
    backwards: int | None = None  # which of the two ways leads to earlier months
    for _ in range(MONTHS):
        screen = context.watch.moment.screen
        days = _days(screen, locale) if screen else {}
        if not days:
            return "the calendar is gone"
        if day in days:
            return "" if context.tap(days[day]) else _why(context)
        if _scrolled_to(context, day, days):
            continue
        ways = _ways(days)
        if len(ways) != 2:
            return "the calendar shows no way to another month"
        shown = min(days)
        earlier = day < shown
        pick = (0 if earlier else 1) if backwards is None else backwards if earlier else 1 - backwards
        if not context.tap(ways[pick]):
            return _why(context)
        after = context.watch.moment.screen
        now = min(_days(after, locale), default=shown) if after else shown
        if now != shown:
            backwards = pick if now < shown else 1 - pick
    return f"the calendar does not get to {day.isoformat()}"


def _scrolled_to(context: StepContext, day: date, days: dict[date, Element]) -> bool:
    """Where the calendar shows that month and only some of its days: has it been scrolled towards the day, or to its ways?"""
    first, last = min(days), max(days)
    scroller = scroller_of(days[first])
    if scroller is None:
        return False
    if (day.year, day.month) == (first.year, first.month) == (last.year, last.month):
        away = scroller.box.height / 2 * (1 if day > last else -1)
    else:
        away = -scroller.box.height if len(_ways(days)) != 2 else 0.0
    return bool(away and scroll(context.watch, scroller, away))


def _why(context: StepContext) -> str:
    return context.why.words if context.why is not None else ""


def _ways(days: dict[date, Element]) -> list[Element]:
    """The two buttons on the line over the days, in what holds them all; flat trees have no role for them."""
    top = min(e.box.top for e in days.values())
    for holder in next(iter(days.values())).ancestors():
        if all(e.within(holder) for e in days.values()):
            over = [e for e in holder.descendants() if e.has(Flag.CLICKABLE) and e.role in PRESSED and e.box.bottom <= top + 1]
            if over:
                level = max(e.box.centre[1] for e in over)
                return [e for e in over if e.box.top < level < e.box.bottom]
    return []


def _confirm(context: StepContext, locale: str) -> None:
    """What closes a picker that is still open: its last button, which platforms let follow the one that gives up."""
    screen = context.watch.moment.screen
    if screen is None:
        return
    days = _days(screen, locale)
    wheels = [e for e in screen if e.role == "combobox"]
    if len(days) < FULL and len(wheels) < 3:
        return
    low = max(e.box.top for e in (days.values() if len(days) >= FULL else wheels))
    ends = [e for e in screen if e.has(Flag.CLICKABLE) and e.role in PRESSED and e.box.top > low]
    if ends:
        context.tap(ends[-1])
