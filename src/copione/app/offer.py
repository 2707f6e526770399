"""A line that offers a recording that was cut short: to go on with, or to throw away."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from .workspace import Workspace


class Offer(QWidget):
    """Shows itself where there is a recording to offer and a phone to go on with it."""

    taken = Signal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(objectName="sheet")
        self.workspace = workspace
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 14, 7)
        self.words = QLabel()
        go_on = QPushButton("Go on with it")
        go_on.clicked.connect(self.take)
        drop = QPushButton("Throw it away")
        drop.clicked.connect(self.drop)
        row.addWidget(self.words, 1)
        row.addWidget(go_on)
        row.addWidget(drop)
        self.hide()
        workspace.devices_changed.connect(self.look)
        workspace.lead.recording_changed.connect(self.look)

    def look(self) -> None:
        """Is there something to offer now?"""
        lead = self.workspace.lead
        found = self.workspace.recovered() if lead.device is not None and not lead.recording else []
        self.setVisible(bool(found))
        if found:
            when = time.strftime("%d %B, %H:%M", time.localtime(found[0].started))
            self.words.setText(f"A recording of {when} was cut short. Its {len(found[0].steps)} steps are here.")

    def take(self) -> None:
        """Go on with the newest recording that was cut short."""
        found = self.workspace.recovered()
        if found:
            self.taken.emit()
            self.workspace.lead.start(self.workspace.project, found[0])

    def drop(self) -> None:
        from ..recording.session import throw_away

        for each in self.workspace.recovered()[:1]:
            throw_away(each)
        self.look()
