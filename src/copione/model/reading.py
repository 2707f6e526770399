"""What was read of an element, as a value of its kind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields, replace
from datetime import date
from decimal import Decimal
from enum import Enum
from typing import TYPE_CHECKING, Any, ClassVar, Self


class State(Enum):
    """What an element can be besides its words; the value is the script's word for it."""

    ON = "on"
    OFF = "off"
    ENABLED = "enabled"
    DISABLED = "disabled"
    SELECTED = "selected"
    NOT_SELECTED = "not selected"


class Reading:
    """What was read: a frozen dataclass of plain values, with `words` for people. `kind` is what an archive calls the class.

    Every subclass can be archived and read again; what is derived of the rest is left out with `metadata={"derived": True}`.
    """

    kind: ClassVar[str]
    kinds: ClassVar[dict[str, type[Reading]]] = {}

    if TYPE_CHECKING:
        __dataclass_fields__: ClassVar[dict[str, Any]]

        @property
        def words(self) -> str:
            """For people."""

    def __init_subclass__(cls) -> None:
        if cls.kind in Reading.kinds:
            raise ValueError(f"another class of readings is called {cls.kind}")
        Reading.kinds[cls.kind] = cls

    def cleaned(self, clean: Callable[[str], str]) -> Self:
        """The same with `clean` applied to all that was read, so that nobody reads a secret in it."""
        changed: dict[str, Any] = {}
        for each in fields(self):
            value = getattr(self, each.name)
            if isinstance(value, str):
                changed[each.name] = clean(value)
            elif isinstance(value, tuple) and all(isinstance(part, str) for part in value):
                changed[each.name] = tuple(map(clean, value))
        return replace(self, **changed)


@dataclass(frozen=True)
class Said(Reading):
    """Words: of a text, a field, a label's value, a slider."""

    kind: ClassVar[str] = "said"
    words: str


@dataclass(frozen=True)
class InState(Reading):
    """A state: of a switch, a button, a tab."""

    kind: ClassVar[str] = "state"
    state: State

    @property
    def words(self) -> str:
        """The state's word."""
        return self.state.value


@dataclass(frozen=True)
class Counted(Reading):
    """How many items a list has on the screen."""

    kind: ClassVar[str] = "count"
    items: int

    @property
    def words(self) -> str:
        """The number."""
        return str(self.items)


@dataclass(frozen=True)
class Looked(Reading):
    """How much of a picture is unlike the recorded one (0..1, beyond the tolerances), what else is to be said of it, and the picture in
    a few hex digits, to be held against other devices' ones."""

    kind: ClassVar[str] = "look"
    unlike: float
    remark: str = ""
    fingerprint: str = field(default="", repr=False)

    @property
    def words(self) -> str:
        """For people."""
        return ("as recorded" if self.unlike <= UNLIKE else f"{self.unlike:.0%} unlike") + self.remark


@dataclass(frozen=True)
class InDay(Reading):
    """A day, and the words that name it; None where they name none."""

    kind: ClassVar[str] = "day"
    day: date | None
    words: str

    def cleaned(self, clean: Callable[[str], str]) -> Self:
        """A secret is no day."""
        said = clean(self.words)
        return self if said == self.words else replace(self, day=None, words=said)


@dataclass(frozen=True)
class InNumber(Reading):
    """A number, and the words that name it; None where they name none, or can mean more than one."""

    kind: ClassVar[str] = "number"
    number: Decimal | None
    words: str

    def cleaned(self, clean: Callable[[str], str]) -> Self:
        """A secret is no number."""
        said = clean(self.words)
        return self if said == self.words else replace(self, number=None, words=said)


SortKey = tuple[tuple[int, Decimal, str], ...]  # what words are sorted by: their numbers by value, the rest by letters


@dataclass(frozen=True)
class InOrder(Reading):
    """What each item of a list says of what the list is sorted by, and the keys to sort it by, in the language of the screen."""

    kind: ClassVar[str] = "order"
    values: tuple[str, ...]
    keys: tuple[SortKey, ...] = field(default=(), metadata={"derived": True})

    def cleaned(self, clean: Callable[[str], str]) -> Self:
        """Nor do its keys tell."""
        return replace(self, values=tuple(map(clean, self.values)), keys=())

    @property
    def words(self) -> str:
        """One after the other."""
        return ", ".join(self.values)


@dataclass(frozen=True)
class Moved(Reading):
    """How far a picture is turned (degrees clockwise) and scaled beside what it was."""

    kind: ClassVar[str] = "moved"
    degrees: float
    scale: float

    @property
    def words(self) -> str:
        """For people."""
        return f"turned by {self.degrees:.0f}, scaled by {self.scale:.2f}"


@dataclass(frozen=True)
class BranchTaken(Reading):
    """Which way a block was gone: what was so, in words, and whether the block was entered."""

    kind: ClassVar[str] = "way"
    words: str
    entered: bool = True


UNLIKE = 0.01  # share of a picture that may be unlike beyond the tolerances
