"""What a check or a wait expects of its target. A relation that cannot be meant cannot be built."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import Enum
from typing import ClassVar

from .formula import names_in
from .number import first_number, signs_in
from .reading import UNLIKE, Counted, InDay, InNumber, InOrder, InState, Looked, Moved, Reading, State
from .words import BRACED, InvalidValue, Text, Worded, plain, text

MATCH_S = 1.0  # an expression may take so long over one text


@dataclass(frozen=True)
class Relation(Worded):
    """What is expected. `reads_target`: does it need the target's value, beside the target itself?"""

    reads_target: ClassVar[bool] = True

    def fits(self, reading: Reading) -> bool:
        """Does what was read satisfy it?"""
        raise NotImplementedError


@dataclass(frozen=True)
class IsShown(Relation):
    """The target is on the screen and can be seen."""

    reads_target: ClassVar[bool] = False

    def fits(self, reading: Reading) -> bool:
        """Whatever it reads."""
        return True


@dataclass(frozen=True)
class IsNotShown(Relation):
    """The target is not on the screen."""

    reads_target: ClassVar[bool] = False

    def fits(self, reading: Reading) -> bool:
        """What can be read is there."""
        return False


@dataclass(frozen=True)
class IsState(Relation):
    """The target is on, off, enabled, disabled, selected or not selected."""

    state: State

    def fits(self, reading: Reading) -> bool:
        """Is it in that very state?"""
        return reading == InState(self.state) or (not isinstance(reading, InState) and plain(reading.words) == self.state.value)


@dataclass(frozen=True)
class Reads(Relation):
    """The target's words are exactly these, white space apart."""

    text: str = text(Text.READING)

    def fits(self, reading: Reading) -> bool:
        """The same words?"""
        return plain(reading.words) == plain(self.text)


@dataclass(frozen=True)
class Contains(Relation):
    """These words are among the target's."""

    text: str = text(Text.READING)

    def fits(self, reading: Reading) -> bool:
        """Are they within what was read?"""
        return plain(self.text) in plain(reading.words)


@dataclass(frozen=True)
class ReadsLike(Relation):
    """The target's words are these, with any words at all where an asterisk stands."""

    text: str = text(Text.READING)

    def fits(self, reading: Reading) -> bool:
        """Whatever stands in the place of the asterisks?"""
        return like(plain(self.text), plain(reading.words))


def like(pattern: str, said: str) -> bool:
    """Do the stretches between the asterisks come in this order, the first at the beginning and the last at the end?"""
    first, *others = pattern.split("*")
    if not others:
        return said == first
    last = others.pop()
    if not said.startswith(first) or not said.endswith(last) or len(said) < len(first) + len(last):
        return False
    place, end = len(first), len(said) - len(last)
    for part in others:
        found = said.find(part, place, end)
        if found < 0:
            return False
        place = found + len(part)
    return True


@dataclass(frozen=True)
class Matches(Relation):
    """The target's words fit a regular expression somewhere. Raises InvalidValue for one that does not compile."""

    pattern: str = text(Text.PATTERN)

    def __post_init__(self) -> None:
        import regex  # it knows a time limit, which Python's own does not

        try:
            regex.compile(BRACED.sub("x", self.pattern))
        except (regex.error, OverflowError, RecursionError) as error:
            raise InvalidValue(f"This is not a valid regular expression: {error}.", self.pattern, "a regular expression") from error

    def fits(self, reading: Reading) -> bool:
        """Is it found in what was read? Raises InvalidValue for an expression that takes too long over it."""
        import regex

        try:
            return regex.search(self.pattern, reading.words, timeout=MATCH_S) is not None
        except TimeoutError as error:
            long = f"The expression takes more than {MATCH_S:g} s over a text of {len(reading.words)} characters."
            raise InvalidValue(long, self.pattern) from error
        except regex.error as error:
            raise InvalidValue(f"This is not a valid regular expression: {error}.", self.pattern) from error


@dataclass(frozen=True)
class Between(Relation):
    """The first number in the target's words lies in a range, its ends included. Raises InvalidValue where they are out of order."""

    low: float
    high: float

    def __post_init__(self) -> None:
        if self.low > self.high:
            raise InvalidValue("The range ends before it begins.", f"{self.high:g}", f"{self.low:g} or more")

    def fits(self, reading: Reading) -> bool:
        """Is there a number, and does it lie there?"""
        number = reading.number if isinstance(reading, InNumber) else None
        return number is not None and Decimal(repr(self.low)) <= number <= Decimal(repr(self.high))


class Than(Enum):
    """How a number compares; the value is the script's words."""

    MORE, LESS, AT_LEAST, AT_MOST = "more than", "less than", "at least", "at most"


