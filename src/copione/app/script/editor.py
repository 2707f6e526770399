"""The editor: numbers, folds, colours, problems under the line as they are typed, completion, the portrait under the pointer."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, QRect, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPolygonF,
    QResizeEvent,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)
from PySide6.QtWidgets import QMenu, QPlainTextDocumentLayout, QPlainTextEdit, QTextEdit, QWidget

from ...language.folding import FoldRange
from ...language.parser import parse_line
from ...language.problems import Problem
from .. import theme
from .completion import Completion
from .folds import Folds
from .highlighter import Highlighter

TYPED_MS = 250
AT_ONCE = 40  # lines that are read as they are typed; more come with the whole
KEPT = 30  # scripts in which what was done can be undone
MARKED = 200  # problems that are underlined, those nearest to the caret
WRONG, HINT = QColor("#B3341B"), QColor("#8A6210")
STEPS_IN = ("scene", "when", "otherwise", "repeat", "for")  # what stands behind these stands farther in


class _Numbers(QWidget):
    def __init__(self, editor: ScriptEditor) -> None:
        super().__init__(editor)
        self.editor = editor

    def sizeHint(self) -> QSize:
        return QSize(self.editor.numbers_width(), 0)

    def paintEvent(self, event: QPaintEvent) -> None:
        self.editor.paint_numbers(self, event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        line = self.editor.line_at(event.position().y())
        if line in self.editor.folds.stretches:
            self.editor.folds.turn(line)


class _Text:
    """A script's text as Qt keeps it, with its colours and with what can be undone in it."""

    def __init__(self, parent: QObject) -> None:
        self.document = QTextDocument(parent)
        self._layout = QPlainTextDocumentLayout(self.document)
        self.document.setDocumentLayout(self._layout)
        self.document.setDocumentMargin(8)
        self.document.setDefaultFont(theme.font(14))
        self._colours = Highlighter(self.document)

    def drop(self) -> None:
        """It is not shown any more."""
        self.document.deleteLater()


