"""How texts, numbers and targets are written in a line, and read from it."""

from __future__ import annotations

import re
from decimal import Decimal

from ..model.formula import BRACED, TODAY, terms, written
from ..model.target import Naming, Target

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
    """A lone {variable}, a sum or a number needs no quotes."""
    return words if _NUMBER.fullmatch(words) else typed(words)


def typed(words: str) -> str:
    """What is typed: in quotes, unless it is a lone {variable} or a sum."""
    return _sum(words) or quoted(words)


def _sum(words: str) -> str:
    """A lone {variable} or sum as it stands without quotes: `{frames} + 1`, `today + 7 days`; empty for anything else."""
    match = BRACED.fullmatch(words)
    if match is None:
        return ""
    first, *more = terms(match[1])
    said = first.words if first.name == TODAY else "{" + first.name + "}"
    for term in more:
        said += f" {'-' if term.minus else '+'} " + ("{" + term.name + "}" if term.name else term.words)
    return said


def braced(words: str) -> str:
    """What `value` wrote of a sum, as it stands in braces."""
    return "{" + written(words.replace("{", "").replace("}", "")) + "}"


def number(amount: float) -> str:
    """A number as the language writes it: no exponent, no trailing noughts."""
    written = format(Decimal(repr(float(amount) + 0.0)), "f")  # + 0.0: no minus before nought
    return (written.rstrip("0").rstrip(".") if "." in written else written) or "0"


def target(meant: Target) -> str:
    """A target as its line words it."""
    if meant.part is not None and meant.inside is not None:
        return f"{meant.role} {' '.join(map(number, meant.part))} of {target(meant.inside)}"
    naming = meant.naming.value if meant.naming is not Naming.CALLED else ""
    own = meant.role if meant.unnamed else " ".join(filter(None, (meant.role, naming, quoted(meant.name))))
    own += f" under {quoted(meant.under)}" if meant.under else ""
    return f"{own} in {target(meant.inside)}" if meant.inside else own
