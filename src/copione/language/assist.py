"""What may be written at a place of a script: words of the language, targets, scenes, values, tables, whole blocks."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import Enum
from functools import cache

from ..model.action import Action
from ..model.fact import Fact
from ..model.relation import Relation
from ..model.roles import ROLES
from .parser import split_comment
from .quoting import quoted
from .registry import CARET, specs_of, verbs, words_of
from .words import HEADERS

MOST = 60  # that are offered at once
_WORD = re.compile(r"[A-Za-z_{-][A-Za-z0-9_-]*$|\{[A-Za-z0-9_]*$")
_BLANKS = re.compile(r"\[[^\]]*\]\+")


class CompletionKind(Enum):
    """What is offered."""

    VERB, BLOCK, TARGET, SCENE, VALUE, WORD, TABLE = "step", "block", "target", "scene", "value", "", "table"


@dataclass(frozen=True)
class Suggestion:
    """`words` are listed, `insert` is put in (with `CARET` where the caret goes), `about` stands beside; `target` is the key of its
    portraits."""

    words: str
    insert: str
    kind: CompletionKind
    about: str = ""
    target: str = ""


@dataclass(frozen=True)
class SceneOffered:
    """A scene that may be performed, and the file it stands in (empty for the script itself)."""

    name: str
    values: tuple[str, ...] = ()
    file: str = ""


@dataclass(frozen=True)
class CompletionContext:
    """What a script can name: targets by their words, scenes, variables with where they come from, tables, other scripts."""

    targets: Sequence[str] = ()
    scenes: Sequence[SceneOffered] = ()
    variables: Sequence[tuple[str, str]] = ()
    tables: Sequence[str] = ()
    scripts: Sequence[str] = ()


def suggestions(line: str, column: int, around: CompletionContext, *, asked: bool = True) -> tuple[int, list[Suggestion]]:
    """What fits at a column (from 0) of a line, and the column from which it replaces what stands there.

    Where a whole word stands there already nothing is offered, unless it was `asked` for.
    """
    before = line[:column]
    if len(split_comment(before)[0].rstrip()) < len(before.rstrip()):
        return column, []
    start, typed, in_quotes = _typed(before)
    head = before[:start]
    found = list(_fitting(head, in_quotes, around))
    if not asked and any(before[start:] == s.words for s in found):
        return start, []
    prefix = typed.casefold()
    begins = [s for s in found if s.words.casefold().lstrip('"').startswith(prefix)]
    holds = [s for s in found if prefix and prefix in s.words.casefold() and s not in begins]
    return start, [s for s in (*begins, *holds) if before[start:] not in (s.insert, s.words)][:MOST]


def _typed(before: str) -> tuple[int, str, bool]:
    """Where the word at the end begins, what of it stands there, and whether it is in quotes."""
    open_at, escaped = -1, False
    for place, letter in enumerate(before):
        if escaped:
            escaped = False
        elif letter == "\\" and open_at >= 0:
            escaped = True
        elif letter == '"':
            open_at = -1 if open_at >= 0 else place
    if open_at >= 0:
        return open_at, before[open_at + 1 :], True
    word = _WORD.search(before)
    return (word.start(), word.group(), False) if word is not None else (len(before), "", False)


def _fitting(head: str, in_quotes: bool, around: CompletionContext) -> Iterator[Suggestion]:
    if not head.strip():
        if not in_quotes:
            yield from (Suggestion(verb, _verb(verb), CompletionKind.VERB) for verb in verbs() if verb not in ("otherwise", "end"))
            for spec in specs_of(Action):
                yield from (Suggestion(words, insert, CompletionKind.BLOCK, "block") for words, insert in spec.blocks.items())
            yield from (Suggestion(word, word, CompletionKind.VERB) for word in ("otherwise", "end"))
            yield from (Suggestion(word, f"{word} ", CompletionKind.WORD, "heads the script") for word in HEADERS)
        return
    accepts = accepted(head)
    said = head.split()
    if "STRING" in accepts or in_quotes:
        if said == ["perform"]:
            yield from (Suggestion(s.name, _perform(s), CompletionKind.SCENE, s.file or "this script") for s in around.scenes)
            return
        if said[-1:] == ["of"] and said[0] == "for":
            yield from (Suggestion(name, quoted(name), CompletionKind.TABLE, "table") for name in around.tables)
            return
        if said == ["uses"] or said == ["data"]:
            names = around.scripts if said == ["uses"] else around.tables
            yield from (Suggestion(name, quoted(name), CompletionKind.TABLE) for name in names)
            return
    if "ROLE" in accepts or in_quotes:
        role = said[-1] if said[-1] in ROLES and said[-2:-1] != ["turn"] else ""
        for key in around.targets:
            own, _, rest = key.partition(" ")
            if "ROLE" in accepts and not in_quotes:
                yield Suggestion(key, f"{key} ", CompletionKind.TARGET, target=key)
            elif in_quotes and (not role or own == role):
                name = rest if role else key
                yield Suggestion(name, name if role else key, CompletionKind.TARGET, target=key)
    if in_quotes:
        return
    if {"IS", "READS"} <= accepts:
        yield from (Suggestion(_bare(words), words, CompletionKind.WORD) for words in _samples(Relation))
    elif said == ["when", "device"]:
        yield from (Suggestion(words, words, CompletionKind.WORD) for words in _samples(Fact))
    if "VARIABLE" in accepts:
        yield from (Suggestion(f"{{{name}}}", f"{{{name}}}", CompletionKind.VALUE, where) for name, where in around.variables)
    if "ROLE" in accepts:
        yield from (Suggestion(role, f'{role} "{CARET}"', CompletionKind.WORD) for role in ROLES)
    yield from (Suggestion(word, f"{word} ", CompletionKind.WORD) for word in sorted(_words(accepts)))


def _samples(base: type[Relation] | type[Fact]) -> Iterator[str]:
    return (words_of(sample) for spec in specs_of(base) for sample in spec.samples)


@cache
def _verb(verb: str) -> str:
    """A verb, and a blank where something has to follow."""
    return verb if "$END" in accepted(verb) else f"{verb} "


def _bare(words: str) -> str:
    return words.replace(CARET, "")


def _perform(scene: SceneOffered) -> str:
    values = " ".join("{" + name + "}" for name in scene.values)
    return f"{quoted(scene.name)} with {values}" if values else quoted(scene.name)


def accepted(head: str) -> set[str]:
    """The terminals that may follow the beginning of a line; none where it cannot be read."""
    from lark.exceptions import LarkError

    from .grammar import START, NotMeant, grammar

    try:
        reading = grammar().parse_interactive(head, start=START)
        reading.exhaust_lexer()
        return set(reading.accepts())  # type: ignore[no-untyped-call]
    except (LarkError, NotMeant):
        return set()


_HIDDEN = frozenset({"is", "reads", "contains", "matches", "has", "looks", "like", "with"})


def _words(accepts: set[str]) -> set[str]:
    """The language's own words among them."""
    from .grammar import grammar

    found: set[str] = set()
    for terminal in grammar().terminals:
        if terminal.name in accepts and terminal.name not in ("NAMING", "BY_HAND", "SIGN"):
            pattern = str(terminal.pattern.value)
            if terminal.pattern.type == "str":
                found.add(pattern)
            elif terminal.name not in ("ROLE", "NAME", "VARIABLE", "NUMBER", "STRING"):
                found |= {_BLANKS.sub(" ", word) for word in re.sub(r"\(\?[=!].*?\)|\(\?:|[()]", "", pattern).split("|")}
    return {word for word in found if re.fullmatch(r"[a-z ]+", word) and word not in _HIDDEN}
