"""The language's colours for other editors, as a TextMate grammar made from the specs.

`python -m copione.language.colouring` prints it; docs/copione.tmLanguage.json is what it printed.
"""

from __future__ import annotations

import json
import re
from typing import Any

from ..model.roles import ROLES
from .grammar import grammar
from .registry import verbs
from .words import HEADERS

_WORD = re.compile(r"(?<![\\a-z-])[a-z]{2,}(?![a-z-])")
OPEN = frozenset({"ROLE", "NAME", "VARIABLE", "NUMBER", "STRING"})  # terminals that are no list of words


def textmate() -> dict[str, Any]:
    """Headers, verbs, kinds of elements, the small words between them, quoted words, variables, numbers, comments."""
    terminals = [str(terminal.pattern.value) for terminal in grammar().terminals if terminal.name not in OPEN]
    between = {word for pattern in terminals for word in _WORD.findall(pattern)} - set(verbs())
    variable = {"name": "variable.other.copione", "match": r"\{[A-Za-z_][A-Za-z0-9_]*\}"}
    return {
        "name": "Copione",
        "scopeName": "source.copione",
        "fileTypes": ["copione"],
        "patterns": [
            {
                "name": "string.quoted.double.copione",
                "begin": '"',
                "end": '"|$',
                "patterns": [{"name": "constant.character.escape.copione", "match": r'\\["\\nr]'}, variable],
            },
            {"name": "comment.line.number-sign.copione", "match": "#.*$"},
            {"name": "keyword.other.copione", "match": rf"^\s*({_any(HEADERS)})\b"},
            {"name": "keyword.control.copione", "match": rf"^\s*({_any(verbs())})\b"},
            {"name": "entity.name.type.copione", "match": rf"\b({_any(ROLES)})(?=\s+\")"},
            {"name": "keyword.operator.copione", "match": rf"\b({_any(between)})\b"},
            variable,
            {"name": "constant.numeric.copione", "match": r"(?<![\w.])-?(\d+(\.\d+)?|\.\d+)\b"},
        ],
    }


def _any(words: Any) -> str:
    """One of the words, the longest first."""
    return "|".join(re.escape(word).replace(r"\-", "-") for word in sorted(words, key=lambda word: (-len(word), word)))


def main() -> None:
    """Print it."""
    print(json.dumps(textmate(), indent=2))


if __name__ == "__main__":
    main()
