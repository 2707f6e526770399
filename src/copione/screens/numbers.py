"""Numbers as a device writes them, by the Unicode locale data (Babel)."""

from __future__ import annotations

from functools import lru_cache

from ..model.number import NumberSigns
from .dates import cldr_locale

_SPACES = "\u00a0\u202f\u2009 "
_QUOTES = "'\u2019"
_ASCII = {"\u066b": ".", "\u066c": ","}  # Arabic signs; a number's own signs are read as these, too


@lru_cache(maxsize=64)
def signs_of(locale: str) -> NumberSigns:
    """The signs with which a locale (BCP 47) writes numbers; those of English where it is unknown."""
    from babel.numbers import get_decimal_symbol, get_group_symbol

    known = cldr_locale(locale)
    decimal, group = str(get_decimal_symbol(known)), str(get_group_symbol(known))
    group = " " if group in _SPACES else "'" if group in _QUOTES else _ASCII.get(group, group)
    return NumberSigns(_ASCII.get(decimal, decimal), group)
