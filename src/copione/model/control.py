"""Actions that say which steps are done, and how often: blocks, loops, and scenes that are performed."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import ClassVar, Self

from .acting import Action
from .fact import Fact
from .formula import names_in
from .relation import Between, Compares, Contains, Reads, ReadsLike, Relation, SameEverywhere
from .target import Target
from .words import Change, InvalidValue, Text, text

MOST_TURNS = 1000  # of a loop


@dataclass(frozen=True)
class Perform(Action):
    """Do the steps of a scene, with values for the names that it asks for."""

    verb: ClassVar[str] = "perform"
    scene: str
    values: tuple[str, ...] = text(Text.VALUE, ())


class Opening(Action):
    """The head of a block: the lines up to its `end` are done, or not, or several times.

    `loops`: they are done in turns; else once or not, and `branches` allows an `otherwise`. `asked_again`: a loop whose head is done
    before each turn, until it holds, for `most` turns; of the others, the head's performer leaves the values of each turn.
    """

    touches: ClassVar[bool] = False
    loops: ClassVar[bool] = False
    branches: ClassVar[bool] = False
    asked_again: ClassVar[bool] = False
    most: int


@dataclass(frozen=True)
class When(Opening):
    """Enter the block if it holds of something on the screen, looked at once. Raises InvalidValue for what one device cannot tell."""

    verb: ClassVar[str] = "when"
    branches: ClassVar[bool] = True
    target: Target
    relation: Relation

    def __post_init__(self) -> None:
        _alone(self.relation)


@dataclass(frozen=True)
class WhenValue(Opening):
    """Enter the block if a value is so. Raises InvalidValue for a relation that is about something on the screen."""

    verb: ClassVar[str] = "when"
    branches: ClassVar[bool] = True
    relation: Relation
    value: str = text(Text.VALUE)

    def __post_init__(self) -> None:
        if not isinstance(self.relation, OF_VALUES):
            known = "reads, reads like, contains, is between, is more than, is less than, is at least, is at most"
            raise InvalidValue("A value is not an element on the screen.", "", known)

    def map_text(self, change: Change) -> Self:
        """What it is compared with is a value too, and no text of the app's."""
        return super().map_text(lambda words, _kind: change(words, Text.VALUE))


@dataclass(frozen=True)
class WhenDevice(Opening):
    """Enter the block if the device is so."""

    verb: ClassVar[str] = "when"
    branches: ClassVar[bool] = True
    fact: Fact


@dataclass(frozen=True)
class Repeat(Opening):
    """So many turns. Raises InvalidValue for what is no whole number from 0 to `MOST_TURNS`."""

    verb: ClassVar[str] = "repeat"
    loops: ClassVar[bool] = True
    times: str = text(Text.AMOUNT)

    def __post_init__(self) -> None:
        if not any(names_in(self.times)):
            turns(self.times)


@dataclass(frozen=True)
class RepeatUntil(Opening):
    """Turns until it holds, which is looked at before each; stuck where `most` turns do not bring it about. Raises InvalidValue."""

    verb: ClassVar[str] = "repeat"
    loops: ClassVar[bool] = True
    asked_again: ClassVar[bool] = True
    target: Target
    relation: Relation
    most: int

    def __post_init__(self) -> None:
        _alone(self.relation)
        if not 1 <= self.most <= MOST_TURNS:
            raise InvalidValue(f"A block cannot be repeated {self.most} times.", str(self.most), f"1 to {MOST_TURNS} times")


@dataclass(frozen=True)
class ForEach(Opening):
    """A turn for each row of a table, whose columns are variables in it."""

    verb: ClassVar[str] = "for"
    loops: ClassVar[bool] = True
    table: str

    @property
    def tables(self) -> tuple[str, ...]:
        """The one it goes through."""
        return (self.table,)


@dataclass(frozen=True)
class Otherwise(Action):
    """What follows is done where the block above was not entered."""

    verb: ClassVar[str] = "otherwise"
    touches: ClassVar[bool] = False


@dataclass(frozen=True)
class End(Action):
    """The end of a block."""

    verb: ClassVar[str] = "end"
    touches: ClassVar[bool] = False


OF_VALUES = (Reads, ReadsLike, Contains, Between, Compares)
STRUCTURE: tuple[type[Action], ...] = (Otherwise, End)  # lines that nothing becomes of


def turns(words: str) -> int:
    """How often a loop is gone through. Raises InvalidValue."""
    if not re.fullmatch(r"\d{1,4}", words.strip()) or int(words) > MOST_TURNS:
        raise InvalidValue(f"A block cannot be repeated {words} times.", words, f"a whole number from 0 to {MOST_TURNS}")
    return int(words)


def _alone(relation: Relation) -> None:
    if isinstance(relation, SameEverywhere):
        raise InvalidValue("One device cannot tell what the others say.", "", "another relation")
