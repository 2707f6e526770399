"""Hive Diary's pages as trees of nodes, with the faults that are seeded in them."""

from __future__ import annotations

from collections.abc import Callable

from ..toolkit.node import Node, column, row, text
from . import drawn, look, more, outdoors, visits
from .diary import Diary
from .records import MOST_FRAMES, TEMPERS, Hive
from .words import days_ago


def narrow(app: Diary) -> list[Node]:
    """The one page that fits on a narrow screen."""
    platform = app.around.platform
    if app.place == "home":
        head = look.bar("Hive Diary", "toolbar_title", platform)
        if app.dialog == "more":
            return [head, more.menu(app, ("About", "open_about", lambda: app.go("about")))]
        actions = [look.button(app.say("Hives"), "open_hives", lambda: app.go("hives")), *ways(app)]
        return [head, Node("scroll", key="home", grow=1, children=[*welcome(app), *actions], pad=(20, 20), gap=12)]
    if app.place in ALONE:
        return ALONE[app.place](app)
    if app.place == "about":
        return [look.bar(app.say("About"), "toolbar_title", platform, app.back), column(*about_words(app), pad=(20, 20), gap=8)]
    if app.place == "hives":
        return [*hives_head(app, "toolbar_title", app.back), hive_list(app)]
    return detail(app)


def hives_head(app: Diary, id: str, back: Callable[[], object] | None = None) -> list[Node]:
    """The head of the hives, with the way to the search, and its field while it is open."""
    platform = app.around.platform
    head = [look.bar(app.say("Hives"), id, platform, back, look.search_way(app.say("Search"), platform, app.seek))]
    if app.search is not None:
        field = look.field("search_field", app.search, app.system, app.typed_search)
        head.append(column(look.caption(app.say("Search")), field, pad=(12, 8), gap=2))
    return head


def ways(app: Diary) -> list[Node]:
    """To the pages besides the hives; from build 2.5 on About is in the overflow."""

    def open_more() -> None:
        app.dialog = "more"

    hidden = app.version >= "2.5" and app.around.width < 600
    about = ("More", "more", open_more) if hidden else ("About", "open_about", lambda: app.go("about"))
    others = (
        ("Apiary map", "open_map", lambda: app.go("map")),
        ("Tasks", "open_tasks", lambda: app.go("tasks")),
        ("Rounds", "open_rounds", lambda: app.go("rounds")),
        ("Hive scale", "open_scale", lambda: app.go("scale")),
        ("Records", "open_records", app.open_records),
        ("Settings", "open_settings", lambda: app.go("settings")),
        about,
    )
    return [look.button(app.say(words), id, tap, quiet=True) for words, id, tap in others]


def welcome(app: Diary) -> list[Node]:
    return [
        text(app.say("Good morning"), size=24, weight="Medium"),
        text(app.say("Twenty-four hives, four of them due for a look inside."), ink="#4B5547"),
        row(Node("image", desc=app.say("Honeycomb"), radius=12, height=140, grow=1), pad=(0, 8)),
    ]


def about_words(app: Diary) -> list[Node]:
    return [
        text(f"Hive Diary {app.version}", weight="Medium"),
        text(app.say("Keeps what you saw in the hive, and when."), ink="#4B5547"),
    ]


def seen_words(app: Diary, days: int) -> str:
    return app.say("Today") if days == 0 else days_ago(days, app.around.locale)


def hive_list(app: Diary) -> Node:
    rows = []
    for i, hive in enumerate(app.hives):
        if app.search and app.search.casefold() not in hive.name.casefold():
            continue
        seen = f"{app.say('Last seen')} {seen_words(app, hive.seen)}"
        due = app.say("due") if i % 6 == 3 else ""
        rows.append(
            look.hive_row(
                hive.name,
                seen,
                due,
                lambda hive=hive: app.open_hive(hive),  # type: ignore[misc]
                lambda hive=hive: _hold(app, hive),  # type: ignore[misc]
                lambda hive=hive: app.remove(hive),  # type: ignore[misc]
            )
        )
        if app.has("extra") and hive.name == "Hive 17":
            rows.append(look.hive_row(hive.name, seen, due, lambda hive=hive: app.open_hive(hive)))  # type: ignore[misc]
    hives = Node("list", id="hives", key="hives", children=rows, gap=8, pad=(12, 12), grow=1, on_pull=app.refresh)
    held = next((h for h in app.hives if app.dialog == f"held {h.name}"), None)
    if held is None:
        return hives

    def close() -> None:
        app.dialog = ""

    return more.menu(app, ("Remove", "remove_hive", lambda: app.remove(held)), ("Cancel", "cancel", close))


def _hold(app: Diary, hive: Hive) -> None:
    app.dialog = f"held {hive.name}"


ALONE = {
    "map": drawn.apiary,
    "settings": more.settings,
    "tasks": more.tasks,
    "sign-in": more.sign_in,
    "rounds": outdoors.rounds,
    "scale": outdoors.scale,
    "records": outdoors.records,
}


def detail(app: Diary) -> list[Node]:
    """The page of the hive that is open, its form, or what was saved."""
    if app.place == "hives" or app.hive is None:
        return [column(text(app.say("Choose a hive"), ink="#6B7267"), pad=(28, 24))]
    if app.place == "sketch":
        return drawn.sketch(app)
    title = {"form": app.say("New inspection")}.get(app.place, app.hive.name)
    head = look.bar(title, "toolbar_title", app.around.platform, app.back)
    if app.dialog:
        return [head, _dialog(app)]
    return [head, *{"form": form, "saved": saved}.get(app.place, hive_page)(app, app.hive)]


