"""The lanes page: filters, the lanes, and the loupe under the chosen column."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSplitter, QVBoxLayout, QWidget

from ...model.outcome import Outcome
from ..loupe.view import Loupe
from ..pictures import Pictures
from ..workspace import Workspace
from .view import LanesView


class LanesPage(QWidget):
    """Follows the run that is shown."""

    def __init__(self, workspace: Workspace, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.runs = workspace.runs
        self.view = LanesView(self.runs, pictures)
        self.loupe = Loupe(self.runs, pictures)
        self.loupe.hide()
        self.counts = QLabel(objectName="muted")
        self.only = QPushButton("Only steps that differ", checkable=True)
        self.only.toggled.connect(self.view.set_only_different)
        self.smaller = QPushButton("Smaller")
        self.smaller.clicked.connect(lambda: self.view.set_zoom(self.view.zoom - 1))
        self.larger = QPushButton("Larger")
        self.larger.clicked.connect(lambda: self.view.set_zoom(self.view.zoom + 1))
        bar = QHBoxLayout()
        bar.setContentsMargins(14, 8, 12, 8)
        bar.setSpacing(8)
        bar.addWidget(self.counts)
        bar.addStretch(1)
        for button in (self.only, self.smaller, self.larger):
            bar.addWidget(button)
        self.splitter = QSplitter(Qt.Orientation.Vertical)
        self.splitter.addWidget(self.view)
        self.splitter.addWidget(self.loupe)
        self.splitter.setStretchFactor(1, 1)
        self.splitter.setChildrenCollapsible(False)
        self.empty = QLabel("No run yet. Press Replay: every step on every device shows up here as it happens.", objectName="muted")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(bar)
        layout.addWidget(self.splitter, 1)
        layout.addWidget(self.empty, 1)
        self.view.chosen.connect(self._chosen)
        self.runs.changed.connect(self._refresh)
        self.runs.state_changed.connect(self._ended)
        self._refresh()

    def _refresh(self) -> None:
        lanes = self.runs.lanes
        there = bool(lanes.columns)
        self.splitter.setVisible(there)
        self.empty.setVisible(not there)
        for button in (self.only, self.smaller, self.larger):
            button.setEnabled(there)
        counts = lanes.counts()
        words = [f"{counts[o]} {o.value}" for o in Outcome if counts[o]]
        if self.runs.running:
            done, total = self.runs.progress
            words.insert(0, f"step {done} of {total}")
        self.counts.setText(" · ".join(words))

    def _chosen(self, _lane: int, column: int) -> None:
        if self.loupe.isHidden():
            self.loupe.show()
            high = min(self.view.wanted_height(), int(self.height() * 0.6))
            self.splitter.setSizes([high, max(120, self.height() - high)])
        self.loupe.show_column(column)
        lanes = self.runs.lanes
        loaded = self.workspace.loaded
        result = next((lane.results[column] for lane in lanes.lanes if column < len(lane.results)), None)
        if loaded is not None and result is not None and loaded.script.name == self.runs.title:
            self.workspace.go_to(result.line)

    def _ended(self) -> None:
        """After a run the worst column is chosen, so that the next look is where it matters."""
        self._refresh()
        if not self.runs.running and self.runs.findings:
            finding = self.runs.findings[0]
            lanes = list(self.runs.lanes.lanes)
            self.view.choose(lanes.index(finding.lanes[0]) if finding.lanes[0] in lanes else 0, finding.number - 1)
