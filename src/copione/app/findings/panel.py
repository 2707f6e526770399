"""The chosen finding: what sets its devices apart, how its step went before, and the write-up."""

from __future__ import annotations

import base64
from typing import TYPE_CHECKING

from PySide6.QtCore import QMimeData, QSize, Qt, Signal
from PySide6.QtGui import QGuiApplication, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...comparison.evidence import dots_of
from ...comparison.finding import Finding
from ...comparison.standing import FindingStanding
from ...comparison.wording import device_names
from .. import theme
from ..parts import Label, named, section
from ..renewing import Renewing
from ..wording import quoted
from ..workspace import Workspace
from .known import KnownFindings
from .strips import DotsLine, HistoryStrip

if TYPE_CHECKING:
    from ...project.history import History
    from ...report.writeup import WriteUp

MOST_STEPS = 12
COPIED_PX = 520  # width of a picture that is copied


class FindingPanel(QWidget):
    """What is told of it scrolls; what can be done with it stays in sight.

    `expect_asked` with the finding, `open_asked` with the one to be looked at in the lanes, `renew_asked` with the one that is meant so.
    """

    expect_asked = Signal(object)
    back_asked = Signal(object)
    open_asked = Signal(object)
    save_asked = Signal(object)
    renew_asked = Signal(object)

    def __init__(self, workspace: Workspace, known: KnownFindings, renewing: Renewing) -> None:
        super().__init__()
        self.workspace, self.runs, self.known, self.renewing = workspace, workspace.runs, known, renewing
        self.standing: FindingStanding | None = None
        self._told: WriteUp | None = None
        self._turn = 0
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setAccessibleName("The chosen finding")
        self._foot = QHBoxLayout()
        self._foot.setContentsMargins(20, 10, 20, 14)
        self._foot.setSpacing(8)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.area, 1)
        column.addLayout(self._foot)
        self._empty()

    def sizeHint(self) -> QSize:
        return QSize(490, 600)

    def _fresh(self) -> QVBoxLayout:
        holder = QWidget()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(7)
        self.area.setWidget(holder)
        while (item := self._foot.takeAt(0)) is not None:
            button = item.widget()
            if button is not None:
                button.hide()
                button.deleteLater()
        return layout

    def _empty(self) -> None:
        layout = self._fresh()
        layout.addStretch(1)

    def show_finding(self, standing: FindingStanding | None) -> None:
        """That one; nothing for None."""
        if standing == self.standing and standing is not None:
            return
        self.standing, self._told = standing, None
        self._turn += 1  # what comes for the one before is left
        turn = self._turn
        if standing is None:
            self._empty()
            return
        finding = standing.finding
        layout = self._fresh()
        self._evidence(layout, finding)
        self._past = QVBoxLayout()
        layout.addLayout(self._past)
        layout.addSpacing(4)
        layout.addWidget(section("Write it up"))
        self._card = named(QFrame(), "card")
        self._text = QVBoxLayout(self._card)
        self._text.setContentsMargins(14, 12, 14, 12)
        self._text.setSpacing(4)
        layout.addWidget(self._card)
        if self.renewing.place(finding) is not None:
            meant = named(QPushButton("Meant so? Take it over into the script…"), "link")
            meant.clicked.connect(lambda: self.renew_asked.emit(standing))
            layout.addWidget(meant, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addStretch(1)
        self._buttons(standing)
        self.known.history(finding, lambda found: self._history(turn, finding, found))
        lanes = self.runs.lanes

        def write() -> WriteUp:
            from ...report.writeup import write_up

            return write_up(lanes, finding)

        self.workspace.courier.think(write, lambda told: self._written(turn, told), self.workspace.failed)

    def _evidence(self, layout: QVBoxLayout, finding: Finding) -> None:
        who = device_names(finding.devices)
        layout.addWidget(section(f"What sets {who} apart"))
        for line in dots_of(finding):
            layout.addWidget(DotsLine(line))
        words = finding.apart or "No device passed this step: there is nothing to compare with."
        layout.addWidget(_wrapped(words, "muted"))
        layout.addSpacing(6)

    def _history(self, turn: int, finding: Finding, found: tuple[History, ...]) -> None:
        if turn != self._turn or not found or len(found[0].entries) < 2:
            return
        history = found[0]
        self._past.addWidget(section(f"Step {finding.number} on {history.device}, last {min(12, len(history.entries))} runs"))
        self._past.addWidget(HistoryStrip(history))

    def _written(self, turn: int, told: WriteUp) -> None:
        if turn != self._turn:
            return
        self._told = told
        title = _wrapped(quoted(told.title))
        title.setFont(theme.font(14, 600))
        self._text.addWidget(title)
        left = len(told.steps) - MOST_STEPS
        if left > 0:
            self._text.addWidget(_wrapped(f"{left} steps before these", "caption"))
        for number, step in list(enumerate(told.steps, 1))[max(0, left) :]:
            self._text.addWidget(_wrapped(f"{number}.  {step}"))
        self._text.addSpacing(3)
        for name, words in (("Expected", told.expected), ("Seen", told.seen)):
            if words:
                self._text.addWidget(_wrapped(f"{name}: {words}"))
        pictures = f"{len(told.pictures)} picture{'' if len(told.pictures) == 1 else 's'}"
        parts = [told.devices, f"build {told.build}" if told.build else "", pictures]
        parts += [f"{len(told.log)} lines of log" if told.log else "", f"{len(told.lines)} lines to replay just this"]
        self._text.addWidget(_wrapped(" · ".join(filter(None, parts)), "muted"))
        self.copy.setEnabled(True)

    def _buttons(self, standing: FindingStanding) -> None:
        finding = standing.finding
        self.copy = named(QPushButton("Copy"), "main")
        self.copy.setEnabled(False)
        self.copy.clicked.connect(self.copy_write_up)
        save = QPushButton("Save as Markdown")
        save.clicked.connect(lambda: self.save_asked.emit((finding,)))
        if standing.expected:
            expect = QPushButton("Not expected any more")
            expect.clicked.connect(lambda: self.back_asked.emit(finding))
        else:
            expect = QPushButton("Expected here…")
            expect.clicked.connect(lambda: self.expect_asked.emit(finding))
        look = QPushButton("Show in lanes")
        look.clicked.connect(lambda: self.open_asked.emit(finding))
        for button in (self.copy, save, expect, look):
            self._foot.addWidget(button)
        self._foot.addStretch(1)

    def copy_write_up(self) -> None:
        """As HTML with its pictures, and as Markdown."""
        told = self._told
        if told is None:
            return

        def made() -> tuple[str, str]:
            from ...report.writeup import as_html, markdown, marked

            pictures = []
            for shown in told.pictures:
                data = marked(shown, COPIED_PX)
                if data is not None:
                    pictures.append(("data:image/png;base64," + base64.b64encode(data).decode(), shown.device))
            return as_html(told, pictures), markdown(told)

        def copied(both: tuple[str, str]) -> None:
            data = QMimeData()
            data.setHtml(both[0])
            data.setText(both[1])
            QGuiApplication.clipboard().setMimeData(data)
            self.workspace.told.emit("The write-up is on the clipboard, with its pictures.")

        self.workspace.courier.think(made, copied, self.workspace.failed)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        holder = self.area.widget()
        if holder is not None:
            holder.setMaximumWidth(self.area.viewport().width())


def _wrapped(words: str, name: str = "") -> Label:
    label = Label(words)
    label.setWordWrap(True)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return named(label, name) if name else label
