"""Widgets made in one expression."""

from __future__ import annotations

import html
from typing import TypeVar

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QMouseEvent
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from . import theme

W = TypeVar("W", bound=QWidget)
B = TypeVar("B", bound=QAbstractButton)


class Label(QLabel):
    """Words as they are: Qt would take some that a device says for rich text, and load what they name."""

    def __init__(self, words: str = "", *, rich: bool = False) -> None:
        """`rich`: the words are HTML of our own, in which everything else is escaped."""
        super().__init__(words)
        self.setTextFormat(Qt.TextFormat.RichText if rich else Qt.TextFormat.PlainText)


class OnceButton(QPushButton):
    """A button that means something else once it was pressed (replay, stop): a double click on it is one click."""

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        event.accept()


def press_focused(holder: QWidget) -> bool:
    """Press the button of a widget that has the keys, as Return does; False where none of its buttons has them."""
    focus = holder.window().focusWidget()
    if not isinstance(focus, QPushButton) or not holder.isAncestorOf(focus):
        return False
    focus.click()
    return True


def tip(widget: QWidget, words: str) -> None:
    """Words that stand by the pointer, as they are."""
    escaped = html.escape(words).replace("\n", "<br>")
    widget.setToolTip(f"<qt>{escaped}</qt>" if words else "")


def named(widget: W, name: str) -> W:
    """A widget under the name by which the style sheet knows it."""
    widget.setObjectName(name)
    return widget


def section(words: str) -> Label:
    """Small capitals over what belongs together."""
    label = named(Label(words), "section")
    label.setFont(theme.font(theme.CAPTION, 600, spaced=True))
    return label


def panel(name: str) -> QWidget:
    """An empty widget with the background that the style sheet gives that name."""
    widget = named(QWidget(), name)
    widget.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    return widget


def checkable(button: B) -> B:
    """A button that stays down."""
    button.setCheckable(True)
    return button


def to_copy(words: str, about: str) -> QHBoxLayout:
    """Words for a terminal or a file, to be read and copied."""
    line = QLineEdit(words, readOnly=True)
    line.setAccessibleName(f"Words to copy: {about}")
    line.setCursorPosition(0)
    copy = QPushButton("Copy")
    copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(words))
    row = QHBoxLayout()
    row.addWidget(line, 1)
    row.addWidget(copy)
    return row
