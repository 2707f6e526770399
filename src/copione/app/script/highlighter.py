"""The script's text, coloured by meaning."""

from __future__ import annotations

import re
from functools import lru_cache

from PySide6.QtGui import QFont, QSyntaxHighlighter, QTextCharFormat, QTextDocument

from ...language.parser import split_comment
from ...language.registry import kinds_of, verbs, version
from ...language.words import HEADERS
from ...model.action import Action, End, Opening, Otherwise
from ...model.roles import ROLES
from .. import theme

_STRING = re.compile(r'"(\\.|[^"\\])*"?')
_VARIABLE = re.compile(r"\{\w+\}")
_WORD = re.compile(r"[A-Za-z-]+")


@lru_cache(maxsize=1)
def _blocks(_version: int) -> frozenset[str]:
    """The verbs that say which steps are done, and do nothing."""
    return frozenset(kind.verb for kind in kinds_of(Action) if issubclass(kind, Opening | Otherwise | End))


def _format(colour: object, weight: int = 400) -> QTextCharFormat:
    made = QTextCharFormat()
    made.setForeground(colour)  # type: ignore[arg-type]
    made.setFontWeight(QFont.Weight(weight))
    return made


class Highlighter(QSyntaxHighlighter):
    """Verbs in the touch pencil, checks in the check pencil, names bold, roles quiet, variables marked."""

    def __init__(self, document: QTextDocument) -> None:
        super().__init__(document)
        self.verb = _format(theme.TOUCH_TEXT, 600)
        self.check = _format(theme.CHECK, 600)
        self.header = _format(theme.INK, 700)
        self.name = _format(theme.INK, 600)
        self.quiet = _format(theme.MUTED)
        self.variable = _format(theme.CHECK, 600)
        self.variable.setBackground(theme.CHECK_PALE)

    def highlightBlock(self, text: str) -> None:
        says, comment = split_comment(text)
        self.setFormat(len(text) - len(comment), len(comment), self.quiet)
        for i, match in enumerate(_WORD.finditer(says)):
            word = match.group()
            begins = i == 0 and not says[: match.start()].strip()
            if (begins and word in HEADERS) or (begins and word in _blocks(version())):
                form = self.header
            elif begins and word in verbs():
                form = self.check if word == "check" else self.verb
            elif i == 1 and word in ("on", "off") and says.strip().startswith("switch"):
                form = self.verb
            else:
                form = self.quiet if word in ROLES else _format(theme.INK)
            self.setFormat(match.start(), len(word), form)
        for match in _STRING.finditer(says):
            self.setFormat(match.start(), len(match.group()), self.name)
        for match in _VARIABLE.finditer(says):
            self.setFormat(match.start(), len(match.group()), self.variable)
