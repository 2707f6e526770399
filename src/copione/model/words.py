"""Texts within a script: what kind of text each is, its variables, and how all of them are gone through at once."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, fields, replace
from datetime import date
from enum import Enum
from typing import Any, Self

from .errors import CopioneError
from .formula import BRACED, NoSum, UnknownVariable, names_in, value
from .number import ScreenWords, plain_number

__all__ = ("BRACED", "InvalidValue", "NoSum", "Text", "UnknownVariable", "Worded", "fill", "filler", "plain", "text")


class Text(Enum):
    """What a text of a step is, which decides what may be done with it."""

    NAME = "what an element or a choice is called in the app"
    READING = "what the app is expected to say"
    PATTERN = "a regular expression for what the app says"
    TYPED = "what is typed into a field"
    AMOUNT = "a number"
    DAY = "a day, YYYY-MM-DD"
    VALUE = "a value that is handed on or compared within the script"
    APP = "an app, by its word in the script's head"
    FOR_PEOPLE = "words for people"

    @property
    def of_app(self) -> bool:
        """Is it the app's own text, which another language of the app says otherwise?"""
        return self in (Text.NAME, Text.READING, Text.PATTERN)

    @property
    def data(self) -> bool:
        """Could another row of data say it otherwise?"""
        return self not in (Text.APP, Text.FOR_PEOPLE)


Change = Callable[[str, Text], str]


class InvalidValue(CopioneError):
    """Something that parses and cannot be meant: a broken expression, a day that does not exist.

    `text` is the part of the line that is at fault, `expected` what could stand there.
    """

    def __init__(self, sentence: str, text: str = "", *expected: str) -> None:
        super().__init__(sentence)
        self.text = text
        self.expected = expected


def text(kind: Text, default: str | tuple[str, ...] | None = None) -> Any:
    """A dataclass field that holds a text of that kind, or several."""
    return field(metadata={"text": kind}) if default is None else field(default=default, metadata={"text": kind})


_fields_of: dict[type, tuple[tuple[str, Text | None, Any], ...]] = {}


def _parts(of: type[Worded]) -> tuple[tuple[str, Text | None, Any], ...]:
    """Of each field of a class its name, the kind of its text, and its default; kept, since a long script has many thousands of steps."""
    if of not in _fields_of:
        _fields_of[of] = tuple((each.name, each.metadata.get("text"), each.default) for each in fields(of))
    return _fields_of[of]


@dataclass(frozen=True)
class Worded:
    """A frozen value some of whose fields are texts (made with `text`), several of them, or are `Worded` themselves."""

    def map_text(self, change: Change) -> Self:
        """The same with every text replaced by what `change(text, kind)` gives. Raises what that or the new value's checks raise."""
        changed: dict[str, Any] = {}
        for name, kind, default in _parts(type(self)):
            value = getattr(self, name)
            if isinstance(value, Worded):
                new: Any = value.map_text(change)
            elif kind is None:
                continue
            elif isinstance(value, str):
                if value == "" == default:  # there is none
                    continue
                new = change(value, kind)
            elif isinstance(value, tuple):
                new = tuple(change(part, kind) for part in value)
            else:
                continue
            if new != value:
                changed[name] = new
        return replace(self, **changed) if changed else self

    def texts(self) -> Iterator[tuple[str, Text]]:
        """Every text with its kind, in the order of the fields."""
        for name, kind, _ in _parts(type(self)):
            value = getattr(self, name)
            if isinstance(value, Worded):
                yield from value.texts()
            elif kind is not None and isinstance(value, str):
                yield value, kind
            elif kind is not None and isinstance(value, tuple):
                yield from ((part, kind) for part in value)

    def variables(self) -> set[str]:
        """The names of all variables in its texts."""
        return {name for said, _ in self.texts() for name in names_in(said)}


DayWords = Callable[[date, Text], str]


def iso(day: date, _kind: Text) -> str:
    """A day as the script writes it."""
    return day.isoformat()


def fill(words: str, row: Mapping[str, str], kind: Text = Text.READING, day_words: DayWords = iso) -> str:
    """`words` with every {variable} and every sum in braces replaced from the data row. `day_words` says a day that was worked out.

    In a pattern a value stands for its own letters. Raises UnknownVariable, NoSum.
    """

    whole = BRACED.fullmatch(words)
    if whole is not None and kind is not Text.PATTERN and isinstance(found := value(whole[1], row), ScreenWords):
        return found  # it keeps the signs of its screen

    def said(match: re.Match[str]) -> str:
        found = value(match[1], row)
        found = day_words(found, kind) if isinstance(found, date) else found
        return re.escape(found) if kind is Text.PATTERN else found

    return BRACED.sub(said, words)


def filler(row: Mapping[str, str], day_words: DayWords = iso) -> Change:
    """What `map_text` takes to fill in a data row; see `fill`."""
    return lambda words, kind: fill(words, row, kind, day_words)


def number_words(words: str) -> str:
    """What a slider or a stepper reads without zeros at the end of its fraction: `6.0` as `6`; any other text as it is."""
    return words.rstrip("0").rstrip(".") if "." in words and plain_number(words) is not None else words


_UNSEEN = dict.fromkeys(map(ord, "\u061c\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"))


def plain(words: str) -> str:
    """A text with its white space folded, in the digits of scripts, without the signs that only turn the writing round: how a reading and
    what was expected are compared.
    """
    return " ".join(words.split()) if words.isascii() else " ".join(in_plain_digits(words).translate(_UNSEEN).split())


def in_plain_digits(words: str) -> str:
    """With 0 to 9 for the decimal digits of every script (Unicode's general category Nd)."""
    if words.isascii():
        return words
    return "".join(str(unicodedata.decimal(c)) if c.isdecimal() and not c.isascii() else c for c in words)
