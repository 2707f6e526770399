"""The few likely checks for an element, numbered; one key takes one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from ...language.printer import step_words
from ...model.screen import Element
from .. import theme
from ..parts import Label
from ..wording import quoted
from .mirror import EASE

if TYPE_CHECKING:
    from ...recording.intent import Meaning

MOST = 9  # one key takes one
GAP, EDGE = 12, 8


class CheckChoice(QFrame):
    """Opens beside an element; closes by a choice, Escape, or a click elsewhere."""

    taken = Signal(object)  # Meaning
    closed = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("popup")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumWidth(250)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 10, 12, 10)
        self._layout.setSpacing(1)
        self._meanings: list[Meaning] = []
        self.hide()

    def open(self, element: Element, meanings: list[Meaning], bars: int, clear: QRect) -> None:
        """The checks of an element that is so easy to find again (1 to 3); `clear` is where it is, which stays in sight."""
        same = sum(1 for other in element.screen if other.name == element.name and other.role == element.role)
        note = f"{'only one on this screen' if same <= 1 else f'1 of {same} on this screen'} · {EASE[bars]}"
        self.offer(element.called, note, meanings[:MOST], clear)

    def offer(self, words: str, remark: str, meanings: list[Meaning], clear: QRect) -> None:
        """Under a title and a remark, the checks by number, beside what they are about."""
        self.setVisible(False)
        while (item := self._layout.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.deleteLater()
        self._meanings = meanings
        title = Label(words)
        title.setFont(theme.font(theme.BODY, 700))
        self.remark = Label(remark)
        self.remark.setObjectName("caption")
        self._layout.addWidget(title)
        self._layout.addWidget(self.remark)
        self._layout.addSpacing(4)
        for number, meaning in enumerate(self._meanings, 1):
            said = quoted(step_words(meaning.step).removeprefix("check ").removesuffix(" allow place"))
            button = QPushButton(f"{number}   {said}")
            button.setObjectName("link")
            button.setStyleSheet(f"text-align: left; color: {theme.CHECK.name()}; padding: 4px 2px;")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _checked=False, m=meaning: self._take(m))
            self._layout.addWidget(button)
        if not self._meanings:
            self._layout.addWidget(Label("There is nothing to check here."))
        self.adjustSize()
        parent = self.parentWidget()
        assert parent is not None
        self.move(beside(clear, self.size(), parent.size()))
        self.show()
        self.raise_()
        self.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        text = event.text()
        if text.isdigit() and 1 <= int(text) <= len(self._meanings):
            self._take(self._meanings[int(text) - 1])
        elif event.key() == Qt.Key.Key_Escape:
            self._close()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, _event: object) -> None:
        if self.isVisible():
            self._close()

    def _take(self, meaning: Meaning) -> None:
        self._close()
        self.taken.emit(meaning)

    def _close(self) -> None:
        self.hide()
        self.closed.emit()


def beside(clear: QRect, size: QSize, room: QSize) -> QPoint:
    """Where something of that size stands beside what is to stay in sight, all of it within the room: at the right, else at the left,
    under, over; where there is no such place, in the corner that is farthest away."""
    right, bottom = room.width() - size.width() - EDGE, room.height() - size.height() - EDGE
    level, across = min(max(EDGE, clear.top()), max(EDGE, bottom)), min(max(EDGE, clear.left()), max(EDGE, right))
    for place in (
        QPoint(clear.right() + GAP, level),
        QPoint(clear.left() - GAP - size.width(), level),
        QPoint(across, clear.bottom() + GAP),
        QPoint(across, clear.top() - GAP - size.height()),
    ):
        if EDGE <= place.x() <= right and EDGE <= place.y() <= bottom:
            return place
    middle = clear.center()
    return QPoint(
        EDGE if middle.x() > room.width() / 2 else max(EDGE, right), EDGE if middle.y() > room.height() / 2 else max(EDGE, bottom)
    )
