"""What is wrong with a line of a script, where, and what was expected."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

NEAR = 65.0  # of 100: below this a suggestion confuses more than it helps


@dataclass(frozen=True)
class Problem:
    """`line` and `column` are 1-based; `length` of what is marked; `text` is the whole line."""

    line: int
    column: int
    message: str
    text: str = ""
    length: int = 1
    expected: tuple[str, ...] = ()
    near: str = ""
    hint: bool = False  # it can be run all the same

    @property
    def sentence(self) -> str:
        """Message, expectation and suggestion in one line."""
        parts = [self.message]
        if self.expected:
            parts.append(f"Expected {_or(self.expected)}.")
        if self.near:
            parts.append(f"Did you mean {self.near}?")
        return " ".join(parts)

    def pointed(self) -> str:
        """The line with a caret under the place, for a terminal."""
        indent = "".join("\t" if c == "\t" else " " for c in self.text[: self.column - 1])
        return f"line {self.line}, column {self.column}: {self.sentence}\n    {self.text}\n    {indent}{'^' * max(1, self.length)}"


def nearest(word: str, known: Sequence[str]) -> str:
    """The known word most like `word`, or empty."""
    from rapidfuzz import fuzz, process

    found = process.extractOne(word.lower(), known, scorer=fuzz.ratio, score_cutoff=NEAR)
    return found[0] if found else ""


def _or(words: tuple[str, ...]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"
