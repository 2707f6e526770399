"""The portrait of the step's target: each piece of evidence, how unique, and where each device found it."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...model.outcome import Outcome, Result
from ...model.portrait import Portrait
from ...recognition.evidence import Piece, pieces
from .. import theme
from ..parts import Label, named
from ..wording import quoted


class PortraitPanel(QWidget):
    """Two tables and two buttons."""

    point_asked = Signal()
    check_asked = Signal()
    record_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setMinimumWidth(280)
        self._shown: Portrait | None = None
        self._caption = self._section("Portrait of the target")
        self._title = named(Label(), "title")
        self._title.setWordWrap(True)
        self._evidence = QGridLayout()
        self._found_title = self._section("Where it was found")
        self._found = QGridLayout()
        self.point = QPushButton("Point at another")
        self.point.setToolTip("Click another element in the frame, then press this")
        self.check = named(QPushButton("Check it"), "check")
        self.point.clicked.connect(self.point_asked)
        self.check.clicked.connect(self.check_asked)
        self._hint = named(Label(), "caption")
        self._hint.setWordWrap(True)
        buttons = QHBoxLayout()
        buttons.addWidget(self.point)
        buttons.addWidget(self.check)
        self.record = QPushButton("Record from here")
        self.record.setToolTip("Replay up to this step on the lead, then record what goes in behind it (Ctrl+H)")
        self.record.clicked.connect(self.record_asked)
        again = QHBoxLayout()
        again.addWidget(self.record)
        again.addStretch(1)
        buttons.addStretch(1)
        inner = named(QWidget(), "side")
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inner)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)
        layout = QVBoxLayout(inner)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(6)
        for item in (self._caption, self._title):
            layout.addWidget(item)
        layout.addLayout(self._evidence)
        layout.addSpacing(6)
        layout.addLayout(buttons)
        layout.addWidget(self._hint)
        layout.addLayout(again)
        layout.addSpacing(12)
        layout.addWidget(self._found_title)
        layout.addLayout(self._found)
        layout.addStretch(1)
        for grid in (self._evidence, self._found):
            grid.setHorizontalSpacing(10)
            grid.setVerticalSpacing(0)

    @staticmethod
    def _section(words: str) -> QLabel:
        label = named(Label(words), "caption")
        label.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        return label

    def show_step(self, words: str, portrait: Portrait | None, found: list[tuple[str, Result]], pick: str) -> None:
        """`words` name the target; `found` are devices with what became of the step; `pick` the element picked in the frame."""
        self._title.setText(quoted(words) if words else "This step has no target")
        self._shown = portrait
        if portrait is not None:
            self._evidenced(pieces(portrait))
        elif words:
            self._fill(self._evidence, [("role", words.split(" ")[0], "by hand", None), ("name", words.partition(" ")[2], "", None)])
        else:
            self._fill(self._evidence, [])
        self._found_title.setVisible(bool(found))
        self._fill(self._found, [(None, name, self._said(r), theme.OUTCOME_WORDS[r.outcome]) for name, r in found])
        self.point.setEnabled(portrait is not None and bool(pick))
        self.check.setEnabled(portrait is not None)
        self._hint.setText(
            f"Picked: {quoted(pick)}" if pick else "Click an element in the frame to point this step at it." if portrait else ""
        )

    def add_piece(self, portrait: Portrait, piece: Piece | None) -> None:
        """One more piece of evidence about the portrait that is shown, before its size and place."""
        if portrait is self._shown and piece is not None:
            told = pieces(portrait)
            self._evidenced([*told[:-2], piece, *told[-2:]])

    def _evidenced(self, told: list[Piece]) -> None:
        self._fill(self._evidence, [(p.kind, p.value, p.uniqueness, None) for p in told])

    @staticmethod
    def _said(result: Result) -> str:
        if result.outcome is Outcome.UNREACHED:
            return "not reached"
        if result.reason:
            return quoted(result.reason)
        return f"by {result.by}" if result.by else result.outcome.value

    def _fill(self, grid: QGridLayout, rows: list[tuple[str | None, str, str, object]]) -> None:
        while (item := grid.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.deleteLater()
        line = 0
        for kind, value, note, ink in rows:
            column = 0
            if kind is not None:
                grid.addWidget(named(Label(kind), "muted"), line, 0)
                column = 1
            label = Label(value)
            label.setFont(theme.font(theme.BODY, 600))
            label.setWordWrap(True)
            grid.addWidget(label, line, column)
            right = named(Label(note), "caption")
            right.setWordWrap(kind is None)
            right.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            if ink is not None:
                right.setStyleSheet(f"color: {ink.name()}; font-size: 12px;")  # type: ignore[attr-defined]
            right.setMinimumHeight(27)
            grid.addWidget(right, line, column + 1)
            rule = QFrame()
            rule.setFixedHeight(1)
            rule.setStyleSheet(f"background: {theme.RULE.name()};")
            grid.addWidget(rule, line + 1, 0, 1, column + 2)
            line += 2
        grid.setColumnStretch(1, 1)
