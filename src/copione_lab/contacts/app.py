"""Contacts: people, a search, and one person's page. It is in English on every phone."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from ..app import Surroundings, System
from ..toolkit.node import Node, column, row, text

SLATE, PALE, PAPER, SHEET, INK, QUIET = "#3D5A80", "#D6DEE8", "#F4F6F9", "#FFFFFF", "#1F2933", "#5F6B7A"


@dataclass(frozen=True)
class Person:
    """Somebody, and what is known of them."""

    name: str
    mobile: str
    about: str


PEOPLE = (
    Person("Ada Brook", "0700 900 101", "Keeper of hives 1 to 8"),
    Person("Bruno Fell", "0700 900 102", "Sells jars and lids"),
    Person("Clara Wold", "0700 900 103", "Keeper of hives 9 to 16"),
    Person("Edwin Marsh", "0700 900 104", "Has the key to the mill"),
    Person("Ines Holt", "0700 900 105", "Keeper of hives 17 to 24"),
    Person("Jonas Quarry", "0700 900 106", "Drives the van"),
    Person("Maud Heath", "0700 900 107", "Bee inspector"),
)


class Contacts:
    """See the module."""

    package = "org.example.contacts"
    label = "Contacts"
    keeps: tuple[str, ...] = ()

    def __init__(self, system: System, _build: str = "") -> None:
        self.system = system
        self.version = "1.3"
        self.search = ""
        self.person: Person | None = None

    def opens(self, address: str) -> bool:
        """`tel:` and a number of somebody here."""
        scheme, _, number = address.partition(":")
        found = next((each for each in PEOPLE if each.mobile.replace(" ", "") == number.replace(" ", "")), None)
        if scheme != "tel" or found is None:
            return False
        self.show(found)
        return True

    def activity(self) -> str:
        return ".People" if self.person is None else ".Person"

    def show(self, person: Person | None) -> None:
        self.system.focus(None)
        self.person = person
        self.system.log("Contacts", f"open {person.name}" if person else "people")

    def back(self) -> bool:
        if self.person is None:
            return False
        self.show(None)
        return True

    def restless(self) -> bool:
        return False

    def turned(self) -> None:
        """Nothing is lost."""

    def next_change(self) -> float | None:
        return None

    def page(self, around: Surroundings) -> Node:
        return column(*(self._people() if self.person is None else self._page_of(self.person)), fill=PAPER)

    def _people(self) -> list[Node]:
        field = Node(
            "field", id="find", key="find", text=self.search, on_tap=lambda: self.system.focus("find"), on_text=self._seek, pad=(12, 10)
        )
        words = self.search.casefold()
        found = [each for each in PEOPLE if words in f"{each.name} {each.about}".casefold()]
        rows = [
            row(
                column(text(each.name, weight="Medium", size=16), text(each.about, size=13, ink=QUIET), gap=2, grow=1),
                id="person",
                on_tap=partial(self.show, each),
                fill=SHEET,
                border=PALE,
                radius=10,
                pad=(14, 12),
            )
            for each in found
        ]
        head = row(Node("heading", id="title", text="Contacts", size=20, weight="Medium", ink=INK, grow=1), fill=PALE, pad=(16, 16))
        top = column(text("Find a person", size=13, ink=QUIET), field, gap=4, pad=(16, 12))
        return [head, top, Node("list", id="people", key="people", children=rows, gap=8, pad=(12, 8), grow=1)]

    def _seek(self, words: str) -> None:
        self.search = words

    def _page_of(self, person: Person) -> list[Node]:
        back = Node("button", id="back", text="‹", desc="Back", on_tap=self.back, size=24, ink=SLATE, align="centre", width=48)
        name = Node("heading", id="title", text=person.name, size=20, weight="Medium", ink=INK, grow=1)
        facts = [
            row(
                text(caption, grow=1),
                text(value, id=f"fact_{caption.lower()}", weight="Medium"),
                pad=(14, 12),
                fill=SHEET,
                border=PALE,
                radius=8,
                gap=8,
            )
            for caption, value in (("Mobile", person.mobile), ("About", person.about))
        ]
        return [row(back, name, fill=PALE, pad=(16, 8), gap=8), Node("scroll", key="person", grow=1, pad=(16, 16), gap=8, children=facts)]
