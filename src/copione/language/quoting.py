"""How texts, numbers and targets are written in a line, and read from it."""

from __future__ import annotations

import re
from decimal import Decimal

from ..model.target import Target
from ..model.words import VARIABLE

_ESCAPED = re.compile(r'\\(["\\nr])')
_LETTERS = {"n": "\n", "r": "\r"}
_NUMBER = re.compile(r"-?(\d+(\.\d+)?|\.\d+)")


def quoted(words: str) -> str:
    """Words in quotes; they stay on one line whatever they hold."""
    escaped = words.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n").replace("\r", "\\r")
    return f'"{escaped}"'


def unquoted(words: str) -> str:
    """What `quoted` was given; words without quotes as they are."""
    if len(words) < 2 or not words.startswith('"'):
        return words
    return _ESCAPED.sub(lambda match: _LETTERS.get(match[1], match[1]), words[1:-1])


def value(words: str) -> str:
    """A lone {variable} or a number needs no quotes."""
    return words if VARIABLE.fullmatch(words) or _NUMBER.fullmatch(words) else quoted(words)


def typed(words: str) -> str:
    """What is typed: in quotes, unless it is a lone {variable}."""
    return words if VARIABLE.fullmatch(words) else quoted(words)


def number(amount: float) -> str:
    """A number as the language writes it: no exponent, no trailing noughts."""
    written = format(Decimal(repr(float(amount) + 0.0)), "f")  # + 0.0: no minus before nought
    return (written.rstrip("0").rstrip(".") if "." in written else written) or "0"


def target(meant: Target) -> str:
    """A target as its line words it."""
    own = f"{meant.role} {quoted(meant.name)}" if meant.role else quoted(meant.name)
    return f"{own} in {target(meant.inside)}" if meant.inside else own