def _dialog(app: Diary) -> Node:
    def close() -> None:
        app.dialog = ""

    return look.dialog(
        text(app.say("Rate this app"), weight="Medium", size=18), look.button(app.say("Later"), "later", close, quiet=True), gap=14
    )


def tabs(app: Diary) -> Node:
    def tab(id: str, words: str, name: str) -> Node:
        return Node("tab", id=id, text=app.say(words), selected=app.tab == name, on_tap=lambda: app.open_tab(name), align="centre", grow=1)

    return row(tab("tab_now", "Now", "now"), tab("tab_past", "Past visits", "past"), kind="tabs", fill="#FFFFFF", height=48)


def past(app: Diary, hive: Hive) -> Node:
    """Earlier visits, newest first."""
    visits_before = [
        look.fact(seen_words(app, hive.seen + 14 * n), f"{app.say('Brood frames')} {max(1, hive.frames - n)}", "visit") for n in range(1, 9)
    ]
    return Node("list", id="past_visits", key="past", grow=1, pad=(16, 16), gap=8, children=visits_before)


def hive_page(app: Diary, hive: Hive) -> list[Node]:
    if app.tab == "past":
        return [tabs(app), past(app, hive)]
    new = app.say("New inspection")
    if app.has("text-cut"):
        new = new[:9] + "…"
    children = [
        Node(
            "image",
            id="comb_picture",
            desc=app.say("Comb picture"),
            radius=12,
            height=96,
            ink="#B03A2E" if app.has("wrong-picture") else "#22301F",
            on_double=lambda: app.mark(hive),
        ),
        *([text(app.say("Marked for a second look"), id="marked", weight="Medium")] if hive.marked else []),
        look.fact(app.say("Last seen"), seen_words(app, hive.seen), "last_seen"),
        look.fact(app.say("Brood frames"), str(hive.frames), "brood_frames"),
        look.fact(app.say("Temper"), app.say(hive.temper), "temper"),
        look.fact(app.say("Weight"), f"{hive.weight_kg} kg", "weight"),
        look.button(new, "new_inspection", app.begin),
        look.button(app.say("Comb sketch"), "open_sketch", lambda: app.go("sketch"), quiet=True),
    ]
    return [tabs(app), Node("scroll", key="hive", grow=1, pad=(16, 16), gap=10, children=children)]


def saved(app: Diary, hive: Hive) -> list[Node]:
    seen = seen_words(app, hive.seen)
    if app.has("untranslated"):
        seen = "Today"
    elif app.has("wrong-text"):
        seen = app.say("No")
    elif app.has("date-format"):
        seen = "11/23/26"
    children = [
        look.fact(app.say("Last seen"), seen, "last_seen"),
        look.fact(app.say("Brood frames"), str(hive.frames), "brood_frames"),
        look.fact(app.say("Queen seen"), app.say("Yes" if hive.queen else "No"), "queen"),
        look.fact(app.say("Temper"), app.say(hive.temper), "temper"),
        look.caption(app.say("Note")),
        text(hive.note or app.say("No note"), id="note"),
        look.button(app.say("Back to hives"), "back_to_hives", lambda: app.go("hives"), quiet=True),
    ]
    return [Node("scroll", key="saved", grow=1, pad=(16, 16), gap=10, children=children)]


def form(app: Diary, _hive: Hive) -> list[Node]:
    draft = app.draft
    chips = [
        Node(
            "radio",
            id=f"temper_{t.lower()}",
            text=app.say(t),
            checked=draft.temper == t,
            on_tap=lambda t=t: app.set("temper", t),  # type: ignore[misc]
            pad=(16, 8),
            align="centre",
        )
        for t in TEMPERS
    ]
    frames = column(
        row(text(app.say("Brood frames"), grow=1), text(str(draft.frames), id="frames_value", weight="Bold"), gap=8),
        Node("slider", id="frames", value=draft.frames, top_value=MOST_FRAMES, on_value=lambda v: app.set("frames", int(v))),
        gap=2,
    )
    queen = row(
        text(app.say("Queen seen"), grow=1),
        Node("switch", id="queen_seen", checked=draft.queen, on_tap=lambda: app.set("queen", not draft.queen)),
        pad=(0, 4),
    )
    notes = look.field("notes", draft.note, app.system, lambda words: app.set("note", words), 96)
    children = [
        frames,
        *([] if app.has("missing") else [queen]),
        column(text(app.say("Temper")), Node("radiogroup", id="temper", children=chips, gap=8), gap=6),
        column(look.caption(app.say("Notes")), notes, gap=4),
        visits.weather(app),
        visits.day(app),
        visits.supers(app),
        visits.photo(app),
    ]
    foot = column(_save(app), pad=(16, 8), fill="#E8EADD")
    return [Node("scroll", key="form", grow=1, pad=(16, 14), gap=10, children=children), foot]


def _save(app: Diary) -> Node:
    button = look.button(app.say("Save inspection"), "save_inspection", app.save, height=14 if app.has("small-target") else None)
    if app.has("overlap"):
        banner = look.button(app.say("Rate this app"), "rate", lambda: None, quiet=True)
        return Node("stack", children=[button, banner], height=52)
    if app.has("pushed-off"):
        return Node("shifted", children=[button], height=52)
    return button
