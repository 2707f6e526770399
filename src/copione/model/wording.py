"""Several names, and small numbers, in a sentence."""

from __future__ import annotations

from collections.abc import Sequence

MOST_NAMES = 5
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def number(count: int) -> str:
    """A small number in letters."""
    return NUMBERS[count] if count < len(NUMBERS) else str(count)


def counted(count: int, word: str) -> str:
    """`1 step`, `2 steps`."""
    return f"{count} {word}{'' if count == 1 else 's'}"


def listed(names: Sequence[str], most: int = MOST_NAMES, named: int = MOST_NAMES - 1, last: str = "and") -> str:
    """`A`, `A and B`, `A, B and C`, with `last` before the last one; of more than `most` only so many are `named`: `A and three others`."""
    shown = list(names) if len(names) <= most else [*names[:named], f"{number(len(names) - named)} others"]
    return f" {last} ".join(filter(None, (", ".join(shown[:-1]), *shown[-1:])))
