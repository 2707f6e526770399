"""Kiln Book as an app of the stand-in phones. It draws all by itself and looks the same on both platforms."""

from __future__ import annotations

from ..app import Surroundings
from ..toolkit.node import Node
from . import pages
from .book import TABS, Book


class KilnBook(Book):
    """A list of firings with its search, the form of a new one, one firing, the glazes on the shelf, the kiln."""

    package = "org.example.kiln_book"
    label = "Kiln Book"
    keeps: tuple[str, ...] = ("firings",)

    def opens(self, address: str) -> bool:
        """None."""
        return False

    def activity(self) -> str:
        return ".Book"

    def page(self, around: Surroundings) -> Node:
        self.around = around
        passing = self.passing if self.passing_until > self.system.now() else ""
        return pages.whole(self, passing)

    def back(self) -> bool:
        if self.open:
            self.over("")
        elif self.place in TABS:
            return False
        else:
            self.go("firings")
        return True

    def restless(self) -> bool:
        return False

    def turned(self) -> None:
        """Its pages have no state that a turn could lose."""

    def next_change(self) -> float | None:
        return self.passing_until if self.passing_until > self.system.now() else None
