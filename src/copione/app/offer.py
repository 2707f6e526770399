"""A line that offers a recording that was cut short: to go on with, or to throw away."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from .parts import Label
from .workspace import Workspace


class Offer(QWidget):
    """Shows itself where there is a recording to offer and a phone to go on with it."""

    taken = Signal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.workspace = workspace
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 14, 7)
        self.words = Label()
        self.go_on = QPushButton("Go on with it")
        self.go_on.clicked.connect(self._take)
        self.drop = QPushButton("Throw it away")
        self.drop.clicked.connect(workspace.throw_unfinished_away)
        row.addWidget(self.words, 1)
        row.addWidget(self.go_on)
        row.addWidget(self.drop)
        self.hide()
        workspace.offer_changed.connect(self._refresh)
        workspace.devices_changed.connect(self._refresh)
        workspace.recorder.state_changed.connect(self._refresh)

    def _refresh(self) -> None:
        found = self.workspace.unfinished
        ready = self.workspace.lead.device is not None and not self.workspace.recorder.active
        self.setVisible(found is not None and ready)
        if found is not None:
            when = time.strftime("%d %B, %H:%M", time.localtime(found.started))
            self.words.setText(f"A recording of {when} was cut short. Its {len(found.steps)} steps are here.")

    def _take(self) -> None:
        self.taken.emit()
        self.workspace.go_on_recording()
