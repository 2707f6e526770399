"""Hive Diary: where one is in it, what it holds, and how its pages come together on narrow and wide screens."""

from __future__ import annotations

from ..app import Surroundings, System
from ..toolkit.node import Node, column, row, spacer
from . import look, pages
from .records import Draft, Hive, hives
from .words import RIGHT_TO_LEFT, language, say

WIDE = 600.0  # dp from which list and page stand side by side
PASSING_S = 4.0  # how long "Inspection saved" stays
SLOW_S = 3.0  # how long a slow page takes
BACK = {"hives": "home", "about": "home", "hive": "hives", "form": "hive", "saved": "hive"}


class HiveDiary:
    """A hives list, a hive's page, the form of a new inspection, and what was saved."""

    package = "org.example.hive_diary"
    label = "Hive Diary"

    def __init__(self, system: System, version: str = "2.4") -> None:
        self.system = system
        self.version = version
        self.hives = hives()
        self.place = "home"
        self.hive: Hive | None = None
        self.draft = Draft()
        self.passing_until = 0.0
        self.dialog = ""
        self.around = Surroundings(412, 892, "android", "en", frozenset(), False)

    # for its pages

    def say(self, words: str) -> str:
        return say(words, self.around.locale)

    def has(self, fault: str) -> bool:
        """Is that fault seeded on this phone?"""
        return fault in self.around.faults

    # navigation

    def activity(self) -> str:
        return {"home": ".Home", "hives": ".Hives", "about": ".About"}.get(self.place, ".Hive")

    def go(self, place: str) -> None:
        self.system.focus(None)
        self.place = place
        self.dialog = ""
        self.system.log("HiveDiary", f"page {place}")

    def open_hive(self, hive: Hive) -> None:
        self.hive = hive
        self.system.log("HiveDiary", f"open {hive.name}")
        self.go("hive")
        if self.has("slow"):
            self.system.busy(SLOW_S)
        if self.has("dialog"):
            self.dialog = "rate"

    def back(self) -> bool:
        if self.dialog:
            self.dialog = ""
            return True
        if self.place not in BACK:
            return False
        self.go(BACK[self.place])
        return True

    def next_change(self) -> float | None:
        return self.passing_until if self.passing_until > self.system.now() else None

    def begin(self) -> None:
        self.draft = Draft()
        self.go("form")

    def set(self, what: str, value: object) -> None:
        """A value of the form; anything but typing takes the focus from the field."""
        if what != "note":
            self.system.focus(None)
        setattr(self.draft, what, value)
        self.system.log("HiveDiary", f"set {what}")

    def save(self) -> None:
        assert self.hive is not None
        if self.has("crash"):
            self.system.crash("java.lang.IllegalStateException: no such hive")
            return
        draft, hive = self.draft, self.hive
        hive.seen, hive.frames, hive.queen, hive.note = 0, draft.frames, draft.queen, draft.note
        if self.has("off-by-one"):
            hive.frames += 1
        hive.temper = draft.temper or hive.temper
        self.passing_until = self.system.now() + PASSING_S
        self.system.log("HiveDiary", f"saved inspection of {hive.name}")
        self.go("saved")

    # pages

    def page(self, around: Surroundings) -> Node:
        self.around = around
        body = self._wide() if around.width >= WIDE else self._narrow()
        if self.passing_until > self.system.now():
            body.children.append(column(look.passing(self.say("Inspection saved")), pad=(12, 12)))
        if language(around.locale) in RIGHT_TO_LEFT:
            body.mirrored = True
        return body

    def _narrow(self) -> Node:
        return column(*pages.narrow(self), fill=look.PAPER)

    def _wide(self) -> Node:
        rail = column(
            spacer(8),
            look.button(self.say("Hives"), "open_hives", lambda: self.go("hives")),
            look.button(self.say("About"), "open_about", lambda: self.go("about"), quiet=True),
            width=132,
            pad=(12, 12),
            gap=12,
            fill="#E5E4D6",
        )
        if self.place in {"home", "about"}:
            words = pages.welcome(self) if self.place == "home" else pages.about_words(self)
            panes = [column(*words, pad=(28, 24), gap=12, grow=1)]
        else:
            left = column(look.bar(self.say("Hives"), "list_title", self.around.platform), pages.hive_list(self), width=268)
            panes = [left, column(*pages.detail(self), grow=1)]
        for pane in (rail, *panes):
            pane.height = self.around.height if self.passing_until <= self.system.now() else self.around.height - 72
        return column(row(rail, *panes, grow=1), fill=look.PAPER)
