"""What is done with whole lines of the editor: moved, doubled, made a comment and back. Each is one change that can be undone."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtGui import QTextCursor
from PySide6.QtWidgets import QPlainTextEdit

COMMENT = "# "


def move(editor: QPlainTextEdit, down: bool) -> None:
    """The chosen lines past the next one, or the one before."""
    first, last = _chosen(editor)
    count = editor.document().blockCount()
    if (down and last + 1 >= count) or (not down and first == 0):
        return

    def moved(lines: Sequence[str]) -> list[str]:
        return [lines[-1], *lines[:-1]] if down else [*lines[1:], lines[0]]

    begin, end = (first, last + 1) if down else (first - 1, last)
    _replace(editor, begin, end, moved, shift=1 if down else -1)


def duplicate(editor: QPlainTextEdit) -> None:
    """The chosen lines once more below."""
    first, last = _chosen(editor)
    _replace(editor, first, last, lambda lines: [*lines, *lines], shift=last - first + 1)


def comment(editor: QPlainTextEdit) -> None:
    """The chosen lines as comments; where all of them are, as steps again."""
    first, last = _chosen(editor)

    def turned(lines: Sequence[str]) -> list[str]:
        said = [line for line in lines if line.strip()]
        if said and all(line.lstrip().startswith("#") for line in said):
            return [_uncommented(line) for line in lines]
        margin = min((len(line) - len(line.lstrip()) for line in said), default=0)
        return [line[:margin] + COMMENT + line[margin:] if line.strip() else line for line in lines]

    _replace(editor, first, last, turned)


def _uncommented(line: str) -> str:
    indent = line[: len(line) - len(line.lstrip())]
    return indent + line.lstrip().removeprefix("#").removeprefix(" ") if line.strip() else line


def _chosen(editor: QPlainTextEdit) -> tuple[int, int]:
    """Numbers of the first and the last chosen line, from 0; a selection that ends before a line's first letter leaves that line out."""
    cursor, document = editor.textCursor(), editor.document()
    first = document.findBlock(cursor.selectionStart()).blockNumber()
    end = document.findBlock(cursor.selectionEnd())
    last = end.blockNumber()
    if last > first and cursor.selectionEnd() == end.position():
        last -= 1
    return first, last


def _replace(editor: QPlainTextEdit, first: int, last: int, change: Callable[[Sequence[str]], list[str]], shift: int = 0) -> None:
    """Those lines by others, as one change; what was chosen stays chosen, `shift` lines farther down."""
    document, before = editor.document(), editor.textCursor()
    column, chosen = before.positionInBlock(), _chosen(editor)
    begin, end = document.findBlockByNumber(first), document.findBlockByNumber(last)
    lines = editor.toPlainText().split("\n")[first : last + 1]
    cursor = QTextCursor(document)
    cursor.beginEditBlock()
    cursor.setPosition(begin.position())
    cursor.setPosition(end.position() + end.length() - 1, QTextCursor.MoveMode.KeepAnchor)
    cursor.insertText("\n".join(change(lines)))
    cursor.endEditBlock()
    top, bottom = (document.findBlockByNumber(number + shift) for number in chosen)
    after = QTextCursor(document)
    if before.hasSelection():
        after.setPosition(top.position())
        after.setPosition(bottom.position() + bottom.length() - 1, QTextCursor.MoveMode.KeepAnchor)
    else:
        after.setPosition(top.position() + min(column, top.length() - 1))
    editor.setTextCursor(after)
