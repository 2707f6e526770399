"""What was read on a device as the script would have it, and in which way it is another than was expected. Pure."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import date

from ..model.deviation import Deviation, off_by
from ..model.number import PLAIN, numbers_in, plain_number
from ..model.words import plain
from ..recognition.evidence import fold
from ..screens.dates import day_of, span_of
from ..screens.numbers import signs_of

_NUMBER = re.compile(PLAIN)
_FIGURES = re.compile(r"\s*\d{1,4}([./-])\s?\d{1,2}\1\s?\d{1,4}\.?\s*")


def _said(part: str, backwards: Mapping[str, str]) -> str:
    """A phrase in the script's language, whatever its case; as it is where it is none."""
    phrase = part.strip()
    return backwards.get(phrase) or backwards.get(phrase.casefold(), part)


def meant(words: str, locale: str, backwards: Mapping[str, str]) -> str:
    """What was read, in the script's language: a phrase of the book, else every phrase and number in it; a day as ISO has it, what has
    passed since in English.

    `backwards`: the phrasebook from the device's language to the script's.
    """
    said = words.strip()
    if _said(said, backwards) != said:
        return _said(said, backwards)
    day = day_of(said, locale)
    if isinstance(day, date):
        return day.isoformat()
    span = span_of(said, locale)
    if span:
        return span

    parts, place = [], 0
    for number in numbers_in(said, signs_of(locale)):
        digits = said[number.begin : number.end]
        same = number.value is None or (digits.isascii() and digits.isdigit())
        parts += [_said(said[place : number.begin], backwards), digits if same else format(number.value, "f")]
        place = number.end
    return "".join([*parts, _said(said[place:], backwards)])


def deviation(read: str, asked: str, told: str, locale: str, backwards: Mapping[str, str]) -> str:
    """In which way what was read is another: what two devices with the same fault have in common. `asked` is what was expected as the
    script says it, `told` as the device should."""
    if not plain(read):
        return Deviation.NOTHING.value
    if fold(told) != fold(asked) and fold(read) == fold(asked):
        return Deviation.LANGUAGE.value
    expected, seen = meant(told, locale, backwards), meant(read, locale, backwards)
    if plain(expected) == plain(seen):
        return Deviation.FORMAT.value
    if day_of(read, locale) is not None or _FIGURES.fullmatch(read):
        return Deviation.FORMAT.value if day_of(told, locale) is None else Deviation.DAY.value
    if read.rstrip().endswith(("…", "...")) and told.startswith(read.rstrip(" .…")):
        return Deviation.CUT.value
    numbers, others = _NUMBER.findall(seen), _NUMBER.findall(expected)
    if numbers and len(numbers) == len(others) and _NUMBER.sub("#", seen) == _NUMBER.sub("#", expected):
        gaps = [(plain_number(a), plain_number(b)) for a, b in zip(numbers, others, strict=True) if a != b]
        if len(gaps) == 1 and gaps[0][0] is not None and gaps[0][1] is not None:
            return off_by(gaps[0][0] - gaps[0][1])
    return f"reads {fold(seen)}"
