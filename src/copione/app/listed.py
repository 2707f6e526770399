"""A narrow list with a search over it: the scripts of a project, or its runs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QPoint, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from . import theme
from .parts import Label, named

HIGH = 46


@dataclass(frozen=True)
class Item:
    """One line of the list: its title, what is said under it, and what it stands for. `shown`: it is the one that is looked at."""

    title: str
    about: str
    value: object
    shown: bool = False


class _Delegate(QStyledItemDelegate):
    def sizeHint(self, _option: QStyleOptionViewItem, _index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(120, HIGH)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        item: Item = index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        card = QRectF(option.rect).adjusted(8, 2, -8, -2)
        selected = bool(option.state & QStyle.StateFlag.State_Selected) and bool(option.state & QStyle.StateFlag.State_Active)
        if item.shown or selected:
            focused = selected and bool(option.state & QStyle.StateFlag.State_HasFocus)
            painter.setPen(QPen(theme.CHECK if focused else theme.RULE, 2 if focused else 1))
            painter.setBrush(theme.SHEET if item.shown else Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(card, 6, 6)
        words = card.adjusted(10, 4, -8, -4)
        for text, place, ink, font in (
            (item.title, 0, theme.INK, theme.font(theme.BODY, 600 if item.shown else 500)),
            (item.about, 18, theme.MUTED, theme.font(theme.CAPTION)),
        ):
            painter.setPen(ink)
            painter.setFont(font)
            said = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(words.width()))
            painter.drawText(QRectF(words.left(), words.top() + place, words.width(), 18), Qt.AlignmentFlag.AlignVCenter, said)
        painter.restore()


class _Lines(QListWidget):
    """Enter opens; Delete deletes; F2 renames, where that is possible."""

    delete_asked = Signal()
    rename_asked = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.delete_asked.emit()
        elif event.key() == Qt.Key.Key_F2:
            self.rename_asked.emit()
        else:
            super().keyPressEvent(event)


class ItemList(QWidget):
    """`opened` with what an item stands for. `menu` makes what can be done with one."""

    opened = Signal(object)
    delete_asked = Signal(object)
    rename_asked = Signal(object)

    def __init__(self, title: str, menu: Callable[[QMenu, object], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._menu = menu
        self._items: tuple[Item, ...] = ()
        caption = named(Label(title), "caption")
        caption.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        self.head = QHBoxLayout()
        self.head.setContentsMargins(14, 0, 8, 0)
        self.head.addWidget(caption)
        self.head.addStretch(1)
        self.search = QLineEdit(placeholderText="Search")
        self.search.setAccessibleName(f"Search the {title.lower()}")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._fill)
        self.lines = _Lines()
        self.lines.setItemDelegate(_Delegate(self.lines))
        self.lines.setAccessibleName(title)
        self.lines.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.lines.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.lines.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.lines.customContextMenuRequested.connect(self._menu_at)
        self.lines.itemClicked.connect(self._open)
        self.lines.itemActivated.connect(self._open)
        self.lines.delete_asked.connect(lambda: self._with_current(self.delete_asked.emit))
        self.lines.rename_asked.connect(lambda: self._with_current(self.rename_asked.emit))
        self.search.returnPressed.connect(lambda: self._open(self.lines.currentItem()))
        row = QHBoxLayout()
        row.setContentsMargins(8, 0, 8, 4)
        row.addWidget(self.search)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 6)
        column.setSpacing(6)
        column.addLayout(self.head)
        column.addLayout(row)
        column.addWidget(self.lines, 1)

    def add_button(self, words: str, act: Callable[[], object]) -> QPushButton:
        """One at the list's head."""
        button = named(QPushButton(words), "link")
        button.clicked.connect(lambda: act())
        self.head.addWidget(button)
        return button

    def show_items(self, items: Sequence[Item]) -> None:
        """What there is, in order."""
        if tuple(items) != self._items:
            self._items = tuple(items)
            self._fill()

    def _fill(self) -> None:
        wanted = self.search.text().casefold().split()
        current = self.current()
        self.lines.clear()
        for item in self._items:
            if all(word in f"{item.title} {item.about}".casefold() for word in wanted):
                line = QListWidgetItem(item.title)
                line.setData(Qt.ItemDataRole.UserRole, item)
                line.setData(Qt.ItemDataRole.AccessibleDescriptionRole, item.about)
                line.setToolTip("")
                self.lines.addItem(line)
                if item.value == current or (item.shown and current is None):
                    self.lines.setCurrentItem(line)
        if self.lines.currentRow() < 0:
            self.lines.setCurrentRow(0)

    def current(self) -> object | None:
        """What the chosen item stands for."""
        line = self.lines.currentItem()
        item: Item | None = line.data(Qt.ItemDataRole.UserRole) if line is not None else None
        return item.value if item is not None else None

    def _with_current(self, act: Callable[[object], object]) -> None:
        value = self.current()
        if value is not None:
            act(value)

    def _open(self, line: QListWidgetItem | None) -> None:
        if line is not None:
            self.opened.emit(line.data(Qt.ItemDataRole.UserRole).value)

    def _menu_at(self, place: QPoint) -> None:
        line = self.lines.itemAt(place)
        if line is not None:
            menu = QMenu(self)
            self._menu(menu, line.data(Qt.ItemDataRole.UserRole).value)
            menu.popup(self.lines.viewport().mapToGlobal(place))
