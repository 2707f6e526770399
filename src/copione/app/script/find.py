"""Words looked for in the text, and put others in their place."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QTextCursor, QTextDocument
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton, QWidget

from ..parts import Label, named, press_focused


class FindBar(QWidget):
    """Over the text while it is wanted; Enter finds the next, Shift+Enter the one before, Escape closes."""

    closed = Signal()

    def __init__(self, editor: QPlainTextEdit, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._editor = editor
        self.words = QLineEdit(placeholderText="Find")
        self.words.setAccessibleName("Find in the script")
        self.words.textChanged.connect(lambda _words: self.look(again=True))
        self.others = QLineEdit(placeholderText="Replace with")
        self.others.setAccessibleName("Replace with")
        self.told = named(Label(), "caption")
        self.one, self.all = QPushButton("Replace"), QPushButton("Replace all")
        self.one.clicked.connect(self.replace)
        self.all.clicked.connect(self.replace_all)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 6, 10, 6)
        row.setSpacing(6)
        for widget, stretch in ((self.words, 2), (self.others, 2), (self.one, 0), (self.all, 0), (self.told, 1)):
            row.addWidget(widget, stretch)
        self.hide()

    def open(self) -> None:
        """With the words that are chosen, if they are on one line."""
        chosen = self._editor.textCursor().selectedText()
        self.show()
        if chosen and "\u2029" not in chosen:
            self.words.setText(chosen)
        self.words.selectAll()
        self.words.setFocus()
        self._tell()

    def look(self, *, back: bool = False, again: bool = False) -> bool:
        """The next place, from the top again behind the last; `again`: where the caret is counts too."""
        words = self.words.text()
        self._tell()
        if not words:
            return False
        if again:
            cursor = self._editor.textCursor()
            cursor.setPosition(cursor.selectionStart())
            self._editor.setTextCursor(cursor)
        flags = QTextDocument.FindFlag.FindBackward if back else QTextDocument.FindFlag(0)
        if self._editor.find(words, flags):
            return True
        cursor = self._editor.textCursor()
        cursor.movePosition(QTextCursor.MoveOperation.End if back else QTextCursor.MoveOperation.Start)
        self._editor.setTextCursor(cursor)
        return self._editor.find(words, flags)

    def replace(self) -> None:
        """The place that is chosen, and on to the next."""
        cursor = self._editor.textCursor()
        if cursor.selectedText().casefold() == self.words.text().casefold() != "":
            cursor.insertText(self.others.text())
        self.look()

    def replace_all(self) -> None:
        """Every place, as one change."""
        words, others, count = self.words.text(), self.others.text(), 0
        if not words:
            return
        cursor = QTextCursor(self._editor.document())
        cursor.beginEditBlock()
        place = self._editor.document().find(words, 0)
        while not place.isNull():
            end = place.selectionStart() + len(others)
            place.insertText(others)
            count += 1
            place = self._editor.document().find(words, end)
        cursor.endEditBlock()
        self.told.setText(f"{count} replaced")

    def _tell(self) -> None:
        words = self.words.text().casefold()
        count = self._editor.toPlainText().casefold().count(words) if words else 0
        self.told.setText("" if not words else "1 place" if count == 1 else f"{count} places")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
            self._editor.setFocus()
            self.closed.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.others.hasFocus():
                self.replace()
            elif not press_focused(self):
                self.look(back=bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            super().keyPressEvent(event)
