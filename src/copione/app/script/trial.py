"""A trial beside the text: where it stands, what stands in each variable, what it became of, and what can be done where it is stuck."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QFrame, QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...language.printer import step_words
from ...model.outcome import Outcome
from ...model.reading import BranchTaken
from ...model.screen import Element
from .. import theme
from ..courier import Courier
from ..parts import Label, named, panel, section
from ..pictures import fitted
from ..stage import marks
from ..trials import Trials
from ..wording import quoted, way_said

if TYPE_CHECKING:
    from ...replay.trial import Tried


class NowView(QWidget):
    """The device's screen as the newest step left it: what was done is marked, likely elements are outlined, and one can be clicked."""

    picked = Signal(object)

    def __init__(self, courier: Courier, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._courier = courier
        self._wanted: Tried | None = None  # its picture is being decoded
        self.tried: Tried | None = None
        self._image = QImage()
        self._hover: Element | None = None
        self.setMouseTracking(True)
        self.setAccessibleName("The device's screen now")

    def show_tried(self, tried: Tried | None) -> None:
        """What it led to, once its picture is decoded; what was shown before stays until then."""
        if tried is self._wanted:
            return
        self._wanted = tried
        png = tried.moment.png if tried is not None and tried.moment is not None else b""
        if png:
            self._courier.think_newest("what was tried", lambda: QImage.fromData(png), lambda image: self._show(tried, image))
        else:
            self._show(tried, QImage())

    def _show(self, tried: Tried | None, image: QImage) -> None:
        if tried is self._wanted:
            self.tried, self._image, self._hover = tried, image, None
            self.update()

    def glass(self) -> QRectF:
        if self._image.isNull():
            return QRectF()
        room = QRectF(self.rect()).adjusted(10, 12, -10, -12)
        scale = min(room.width() / self._image.width(), room.height() / self._image.height())
        wide, tall = self._image.width() * scale, self._image.height() * scale
        return QRectF(room.center().x() - wide / 2, room.top(), wide, tall)

    def _box(self, element: Element) -> QRectF:
        glass = self.glass()
        k = glass.width() / element.screen.width
        b = element.box
        return QRectF(glass.left() + b.left * k, glass.top() + b.top * k, b.width * k, b.height * k).intersected(glass)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        glass = self.glass()
        if glass.isEmpty() or self.tried is None:
            return
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(glass.adjusted(-6, -6, 6, 6), 12, 12)
        painter.drawImage(glass, fitted(self._image, glass.size(), self.devicePixelRatioF()))
        result = self.tried.result
        here = self.tried.moment.screen if self.tried.moment is not None else None
        if self.tried.element is not None and self.tried.element.screen is here:
            ink = theme.CHECK if result.verb == "check" else theme.TOUCH
            marks.outline(painter, self._box(self.tried.element), ink, 2)
        for element, _ in self.tried.near:
            marks.outline(painter, self._box(element), theme.OUTCOMES[Outcome.STUCK], 1.6, dashed=True)
        if self._hover is not None:
            marks.outline(painter, self._box(self._hover), theme.INK, 2)

    def _at(self, point: QPointF) -> Element | None:
        from ...recording.checks import checkable

        glass = self.glass()
        screen = self.tried.moment.screen if self.tried is not None and self.tried.moment is not None else None
        if screen is None or not glass.contains(point):
            return None
        k = screen.width / glass.width()
        return checkable(screen, (point.x() - glass.left()) * k, (point.y() - glass.top()) * k)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        if found != self._hover:
            self._hover = found
            self.setToolTip(quoted(found.called) if found is not None else "")
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        if found is not None:
            self.picked.emit(found)


class TrialPanel(QWidget):
    """At the right of the text while something is tried, or was."""

    closed = Signal()
    pointed = Signal(object, object)  # what was tried, and the element that is meant
    again_asked = Signal(int)  # try from that line on

    def __init__(self, trials: Trials, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.trials = trials
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setMinimumWidth(280)
        self._where = section("")
        self._state = named(Label(), "title")
        self._state.setWordWrap(True)
        self.on = QComboBox()
        self.on.setAccessibleName("Device to try it on")
        self.go = named(QPushButton("Go on  F9"), "main")
        self.one = QPushButton("One step  F8")
        self.end = QPushButton("Stop")
        self.close_ = named(QPushButton("Close"), "link")
        self.go.clicked.connect(trials.go_on)
        self.one.clicked.connect(trials.step)
        self.end.clicked.connect(trials.stop)
        self.close_.clicked.connect(self.closed)
        buttons = QHBoxLayout()
        for button in (self.go, self.one, self.end):
            buttons.addWidget(button)
        buttons.addStretch(1)
        head = QHBoxLayout()
        head.addWidget(self._where, 1)
        head.addWidget(self.close_)
        self._stuck = QVBoxLayout()
        self._stuck.setSpacing(6)
        self._values = QGridLayout()
        self._done = QGridLayout()
        inner = panel("side")
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inner)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)
        column = QVBoxLayout(inner)
        column.setContentsMargins(18, 14, 18, 16)
        column.setSpacing(8)
        column.addLayout(head)
        column.addWidget(self._state)
        self._on = named(Label("Try again on"), "caption")
        column.addWidget(self._on)
        column.addWidget(self.on)
        column.addLayout(buttons)
        column.addLayout(self._stuck)
        self._values_title, self._done_title = section("What stands in the variables"), section("Tried so far")
        column.addSpacing(6)
        column.addWidget(self._values_title)
        column.addLayout(self._values)
        column.addSpacing(6)
        column.addWidget(self._done_title)
        column.addLayout(self._done)
        column.addStretch(1)
        for grid in (self._values, self._done):
            grid.setHorizontalSpacing(10)
            grid.setVerticalSpacing(4)
            grid.setColumnStretch(1, 1)
        trials.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """What there is now."""
        trials = self.trials
        device = trials.device
        self._where.setText(f"Trial on {device.name}" if device is not None else "Trial")
        names = [d.name for d in trials.devices()]
        if [self.on.itemText(i) for i in range(self.on.count())] != names:
            chosen = self.on.currentText()
            self.on.clear()
            self.on.addItems(names)
            self.on.setCurrentText(chosen if chosen in names else names[0] if names else "")
        for widget in (self._on, self.on):
            widget.setVisible(not trials.running and len(names) > 1)
        self._state.setText(self._said())
        for button, wanted in ((self.go, trials.standing is not None), (self.one, trials.standing is not None), (self.end, trials.running)):
            button.setVisible(trials.running)
            button.setEnabled(wanted)
        self._show_stuck()
        self._show_values()
        self._show_done()

    def _said(self) -> str:
        trials = self.trials
        if trials.standing is not None:
            return f"Stopped before line {trials.standing.line}{self._row()}"
        if trials.doing is not None:
            return f"Line {trials.doing.line}: {quoted(step_words(trials.doing.step))}"
        if trials.running:
            return "Begins"
        last = trials.tried[-1] if trials.tried else None
        if last is None:
            return "Nothing was tried"
        wrong = next((t for t in trials.tried if t.result.outcome in (Outcome.STUCK, Outcome.DIFFERS)), None)
        if trials.stuck is not None:
            return f"Stuck at line {last.result.own_line}"
        if last.result.outcome is Outcome.STUCK:
            return f"Stopped by you at line {last.result.own_line}"
        return f"Differs at line {wrong.result.own_line}" if wrong is not None else f"{len(trials.tried)} steps done"

    def _row(self) -> str:
        loaded = self.trials.workspace.loaded
        count = len(loaded.rows) if loaded is not None else 1
        return f", row {self.trials.row} of {count}" if count > 1 else ""

    def _clear(self, layout: QGridLayout | QVBoxLayout) -> None:
        while (item := layout.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.hide()
                old.deleteLater()

    def _show_stuck(self) -> None:
        """Where it is stuck: why, what is likely to be meant, and the way on. Where it is adapted: what could be learned."""
        self._clear(self._stuck)
        stuck = self.trials.stuck
        if stuck is not None:
            self._card("stuck", stuck, stuck.near, "It is this one" if stuck.near else "")
            return
        adapted = next((t for t in reversed(self.trials.tried) if t.result.outcome is Outcome.ADAPTED and t.element is not None), None)
        if adapted is not None and not self.trials.running:
            self._card("adapted", adapted, (), "")

    def _card(self, flag: str, tried: Tried, near: tuple[tuple[Element, float], ...], words: str) -> None:
        card = named(QFrame(), "card")
        column = QVBoxLayout(card)
        column.setContentsMargins(12, 10, 12, 12)
        column.setSpacing(6)
        ink = theme.OUTCOMES[Outcome.STUCK if flag == "stuck" else Outcome.ADAPTED]
        head = Label(f"{flag}: {quoted(tried.result.step)}")
        head.setWordWrap(True)
        head.setStyleSheet(f"color: {ink.name()}; font-weight: 600;" if flag == "stuck" else "color: #8A6210; font-weight: 600;")
        why = Label(quoted(tried.result.reason))
        why.setWordWrap(True)
        column.addWidget(head)
        column.addWidget(why)
        if words:
            column.addWidget(named(Label("Likely meant; or click another on the screen now"), "caption"))
        for element, score in near:
            button = QPushButton(f"{quoted(element.called)}   {score:.0%}")
            button.setStyleSheet("text-align: left;")
            button.clicked.connect(lambda _checked=False, e=element: self.pointed.emit(tried, e))
            column.addWidget(button)
        row = QHBoxLayout()
        if flag == "adapted":
            learn = QPushButton("Learn this …")
            learn.clicked.connect(lambda: self.pointed.emit(tried, None))
            row.addWidget(learn)
        else:
            again = QPushButton("Go on from here")
            again.clicked.connect(lambda: self.again_asked.emit(tried.result.own_line))
            row.addWidget(again)
        row.addStretch(1)
        column.addLayout(row)
        self._stuck.addWidget(card)

    def _show_values(self) -> None:
        self._clear(self._values)
        values = {name: value for name, value in self.trials.values_now.items() if name != "today"}
        self._values_title.setVisible(bool(values))
        loaded = self.trials.workspace.loaded
        data = loaded.script.data if loaded is not None else ""
        columns = set(loaded.rows[0]) if loaded is not None and loaded.rows else set()
        for row, (name, value) in enumerate(sorted(values.items())):
            label = Label(name)
            label.setStyleSheet(f"color: {theme.CHECK.name()};")
            shown = Label("•••" if value == "{" + name + "}" else value[:60])
            shown.setFont(theme.font(theme.BODY, 600))
            where = data if name in columns else "given" if loaded is not None and name in loaded.needs else ""
            self._values.addWidget(label, row, 0)
            self._values.addWidget(shown, row, 1)
            self._values.addWidget(named(Label(where), "caption"), row, 2)

    def _show_done(self) -> None:
        self._clear(self._done)
        last = self.trials.tried[-8:]
        self._done_title.setVisible(bool(last))
        for row, tried in enumerate(reversed(last)):
            result = tried.result
            words = Label(quoted(result.step)[:70])
            words.setWordWrap(True)
            way = result.reading if isinstance(result.reading, BranchTaken) else None
            outcome = Label(way_said(way) if way is not None and result.outcome.good else result.outcome.value)
            outcome.setStyleSheet(f"color: {theme.OUTCOME_WORDS[result.outcome].name()}; font-size: 12px;")
            self._done.addWidget(named(Label(str(result.own_line)), "caption"), row, 0)
            self._done.addWidget(words, row, 1)
            self._done.addWidget(outcome, row, 2)
