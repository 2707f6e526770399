"""The editor: numbers, colours, problems under the line as they are typed, completion of verbs, targets and variables."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, QStringListModel, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QResizeEvent, QTextCharFormat, QTextCursor
from PySide6.QtWidgets import QCompleter, QPlainTextEdit, QTextEdit, QWidget

from ...language.problems import Problem
from ...language.specs import VERBS
from ...model.roles import ROLES
from .. import theme
from .highlighter import Highlighter

TYPED_MS = 250


class _Numbers(QWidget):
    def __init__(self, editor: ScriptEditor) -> None:
        super().__init__(editor)
        self.editor = editor

    def sizeHint(self) -> QSize:
        return QSize(self.editor.numbers_width(), 0)

    def paintEvent(self, event: QPaintEvent) -> None:
        self.editor.paint_numbers(self, event)


class ScriptEditor(QPlainTextEdit):
    """`edited` comes a moment after the last letter; `line_moved` with the caret's line, 1-based."""

    edited = Signal(str)
    line_moved = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFont(theme.font(14))
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setTabChangesFocus(True)
        self.setAccessibleName("Script")
        self.document().setDocumentMargin(8)
        self.setTabStopDistance(28)
        self._numbers = _Numbers(self)
        self.highlighter = Highlighter(self.document())
        self.problems: tuple[Problem, ...] = ()
        self._words = QStringListModel(self)
        self._completer = QCompleter(self._words, self)
        self._completer.setWidget(self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.activated.connect(self._complete)
        self._typed = QTimer(self, singleShot=True, interval=TYPED_MS)
        self._typed.timeout.connect(self.send)
        self._quiet = False
        self.textChanged.connect(self._changed)
        self.cursorPositionChanged.connect(self._moved)
        self.blockCountChanged.connect(lambda _count: self._margins())
        self.updateRequest.connect(self._scrolled)
        self._margins()

    # content

    def show_text(self, text: str) -> None:
        """Take a text in; as one edit that can be undone, and only when it is another."""
        if text == self.toPlainText():
            return
        self._quiet = True
        line = self.textCursor().blockNumber()
        cursor = QTextCursor(self.document())
        cursor.beginEditBlock()
        cursor.select(QTextCursor.SelectionType.Document)
        cursor.insertText(text)
        cursor.endEditBlock()
        self.go_to(line + 1)
        self._quiet = False

    def open_text(self, text: str) -> None:
        """The text of another script: there is nothing to undo in it yet."""
        self._quiet = True
        self._typed.stop()
        self.setPlainText(text)
        self._quiet = False

    def send_if_typed(self) -> None:
        """Hand on what was typed just now, if anything was."""
        if self._typed.isActive():
            self.send()

    def show_problems(self, problems: tuple[Problem, ...]) -> None:
        self.problems = problems
        self._mark()

    def offer(self, targets: list[str], variables: list[str]) -> None:
        """What completion knows besides the language's own words."""
        self._words.setStringList([*VERBS, *ROLES, *(f"{{{name}}}" for name in variables), *targets])

    def go_to(self, line: int) -> None:
        block = self.document().findBlockByNumber(line - 1)
        if block.isValid() and self.textCursor().blockNumber() != line - 1:
            self.setTextCursor(QTextCursor(block))
            self.ensureCursorVisible()

    def send(self) -> None:
        """Hand the text on now."""
        self._typed.stop()
        self.edited.emit(self.toPlainText())

    def _changed(self) -> None:
        if not self._quiet:
            self._typed.start()

    def _moved(self) -> None:
        self._mark()
        if not self._quiet:
            self.line_moved.emit(self.textCursor().blockNumber() + 1)

    def _mark(self) -> None:
        here = QTextEdit.ExtraSelection()
        here.format.setBackground(theme.LINE)
        here.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
        here.cursor = self.textCursor()
        here.cursor.clearSelection()
        marked = [here]
        for problem in self.problems:
            block = self.document().findBlockByNumber(problem.line - 1)
            if not block.isValid():
                continue
            wave = QTextEdit.ExtraSelection()
            wave.format.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            wave.format.setUnderlineColor(QColor("#B3341B"))
            cursor = QTextCursor(block)
            begin = min(problem.column - 1, max(0, block.length() - 2))
            cursor.setPosition(block.position() + begin)
            cursor.setPosition(
                min(block.position() + begin + problem.length, block.position() + block.length() - 1), QTextCursor.MoveMode.KeepAnchor
            )
            wave.cursor = cursor
            marked.append(wave)
        self.setExtraSelections(marked)
        self._numbers.update()

    # completion

    def _word(self) -> str:
        cursor = self.textCursor()
        before = cursor.block().text()[: cursor.positionInBlock()]
        word = ""
        for c in reversed(before):
            if not (c.isalnum() or c in "{_-"):
                break
            word = c + word
        return word

    def keyPressEvent(self, event: QKeyEvent) -> None:
        popup = self._completer.popup()
        assert popup is not None
        if popup.isVisible() and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape, Qt.Key.Key_Tab):
            event.ignore()
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            indent = len(self.textCursor().block().text()) - len(self.textCursor().block().text().lstrip(" "))
            begins = self.textCursor().block().text().startswith("scene")
            super().keyPressEvent(event)
            self.insertPlainText(" " * (4 if begins else indent))
            return
        forced = event.key() == Qt.Key.Key_Space and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if not forced:
            super().keyPressEvent(event)
        word = self._word()
        if (forced or (event.text().strip() and len(word) >= 2)) and self._words.stringList():
            self._completer.setCompletionPrefix(word)
            fits = self._completer.completionCount()
            if fits == 0 or (fits == 1 and self._completer.currentCompletion() == word):
                popup.hide()
                return
            place = self.cursorRect()
            place.setWidth(260)
            place.translate(self.viewportMargins().left(), 4)
            popup.setCurrentIndex(self._completer.completionModel().index(0, 0))
            self._completer.complete(place)
        else:
            popup.hide()

    def _complete(self, words: str) -> None:
        cursor = self.textCursor()
        cursor.movePosition(QTextCursor.MoveOperation.Left, QTextCursor.MoveMode.KeepAnchor, len(self._word()))
        cursor.insertText(words)

    # numbers

    def numbers_width(self) -> int:
        return 16 + self.fontMetrics().horizontalAdvance("9") * max(2, len(str(self.blockCount())))

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

    def paint_numbers(self, widget: QWidget, event: QPaintEvent) -> None:
        painter = QPainter(widget)
        painter.fillRect(event.rect(), theme.SHEET)
        painter.setFont(theme.font(theme.CAPTION))
        wrong = {p.line for p in self.problems}
        block = self.firstVisibleBlock()
        while block.isValid():
            area = self.blockBoundingGeometry(block).translated(self.contentOffset())
            if area.top() > event.rect().bottom():
                break
            number = block.blockNumber() + 1
            painter.setPen(QColor("#B3341B") if number in wrong else theme.MUTED)
            painter.drawText(
                0,
                int(area.top()),
                widget.width() - 6,
                int(area.height()),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                str(number),
            )
            block = block.next()
