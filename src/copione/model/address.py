"""Which execution of which step: the lines it was reached through, and the turn of each loop among them."""

from __future__ import annotations

from typing import NamedTuple


class AddressPart(NamedTuple):
    """A line of the script, 1-based, and the turn of the loop that begins there (from 1; 0 where it is none)."""

    line: int
    turn: int = 0


class Address(tuple[AddressPart, ...]):
    """Places from the outermost line to the step's own. Addresses are ordered as the script is gone through."""

    __slots__ = ()

    @classmethod
    def of(cls, line: int) -> Address:
        """Of a step that is reached straight on."""
        return cls((AddressPart(line),))

    @classmethod
    def parse(cls, words: str) -> Address:
        """From what `str` gives. Raises ValueError."""
        return cls(AddressPart(*(int(part) for part in place.split(":", 1))) for place in words.split("/"))

    def then(self, line: int, turn: int = 0) -> Address:
        """A place reached from here."""
        return Address((*self, AddressPart(line, turn)))

    @property
    def line(self) -> int:
        """The step's own line."""
        return self[-1].line

    def __str__(self) -> str:
        return "/".join(f"{place.line}:{place.turn}" if place.turn else str(place.line) for place in self)
