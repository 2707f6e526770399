"""Numbers in words, read by the signs that a locale writes them with, or by those of scripts and data."""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

LONGEST = 400  # characters of one number; a longer one counts as no number
PLAIN = r"-?(?:[0-9]+(?:\.[0-9]+)?|\.[0-9]+)"  #: a number as scripts write it: a part of patterns
_SPACES = "\u00a0\u202f\u2009"
_QUOTES = "'\u2019"
_MINUS = "-\u2212\u2010\u2011\u2013\ufe63\uff0d"
_BIDI = dict.fromkeys(map(ord, "\u200e\u200f\u061c\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"))
_OWN_SIGNS = str.maketrans("\u066b\u066c", ".,")  # the Arabic decimal sign and the Arabic sign between groups
_TOKEN = re.compile(rf"[0-9](?:[0-9]|[.,{_QUOTES}{_SPACES} ](?=[0-9]))*")
_PLAIN = re.compile(PLAIN)
_ALIKE = {**dict.fromkeys(_SPACES, " "), **dict.fromkeys(_QUOTES, "'")}


@dataclass(frozen=True)
class NumberSigns:
    """The sign before the fraction, and the sign between groups of digits; empty where a locale has none."""

    decimal: str
    group: str


SCRIPT = NumberSigns(".", "")  # how scripts, data rows and values given at the start write numbers
_CUSTOMS = (NumberSigns(".", ","), NumberSigns(",", "."), NumberSigns(".", "'"), NumberSigns(".", " "), NumberSigns(",", " "))


@dataclass(frozen=True)
class NumberInWords:
    """A number in a text: the stretch of the text, and the value; None where the digits there can mean more than one number, or none."""

    begin: int
    end: int
    value: Decimal | None


def numbers_in(words: str, signs: NumberSigns) -> Iterator[NumberInWords]:
    """Every stretch of digits in a text, from left to right, with the number it means.

    A number that does not fit `signs` is read by other customs where they all give one value: `1.250,50` is 1250.5 anywhere, and
    `1,250` is no number by the signs of a script, for it can be 1250 or 1.25. Digits of any script count.
    """
    said = in_ascii(words)
    place = 0
    while (token := _TOKEN.search(said, place)) is not None:
        end, value = _read(said, token, signs)
        begin = token.start()
        sign = _sign_before(said, begin)
        if sign is not None:
            begin, value = sign, -value if value is not None else None
        yield NumberInWords(begin, end, value)
        place = end


def plain_number(words: str) -> float | None:
    """A number as scripts write it; None for anything else, and for one without end."""
    said = words.strip()
    value = float(said) if len(said) <= LONGEST and _PLAIN.fullmatch(said) else math.inf
    return value if math.isfinite(value) else None


def first_number(words: str, signs: NumberSigns) -> Decimal | None:
    """The first number in a text; None where there is none, or where it can mean more than one."""
    found = next(numbers_in(words, signs), None)
    return found.value if found is not None else None


def whole_number(words: str, signs: NumberSigns = SCRIPT) -> Decimal | None:
    """The number that a text is, with nothing else in it but white space; None for any other text."""
    said = words.strip()
    found = next(numbers_in(said, signs), None)
    if found is None or found.begin > (said[:1] == "+") or found.end < len(said):
        return None
    return found.value


class ScreenWords(str):
    """Words that were read on a screen and kept, with the signs by which numbers are written there."""

    signs: NumberSigns

    def __new__(cls, words: str, signs: NumberSigns) -> ScreenWords:
        made = super().__new__(cls, words)
        made.signs = signs
        return made

    def __reduce__(self) -> tuple[type[ScreenWords], tuple[str, NumberSigns]]:
        return ScreenWords, (str(self), self.signs)


def signs_in(value: str) -> NumberSigns:
    """By which signs a value of a script is read: one that was kept by those of its screen, any other by those of scripts."""
    return value.signs if isinstance(value, ScreenWords) else SCRIPT


def number_text(number: Decimal) -> str:
    """A number as scripts write it, without zeros at the end of a fraction."""
    said = format(number, "f")
    return said.rstrip("0").rstrip(".") if "." in said else said


def in_ascii(words: str) -> str:
    """The text with ASCII digits and signs, each character at its place."""
    if words.isascii():
        return words
    said = words.translate(_OWN_SIGNS)
    return "".join(str(unicodedata.digit(c)) if c.isdecimal() else c for c in said)


def _read(said: str, token: re.Match[str], signs: NumberSigns) -> tuple[int, Decimal | None]:
    """Where a number ends, and its value."""
    digits = "".join(_ALIKE.get(c, c) for c in token.group())
    if len(digits) > LONGEST:
        return token.end(), None
    if " " in digits:
        head = digits.partition(" ")[0]
        whole = _value(digits, signs) if " " in signs.group or _grouped_by_spaces(digits) else None
        plain_space = " " in token.group()
        if whole is None or (plain_space and signs.group != " "):
            return token.start() + len(head), _value(head, signs)
        if plain_space and re.search(r"\w\s*$", said[: token.start()]):
            return token.end(), None  # `Hive 7 250 kg`: the 7 may belong to the words before it
        return token.end(), whole
    return token.end(), _value(digits, signs)


def _grouped_by_spaces(digits: str) -> bool:
    return re.fullmatch(r"\d{1,3}( \d{3})+([.,]\d+)?", digits) is not None


def _value(digits: str, signs: NumberSigns) -> Decimal | None:
    own = _by(digits, signs)
    if own is not None:
        return own
    others = {value for custom in _CUSTOMS if (value := _by(digits, custom)) is not None}
    return others.pop() if len(others) == 1 else None


def _by(digits: str, signs: NumberSigns) -> Decimal | None:
    """The value by one custom; None where the digits are not written so. The last group has three digits, others two or three."""
    decimal, group = re.escape(signs.decimal), re.escape(signs.group)
    grouped = rf"|\d{{1,3}}(?:{group}\d{{2,3}})*{group}\d{{3}}" if signs.group else ""
    match = re.fullmatch(rf"(\d+{grouped})(?:{decimal}(\d+))?", digits)
    if match is None:
        return None
    whole = re.sub(r"\D", "", match[1])
    return Decimal(f"{whole}.{match[2]}") if match[2] else Decimal(whole)


def _sign_before(said: str, begin: int) -> int | None:
    """Where the minus of a number stands, before its currency too; None where it has none. In `3-5` it is none."""
    place = begin
    marks = _BIDI.keys()
    while place and (ord(said[place - 1]) in marks or unicodedata.category(said[place - 1]) == "Sc"):
        place -= 1
    if not place or said[place - 1] not in _MINUS:
        return None
    place -= 1
    while place and ord(said[place - 1]) in marks:
        place -= 1
    before = said[place - 1] if place else " "
    return None if before.isalnum() or before in _MINUS else place
