"""Days as a device writes them, in any language: by the Unicode locale data (Babel)."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from datetime import date
from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from ..model.words import Text, plain

if TYPE_CHECKING:
    from babel import Locale

FORMS = ("full", "long", "medium")
ENGLISH = ("en-GB", "en-AU", "en-IN")  # that write days otherwise than American English
LETTERS = 3  # that a month's name has at least, where its language is guessed
#: What apps speak that do not speak a device's language.
SPOKEN = (
    *("en", "de", "fr", "es", "it", "pt", "nl", "sv", "da", "nb", "fi", "pl"),
    *("cs", "ru", "uk", "tr", "el", "hu", "ro", "he", "ar", "fa", "hi", "id"),
)
MOST_SPAN, MOST_UNITS = 60, 1000  # letters of a time that has passed, and how many of its unit
Unit = Literal["year", "month", "week", "day", "hour", "minute", "second"]
UNITS: dict[Unit, int] = {"day": 86_400, "hour": 3_600, "minute": 60, "week": 604_800, "month": 2_592_000, "year": 31_536_000, "second": 1}


def cldr_locale(words: str) -> Locale:
    """A locale by its BCP 47 name; English where it is unknown."""
    from babel import Locale, UnknownLocaleError

    try:
        return Locale.parse(words.replace("-", "_") or "en")
    except (UnknownLocaleError, ValueError):
        return Locale("en")


@lru_cache(maxsize=32)
def _months(locale: str) -> dict[str, int]:
    """Month names of a locale, folded, with their numbers."""
    from babel.dates import get_month_names

    spoken = cldr_locale(locale)
    found: dict[str, int] = {}
    for width in ("wide", "abbreviated"):
        for context in ("format", "stand-alone"):
            for number, name in get_month_names(width, context, spoken).items():
                found.setdefault(name.casefold().rstrip("."), number)
    return found


@lru_cache(maxsize=1)
def _spoken() -> dict[str, int]:
    """Month names of the languages that most apps speak, where it is the same month in each of them."""
    found: dict[str, set[int]] = {}
    for language in SPOKEN:
        for name, number in _months(language).items():
            found.setdefault(name, set()).add(number)
    return {name: numbers.pop() for name, numbers in found.items() if len(numbers) == 1 and len(name) >= LETTERS}


def _month(words: str, locale: str) -> int | None:
    """The month that a text names, the longest name first; a prefix of one letter (in, of) may stand before it.

    By the names of the locale; an app that does not speak it names months in its own language.
    """
    folded = words.casefold()
    return _named(folded, _months(locale)) or _named(folded, _spoken())


def _named(folded: str, months: Mapping[str, int]) -> int | None:
    for name, number in sorted(months.items(), key=lambda pair: -len(pair[0])):
        if name in folded and re.search(rf"(?<!\w)\w?{re.escape(name)}(?!\w)", folded):
            return number
    return None


def day_words(locale: str) -> Callable[[date, Text], str]:
    """How days are said on a device: in figures where they are typed, with the month's name where they are read, else as in the script."""

    def said(day: date, kind: Text) -> str:
        if kind not in (Text.TYPED, Text.READING):
            return day.isoformat()
        from babel.dates import format_date

        return str(format_date(day, "short" if kind is Text.TYPED else "medium", cldr_locale(locale)))

    return said


def month_of(words: str, locale: str) -> tuple[int, int] | None:
    """Year and month of a heading like `November 2026`; None for anything else."""
    year = re.fullmatch(r"\D*(\d{4})\D*", words)
    month = _month(words, locale) if year else None
    return (int(year.group(1)), month) if year and month else None


def day_of(words: str, locale: str) -> date | None:
    """The day that a text is: ISO, or day, month's name and year in any order. None for anything else."""
    iso = re.fullmatch(r"(\d{4})-(\d{2})-(\d{2})", words.strip())
    if re.fullmatch(r"\s*\d{1,4}([./-])\s?\d{1,2}\1\s?\d{1,4}\.?\s*", words) and not iso:
        return _in_figures(words, locale)
    numbers = [int(n) for n in re.findall(r"\d+", words)]
    month = _month(words, locale) if len(numbers) == 2 else None
    try:
        if iso:
            return date.fromisoformat(words.strip())
        if month is None or not any(n > 31 for n in numbers):
            return None
        day, year = sorted(numbers)
        return date(year, month, day)
    except ValueError:
        return None


@lru_cache(maxsize=512)
def span_of(words: str, locale: str) -> str:
    """How long ago, or in how long, by CLDR's patterns of the locale, said in English: `11 days ago`. Empty for anything else."""
    figures = re.findall(r"\d+", words)
    if len(figures) != 1 or len(words) > MOST_SPAN or not 0 < int(figures[0]) <= MOST_UNITS:
        return ""
    folded = words.strip().casefold()
    for unit, seconds in UNITS.items():
        for number in (-int(figures[0]), int(figures[0])):
            if _span(number * seconds, unit, locale).casefold() == folded:
                return _span(number * seconds, unit, "en")
    return ""


def _span(seconds: int, unit: Unit, locale: str) -> str:
    """So many seconds ago (negative) or to come, in a unit of `UNITS`, as the locale says it."""
    from babel.dates import format_timedelta

    return format_timedelta(seconds, granularity=unit, threshold=float("inf"), add_direction=True, locale=cldr_locale(locale))


def month_named(words: str, locale: str) -> int | None:
    """The number of a month when the text is its name and nothing else."""
    name = words.casefold().strip().rstrip(".")
    return _months(locale).get(name) or _spoken().get(name)


def same_day(told: str, read: str, locale: str) -> bool:
    """Is what was read the day that was expected in another language, written in the same of CLDR's forms as the locale has it?

    In figures alone, and in the locale's own language, a day is compared like any other words.
    """
    day = day_of(told, locale) if any(c.isalpha() for c in told) else None
    if day is None or day_of(read, locale) != day:
        return False
    said = plain(told).casefold()
    forms = {form for form in FORMS for spoken in (*SPOKEN, *ENGLISH) if _written(day, form, spoken) == said}
    return any(_written(day, form, locale) == plain(read).casefold() for form in forms)


def _written(day: date, form: str, locale: str) -> str:
    from babel.dates import format_date

    return plain(format_date(day, form, cldr_locale(locale))).casefold()


def _in_figures(words: str, locale: str) -> date | None:
    """A day in figures, in the order in which the locale writes them."""
    from babel.dates import get_date_format

    pattern = get_date_format("short", cldr_locale(locale)).pattern
    order = sorted("yMd", key=pattern.find)
    numbers = dict(zip(order, (int(n) for n in re.findall(r"\d+", words)), strict=True))
    year = numbers["y"] + (2000 if numbers["y"] < 100 else 0)
    try:
        return date(year, numbers["M"], numbers["d"])
    except ValueError:
        return None
