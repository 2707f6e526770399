"""Days as the diary writes them, and the two ways to pick one: a calendar in a dialog, three wheels on a page."""

from __future__ import annotations

import calendar
from datetime import date, timedelta

from ..toolkit.node import Node, row, text
from . import look
from .diary import Diary
from .words import language

MONTHS = {
    "en": ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"],
    "de": ["Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"],
    "he": ["ינואר", "פברואר", "מרץ", "אפריל", "מאי", "יוני", "יולי", "אוגוסט", "ספטמבר", "אוקטובר", "נובמבר", "דצמבר"],
}
YEARS = range(2020, 2031)


def month_name(month: int, locale: str) -> str:
    return MONTHS.get(language(locale), MONTHS["en"])[month - 1]


def long_date(day: date, locale: str) -> str:
    """As the Unicode locale data has it: 23 November 2026, 23. November 2026, 23 בנובמבר 2026."""
    name = month_name(day.month, locale)
    form = {"de": "{d}. {m} {y}", "he": "{d} ב{m} {y}"}.get(language(locale), "{d} {m} {y}")
    return form.format(d=day.day, m=name, y=day.year)


def _shift(day: date, months: int) -> date:
    """The first day of the month so many months on."""
    month = day.month - 1 + months
    return date(day.year + month // 12, month % 12 + 1, 1)


LOW = 440.0  # dp of the page


def calendar_dialog(app: Diary) -> Node:
    """A month's days, ways to the months around it, and a choice that counts once it is confirmed."""
    locale, chosen, shown = app.around.locale, app.picked, app.month
    blanks = [Node("space", grow=1, height=40) for _ in range(shown.weekday())]
    count = calendar.monthrange(shown.year, shown.month)[1]
    cells = [*blanks, *(_day(app, shown + timedelta(n), chosen) for n in range(count))]
    cells += [Node("space", grow=1, height=40) for _ in range(-len(cells) % 7)]
    weeks = [row(*cells[i : i + 7], gap=2) for i in range(0, len(cells), 7)]
    head = row(
        _way("‹", "month_before", app.say("Previous month"), lambda: app.show_month(_shift(shown, -1))),
        text(f"{month_name(shown.month, locale)} {shown.year}", id="month_shown", weight="Medium", align="centre", grow=1),
        _way("›", "month_after", app.say("Next month"), lambda: app.show_month(_shift(shown, 1))),
    )
    ends = row(
        look.button(app.say("Cancel"), "date_cancel", app.close_dialog, quiet=True),
        Node("space", grow=1),
        look.button(app.say("OK"), "date_ok", app.take_date),
    )
    if app.around.height < LOW:  # the days scroll, and what ends it stays in sight
        return look.dialog(Node("scroll", key="calendar", children=[head, *weeks], gap=10, height=app.around.height - 160), ends)
    return look.dialog(head, *weeks, ends)


def _way(sign: str, id: str, label: str, tap: object) -> Node:
    return Node("button", id=id, text=sign, desc=label, on_tap=tap, size=22, align="centre", width=48)  # type: ignore[arg-type]


def _day(app: Diary, day: date, chosen: date) -> Node:
    on = day == chosen
    return Node(
        "button",
        text=str(day.day),
        desc=long_date(day, app.around.locale),
        selected=on,
        checked=on,
        on_tap=lambda: app.pick_date(day),
        fill="#38513A" if on else None,
        ink="#FFFFFF" if on else "#22301F",
        radius=20,
        size=14,
        align="centre",
        grow=1,
        height=40,
    )


def date_wheels(app: Diary) -> Node:
    """Day, month and year as wheels; what they show counts at once."""
    locale, day = app.around.locale, app.draft.day

    def turn(year: int, month: int, number: int) -> None:
        last = calendar.monthrange(year, month)[1]
        app.set("day", date(year, month, min(number, last)))

    months = tuple(month_name(m, locale) for m in range(1, 13))
    numbers = tuple(map(str, range(1, 32)))
    years = tuple(map(str, YEARS))
    return look.dialog(
        row(
            _wheel("day_wheel", numbers, day.day - 1, lambda v: turn(day.year, day.month, int(v) + 1)),
            _wheel("month_wheel", months, day.month - 1, lambda v: turn(day.year, int(v) + 1, day.day), 1.6),
            _wheel("year_wheel", years, day.year - YEARS[0], lambda v: turn(YEARS[0] + int(v), day.month, day.day)),
            gap=6,
        ),
        look.button(app.say("Done"), "date_done", app.close_dialog),
    )


def _wheel(id: str, options: tuple[str, ...], value: int, turn: object, share: float = 1.0) -> Node:
    return Node("wheel", id=id, options=options, value=value, on_value=turn, grow=share, size=15)  # type: ignore[arg-type]
