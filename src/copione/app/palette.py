"""The command palette: every action by a few letters of its words."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from . import theme
from .actions import Entry


def fits(letters: str, words: str) -> bool:
    """Do the letters come in the words in this order?"""
    rest = iter(words.casefold())
    return all(c in rest for c in letters.casefold() if not c.isspace())


def rank(letters: str, words: str) -> int:
    """Lower is nearer: the words begin so, hold it in one piece, or only letter by letter."""
    wanted, said = letters.casefold().strip(), words.casefold()
    return 0 if said.startswith(wanted) else 1 if wanted in said else 2


class Palette(QDialog):
    """Opens over the window; Enter does the chosen action, Escape closes."""

    def __init__(self, entries: list[Entry], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.entries = entries
        self.setFixedWidth(460)
        self.field = QLineEdit(placeholderText="What do you want to do?")
        self.field.setAccessibleName("Find an action")
        self.list = QListWidget()
        self.list.setFont(theme.font())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.field.textChanged.connect(self._filter)
        self.field.installEventFilter(self)
        self.list.itemActivated.connect(lambda _item: self._do())
        self._filter("")
        self.field.setFocus()

    def _filter(self, letters: str) -> None:
        self.list.clear()
        for entry in sorted((e for e in self.entries if fits(letters, e.words)), key=lambda e: rank(letters, e.words)):
            item = QListWidgetItem(f"{entry.words}    {entry.keys}" if entry.keys else entry.words)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.setFixedHeight(min(10, max(1, self.list.count())) * 28 + 6)
        self.adjustSize()

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(min(max(0, self.list.currentRow() + step), self.list.count() - 1))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._do()
                return True
        return False

    def _do(self) -> None:
        item = self.list.currentItem()
        self.close()
        if item is not None:
            item.data(Qt.ItemDataRole.UserRole).act()
