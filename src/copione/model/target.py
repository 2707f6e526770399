"""What a step acts on, as the script words it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum
from typing import Self

from .geometry import Box
from .words import Change, InvalidValue, Text, Worded, text

AREA = "area"  # the role of a part of the picture
PAGE = "page"  # the role of what names the whole screen


class Naming(Enum):
    """How a target's words name it; the value is what the script says before them."""

    CALLED = ""  # it is called exactly so
    LIKE = "like"  # its name is these words, with any words at all where an asterisk stands
    WITH = "with"  # something in it says these words, perhaps among others


@dataclass(frozen=True)
class Target(Worded):
    """The element a step acts on: role and name, and where. An empty role means any that fits the verb.

    `under` is the heading it stands below; `inside` what it stands in, which tells it where it has no name. `part` is a part of `inside`
    in shares of its box, given by hand: role AREA, and no name. Raises InvalidValue for a part that is not within it.
    """

    role: str
    name: str = text(Text.NAME)
    inside: Target | None = None
    under: str = text(Text.NAME, "")
    naming: Naming = Naming.CALLED
    part: Box | None = None

    def __post_init__(self) -> None:
        if self.part is not None:
            left, top, right, bottom = self.part
            if self.role != AREA:
                raise InvalidValue("Only an area has edges.", self.role, "area")
            if not (0 <= left < right <= 1 and 0 <= top < bottom <= 1):
                raise InvalidValue("An area lies between 0 and 1: left, top, right, bottom.", f"{left:g}", "an area such as .1 .2 .9 .8")

    @property
    def unnamed(self) -> bool:
        """Has it no name, and is told by its role and what it stands in?"""
        return bool(self.role) and not self.name and self.inside is not None and self.naming is Naming.CALLED and not self.under

    def words(self) -> str:
        """As the script says it; the key of its portraits."""
        if self.part is not None and self.inside is not None:
            return f"{AREA} {' '.join(f'{side:g}' for side in self.part)} of {self.inside.words()}"
        own = self.role if self.unnamed else " ".join(filter(None, (self.role, self.naming.value, f'"{self.name}"')))
        own += f' under "{self.under}"' if self.under else ""
        return f"{own} in {self.inside.words()}" if self.inside else own

    def map_text(self, change: Change) -> Self:
        """A part that is given by its sides has no name of its own."""
        if self.part is not None and self.inside is not None:
            return replace(self, inside=self.inside.map_text(change))
        return super().map_text(change)

    def called(self, role: str) -> Target:
        """The same with that role, where it has none of its own."""
        return self if self.role else replace(self, role=role)
