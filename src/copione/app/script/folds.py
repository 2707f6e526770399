"""Lines of the editor folded away behind the head of their scene or block."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QPlainTextEdit

from ...language.folding import FoldRange

FOLDED = 1  # a text block's state: it goes along when lines above it come and go


class Folds:
    """Which stretches there are, and which of them are folded."""

    def __init__(self, editor: QPlainTextEdit) -> None:
        self._editor = editor
        self.stretches: dict[int, FoldRange] = {}  # by the head's line
        self._hides = self._any = False

    def know(self, stretches: Sequence[FoldRange]) -> None:
        """These belong together now."""
        self.stretches = {each.head: each for each in reversed(stretches)}
        self._apply()

    def other_document(self) -> None:
        """Another text is shown, of which nothing is known but what is folded in it."""
        self.stretches = {}
        self._hides = self._any = True

    def folded(self, line: int) -> bool:
        """Is what belongs to the head on that line folded?"""
        return line in self.stretches and self._editor.document().findBlockByNumber(line - 1).userState() == FOLDED

    def turn(self, line: int) -> None:
        """Fold what is open, open what is folded; on a line that is no head, what it stands in."""
        if line not in self.stretches:
            line = max((s.head for s in self.stretches.values() if s.head < line <= s.last), default=0)
        if line:
            self.fold(line, not self.folded(line))

    def fold(self, line: int, folded: bool) -> None:
        """Fold or open one."""
        block = self._editor.document().findBlockByNumber(line - 1)
        if line in self.stretches and block.isValid():
            block.setUserState(FOLDED if folded else -1)
            self._any = self._any or folded
            cursor = self._editor.textCursor()
            if folded and line < cursor.blockNumber() + 1 <= self.stretches[line].last:
                cursor.setPosition(block.position() + len(block.text()))
                self._editor.setTextCursor(cursor)
            self._apply()

    def all(self, folded: bool) -> None:
        """Fold or open all of them."""
        self._any = self._any or folded
        for line in self.stretches:
            block = self._editor.document().findBlockByNumber(line - 1)
            block.setUserState(FOLDED if folded else -1)
        if folded:
            cursor = self._editor.textCursor()
            outer = min((s.head for s in self.stretches.values() if s.head <= cursor.blockNumber() + 1 <= s.last), default=0)
            if outer:
                cursor.setPosition(self._editor.document().findBlockByNumber(outer - 1).position())
                self._editor.setTextCursor(cursor)
        self._apply()

    def reveal(self, line: int) -> None:
        """Open whatever hides a line."""
        hiding = [s for s in self.stretches.values() if s.head < line <= s.last and self.folded(s.head)]
        for each in hiding:
            self._editor.document().findBlockByNumber(each.head - 1).setUserState(-1)
        if hiding:
            self._apply()

    def _apply(self) -> None:
        document = self._editor.document()
        if not self._hides and not self._any:
            return
        hidden: set[int] = set()
        for each in self.stretches.values():
            if self.folded(each.head):
                hidden |= set(range(each.head + 1, each.last + 1))
        changed = False
        self._hides = bool(hidden)
        block = document.begin()
        number = 1
        while block.isValid():
            visible = number not in hidden
            if block.isVisible() is not visible:
                block.setVisible(visible)
                changed = True
            block, number = block.next(), number + 1
        if changed:
            document.markContentsDirty(0, document.characterCount())
            self._editor.viewport().update()
            self._editor.updateRequest.emit(self._editor.viewport().rect(), 0)
