"""Scripts, scenes and steps as values; a step is one line of a script."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

from .errors import CopioneError

VARIABLE = re.compile(r"\{([A-Za-z_][A-Za-z0-9_]*)\}")


class UnknownVariable(CopioneError):
    """A step uses a variable that the data row does not have."""


def fill(words: str, row: Mapping[str, str]) -> str:
    """`words` with every {variable} replaced from the data row. Raises UnknownVariable."""

    def value(match: re.Match[str]) -> str:
        name = match.group(1)
        if name not in row:
            known = ", ".join(sorted(row)) or "none"
            raise UnknownVariable(f"The data has no column {name}. Columns: {known}.")
        return row[name]

    return VARIABLE.sub(value, words)


@dataclass(frozen=True)
class Target:
    """The element a step acts on, as the script words it: role and name, and where. An empty role means any that fits the verb."""

    role: str
    name: str
    inside: Target | None = None

    def words(self) -> str:
        """As the script says it; the key of its portraits."""
        own = f'{self.role} "{self.name}"' if self.role else f'"{self.name}"'
        return f"{own} in {self.inside.words()}" if self.inside else own

    def filled(self, row: Mapping[str, str]) -> Target:
        return replace(self, name=fill(self.name, row), inside=self.inside.filled(row) if self.inside else None)


@dataclass(frozen=True)
class Step:
    """One line that does or checks something.

    `verb` decides which of the others mean something: `target`; `value` (text typed, value set, option chosen, key pressed, direction,
    value expected); `relation` of a check (`is shown`, `reads` ...) or of a drag (`onto`, `above`, `below`, `by`); `onto` is the
    second target of a drag, or what a `whenever` taps. `place` allows the recorded place where nothing else finds
    the target. `line` is 1-based, 0 for a step that is in no text yet.
    """

    verb: str
    target: Target | None = None
    value: str = ""
    relation: str = ""
    within: float | None = None
    comment: str = ""
    onto: Target | None = None
    place: bool = False
    line: int = field(default=0, compare=False)
    source: str | None = field(default=None, compare=False, repr=False)

    @property
    def is_check(self) -> bool:
        return self.verb == "check"

    def filled(self, row: Mapping[str, str]) -> Step:
        """The step with the data row's values. Raises UnknownVariable."""
        target, onto = (t.filled(row) if t else None for t in (self.target, self.onto))
        return replace(self, target=target, onto=onto, value=self.value if self.verb == "keep" else fill(self.value, row))

    def key(self) -> str:
        """The words under which its target's portraits are kept; empty without a target."""
        return self.target.words() if self.target else ""


@dataclass(frozen=True)
class Scene:
    """A named group of steps."""

    name: str
    steps: tuple[Step, ...]
    line: int = field(default=0, compare=False)


@dataclass(frozen=True)
class Script:
    """A whole script. `source` is the text it was parsed from."""

    name: str
    app: str = ""
    patience: float = 8.0
    data: str = ""
    scenes: tuple[Scene, ...] = ()
    source: str = field(default="", compare=False, repr=False)

    def steps(self) -> Iterator[tuple[Scene, Step]]:
        for scene in self.scenes:
            for step in scene.steps:
                yield scene, step

    def variables(self) -> set[str]:
        """Every variable that some step uses and none keeps: its value has to be given."""
        words = []
        kept: set[str] = set()
        for _, step in self.steps():
            if step.verb == "keep":
                kept.update(VARIABLE.findall(step.value))
            words.append(step.value)
            for target in (step.target, step.onto):
                while target:
                    words.append(target.name)
                    target = target.inside
        return {name for text in words for name in VARIABLE.findall(text)} - kept