@dataclass(frozen=True)
class Compares(Relation):
    """The first number in the target's words is more or less than another. Raises InvalidValue for what is no number."""

    than: Than
    amount: str = text(Text.AMOUNT)

    def __post_init__(self) -> None:
        if not any(names_in(self.amount)):
            _bound(self.amount)

    def fits(self, reading: Reading) -> bool:
        """Is there a number, and is it so?"""
        number, bound = reading.number if isinstance(reading, InNumber) else None, _bound(self.amount)
        if number is None:
            return False
        if self.than in (Than.MORE, Than.AT_MOST):
            return (number > bound) == (self.than is Than.MORE)
        return (number < bound) == (self.than is Than.LESS)


def _bound(words: str) -> Decimal:
    number = first_number(words, signs_in(words))
    if number is None:
        raise InvalidValue(f"{words[:80] or 'Nothing'} is not a number.", words, "a number such as 1250 or 2.5", "a {variable}")
    return number


@dataclass(frozen=True)
class IsDay(Relation):
    """The target names a day, in whatever words. Raises InvalidValue for one that does not exist."""

    day: str = text(Text.DAY)

    def __post_init__(self) -> None:
        if not BRACED.search(self.day):
            iso_day(self.day)

    def fits(self, reading: Reading) -> bool:
        """That very day?"""
        return isinstance(reading, InDay) and reading.day == iso_day(self.day)


def iso_day(words: str) -> date:
    """A day as the script writes it. Raises InvalidValue."""
    try:
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", words):
            return date.fromisoformat(words)
    except ValueError:
        pass
    raise InvalidValue(f"{words} is not a valid date.", words, "a day such as 2026-02-28")


class SortOrder(Enum):
    """Which way an order goes; the value is the script's word before it."""

    RISING, FALLING = "", "falling"


@dataclass(frozen=True)
class IsInOrder(Relation):
    """The items of the target that are in sight stand in order, by their names or by what stands beside a caption in each."""

    way: SortOrder = SortOrder.RISING
    by: str = text(Text.NAME, "")

    def fits(self, reading: Reading) -> bool:
        """None before one that should come first? Numbers count as numbers."""
        if not isinstance(reading, InOrder):
            return False
        keys = list(reading.keys)
        return len(keys) == len(reading.values) and keys == sorted(keys, reverse=self.way is SortOrder.FALLING)


class Moving(Enum):
    """What became of a picture that can be moved; the value is the script's words."""

    TURNED, SCALED = "turned", "scaled"


@dataclass(frozen=True)
class IsMoved(Relation):
    """The target's picture is turned (degrees clockwise) or scaled (times) beside how it was before it was first moved in this take.

    Ten degrees, or an eighth of the scale, may be off. Raises InvalidValue for a scale that is not above nought.
    """

    how: Moving
    by: float

    def __post_init__(self) -> None:
        if self.how is Moving.SCALED and not 0 < self.by <= 100:
            raise InvalidValue("The scale is out of range.", f"{self.by:g}", "a factor above 0")

    def fits(self, reading: Reading) -> bool:
        """About so far?"""
        if not isinstance(reading, Moved):
            return False
        if self.how is Moving.SCALED:
            return abs(reading.scale / self.by - 1) <= 0.125
        return abs((reading.degrees - self.by + 180) % 360 - 180) <= 10


class CountBound(Enum):
    """How a count is meant; the value is the script's words before the number."""

    EXACTLY, AT_LEAST, AT_MOST = "", "at least", "at most"


@dataclass(frozen=True)
class HasItems(Relation):
    """So many items of the target are on the screen, or at least or at most so many. Raises InvalidValue for less than none."""

    count: int
    bound: CountBound = CountBound.EXACTLY

    def __post_init__(self) -> None:
        if self.count < 0:
            raise InvalidValue("The number of items cannot be negative.", str(self.count), "a whole number from 0 on")

    def fits(self, reading: Reading) -> bool:
        """As many as are meant?"""
        if not isinstance(reading, Counted):
            return False
        if self.bound is CountBound.AT_LEAST:
            return reading.items >= self.count
        return reading.items <= self.count if self.bound is CountBound.AT_MOST else reading.items == self.count


@dataclass(frozen=True)
class Tolerance:
    """How far a picture's edges may lie off (dp) and its colours (share of full colour, 0..1). Raises InvalidValue beyond sense."""

    reach_dp: float
    colour: float

    def __post_init__(self) -> None:
        if not 0 <= self.reach_dp <= 100:
            raise InvalidValue("The tolerance for edges is out of range.", f"{self.reach_dp:g}", "0 to 100 dp")
        if not 0 <= self.colour <= 1:
            raise InvalidValue("The tolerance for colours is out of range.", f"{self.colour * 100:g}", "0 to 100 %")


@dataclass(frozen=True)
class LooksAsRecorded(Relation):
    """The target looks as it did where it was recorded, within a tolerance (the usual one where the script gives none)."""

    tolerance: Tolerance | None = None

    def fits(self, reading: Reading) -> bool:
        """Is hardly anything of it unlike?"""
        return isinstance(reading, Looked) and reading.unlike <= UNLIKE


@dataclass(frozen=True)
class SameEverywhere(Relation):
    """The target reads the same on every device of the run; judged when the takes are laid side by side."""

    def fits(self, reading: Reading) -> bool:
        """Alone, every reading does."""
        return True
