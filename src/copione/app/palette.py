"""The command palette: every action by a few letters of its words."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QModelIndex, QObject, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QPainter
from PySide6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from . import theme
from .actions import Offered

WIDTH, LINE = 520, 28


def fits(letters: str, words: str) -> bool:
    """Do the letters come in the words in this order?"""
    rest = iter(words.casefold())
    return all(c in rest for c in letters.casefold() if not c.isspace())


def rank(letters: str, words: str) -> int:
    """Lower is nearer: the words begin so, hold it in one piece, or only letter by letter."""
    wanted, said = letters.casefold().strip(), words.casefold()
    return 0 if said.startswith(wanted) else 1 if wanted in said else 2


class _Line(QStyledItemDelegate):
    """An action's words at the left, its keys in a column at the right; what cannot be done now is pale and says what it needs."""

    def sizeHint(self, _option: QStyleOptionViewItem, _index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(10, LINE)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        each: Offered = index.data(Qt.ItemDataRole.UserRole)
        area = QRectF(option.rect)
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, theme.LINE)
        painter.setFont(theme.font())
        painter.setPen(theme.MUTED if each.hindrance else theme.INK)
        painter.drawText(area.adjusted(8, 0, -8, 0), Qt.AlignmentFlag.AlignVCenter, each.entry.words)
        painter.setFont(theme.font(theme.CAPTION))
        painter.setPen(theme.MUTED)
        words = each.hindrance or QKeySequence(each.entry.keys).toString(QKeySequence.SequenceFormat.NativeText)
        painter.drawText(area.adjusted(8, 0, -10, 0), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, words)
        painter.restore()


class Palette(QDialog):
    """Opens over the window; Enter does the chosen action, Escape closes."""

    def __init__(self, offered: list[Offered], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.offered = offered
        self.setFixedWidth(WIDTH)
        self.field = QLineEdit(placeholderText="What do you want to do?")
        self.field.setAccessibleName("Find an action")
        self.list = QListWidget()
        self.list.setFont(theme.font())
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setItemDelegate(_Line(self.list))
        self.list.setAccessibleName("Actions")
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
        fitting = [each for each in self.offered if fits(letters, each.entry.words)]
        for each in sorted(fitting, key=lambda o: (bool(o.hindrance), rank(letters, o.entry.words))):
            item = QListWidgetItem(each.entry.words)
            item.setData(Qt.ItemDataRole.UserRole, each)
            item.setData(Qt.ItemDataRole.AccessibleDescriptionRole, each.hindrance or each.entry.keys)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.setFixedHeight(min(12, max(1, self.list.count())) * LINE + 6)
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
        if item is None:
            self.close()
            return
        each: Offered = item.data(Qt.ItemDataRole.UserRole)
        if not each.hindrance:
            self.close()
            each.entry.act()
