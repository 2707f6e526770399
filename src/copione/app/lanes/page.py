"""The lanes page: filters, the lanes, and the loupe under the chosen column."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from ...comparison.finding import Finding
from ...model.address import Address
from ...model.outcome import Outcome
from ...model.take import TakeName
from ..actions import Entry, ShortcutScope
from ..loupe.view import Loupe
from ..page import RunPage
from ..parts import Label, checkable, named
from ..pictures import PictureCache
from ..renewing import Renewing
from ..shelf import Shelf
from ..workspace import Workspace
from .kept import RunsList
from .view import LanesView

if TYPE_CHECKING:
    from ...project.shelf import RunEntry


class LanesPage(RunPage):
    """Follows the run that is shown."""

    title = "Lanes"

    def __init__(self, workspace: Workspace, shelf: Shelf, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.shelf = shelf
        self.renewing = Renewing(self, workspace)
        self.kept = RunsList(shelf, self.renewing)
        self.kept.hide()
        self.view = LanesView(self.runs, pictures)
        self.loupe = Loupe(self.runs, pictures)
        self.loupe.hide()
        self.counts = named(Label(), "muted")
        self.only = checkable(QPushButton("Only steps that differ"))
        self.only.toggled.connect(self.view.set_only_different)
        self.smaller = QPushButton("Smaller")
        self.smaller.clicked.connect(lambda: self.zoom(False))
        self.larger = QPushButton("Larger")
        self.larger.clicked.connect(lambda: self.zoom(True))
        self.show_runs = checkable(QPushButton("Runs"))
        self.show_runs.setToolTip("The runs of this project (Ctrl+Shift+L)")
        self.show_runs.toggled.connect(self._show_runs)
        bar = QHBoxLayout()
        bar.setContentsMargins(14, 8, 12, 8)
        bar.setSpacing(8)
        bar.addWidget(self.show_runs)
        bar.addWidget(self.counts)
        bar.addStretch(1)
        for button in (self.only, self.smaller, self.larger):
            bar.addWidget(button)
        self._splitter = QSplitter(Qt.Orientation.Vertical)
        self._splitter.addWidget(self.view)
        self._splitter.addWidget(self.loupe)
        self._splitter.setStretchFactor(1, 1)
        self._splitter.setChildrenCollapsible(False)
        self.empty = named(Label("No run yet. Press Replay: every step on every device shows up here as it happens."), "muted")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self.kept)
        layout = QVBoxLayout()
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        across.addLayout(layout, 1)
        layout.addLayout(bar)
        layout.addWidget(self._splitter, 1)
        layout.addWidget(self.empty, 1)
        self.view.chosen.connect(self._chosen)
        self.runs.changed.connect(self._refresh)
        self.runs.state_changed.connect(self._state)
        self._refresh()

    # as a page

    def entries(self) -> Sequence[Entry]:
        """Filters, and the runs that are kept."""

        def of_chosen(act: Callable[[RunEntry], object]) -> Callable[[], object]:
            return lambda: act(entry) if (entry := self.kept.chosen()) is not None else None

        def listed() -> bool:
            return self.kept.isVisible() and self.kept.chosen() is not None

        def ended() -> bool:
            return bool(self.runs.lanes.columns) and not self.runs.running

        return [
            Entry("View", "Only steps that differ, or all again", "", self.only.toggle, lambda: self.only.isEnabled(), ShortcutScope.PAGE),
            Entry("View", "The runs of this project", "Ctrl+Shift+L", self.show_runs.toggle, scope=ShortcutScope.PAGE),
            Entry("Replay", "Compare with the run that is chosen", "", of_chosen(self.kept.compare_with), listed, ShortcutScope.PAGE),
            Entry(
                "Edit",
                "Take over what is meant so…",
                "Ctrl+Shift+J",
                self.renewing.ask_all,
                ended,
                ShortcutScope.PAGE,
                "a run that has ended",
            ),
            Entry("Replay", "Delete the run that is chosen", "Del", of_chosen(self.shelf.delete_run), listed, ShortcutScope.MENU),
        ]

    def _show_runs(self, there: bool) -> None:
        self.kept.setVisible(there)
        (self.kept.lines if there else self.view).setFocus()

    def undo(self) -> None:
        """A run that was deleted comes back."""
        self.shelf.bring_back("run")

    def zoom(self, larger: bool) -> None:
        """From marks to crops to whole screens."""
        self.view.set_zoom(self.view.zoom + (1 if larger else -1))

    def take_focus(self) -> None:
        """Arrow keys walk the cells."""
        self.view.setFocus()

    # what it shows

    def open_finding(self, finding: Finding) -> None:
        """Look at the first take that it is about."""
        self.view.choose(finding.takes[0], finding.address)

    def _refresh(self) -> None:
        lanes = self.runs.lanes
        there = bool(lanes.columns)
        self._splitter.setVisible(there)
        self.empty.setVisible(not there)
        for button in (self.only, self.smaller, self.larger):
            button.setEnabled(there)
        words = [f"{lanes.counts[o]} {o.value}" for o in Outcome if lanes.counts.get(o)]
        if self.runs.running:
            done, total = self.runs.progress
            words.insert(0, f"step {done} of {total}")
        self.counts.setText(" · ".join(words))

    def _chosen(self, _take: TakeName, address: Address) -> None:
        if self.loupe.isHidden():
            self.loupe.show()
            high = min(self.view.wanted_height(), int(self.height() * 0.6))
            self._splitter.setSizes([high, max(120, self.height() - high)])
        self.loupe.show_column(address)
        loaded = self.workspace.loaded
        if loaded is not None and loaded.script.name == self.runs.title:
            self.workspace.go_to(address.line)

    def _state(self) -> None:
        """After a run the worst column is chosen, so that the next look is where it matters."""
        self._refresh()
        if not self.runs.running and self.runs.news.findings:
            self.open_finding(self.runs.news.findings[0])
