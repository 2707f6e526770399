"""The diary's restless pages: a scale that is read all the time, records that take their time to load, the order of the rounds."""

from __future__ import annotations

from ..toolkit.node import Node, column, row, text
from . import look
from .diary import Diary

ROUND_HEIGHT = 56.0  # dp a stop of the rounds
ROUND_GAP = 8.0
YEARS = (("2025", 312), ("2024", 287), ("2023", 301))


def scale(app: Diary) -> list[Node]:
    """A hive scale, read many times a second: this page never rests."""
    now = app.system.now()
    grams = 34_000 + round(400 * abs(now * 3 % 2 - 1))
    return [
        look.bar(app.say("Hive scale"), "toolbar_title", app.around.platform, app.back),
        column(
            Node("progress", value=now % 1.0, desc=app.say("Reading")),
            text(f"{grams / 1000:.2f} kg", id="scale_kg", size=30, weight="Bold"),
            text(app.say("The scale is read all the time"), ink="#4B5547"),
            look.button(app.say("Stop reading"), "stop_scale", lambda: app.go("home"), quiet=True),
            pad=(20, 20),
            gap=16,
        ),
    ]


def records(app: Diary) -> list[Node]:
    """Honey by year: loaded from afar, or a notice that one is offline."""
    head = look.bar(app.say("Records"), "toolbar_title", app.around.platform, app.back)
    if not app.system.online():
        notice = [
            text(app.say("You are offline"), id="offline", weight="Medium", size=18),
            text(app.say("Records are kept on the server.")),
            look.button(app.say("Try again"), "try_again", app.load_records, quiet=True),
        ]
        return [head, column(*notice, pad=(20, 20), gap=12)]
    if app.loading_until > app.system.now():
        return [head, column(Node("progress", value=0.2), text(app.say("Loading"), id="loading"), pad=(20, 40), gap=12)]
    years = [look.fact(year, f"{kg} kg", "honey") for year, kg in YEARS]
    return [head, Node("list", id="records", key="records", children=years, gap=8, pad=(16, 16), grow=1)]


def rounds(app: Diary) -> list[Node]:
    """Stops that are put in order by dragging their handles."""
    stops = [
        row(
            text(app.say(stop), id="stop", grow=1, weight="Medium"),
            Node(
                "handle",
                id="stop_handle",
                desc=app.say("Move"),
                on_drop=lambda dy, i=i: app.move_stop(i, round(dy / (ROUND_HEIGHT + ROUND_GAP))),  # type: ignore[misc]
            ),
            id="stop_row",
            on_hold=None,
            fill="#FFFFFF",
            border="#C9D2C2",
            radius=8,
            pad=(14, 4),
            height=ROUND_HEIGHT,
        )
        for i, stop in enumerate(app.stops)
    ]
    return [
        look.bar(app.say("Rounds"), "toolbar_title", app.around.platform, app.back),
        Node("list", id="rounds", key="rounds", children=stops, gap=ROUND_GAP, pad=(12, 12), grow=1),
    ]
