"""What is known of an element: its portraits, by what it is known, where it is used, how it fared."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ...model.outcome import Outcome
from ...model.portrait import Portrait
from ...recognition.evidence import pieces
from .. import theme
from ..parts import Label, named, section, tip
from ..wording import quoted

if TYPE_CHECKING:
    from ...project.elements import KnownElement


class KnownView(QWidget):
    """`turned` when another one of its portraits is asked for; `use_asked` with a script and a line to look at."""

    turned = Signal(int)
    use_asked = Signal(object, int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._portraits, self._evidence, self._uses, self._fared = QHBoxLayout(), QGridLayout(), QVBoxLayout(), QGridLayout()
        self._headings = [section(words) for words in ("Portraits", "Known by", "Used in", "How it fared")]
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        for heading, layout in zip(self._headings, (self._portraits, self._evidence, self._uses, self._fared), strict=True):
            column.addSpacing(6)
            column.addWidget(heading)
            column.addLayout(layout)
        for grid in (self._evidence, self._fared):
            grid.setHorizontalSpacing(12)
            grid.setVerticalSpacing(4)
            grid.setColumnStretch(1 if grid is self._evidence else 2, 1)

    def show_element(self, element: KnownElement, portrait: int) -> None:
        """An element, and which one of its portraits."""
        for layout in (self._portraits, self._evidence, self._uses, self._fared):
            _clear(layout)
        self._show_portraits(element, portrait)
        for use in element.uses:
            button = named(QPushButton(f"{use.path.stem}, line {use.line}:  {quoted(use.words)[:52]}"), "link")
            button.setStyleSheet("text-align: left;")
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # what is too long is cut, not the panel widened
            tip(button, use.words)
            button.clicked.connect(lambda _checked=False, u=use: self.use_asked.emit(u.path, u.line))
            self._uses.addWidget(button)
        if not element.uses:
            self._uses.addWidget(named(Label("No step names it."), "muted"))
        for row, fared in enumerate(element.fared):
            self._fared.addWidget(Label(fared.device), row, 0)
            self._fared.addWidget(named(Label(f"build {fared.build}" if fared.build else ""), "caption"), row, 1)
            said = ", ".join(f"{fared.counts[o]} {o.value}" for o in Outcome if fared.counts.get(o))
            worst = next((o for o in (Outcome.STUCK, Outcome.DIFFERS, Outcome.ADAPTED) if fared.counts.get(o)), Outcome.HELD)
            label = Label(said)
            label.setStyleSheet(f"color: {theme.OUTCOME_WORDS[worst].name()};")
            self._fared.addWidget(label, row, 2)
        self._headings[3].setVisible(bool(element.fared))

    def _show_portraits(self, element: KnownElement, chosen: int) -> None:
        many = element.portraits
        self._headings[0].setVisible(len(many) > 1)
        for number, (path, portrait) in enumerate(many if len(many) > 1 else ()):
            button = named(QPushButton(portrait.device or path.stem), "table")
            button.setCheckable(True)
            button.setChecked(number == chosen)
            button.setToolTip(_about(path.stem, portrait))
            button.clicked.connect(lambda _checked=False, n=number: self.turned.emit(n))
            self._portraits.addWidget(button)
        self._portraits.addStretch(1)
        self._headings[1].setVisible(bool(many))
        for row, piece in enumerate(pieces(many[chosen][1]) if many else ()):
            self._evidence.addWidget(named(Label(piece.kind), "muted"), row, 0)
            value = Label(piece.value)
            value.setWordWrap(True)
            self._evidence.addWidget(value, row, 1)
            self._evidence.addWidget(named(Label(piece.uniqueness), "caption"), row, 2)


def _about(script: str, portrait: Portrait) -> str:
    build = f"build {portrait.build}" if portrait.build else ""
    return ", ".join(filter(None, (f"beside {script}", portrait.device, build, portrait.locale)))


def _clear(layout: QHBoxLayout | QVBoxLayout | QGridLayout) -> None:
    while (item := layout.takeAt(0)) is not None:
        old = item.widget()
        if old is not None:
            old.hide()
            old.deleteLater()
