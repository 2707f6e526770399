"""More of an inspection's form: weather, day, honey supers, a photo. What opens over it depends on the phone's conventions."""

from __future__ import annotations

from ..toolkit.node import Node, column, row, text
from . import dates, look
from .diary import Diary

WEATHERS = ("Sunny", "Cloudy", "Windy", "Rainy")


def weather(app: Diary) -> Node:
    """A choice of one: a wheel on the page, or a drop-down."""
    words, chosen = tuple(map(app.say, WEATHERS)), WEATHERS.index(app.draft.weather)
    if app.around.choice == "wheel":
        control = Node(
            "wheel", id="weather", options=words, value=chosen, on_value=lambda v: app.set("weather", WEATHERS[int(v)]), height=102
        )
    else:
        control = Node("combo", id="weather", text=words[chosen], on_tap=lambda: app.open_dialog("weather"), pad=(12, 10))
    return column(look.caption(app.say("Weather")), control, gap=4)


def weather_list(app: Diary) -> Node:
    """The drop-down's list, as a menu or as a dialog with a heading."""
    titled = app.around.choice == "dialog"
    head = [text(app.say("Weather"), weight="Medium", size=18)] if titled else []
    options = [
        Node(
            "choice",
            text=app.say(name),
            checked=app.draft.weather == name,
            on_tap=lambda name=name: app.choose_weather(name),  # type: ignore[misc]
            pad=(14, 12),
            height=48,
        )
        for name in WEATHERS
    ]
    return look.dialog(*head, Node("menu", key="weather_list", children=options), gap=6)


def day(app: Diary) -> Node:
    words = dates.long_date(app.draft.day, app.around.locale)
    field = Node("date", id="visit_day", text=words, on_tap=app.open_date, pad=(12, 10))
    return column(look.caption(app.say("Visited on")), field, gap=4)


def supers(app: Diary) -> Node:
    """A stepper."""
    count = app.draft.supers
    return row(
        text(app.say("Honey supers"), grow=1),
        look.sign("−", "supers_less", app.say("One super less"), lambda: app.set("supers", max(0, count - 1))),
        text(str(count), id="supers", weight="Bold", width=36, align="centre"),
        look.sign("+", "supers_more", app.say("One super more"), lambda: app.set("supers", min(9, count + 1))),
        gap=8,
    )


def photo(app: Diary) -> Node:
    count = app.draft.photos
    words = app.say("No photo") if not count else f"{count} {app.say('photo' if count == 1 else 'photos')}"
    return row(
        text(words, id="photos", grow=1),
        look.button(app.say("Add photo"), "add_photo", app.take_photo, quiet=True),
    )


def over(app: Diary) -> Node | None:
    """What lies over the form, if anything."""
    if app.dialog == "weather":
        return weather_list(app)
    if app.dialog == "date":
        return dates.date_wheels(app) if app.around.date == "wheels" else dates.calendar_dialog(app)
    return None
