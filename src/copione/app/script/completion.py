"""The list of what may be written at the caret, with the target's picture, and what putting one in does."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen, QPixmap, QStandardItem, QStandardItemModel, QTextCursor
from PySide6.QtWidgets import QCompleter, QListView, QPlainTextEdit, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ...language.assist import CompletionContext, CompletionKind, Suggestion, suggestions
from ...language.registry import CARET
from .. import theme

ROOM = int(Qt.ItemDataRole.UserRole)
WIDE, TALL, PICTURE = 380, 26, QSize(64, 34)


class _Row(QStyledItemDelegate):
    """Words at the left, what it is at the right, the target's picture between."""

    def __init__(self, parent: QListView, picture: Callable[[str], QPixmap | None]) -> None:
        super().__init__(parent)
        self.picture = picture

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        suggestion: Suggestion = index.data(ROOM)
        return QSize(WIDE, PICTURE.height() + 6 if suggestion.target else TALL)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        suggestion: Suggestion = index.data(ROOM)
        rect: QRect = option.rect
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.fillRect(rect, theme.LINE if chosen else theme.SHEET)
        left = rect.left() + 10
        pixmap = self.picture(suggestion.target) if suggestion.target else None
        if suggestion.target:
            frame = QRectF(left, rect.top() + 3, PICTURE.width(), PICTURE.height())
            painter.setPen(QPen(theme.RULE, 1))
            painter.drawRoundedRect(frame, 3, 3)
            if pixmap is not None and not pixmap.isNull():
                shown = pixmap.size().scaled(PICTURE, Qt.AspectRatioMode.KeepAspectRatio)
                x, y = frame.center().x() - shown.width() / 2, frame.center().y() - shown.height() / 2
                painter.drawPixmap(QRectF(x, y, shown.width(), shown.height()), pixmap, QRectF(pixmap.rect()))
            left += PICTURE.width() + 10
        about = suggestion.about or suggestion.kind.value
        painter.setFont(theme.font(theme.CAPTION))
        painter.setPen(theme.MUTED)
        wide = painter.fontMetrics().horizontalAdvance(about)
        painter.drawText(rect.adjusted(0, 0, -10, 0), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, about)
        painter.setFont(theme.font(theme.BODY, 600 if suggestion.kind in (CompletionKind.VERB, CompletionKind.BLOCK) else 400))
        painter.setPen(theme.INK)
        room = QRect(left, rect.top(), rect.right() - wide - 24 - left, rect.height())
        words = painter.fontMetrics().elidedText(suggestion.words, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)
        painter.restore()


class Completion:
    """Offers at the caret of an editor; `around` is what the script can name, `picture` a target's by its key."""

    def __init__(self, editor: QPlainTextEdit) -> None:
        self.editor = editor
        self.around = CompletionContext()
        self.picture: Callable[[str], QPixmap | None] = lambda key: None
        self._model = QStandardItemModel(editor)
        self._completer = QCompleter(self._model, editor)
        self._completer.setWidget(editor)
        self._completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        popup = QListView()
        popup.setAccessibleName("What may stand here")
        popup.setStyleSheet(f"QListView {{ background: {theme.SHEET.name()}; border: 1px solid {theme.RULE.name()}; }}")
        self._completer.setPopup(popup)
        popup.setItemDelegate(_Row(popup, lambda key: self.picture(key)))  # after setPopup, which gives it one of its own
        self._completer.setMaxVisibleItems(9)
        self._completer.activated[QModelIndex].connect(self._chosen)  # type: ignore[index]
        self._from = 0

    @property
    def open(self) -> bool:
        """Is the list there?"""
        popup = self._completer.popup()
        return popup is not None and popup.isVisible()

    def hide(self) -> None:
        """Away with it."""
        popup = self._completer.popup()
        if popup is not None:
            popup.hide()

    def offer(self, *, asked: bool) -> None:
        """The list for where the caret is; `asked` for, or because something was typed."""
        cursor = self.editor.textCursor()
        line, column = cursor.block().text(), cursor.positionInBlock()
        self._from, found = suggestions(line, column, self.around, asked=asked)
        typed = line[self._from : column]
        begun = len(typed.strip('"{')) >= 2 or typed[:1] in ('"', "{")  # a blank, or a line that is whole, asks for nothing
        if not found or not (asked or begun):
            self.hide()
            return
        self._model.clear()
        for each in found:
            item = QStandardItem(each.words)
            item.setData(each, ROOM)
            self._model.appendRow(item)
        place = self.editor.cursorRect()
        place.setWidth(WIDE)
        place.translate(self.editor.viewport().x(), 4)
        self._completer.complete(place)
        popup = self._completer.popup()
        if popup is not None:
            popup.setCurrentIndex(self._completer.completionModel().index(0, 0))

    def _chosen(self, index: QModelIndex) -> None:
        suggestion = index.data(ROOM)
        if isinstance(suggestion, Suggestion):
            self.put_in(suggestion)

    def put_in(self, suggestion: Suggestion) -> None:
        """Put it where it belongs; the caret comes to stand where one goes on."""
        cursor = self.editor.textCursor()
        line, column = cursor.block().text(), cursor.positionInBlock()
        indent = line[: len(line) - len(line.lstrip())]
        words = suggestion.insert.replace("\n", "\n" + indent)
        rest = line[column:]
        closing = rest.startswith('"') and words.rstrip().endswith('"') and line[self._from : self._from + 1] == '"'
        cursor.beginEditBlock()
        cursor.setPosition(cursor.block().position() + self._from)
        cursor.setPosition(cursor.block().position() + column + closing, QTextCursor.MoveMode.KeepAnchor)
        begin = cursor.selectionStart()
        cursor.insertText(words.replace(CARET, ""))
        cursor.endEditBlock()
        if CARET in words:
            cursor.setPosition(begin + words.index(CARET))
        self.editor.setTextCursor(cursor)
