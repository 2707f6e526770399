"""A line that offers a recording that was cut short: to go on with, or to throw away."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from .message import EDGE
from .parts import Label

if TYPE_CHECKING:
    from .workspace import Workspace

WIDTH = 420


class Offer(QFrame):
    """Shows itself over the page's upper right corner, where there is a recording to offer and a phone to go on with it."""

    taken = Signal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("message")
        self.workspace = workspace
        self._page: QWidget | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        column.setSpacing(8)
        row = QHBoxLayout()
        self.words = Label()
        self.words.setWordWrap(True)
        self.go_on = QPushButton("Go on with it")
        self.go_on.clicked.connect(self._take)
        self.drop = QPushButton("Throw it away")
        self.drop.clicked.connect(workspace.unfinished.throw_away)
        column.addWidget(self.words)
        column.addLayout(row)
        row.addWidget(self.go_on)
        row.addWidget(self.drop)
        row.addStretch(1)
        self.hide()
        workspace.unfinished.changed.connect(self._refresh)
        workspace.devices_changed.connect(self._refresh)
        workspace.recorder.state_changed.connect(self._refresh)

    def _refresh(self) -> None:
        found = self.workspace.unfinished.newest
        ready = self.workspace.lead.device is not None and not self.workspace.recorder.active
        if found is not None:
            when = time.strftime("%d %B, %H:%M", time.localtime(found.started))
            self.words.setText(f"A recording of {when} was cut short. Its {len(found.steps)} steps are here.")
        self.setVisible(found is not None and ready)
        self._place()

    def lie_over(self, page: QWidget, parent: QWidget) -> None:
        """Over that, wherever its corner goes."""
        self._page = page
        self.setParent(parent)
        page.installEventFilter(self)

    def _place(self) -> None:
        if self._page is not None and self.isVisible():
            room = self._page.geometry()
            self.setFixedWidth(min(WIDTH, room.width() - 2 * EDGE))
            self.adjustSize()
            self.move(room.right() - self.width() - EDGE, room.top() + EDGE)
            self.raise_()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and watched is self._page:
            self._place()
        return False

    def _take(self) -> None:
        self.taken.emit()
        self.workspace.unfinished.go_on()
