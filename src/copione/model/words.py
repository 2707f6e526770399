"""Texts within a script: what kind of text each is, its variables, and how all of them are gone through at once."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, fields, replace
from enum import Enum
from typing import Any, Self

from .errors import CopioneError

VARIABLE = re.compile(r"\{([A-Za-z_][A-Za-z0-9_]*)\}")


class Text(Enum):
    """What a text of a step is, which decides what may be done with it."""

    NAME = "what an element or a choice is called in the app"
    READING = "what the app is expected to say"
    PATTERN = "a regular expression for what the app says"
    TYPED = "what is typed into a field"
    AMOUNT = "a number"
    FOR_PEOPLE = "words for people"

    @property
    def of_app(self) -> bool:
        """Is it the app's own text, which another language of the app says otherwise?"""
        return self in (Text.NAME, Text.READING, Text.PATTERN)

    @property
    def data(self) -> bool:
        """Could another row of data say it otherwise?"""
        return self is not Text.FOR_PEOPLE


Change = Callable[[str, Text], str]


class UnknownVariable(CopioneError):
    """A step uses a variable that the data row does not have."""


class Meaningless(CopioneError):
    """Something that parses and cannot be meant: a broken expression, a day that does not exist.

    `text` is the part of the line that is at fault, `expected` what could stand there.
    """

    def __init__(self, sentence: str, text: str = "", *expected: str) -> None:
        super().__init__(sentence)
        self.text = text
        self.expected = expected


def text(kind: Text, default: str | None = None) -> Any:
    """A dataclass field that holds a text of that kind."""
    return field(metadata={"text": kind}) if default is None else field(default=default, metadata={"text": kind})


@dataclass(frozen=True)
class Worded:
    """A frozen value some of whose fields are texts (made with `text`) or are `Worded` themselves."""

    def map_text(self, change: Change) -> Self:
        """The same with every text replaced by what `change(text, kind)` gives. Raises what that or the new value's checks raise."""
        changed: dict[str, Any] = {}
        for each in fields(self):
            value = getattr(self, each.name)
            if isinstance(value, Worded):
                new: Any = value.map_text(change)
            elif "text" in each.metadata and isinstance(value, str):
                new = change(value, each.metadata["text"])
            else:
                continue
            if new != value:
                changed[each.name] = new
        return replace(self, **changed) if changed else self

    def texts(self) -> Iterator[tuple[str, Text]]:
        """Every text with its kind, in the order of the fields."""
        for each in fields(self):
            value = getattr(self, each.name)
            if isinstance(value, Worded):
                yield from value.texts()
            elif "text" in each.metadata and isinstance(value, str):
                yield value, each.metadata["text"]

    def variables(self) -> set[str]:
        """The names of all variables in its texts."""
        return {name for said, _ in self.texts() for name in VARIABLE.findall(said)}


def fill(words: str, row: Mapping[str, str]) -> str:
    """`words` with every {variable} replaced from the data row. Raises UnknownVariable."""

    def value(match: re.Match[str]) -> str:
        name = match.group(1)
        if name not in row:
            known = ", ".join(sorted(row)) or "none"
            raise UnknownVariable(f"The data has no column {name}. Columns: {known}.")
        return row[name]

    return VARIABLE.sub(value, words)


def filler(row: Mapping[str, str]) -> Change:
    """What `map_text` takes to fill in a data row. In a pattern a value stands for its own letters. Raises UnknownVariable."""
    escaped = {name: re.escape(value) for name, value in row.items()}
    return lambda words, kind: fill(words, escaped if kind is Text.PATTERN else row)


def number_words(words: str) -> str:
    """`6.0` as `6`; anything else unchanged."""
    try:
        value = float(words)
    except ValueError:
        return words
    return str(int(value)) if value == value and abs(value) < 1e15 and value == int(value) else words


def plain(words: str) -> str:
    """White space folded, 6.0 as 6: how a reading and what was expected are compared."""
    return number_words(" ".join(words.split()))
