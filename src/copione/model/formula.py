"""Values in braces: a variable, or a plain sum of one with numbers, other variables, or days: `{frames + 1}`, `{today + 7 days}`."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from functools import lru_cache

from .errors import CopioneError
from .number import number_text, signs_in, whole_number

TODAY = "today"  # always has a value: the day on which the take was begun
BASE = "base"  # in a browser, the address of the app, unless the script's own data say another
NAME = r"[A-Za-z_][A-Za-z0-9_]*"
_TERM = rf"(?:{NAME}|\d{{1,9}}(?:\.\d{{1,9}})?(?:\s*(?:days?|weeks?|months?)(?![A-Za-z0-9_]))?)"
#: What stands in braces; its first part is a name, so that a regular expression's `{4}` is none.
BRACED = re.compile(rf"\{{(\s*{NAME}(?:\s*[+-]\s*{_TERM})*\s*)\}}")
_PARTS = re.compile(rf"([+-])?\s*({_TERM})")
_MEASURED = re.compile(r"(\d+(?:\.\d+)?)\s*(day|week|month)s?")
_LARGEST = Decimal(10) ** 18


class UnknownVariable(CopioneError):
    """A step uses a variable that nothing gives a value."""


class NoSum(CopioneError):
    """Values that cannot be added to one another."""


@dataclass(frozen=True)
class Term:
    """One part: added, or taken away where `minus`. Either `name` or `amount` is set; `unit` is day, week or month, or empty."""

    minus: bool
    name: str
    amount: Decimal = Decimal(0)
    unit: str = ""

    @property
    def words(self) -> str:
        """As it is written, without its sign."""
        if self.name:
            return self.name
        number = format(self.amount, "f")
        return f"{number} {self.unit}{'' if self.amount == 1 else 's'}" if self.unit else number


@lru_cache(maxsize=4096)
def terms(inside: str) -> tuple[Term, ...]:
    """The parts of what stands in braces."""
    found = []
    for sign, words in _PARTS.findall(inside):
        measured = _MEASURED.fullmatch(words)
        if measured is not None:
            found.append(Term(sign == "-", "", Decimal(measured[1]), measured[2]))
        elif words[0].isdigit():
            found.append(Term(sign == "-", "", Decimal(words)))
        else:
            found.append(Term(sign == "-", words))
    return tuple(found)


def written(inside: str) -> str:
    """What stands in braces, in its canonical spacing."""
    first, *more = terms(inside)
    return first.words + "".join(f" {'-' if term.minus else '+'} {term.words}" for term in more)


def names_in(words: str) -> Iterator[str]:
    """The variables that a text uses."""
    for match in BRACED.finditer(words):
        yield from (term.name for term in terms(match[1]) if term.name and term.name not in (TODAY, BASE))


def renamed(words: str, old: str, new: str) -> str:
    """A text whose variable is called otherwise."""

    def term(match: re.Match[str]) -> str:
        whole, said = match[0], match[2]
        return whole[: len(whole) - len(said)] + new if said == old else whole  # `days` behind a number is its unit

    def other(match: re.Match[str]) -> str:
        return "{" + _PARTS.sub(term, match[1]) + "}"

    return BRACED.sub(other, words)


def value(inside: str, row: Mapping[str, str]) -> str | date:
    """What stands in braces, with the row's values: a lone variable's words as they are, a sum, or a day.

    Raises UnknownVariable, and NoSum where a value is neither number nor day.
    """
    first, *more = terms(inside)
    words = _of(first, row)
    if not more:
        return date.fromisoformat(words) if first.name == TODAY else words
    start = _day(words)
    if start is not None:
        for term in more:
            start = _later(start, term, row)
        return start
    total = _number(words, first.name)
    for term in more:
        if term.unit:
            raise NoSum(f"{{{first.name}}} is “{words}”, which is no day such as 2026-02-28: no {term.unit}s can be added to it.")
        part = term.amount if not term.name else _number(_of(term, row), term.name)
        total += -part if term.minus else part
    return number_text(total)


def _of(term: Term, row: Mapping[str, str]) -> str:
    if term.name not in row:
        known = ", ".join(sorted(name for name in row if name not in (TODAY, BASE))) or "none"
        raise UnknownVariable(f"Nothing gives {{{term.name}}} a value. Known here: {known}.")
    return row[term.name]


def _number(words: str, name: str) -> Decimal:
    number = whole_number(words, signs_in(words))
    if number is None or abs(number) >= _LARGEST:
        raise NoSum(f"{{{name}}} is “{words[:80]}”, which is no number such as 1250 or 2.5: nothing can be added to it.")
    return number


def _day(words: str) -> date | None:
    try:
        return date.fromisoformat(words) if re.fullmatch(r"\d{4}-\d{2}-\d{2}", words) else None
    except ValueError:
        return None


def _later(day: date, term: Term, row: Mapping[str, str]) -> date:
    amount = _number(_of(term, row), term.name) if term.name else term.amount
    count, unit = int(amount) * (-1 if term.minus else 1), term.unit or "day"
    try:
        if unit == "month":
            months = day.year * 12 + day.month - 1 + count
            year, month = divmod(months, 12)
            return date(year, month + 1, min(day.day, _length(year, month + 1)))
        return day + timedelta(days=count * (7 if unit == "week" else 1))
    except (ValueError, OverflowError) as error:
        raise NoSum(f"There is no day {count} {unit}s from {day.isoformat()}.") from error


def _length(year: int, month: int) -> int:
    return ((date(year + month // 12, month % 12 + 1, 1)) - timedelta(days=1)).day
