"""Widgets made in one expression."""

from __future__ import annotations

from typing import TypeVar

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractButton, QWidget

W = TypeVar("W", bound=QWidget)
B = TypeVar("B", bound=QAbstractButton)


def named(widget: W, name: str) -> W:
    """A widget under the name by which the style sheet knows it."""
    widget.setObjectName(name)
    return widget


def panel(name: str) -> QWidget:
    """An empty widget with the background that the style sheet gives that name."""
    widget = named(QWidget(), name)
    widget.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    return widget


def checkable(button: B) -> B:
    """A button that stays down."""
    button.setCheckable(True)
    return button
