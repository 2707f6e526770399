"""What the language knows: each action, relation and fact with its grammar, how it is built, printed, completed and recorded.

Each is registered once, beside nothing else. A program that uses Copione may register more, before it opens a project: see
docs/architecture.md.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import Enum
from functools import lru_cache
from typing import Any, TypeVar

from ..model.acting import Action
from ..model.fact import Fact
from ..model.relation import Relation

K = TypeVar("K", Action, Relation, Fact)
CARET = "‸"  # where the caret comes to stand in what is put in


class Origin(Enum):
    """Where a recorded step comes from."""

    GESTURE = "a gesture, read with what changed"
    SYSTEM = "a gesture in a dialog of the system"
    KEYS = "keys, or buttons of the stage"
    CHECKS = "the choice of checks for an element or an area"
    MENU = "the menu of a recorded step"
    BEGINNING = "the beginning of a recording"
    BY_HAND = "only written by hand"


@dataclass(frozen=True)
class Form:
    """One way to word an action or a relation: a stretch of Lark grammar, and what builds the value from its parts.

    The parts (targets, quoted words, variables, numbers, words from a list) are handed to `build` in order, the optional ones in
    [brackets] as None where they are missing. Building raises InvalidValue for what parses and cannot be meant.
    """

    grammar: str
    build: Callable[..., Any]


@dataclass(frozen=True)
class Spec:
    """What the language knows of a type of action, relation or fact.

    `words` prints one, without indent, time and comment. `samples` are offered by completion, `blocks` too: by what they are called,
    the lines that are put in. `origins` may propose an action while recording; `roles` are the elements that take it, none for any;
    `may_be_idle`: a touch that shows nothing may have been a slip.
    """

    of: type[Any]
    forms: tuple[Form, ...]
    words: Callable[[Any], str]
    samples: tuple[Any, ...] = ()
    blocks: Mapping[str, str] = field(default_factory=dict)
    origins: frozenset[Origin] = frozenset({Origin.BY_HAND})
    roles: frozenset[str] = frozenset()
    may_be_idle: bool = False


_SPECS: dict[type[Any], Spec] = {}
_changes = 0


def register(*specs: Spec) -> None:
    """Add types to the language. Raises ValueError for one that is known already."""
    for spec in specs:
        if spec.of in _SPECS:
            raise ValueError(f"{spec.of.__name__} is registered already")
        _SPECS[spec.of] = spec
    _changed()


def forget(*kinds: type[Any]) -> None:
    """Take types out of the language again."""
    for kind in kinds:
        _SPECS.pop(kind, None)
    _changed()


def _changed() -> None:
    global _changes
    _changes += 1


def version() -> int:
    """Another number after each registration: what is made of the specs may be kept as long as it is the same."""
    return _changes


def specs_of(base: type[Action] | type[Relation] | type[Fact]) -> tuple[Spec, ...]:
    """The specs of all registered actions, relations or facts, in the order of registration."""
    return tuple(_SPECS[of] for of in _SPECS if issubclass(of, base))


def kinds_of(base: type[K]) -> tuple[type[K], ...]:
    """All registered actions, relations or facts, in the order of registration."""
    return tuple(of for of in _SPECS if issubclass(of, base))


def spec_of(kind: type[Any]) -> Spec:
    """The spec of a registered type."""
    return _SPECS[kind]


def words_of(meant: Action | Relation | Fact) -> str:
    """An action as its line says it; a relation or a fact as a part of a line."""
    return _SPECS[type(meant)].words(meant)


def verbs() -> tuple[str, ...]:
    """The words that begin a step."""
    return _verbs(_changes)


@lru_cache(maxsize=1)
def _verbs(_version: int) -> tuple[str, ...]:
    return tuple(dict.fromkeys(spec.of.verb for spec in specs_of(Action)))


def rules(specs: Sequence[Spec], prefix: str) -> tuple[str, dict[str, Callable[..., Any]]]:
    """The alternatives of a grammar rule for those specs, and for each alternative's name what builds it."""
    named = [(f"{prefix}_{i}_{j}", form) for i, spec in enumerate(specs) for j, form in enumerate(spec.forms)]
    return "\n    | ".join(f"{form.grammar} -> {name}" for name, form in named), {name: form.build for name, form in named}
