"""A message over the window's edge: it moves nothing, stays as long as it takes to read, and has its way out."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, QPoint, Qt, QTimer
from PySide6.QtGui import QCursor, QEnterEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from .parts import Label, named

LEAST_S, PER_LETTER_S = 5.0, 0.07  # how long it takes to notice and to read
MOST = 3  # sentences at a time
WIDTH, EDGE = 440, 14


@dataclass(frozen=True)
class Notice:
    """Something that is told: the words, and what can be done about it, each a button."""

    words: str
    ways: tuple[tuple[str, Callable[[], object]], ...] = ()


class Message(QFrame):
    """Lies over the lower right corner of what is the page just now, or the upper one where the pointer is just there."""

    def __init__(self, page: QWidget, parent: QWidget) -> None:
        super().__init__(parent)
        self._page = page
        self.setObjectName("message")
        self.label = Label()
        self.label.setWordWrap(True)
        self.close_ = named(QPushButton("Close"), "link")
        self.close_.clicked.connect(self.dismiss)
        self._told: list[tuple[Notice, float]] = []  # and until when
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(14, 10, 8, 10)
        self._row.setSpacing(8)
        self._row.addWidget(self.label, 1)
        self._row.addWidget(self.close_, 0, Qt.AlignmentFlag.AlignTop)
        self._ways: list[QPushButton] = []
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._pass)
        page.installEventFilter(self)
        self.hide()

    def tell(self, told: Notice) -> None:
        """Say something; what was said just before stays until it can have been read."""
        now = time.monotonic()
        self._told = [each for each in self._told if each[1] > now and each[0].words != told.words and not each[0].ways][-(MOST - 1) :]
        self._told.append((told, now + LEAST_S + PER_LETTER_S * len(told.words)))
        self._show()

    def dismiss(self) -> None:
        """Nothing more is to be said."""
        self._told = []
        self._show()

    def _pass(self) -> None:
        if self.underMouse():
            return  # it goes on when the pointer leaves
        now = time.monotonic()
        self._told = [each for each in self._told if each[1] > now]
        self._show()

    def _show(self) -> None:
        for button in self._ways:
            self._row.removeWidget(button)
            button.deleteLater()
        self._ways = []
        if not self._told:
            self._timer.stop()
            self.hide()
            return
        self.label.setText("\n".join(told.words for told, _ in self._told))
        for words, act in self._told[-1][0].ways:
            button = QPushButton(words)
            button.clicked.connect(lambda _checked=False, act=act: self._take(act))
            self._row.insertWidget(self._row.count() - 1, button, 0, Qt.AlignmentFlag.AlignTop)
            self._ways.append(button)
        self._timer.start(max(500, int(1000 * (min(until for _, until in self._told) - time.monotonic()))))
        self.show()
        self._place(QCursor.pos())
        self.raise_()

    def _take(self, act: Callable[[], object]) -> None:
        self.dismiss()
        act()

    def _place(self, pointer: QPoint) -> None:
        """Lower right; above where a finger is at work there."""
        room = self._page.geometry()
        wide = min(WIDTH, room.width() - 2 * EDGE)
        self.setFixedWidth(wide)
        self._row.activate()
        self.resize(wide, max(self.heightForWidth(wide), self.sizeHint().height()))
        place = QPoint(room.right() - wide - EDGE, room.bottom() - self.height() - EDGE)
        here = self._page.mapFromGlobal(pointer) + room.topLeft()
        if self.rect().translated(place).adjusted(-8, -8, 8, 8).contains(here):
            place.setY(room.top() + EDGE)
        self.move(place)

    def enterEvent(self, event: QEnterEvent) -> None:
        self._timer.stop()
        super().enterEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self._timer.start(int(1000 * LEAST_S))
        super().leaveEvent(event)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and watched is self._page and self.isVisible():
            self._place(QPoint(-1, -1))
        return False
