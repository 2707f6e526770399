"""A sheet of paper over the window: a few questions that come before something begins or ends. Escape, or a click beside it, leaves it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPoint, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton, QRadioButton, QVBoxLayout, QWidget
from shiboken6 import isValid

from . import theme
from .parts import Label, named, press_focused

WASH = QColor(34, 38, 47, 70)


class Sheet(QWidget):
    """`body` takes what is asked. `accepted` when the main button is pressed, or Enter where no other button has the keys; `left` when it
    is closed without."""

    accepted = Signal()
    left = Signal()

    def __init__(self, title: str, main: str, parent: QWidget, width: int = 500) -> None:
        super().__init__(parent.window())
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._over = False
        self.card = named(QFrame(), "paper")
        self.card.setFixedWidth(width)
        self.card.setAccessibleName(title)
        heading = Label(title)
        heading.setFont(theme.font(theme.TITLE + 3, 600))
        heading.setWordWrap(True)
        self.body = QVBoxLayout()
        self.body.setSpacing(6)
        self.foot = QHBoxLayout()
        self.foot.setSpacing(8)
        self.foot.addStretch(1)
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self.leave)
        self.main = named(QPushButton(main), "main")
        self.main.clicked.connect(self.accept)
        self.foot.addWidget(self.cancel)
        self.foot.addWidget(self.main)
        column = QVBoxLayout(self.card)
        column.setContentsMargins(22, 20, 22, 18)
        column.setSpacing(12)
        column.addWidget(heading)
        column.addLayout(self.body)
        column.addLayout(self.foot)
        outer = QVBoxLayout(self)
        outer.addStretch(1)
        outer.addWidget(self.card, 0, Qt.AlignmentFlag.AlignHCenter)
        outer.addStretch(2)
        self._before = parent.window().focusWidget()
        parent.window().installEventFilter(self)

    def open(self, first: QWidget | None = None) -> None:
        """Show it; the keys are for its `first` widget, or its main button, or where that can do nothing yet, the other one."""
        parent = self.parentWidget()
        assert parent is not None
        self.setGeometry(parent.rect())
        self.show()
        self.raise_()
        (first or (self.main if self.main.isEnabled() else self.cancel)).setFocus(Qt.FocusReason.TabFocusReason)

    def accept(self) -> None:
        """As the main button does."""
        if self.main.isEnabled() and not self._over:
            self._end()
            self.accepted.emit()

    def leave(self) -> None:
        """Without doing anything."""
        if not self._over:
            self._end()
            self.left.emit()

    def _end(self) -> None:
        self._over = True
        self.hide()
        if self._before is not None and isValid(self._before):  # a tile of a bench that has changed is gone
            self._before.setFocus()
        self.close()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), WASH)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if not self.card.geometry().contains(event.position().toPoint()):
            self.leave()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not press_focused(self):
            self.accept()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride:  # no action of the window behind it
            event.accept()
            return True
        return super().event(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """The keys stay on the sheet, from top to bottom; of several choices the one that is taken has them."""
        stops = [
            w for w in self.card.findChildren(QWidget) if w.isVisible() and w.isEnabled() and w.focusPolicy() & Qt.FocusPolicy.TabFocus
        ]
        stops = [w for w in stops if not isinstance(w, QRadioButton) or w.isChecked()]
        stops.sort(key=lambda w: ((place := w.mapTo(self, QPoint(0, 0))).y() // 8, place.x()))
        focus = self.window().focusWidget()
        if stops:
            place = stops.index(focus) if focus in stops else -1
            stops[(place + (1 if forward else -1)) % len(stops)].setFocus(
                Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason
            )
        return True

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        parent = self.parentWidget()
        if event.type() == QEvent.Type.Resize and watched is parent and parent is not None:
            self.setGeometry(parent.rect())
        return False


def ask_name(parent: QWidget, title: str, main: str, name: str, done: Callable[[str], object]) -> None:
    """Ask for a name; `done` with what was given."""
    sheet = Sheet(title, main, parent, 420)
    field = QLineEdit(name)
    field.setAccessibleName("Name")
    field.selectAll()
    field.textChanged.connect(lambda words: sheet.main.setEnabled(bool(words.strip())))
    sheet.main.setEnabled(bool(name.strip()))
    sheet.body.addWidget(field)
    sheet.accepted.connect(lambda: done(" ".join(field.text().split())))
    sheet.open(field)
