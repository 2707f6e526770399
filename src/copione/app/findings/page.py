"""The findings: what differs between devices, as sentences, worst first."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...comparison.findings import Finding
from ...model.outcome import Outcome
from .. import theme
from ..runs import Runs

_COUNTS = ("Nothing differs", "One thing differs", "Two things differ", "Three things differ", "Four things differ", "Five things differ")


class FindingsPage(QWidget):
    """`open_asked` with the step's number when a finding is to be looked at in the lanes."""

    open_asked = Signal(int)

    def __init__(self, runs: Runs, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs = runs
        self._headline = QLabel(objectName="headline")
        self._counts = QLabel(objectName="muted")
        head = QHBoxLayout()
        head.setContentsMargins(20, 18, 20, 12)
        head.setSpacing(14)
        head.addWidget(self._headline)
        head.addWidget(self._counts)
        head.addStretch(1)
        self._list = QVBoxLayout()
        self._list.setContentsMargins(20, 0, 20, 20)
        self._list.setSpacing(10)
        holder = QWidget()
        holder.setLayout(self._list)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(head)
        layout.addWidget(scroll, 1)
        runs.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        found, lanes = self.runs.findings, self.runs.lanes
        if not lanes.columns:
            self._headline.setText("No run yet")
            self._counts.setText("Replay a script on two devices or more: what differs between them is explained here.")
        else:
            words = _COUNTS[len(found)] if len(found) < len(_COUNTS) else f"{len(found)} things differ"
            self._headline.setText(f"{words} between devices")
            counts = lanes.counts()
            self._counts.setText(
                " · ".join([f"{sum(counts.values())} outcomes", *(f"{counts[o]} {o.value}" for o in Outcome if counts[o])])
            )
        while (item := self._list.takeAt(0)) is not None:
            if item.widget() is not None:
                item.widget().deleteLater()
        for finding in found:
            self._list.addWidget(self._card(finding))
        self._list.addStretch(1)

    def _card(self, finding: Finding) -> QFrame:
        card = QFrame(objectName="card")
        card.setMaximumWidth(900)
        flag = QLabel("slow" if finding.outcome is Outcome.HELD else finding.outcome.value)
        ink = theme.OUTCOMES[finding.outcome].name()
        flag.setStyleSheet(
            f"background: {ink}; color: {theme.SHEET.name()}; border-radius: 3px; padding: 1px 7px; font-size: 11px; font-weight: 600;"
        )
        title = QLabel(finding.title, objectName="title")
        title.setWordWrap(True)
        title.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        detail = QLabel(finding.detail, objectName="muted")
        detail.setWordWrap(True)
        look = QPushButton("Look at it in the lanes")
        look.clicked.connect(lambda: self.open_asked.emit(finding.number))
        layout = QVBoxLayout(card)
        layout.setContentsMargins(16, 12, 16, 14)
        layout.setSpacing(5)
        for widget in (flag, title, detail):
            layout.addWidget(widget, 0, Qt.AlignmentFlag.AlignLeft if widget is flag else Qt.AlignmentFlag(0))
        if finding.apart:
            apart = QLabel(finding.apart)
            apart.setWordWrap(True)
            layout.addWidget(apart)
        layout.addSpacing(4)
        layout.addWidget(look, 0, Qt.AlignmentFlag.AlignLeft)
        return card
