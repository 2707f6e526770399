"""Hive Diary as an app: how its pages come together on narrow and wide screens."""

from __future__ import annotations

from ..app import Surroundings
from ..toolkit.node import Node, column, row
from . import look, pages, visits
from .diary import Diary
from .words import RIGHT_TO_LEFT, in_own_digits, language

WIDE = 600.0  # dp from which list and page stand side by side
#: Ids that build 2.5 has otherwise.
LINKED = ("hives", "tasks", "settings", "records", "about")  # pages that an address may name
RENAMED = {"save_inspection": "inspection_save", "open_hives": "nav_hives", "hive_row": "row_hive"}


class HiveDiary(Diary):
    """A hives list, a hive's page, the form of a new inspection, and what was saved."""

    package = "org.example.hive_diary"
    label = "Hive Diary"
    keeps: tuple[str, ...] = ("hives", "done", "night", "remind", "signed_in", "stops")

    def opens(self, address: str) -> bool:
        """`hivediary://tasks` and the like, `hivediary://hive/7`."""
        scheme, _, place = address.partition("://")
        page, _, number = place.partition("/")
        hive = next((hive for hive in self.hives if hive.name == f"Hive {number}"), None)
        if scheme != "hivediary" or (hive is None if page == "hive" else page not in LINKED):
            return False
        if hive is not None:
            self.open_hive(hive)
        else:
            self.go(page)
        return True

    def page(self, around: Surroundings) -> Node:
        self.around = around
        over = visits.over(self) if self.place == "form" else None
        body = column(over, fill=look.PAPER) if over else self._wide() if around.width >= WIDE else self._narrow()
        if self.passing_until > self.system.now():
            undo = self.undo if self.removed is not None else None
            body.children.append(column(look.passing(self.say(self.passing), self.say("Undo"), undo), pad=(12, 12)))
        if self.version >= "2.5":
            for node in body.walk():
                node.id = RENAMED.get(node.id, node.id)
        if around.look == "old":
            look.old(body)
        if around.dark:
            look.dark(body)
        if language(around.locale) in RIGHT_TO_LEFT:
            body.mirrored = True
        if language(around.locale) == "ar":
            for node in body.walk():
                if not node.on_text:
                    node.text, node.desc = in_own_digits(node.text), in_own_digits(node.desc)
        return body

    def _narrow(self) -> Node:
        return column(*pages.narrow(self), fill=look.PAPER)

    def _wide(self) -> Node:
        rail = Node(
            "scroll",
            key="rail",
            children=[
                look.button(self.say("Hives"), "open_hives", lambda: self.go("hives")),
                *pages.ways(self),
            ],
            width=132,
            pad=(12, 12),
            gap=12,
            fill="#E5E4D6",
        )
        if self.place in {"home", "about"}:
            words = pages.welcome(self) if self.place == "home" else pages.about_words(self)
            panes = [column(*words, pad=(28, 24), gap=12, grow=1)]
        elif self.place in pages.ALONE:
            panes = [column(*pages.ALONE[self.place](self), grow=1)]
        else:
            left = column(*pages.hives_head(self, "list_title"), pages.hive_list(self), width=268)
            panes = [left, column(*pages.detail(self), grow=1)]
        for pane in (rail, *panes):
            pane.height = self.around.height if self.passing_until <= self.system.now() else self.around.height - 72
        return column(row(rail, *panes, grow=1), fill=look.PAPER)