class ScriptEditor(QPlainTextEdit):
    """`typed` comes with the text at every letter, `edited` a moment after the last one; `line_moved` with the caret's line, 1-based;
    `hovered` with a line and a place."""

    typed = Signal(str)
    edited = Signal(str)
    line_moved = Signal(int)
    hovered = Signal(int, QPoint)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFont(theme.font(14))
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setTabChangesFocus(True)
        self.setAccessibleName("Script")
        self.setTabStopDistance(28)
        self.viewport().setMouseTracking(True)  # the card by the pointer goes when it moves on
        self._numbers = _Numbers(self)
        self.problems: tuple[Problem, ...] = ()
        self.stops: frozenset[int] = frozenset()
        self.here = 0  # the line at which a trial stands
        self.fill_menu: Callable[[QMenu], object] = lambda menu: None
        self.completion = Completion(self)
        self.folds = Folds(self)
        self._typed = QTimer(self, singleShot=True, interval=TYPED_MS)
        self._typed.timeout.connect(self.send)
        self._quiet = False
        self._lines = 1
        self.textChanged.connect(self._changed)
        self.cursorPositionChanged.connect(self._moved)
        self.blockCountChanged.connect(lambda _count: self._margins())
        self.updateRequest.connect(self._scrolled)
        self._kept = QObject(self)  # Qt deletes a document that is the editor's own when it shows another one
        self._texts: dict[Path, _Text] = {}  # each script that was opened, with what can be undone in it
        self._text: _Text | None = None
        self._show(_Text(self._kept))
        self._margins()

    # content

    def show_text(self, text: str) -> None:
        """Take a text in; as one edit that can be undone, of those lines alone that are others, and only when there are some."""
        old = self.toPlainText()
        if text == old:
            return
        self._quiet = True
        line = self.textCursor().blockNumber()
        begin = _same(old, text)
        end = _same(old[begin:][::-1], text[begin:][::-1])
        cursor = QTextCursor(self.document())
        cursor.beginEditBlock()
        cursor.setPosition(_units(old[:begin]))
        cursor.setPosition(_units(old[: len(old) - end]), QTextCursor.MoveMode.KeepAnchor)
        cursor.insertText(text[begin : len(text) - end])
        cursor.endEditBlock()
        self.go_to(line + 1)
        self._quiet = False

    def open_text(self, path: Path, text: str) -> None:
        """The text of another script; what was done in it since the project was opened can be undone."""
        self._quiet = True
        self._typed.stop()
        known = self._texts.pop(path, None)
        self._texts[path] = shown = known or _Text(self._kept)
        if shown is not self._text:
            self._show(shown)
        if known is None:
            self.setPlainText(text)
        self.problems, self.here = (), 0
        self._quiet = False
        self.show_text(text)
        if len(self._texts) > KEPT:
            self._texts.pop(next(iter(self._texts))).drop()

    def renamed(self, path: Path, to: Path) -> None:
        """A script has another file now."""
        if path in self._texts:
            self._texts[to] = self._texts.pop(path)

    def forget(self) -> None:
        """Another project: nothing that was done can be undone any more."""
        for each in [each for each in self._texts.values() if each is not self._text]:
            each.drop()
        self._texts = {}

    def _show(self, text: _Text) -> None:
        if self._text is not None:
            self._text.document.contentsChange.disconnect(self._read_at_once)
        self._text = text
        self.setDocument(text.document)
        self.setTabStopDistance(28)
        text.document.contentsChange.connect(self._read_at_once)
        self._lines = text.document.blockCount()
        self.folds.other_document()

    @property
    def typing(self) -> bool:
        """Was something typed that has not been handed on yet?"""
        return self._typed.isActive()

    def send_if_typed(self) -> None:
        """Hand on what was typed just now, if anything was."""
        if self.typing:
            self.send()

    def show_problems(self, problems: tuple[Problem, ...]) -> None:
        """Those of the whole; of what has been typed since they come anew with it."""
        if not self._typed.isActive():
            self.problems = problems
            self._mark()

    def show_stretches(self, stretches: Sequence[FoldRange]) -> None:
        """What can be folded."""
        self.folds.know(stretches)
        self._numbers.update()

    def show_here(self, line: int) -> None:
        """A trial stands before that line; 0 for none."""
        self.here = line
        self._mark()

    def show_stops(self, lines: Collection[int]) -> None:
        """Trials stop before these."""
        self.stops = frozenset(lines)
        self._numbers.update()

    def chosen_lines(self) -> tuple[int, int]:
        """The first and the last line that is chosen, 1-based: the caret's without a selection."""
        cursor, document = self.textCursor(), self.document()
        first, end = document.findBlock(cursor.selectionStart()), document.findBlock(cursor.selectionEnd())
        last = end.blockNumber()
        if last > first.blockNumber() and cursor.selectionEnd() == end.position():
            last -= 1
        return first.blockNumber() + 1, last + 1

    def go_to(self, line: int) -> None:
        block = self.document().findBlockByNumber(line - 1)
        if block.isValid() and self.textCursor().blockNumber() != line - 1:
            self.folds.reveal(line)
            self.setTextCursor(QTextCursor(block))
            self.ensureCursorVisible()

    def send(self) -> None:
        """Hand the text on now."""
        self._typed.stop()
        self.edited.emit(self.toPlainText())

    def _changed(self) -> None:
        if not self._quiet:
            self._typed.start()
            self.typed.emit(self.toPlainText())

    def _read_at_once(self, position: int, _removed: int, added: int) -> None:
        """The lines that change, each for itself: what is wrong with them is seen at once, and what is wrong elsewhere stays."""
        document = self.document()
        first = document.findBlock(position)
        last = document.findBlock(min(position + added, document.characterCount() - 1))
        grown, self._lines = document.blockCount() - self._lines, document.blockCount()
        count = last.blockNumber() - first.blockNumber() + 1
        if self._quiet or count > AT_ONCE:
            return
        begin, was = first.blockNumber() + 1, max(1, count - grown)
        kept = []
        for problem in self.problems:
            if problem.line < begin:
                kept.append(problem)
            elif problem.line >= begin + was:
                kept.append(problem if not grown else _at(problem, problem.line + grown))
        block = first
        for number in range(begin, begin + count):
            found = parse_line(block.text(), number)[1]
            if found is not None:
                kept.append(found)
            block = block.next()
        self.problems = tuple(sorted(kept, key=lambda p: (p.line, p.column)))
        self._mark()

    def _moved(self) -> None:
        self._mark()
        if not self._quiet:
            self.line_moved.emit(self.textCursor().blockNumber() + 1)

    def _mark(self) -> None:
        marked = [self._band(self.textCursor(), theme.LINE)]
        if self.here:
            marked.append(self._band(QTextCursor(self.document().findBlockByNumber(self.here - 1)), QColor("#FBE9D8")))
        caret = self.textCursor().blockNumber() + 1
        near = self.problems if len(self.problems) <= MARKED else sorted(self.problems, key=lambda p: abs(p.line - caret))[:MARKED]
        for problem in near:
            block = self.document().findBlockByNumber(problem.line - 1)
            if not block.isValid():
                continue
            wave = QTextEdit.ExtraSelection()
            style = QTextCharFormat.UnderlineStyle
            wave.format.setUnderlineStyle(style.DotLine if problem.hint else style.WaveUnderline)
            wave.format.setUnderlineColor(HINT if problem.hint else WRONG)
            cursor = QTextCursor(block)
            begin = min(problem.column - 1, max(0, block.length() - 2))
            cursor.setPosition(block.position() + begin)
            end = min(block.position() + begin + problem.length, block.position() + block.length() - 1)
            cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
            wave.cursor = cursor
            marked.append(wave)
        self.setExtraSelections(marked)
        self._numbers.update()

    @staticmethod
    def _band(cursor: QTextCursor, ink: QColor) -> QTextEdit.ExtraSelection:
        band = QTextEdit.ExtraSelection()
        band.format.setBackground(ink)
        band.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
        band.cursor = cursor
        band.cursor.clearSelection()
        return band

    # keys and pointer

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.completion.open and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape, Qt.Key.Key_Tab):
            event.ignore()
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            text = self.textCursor().block().text()
            indent = len(text) - len(text.lstrip(" "))
            head = text.split(maxsplit=1)[:1]
            super().keyPressEvent(event)
            self.insertPlainText(" " * (indent + 4 * (head in [[word] for word in STEPS_IN])))
            return
        forced = event.key() == Qt.Key.Key_Space and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if not forced:
            super().keyPressEvent(event)
        if forced or (event.text().strip() and event.text().isprintable()):
            self._outdented()
            self.completion.offer(asked=forced)
        else:
            self.completion.hide()

    def _outdented(self) -> None:
        """`end` and `otherwise` stand as far out as what they belong to."""
        cursor = self.textCursor()
        text = cursor.block().text()
        if text.strip() not in ("end", "otherwise") or not cursor.atBlockEnd() or not text.startswith(" " * 8):
            return
        above = cursor.block().previous()
        while above.isValid() and not above.text().strip():
            above = above.previous()
        words = above.text().split(maxsplit=1)[:1]
        inner = len(above.text()) - len(above.text().lstrip(" "))
        opens = words and words[0] in STEPS_IN
        wanted = inner if opens else inner - 4
        if len(text) - len(text.lstrip(" ")) > wanted >= 4:
            cursor.movePosition(QTextCursor.MoveOperation.StartOfBlock)
            cursor.movePosition(QTextCursor.MoveOperation.Right, QTextCursor.MoveMode.KeepAnchor, 4)
            cursor.removeSelectedText()

    def viewportEvent(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            cursor = self.cursorForPosition(event.pos())
            self.hovered.emit(cursor.blockNumber() + 1, event.globalPos())
            return True
        if event.type() in (QEvent.Type.MouseMove, QEvent.Type.Leave, QEvent.Type.MouseButtonPress, QEvent.Type.Wheel):
            self.hovered.emit(0, QPoint())
        return super().viewportEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = self.createStandardContextMenu()
        menu.addSeparator()
        self.fill_menu(menu)
        menu.exec(event.globalPos())
        menu.deleteLater()

    # numbers

    def numbers_width(self) -> int:
        return 28 + self.fontMetrics().horizontalAdvance("9") * max(2, len(str(self.blockCount())))

    def _margins(self) -> None:
        self.setViewportMargins(self.numbers_width(), 0, 0, 0)

    def _scrolled(self, area: QRect, dy: int) -> None:
        if dy:
            self._numbers.scroll(0, dy)
        else:
            self._numbers.update(0, area.y(), self._numbers.width(), area.height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        area = self.contentsRect()
        self._numbers.setGeometry(QRect(area.left(), area.top(), self.numbers_width(), area.height()))

    def line_at(self, y: float) -> int:
        """The line at a height of the numbers."""
        return self.cursorForPosition(QPoint(4, int(y))).blockNumber() + 1

    def paint_numbers(self, widget: QWidget, event: QPaintEvent) -> None:
        painter = QPainter(widget)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), theme.SHEET)
        painter.setFont(theme.font(theme.CAPTION))
        wrong = {p.line: p.hint for p in reversed(self.problems)}
        block = self.firstVisibleBlock()
        while block.isValid():
            area = self.blockBoundingGeometry(block).translated(self.contentOffset())
            if area.top() > event.rect().bottom():
                break
            number = block.blockNumber() + 1
            if block.isVisible():
                self._paint_number(painter, widget, QRect(0, int(area.top()), widget.width(), int(area.height())), number, wrong)
            block = block.next()

    def _paint_number(self, painter: QPainter, widget: QWidget, area: QRect, number: int, wrong: dict[int, bool]) -> None:
        painter.setPen(theme.MUTED if number not in wrong else HINT if wrong[number] else WRONG)
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        words = "▸" if number == self.here else str(number)
        painter.drawText(area.adjusted(0, 0, -18, 0), right, words)
        if number in self.stops:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.TOUCH)
            painter.drawRoundedRect(QRectF(2, area.center().y() - 6, 4, 13), 2, 2)
        if number in self.folds.stretches:
            x, y = widget.width() - 9.0, area.center().y() + 0.5
            folded = self.folds.folded(number)
            corners = ((-2, -4), (3, 0), (-2, 4)) if folded else ((-4, -2), (4, -2), (0, 3))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.INK if folded else QColor("#B9B2A2"))
            painter.drawPolygon(QPolygonF([QPointF(x + dx, y + dy) for dx, dy in corners]))


def _same(one: str, other: str) -> int:
    """How many letters both begin with."""
    if one == other:
        return len(one)
    low, high = 0, min(len(one), len(other))
    while low < high:
        middle = (low + high + 1) // 2
        if one[:middle] == other[:middle]:
            low = middle
        else:
            high = middle - 1
    return low


def _units(words: str) -> int:
    """How far Qt counts: letters beyond the first plane as two."""
    return len(words.encode("utf-16-le")) // 2


def _at(problem: Problem, line: int) -> Problem:
    return replace(problem, line=line)
