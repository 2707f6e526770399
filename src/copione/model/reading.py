"""What was read of an element, as a value of its kind."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from enum import Enum


class State(Enum):
    """What an element can be besides its words; the value is the script's word for it."""

    ON = "on"
    OFF = "off"
    ENABLED = "enabled"
    DISABLED = "disabled"
    SELECTED = "selected"
    NOT_SELECTED = "not selected"


@dataclass(frozen=True)
class Said:
    """Words: of a text, a field, a label's value, a slider."""

    words: str


@dataclass(frozen=True)
class InState:
    """A state: of a switch, a button, a tab."""

    state: State

    @property
    def words(self) -> str:
        """The state's word."""
        return self.state.value


@dataclass(frozen=True)
class Counted:
    """How many items a list has on the screen."""

    items: int

    @property
    def words(self) -> str:
        """The number."""
        return str(self.items)


@dataclass(frozen=True)
class Looked:
    """How much of a picture is unlike the recorded one (0..1, beyond the tolerances), what else is to be said of it, and the picture in
    a few hex digits, to be held against other devices' ones."""

    unlike: float
    remark: str = ""
    fingerprint: str = field(default="", repr=False)

    @property
    def words(self) -> str:
        """For people."""
        return ("as recorded" if self.unlike <= UNLIKE else f"{self.unlike:.0%} unlike") + self.remark


@dataclass(frozen=True)
class InDay:
    """A day, and the words that name it; None where they name none."""

    day: date | None
    words: str


@dataclass(frozen=True)
class InNumber:
    """A number, and the words that name it; None where they name none, or can mean more than one."""

    number: Decimal | None
    words: str


SortKey = tuple[tuple[int, Decimal, str], ...]  # what words are sorted by: their numbers by value, the rest by letters


@dataclass(frozen=True)
class InOrder:
    """What each item of a list says of what the list is sorted by, and the keys to sort it by, in the language of the screen."""

    values: tuple[str, ...]
    keys: tuple[SortKey, ...] = ()

    @property
    def words(self) -> str:
        """One after the other."""
        return ", ".join(self.values)


@dataclass(frozen=True)
class Moved:
    """How far a picture is turned (degrees clockwise) and scaled beside what it was."""

    degrees: float
    scale: float

    @property
    def words(self) -> str:
        """For people."""
        return f"turned by {self.degrees:.0f}, scaled by {self.scale:.2f}"


@dataclass(frozen=True)
class BranchTaken:
    """Which way a block was gone: what was so, in words, and whether the block was entered."""

    words: str
    entered: bool = True


UNLIKE = 0.01  # share of a picture that may be unlike beyond the tolerances
Reading = Said | InState | Counted | Looked | InDay | InNumber | InOrder | Moved | BranchTaken
