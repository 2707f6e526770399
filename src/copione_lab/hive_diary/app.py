"""Hive Diary's pages and what touching them does."""

from __future__ import annotations

from ..app import Surroundings, System
from ..toolkit.node import Node, column, row, spacer, text
from . import look
from .records import MOST_FRAMES, TEMPERS, Draft, Hive, hives

WIDE = 600.0  # dp from which list and page stand side by side
PASSING_S = 4.0  # how long "Inspection saved" stays


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

    # navigation

    def activity(self) -> str:
        return {"home": ".Home", "hives": ".Hives", "about": ".About"}.get(self.place, ".Hive")

    def go(self, place: str) -> None:
        self.system.focus(None)
        self.place = place
        self.system.log("HiveDiary", f"page {place}")

    def open_hive(self, hive: Hive) -> None:
        self.hive = hive
        self.go("hive")

    def back(self) -> bool:
        before = {"hives": "home", "about": "home", "hive": "hives", "form": "hive", "saved": "hive"}
        if self.place not in before:
            return False
        self.go(before[self.place])
        return True

    def next_change(self) -> float | None:
        return self.passing_until if self.passing_until > self.system.now() else None

    def begin(self) -> None:
        self.draft = Draft()
        self.go("form")

    def save(self) -> None:
        assert self.hive is not None
        draft, hive = self.draft, self.hive
        hive.seen, hive.frames, hive.queen, hive.note = "Today", draft.frames, draft.queen, draft.note
        hive.temper = draft.temper or hive.temper
        self.passing_until = self.system.now() + PASSING_S
        self.system.log("HiveDiary", f"saved inspection of {hive.name}")
        self.go("saved")

    # pages

    def page(self, around: Surroundings) -> Node:
        body = self._wide(around) if around.width >= WIDE else self._narrow(around)
        if self.passing_until > self.system.now():
            body.children.append(column(look.passing("Inspection saved"), pad=(12, 12)))
        return body

    def _narrow(self, around: Surroundings) -> Node:
        pages = {"home": self._home, "hives": self._list_page, "about": self._about}
        build = pages.get(self.place)
        children = build() if build else self._hive_page(around)
        return column(*children, fill=look.PAPER)

    def _wide(self, around: Surroundings) -> Node:
        rail = column(
            spacer(8),
            look.button("Hives", "open_hives", lambda: self.go("hives")),
            look.button("About", "open_about", lambda: self.go("about"), quiet=True),
            width=132,
            pad=(12, 12),
            gap=12,
            fill="#E5E4D6",
        )
        if self.place in {"home", "about"}:
            panes = [column(*(self._welcome() if self.place == "home" else self._about_words()), pad=(28, 24), gap=12, grow=1)]
        else:
            left = column(look.bar("Hives", "list_title"), self._hive_list(), width=268)
            right = self._hive_page(around) if self.place != "hives" else [column(text("Choose a hive", ink="#6B7267"), pad=(28, 24))]
            panes = [left, column(*right, grow=1)]
        for pane in (rail, *panes):
            pane.height = around.height if self.passing_until <= self.system.now() else around.height - 72
        return column(row(*((rail, *panes)), grow=1), fill=look.PAPER)

    @staticmethod
    def _welcome() -> list[Node]:
        return [
            text("Good morning", size=24, weight="Medium"),
            text("Twenty-four hives, four of them due for a look inside.", ink="#4B5547"),
            row(Node("image", desc="Honeycomb", radius=12, height=140, grow=1), pad=(0, 8)),
        ]

    def _home(self) -> list[Node]:
        actions = [
            look.button("Hives", "open_hives", lambda: self.go("hives")),
            look.button("About", "open_about", lambda: self.go("about"), quiet=True),
        ]
        return [look.bar("Hive Diary"), column(*self._welcome(), *actions, pad=(20, 20), gap=12)]

    @staticmethod
    def _about_words() -> list[Node]:
        return [text("Hive Diary 2.4", weight="Medium"), text("Keeps what you saw in the hive, and when.", ink="#4B5547")]

    def _about(self) -> list[Node]:
        return [look.bar("About"), column(*self._about_words(), pad=(20, 20), gap=8)]

    def _hive_list(self) -> Node:
        rows = [look.hive_row(h.name, h.seen, i % 6 == 3, lambda h=h: self.open_hive(h)) for i, h in enumerate(self.hives)]  # type: ignore[misc]
        return Node("list", id="hives", key="hives", children=rows, gap=8, pad=(12, 12), grow=1)

    def _list_page(self) -> list[Node]:
        return [look.bar("Hives"), self._hive_list()]

    def _hive_page(self, around: Surroundings) -> list[Node]:
        assert self.hive is not None
        if self.place == "form":
            return [look.bar("New inspection"), self._form()]
        if self.place == "saved":
            return [look.bar(self.hive.name), self._saved(self.hive)]
        hive = self.hive
        return [
            look.bar(hive.name),
            Node(
                "scroll",
                key="hive",
                grow=1,
                pad=(16, 16),
                gap=10,
                children=[
                    Node("image", desc="Comb picture", radius=12, height=96),
                    look.fact("Last seen", hive.seen, "last_seen"),
                    look.fact("Brood frames", str(hive.frames), "brood_frames"),
                    look.fact("Temper", hive.temper, "temper"),
                    look.fact("Weight", f"{hive.weight_kg} kg", "weight"),
                    look.button("New inspection", "new_inspection", self.begin),
                ],
            ),
        ]

    def _saved(self, hive: Hive) -> Node:
        return Node(
            "scroll",
            key="saved",
            grow=1,
            pad=(16, 16),
            gap=10,
            children=[
                look.fact("Last seen", hive.seen, "last_seen"),
                look.fact("Brood frames", str(hive.frames), "brood_frames"),
                look.fact("Queen seen", "Yes" if hive.queen else "No", "queen"),
                look.fact("Temper", hive.temper, "temper"),
                look.caption("Note"),
                text(hive.note or "No note", id="note"),
                look.button("Back to hives", "back_to_hives", lambda: self.go("hives"), quiet=True),
            ],
        )

    def _form(self) -> Node:
        draft = self.draft
        chips = [
            Node(
                "radio",
                id=f"temper_{t.lower()}",
                text=t,
                checked=draft.temper == t,
                on_tap=lambda t=t: self._set("temper", t),  # type: ignore[misc]
                pad=(16, 8),
                align="centre",
            )
            for t in TEMPERS
        ]
        return Node(
            "scroll",
            key="form",
            grow=1,
            pad=(16, 14),
            gap=10,
            children=[
                column(
                    row(text("Brood frames", grow=1), text(str(draft.frames), id="frames_value", weight="Bold"), gap=8),
                    Node("slider", id="frames", value=draft.frames, top_value=MOST_FRAMES, on_value=lambda v: self._set("frames", int(v))),
                    gap=2,
                ),
                row(
                    text("Queen seen", grow=1),
                    Node("switch", id="queen_seen", checked=draft.queen, on_tap=lambda: self._set("queen", not draft.queen)),
                    pad=(0, 4),
                ),
                column(text("Temper"), Node("radiogroup", id="temper", children=chips, gap=8), gap=6),
                column(
                    look.caption("Notes"),
                    Node(
                        "field",
                        id="notes",
                        key="notes",
                        text=draft.note,
                        on_tap=lambda: self.system.focus("notes"),
                        on_text=lambda words: self._set("note", words),
                        pad=(12, 10),
                        height=96,
                    ),
                    gap=4,
                ),
                look.button("Save inspection", "save_inspection", self.save),
            ],
        )

    def _set(self, what: str, value: object) -> None:
        if what != "note":
            self.system.focus(None)
        setattr(self.draft, what, value)
