"""Measures in different units, and whether they are the same. Pure."""

from __future__ import annotations

import re

from ..model.number import LONGEST, PLAIN, in_ascii
from ..model.words import plain

#: Units of measure in one of their kind: what they are called in, and times how much. International definitions, and for °F its scale.
UNITS = {
    "lb": ("kg", 0.45359237),
    "oz": ("g", 28.349523),
    "mi": ("km", 1.609344),
    "ft": ("m", 0.3048),
    "in": ("cm", 2.54),
    "gal": ("l", 3.785412),
}
ROUND = 0.02  # two measures in different units are the same within this share


def same_measure(one: str, other: str) -> bool:
    """Are they the same text, or the same measure in two units, as far as it is rounded?"""
    if plain(one) == plain(other):
        return True
    measures = [_measure(words) for words in (one, other)]
    if None in measures or measures[0][2] == measures[1][2]:  # type: ignore[index]
        return False
    (value, unit, _), (against, unit_of_it, _) = measures  # type: ignore[misc]
    return unit == unit_of_it and abs(value - against) <= ROUND * max(abs(value), abs(against), 1.0)


def _measure(words: str) -> tuple[float, str, str] | None:
    """Value, the unit it is told in here, and the unit it came in; None for what is no measure."""
    found = re.fullmatch(rf"({PLAIN})\s*(°?[A-Za-z]{{1,3}})", in_ascii(words.strip()[:LONGEST]))
    if found is None:
        return None
    value, unit = float(found.group(1)), found.group(2)
    if unit in {"°F", "F"}:
        return (value - 32) / 1.8, "°C", unit
    other, times = UNITS.get(unit, (unit, 1.0))
    return value * times, other, unit
