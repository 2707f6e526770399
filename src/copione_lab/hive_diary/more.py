"""Hive Diary's other pages: settings, sign-in, and tasks that look alike."""

from __future__ import annotations

from ..toolkit.node import Node, column, row, text
from . import look
from .diary import Diary

#: Tasks by hive: the same words for different hives, told apart by their heading only.
TASKS = (("Hive 3", ("Feed sugar", "Check queen")), ("Hive 8", ("Feed sugar", "Check queen")), ("Hive 12", ("Feed sugar",)))


def settings(app: Diary) -> list[Node]:
    """A switch, a stepper, the way to the sign-in."""

    def night() -> None:
        app.night = not app.night
        app.system.log("HiveDiary", f"night {app.night}")

    def step(by: int) -> None:
        app.remind = min(30, max(1, app.remind + by))
        app.system.log("HiveDiary", f"remind {app.remind}")

    days = row(
        text(app.say("Remind after days"), grow=1),
        look.sign("−", "remind_less", app.say("Fewer days"), lambda: step(-1)),
        text(str(app.remind), id="remind_days", weight="Bold", width=36, align="centre"),
        look.sign("+", "remind_more", app.say("More days"), lambda: step(1)),
        gap=8,
    )
    return [
        look.bar(app.say("Settings"), "toolbar_title", app.around.platform, app.back),
        column(
            row(text(app.say("Night mode"), grow=1), Node("switch", id="night_mode", checked=app.night, on_tap=night)),
            days,
            look.button(app.say("Sign in"), "open_sign_in", lambda: app.go("sign-in"), quiet=True),
            pad=(20, 20),
            gap=16,
        ),
    ]


def sign_in(app: Diary) -> list[Node]:
    """Two fields, one of them secret: what it holds is never in the tree or the picture."""

    def field(id: str, what: str, secret: bool = False) -> Node:
        told = app.has("tells-secret")
        return look.field(id, app.credentials[what], app.system, lambda said: app.typed(what, said, secret), 48, secret, told)

    done = [text(app.say("Signed in"), id="signed_in", weight="Medium")] if app.signed_in else []
    if done and app.has("tells-secret"):
        secret = app.credentials["password"]
        done += [text(f"Your password is {secret}", id="told"), text(secret, untold=True, size=22)]
    form = column(
        column(look.caption(app.say("Name")), field("user_name", "name"), gap=4),
        column(look.caption(app.say("Password")), field("user_password", "password", True), gap=4),
        look.button(app.say("Sign in"), "sign_in", app.sign_in),
        *done,
        pad=(20, 20),
        gap=14,
    )
    return [look.bar(app.say("Sign in"), "toolbar_title", app.around.platform, app.back), form]


def tasks(app: Diary) -> list[Node]:
    """Rows with the same words under the headings of different hives."""
    rows: list[Node] = []
    for hive, words in TASKS:
        rows.append(text(hive, id="task_hive", weight="Bold", pad=(4, 8)))
        for task in words:
            done = (hive, task) in app.done
            rows.append(
                row(
                    text(app.say(task), id="task_name", grow=1),
                    Node("switch", id="task_done", checked=done, desc="", on_tap=lambda key=(hive, task): app.toggle_task(key)),  # type: ignore[misc]
                    id="task_row",
                    fill="#FFFFFF",
                    border="#C9D2C2",
                    radius=8,
                    pad=(14, 10),
                )
            )
    return [
        look.bar(app.say("Tasks"), "toolbar_title", app.around.platform, app.back),
        Node("list", id="tasks", key="tasks", children=rows, gap=6, pad=(12, 12), grow=1),
    ]


def menu(app: Diary, *entries: tuple[str, str, object]) -> Node:
    """A menu over the page: words, id and what they do."""
    buttons = [look.button(app.say(words), id, act, quiet=True) for words, id, act in entries]  # type: ignore[arg-type]
    return look.dialog(*buttons)
