"""Where no phone is ready: what is missing, in order, and the two ways on."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QPainter, QPaintEvent, QPen, QShowEvent
from PySide6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ...links.usb import Plugged, plugged
from ...links.way import Help, Stop, way
from ...model.errors import CopioneError
from .. import theme
from ..parts import Label, named, to_copy
from ..reaching import Reaching
from ..workspace import Workspace

LOOK_MS = 1500
WIDTH = 780


class Welcome(QWidget):
    """Stays up to date while it is in sight."""

    connect_asked = Signal()

    def __init__(self, workspace: Workspace, reaching: Reaching, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("desk")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.workspace, self.reaching = workspace, reaching
        self.look_at_ports: Callable[[], list[Plugged]] = plugged
        self._shown: tuple[Stop, ...] = ()
        self._looking = False
        headline = named(Label("No phone is ready yet"), "headline")
        under = named(Label("Record what you do on one phone, replay it on others, and see where they part ways."), "muted")
        self._stops = QVBoxLayout()
        self._stops.setSpacing(14)
        own = _card("A phone of yours")
        own.layout_.addLayout(self._stops)
        own.layout_.addStretch(1)
        self.connect_ = QPushButton("Connect a device")
        self.connect_.clicked.connect(self.connect_asked)
        own.layout_.addWidget(self.connect_, 0, Qt.AlignmentFlag.AlignLeft)
        lab = _card("No phone at hand?")
        told = Label("Stand-in phones come with Copione. They behave like phones and run a small sample app, a beekeeper's diary.")
        told.setWordWrap(True)
        lab.layout_.addWidget(told)
        lab.layout_.addWidget(_Row(), 1)
        self.stand_ins = named(QPushButton("Try it with stand-in phones"), "main")
        self.stand_ins.clicked.connect(reaching.try_stand_ins)
        lab.layout_.addWidget(self.stand_ins, 0, Qt.AlignmentFlag.AlignLeft)
        self.browser = QPushButton("Use a browser of this computer")
        self.browser.clicked.connect(self.connect_asked)
        lab.layout_.addWidget(self.browser, 0, Qt.AlignmentFlag.AlignLeft)
        cards = QHBoxLayout()
        cards.setSpacing(14)
        cards.addWidget(own, 3)
        cards.addWidget(lab, 2)
        self.place = named(Label(), "muted")
        self.another = named(QPushButton("Choose the folder"), "link")
        self.another.clicked.connect(self._choose)
        kept = QHBoxLayout()
        kept.addWidget(self.place)
        kept.addWidget(self.another)
        kept.addStretch(1)
        inner = QWidget()
        inner.setMaximumWidth(WIDTH)
        column = QVBoxLayout(inner)
        column.setSpacing(6)
        column.addWidget(headline)
        column.addWidget(under)
        column.addSpacing(12)
        column.addLayout(cards)
        column.addSpacing(8)
        column.addLayout(kept)
        across = QHBoxLayout()
        across.addStretch(1)
        across.addWidget(inner, 100)
        across.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(28, 20, 28, 20)
        outer.addStretch(2)
        outer.addLayout(across)
        outer.addStretch(3)
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self._look)
        workspace.devices_changed.connect(self._refresh)
        workspace.project_opened.connect(self._refresh)
        self._refresh()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._timer.start()
        self._look()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._timer.stop()

    def _refresh(self) -> None:
        project = self.workspace.project
        self.place.setText(f"Scripts are kept in {project.folder}" if project.made else f"Scripts will be kept in {project.folder}")
        self.stand_ins.setEnabled(self.reaching.join_stand_ins is not None)
        self._look()

    def _choose(self) -> None:
        path = QFileDialog.getExistingDirectory(self, "Where to keep scripts", str(Path.home()))
        if path:
            self.workspace.open_project(Path(path))

    def _look(self) -> None:
        """What is there is asked beside Qt's thread."""
        if self._looking or not self.isVisible():
            return
        self._looking = True
        server, listed = self.workspace.bench.server, [d.listed for d in self.workspace.devices]

        def look() -> tuple[Stop, ...]:
            from ...links.adb.start import adb_program

            try:
                version: int | None = server.version()
            except CopioneError:
                version = None
            return way(adb_program() is not None, version, self.look_at_ports(), listed)

        self.workspace.courier.think(look, self._looked, lambda _error: self._looked(self._shown))

    def _looked(self, stops: tuple[Stop, ...]) -> None:
        self._looking = False
        if stops != self._shown:
            self._shown = stops
            self._show(stops)

    def _show(self, stops: Sequence[Stop]) -> None:
        while (item := self._stops.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.hide()
                old.deleteLater()
        following = next((n for n, stop in enumerate(stops) if not stop.done), len(stops))
        for number, stop in enumerate(stops):
            self._stops.addWidget(self._stop(number + 1, stop, number == following))

    def _stop(self, number: int, stop: Stop, following: bool) -> QWidget:
        """One stop; the one that comes next says what to do."""
        row = QWidget()
        across = QHBoxLayout(row)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(10)
        across.addWidget(_Number(number, stop.done, following), 0, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout()
        column.setSpacing(5)
        title = Label(stop.title)
        title.setWordWrap(True)
        title.setFont(theme.font(theme.BODY, 600 if following else 400))
        if not following:
            title.setObjectName("muted")
        column.addWidget(title)
        across.addLayout(column, 1)
        if not following:
            return row
        across.setAlignment(column, Qt.AlignmentFlag.AlignTop)
        if stop.what:
            what = Label(stop.what)
            what.setWordWrap(True)
            column.addWidget(what)
        if stop.help is Help.START:
            start = named(QPushButton("Start it"), "main")
            start.clicked.connect(self.reaching.start_server)
            column.addWidget(start, 0, Qt.AlignmentFlag.AlignLeft)
        elif stop.help is Help.COPY:
            column.addLayout(to_copy(stop.copy, stop.title))
        elif stop.help is Help.SHOW:
            across.addWidget(_Where(), 0, Qt.AlignmentFlag.AlignTop)
        return row


class _Card(QFrame):
    def __init__(self, title: str) -> None:
        super().__init__()
        self.setObjectName("card")
        self.layout_ = QVBoxLayout(self)
        self.layout_.setContentsMargins(18, 16, 18, 16)
        self.layout_.setSpacing(12)
        self.layout_.addWidget(named(Label(title), "title"))


def _card(title: str) -> _Card:
    return _Card(title)


class _Number(QWidget):
    """The number of a stop: ringed when it is next, with a bar under it once it is done."""

    def __init__(self, number: int, done: bool, following: bool) -> None:
        super().__init__()
        self._number, self._done, self._following = number, done, following
        self.setFixedSize(26, 26)
        self.setAccessibleName(f"{number}, {'there' if done else 'next' if following else 'later'}")

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ring = QRectF(2, 2, 22, 22)
        painter.setPen(QPen(theme.TOUCH if self._following else theme.MUTED if self._done else theme.RULE, 2 if self._following else 1.2))
        painter.setBrush(theme.DESK if self._done else theme.SHEET)
        painter.drawEllipse(ring)
        painter.setPen(theme.INK if self._following else theme.MUTED)
        painter.setFont(theme.font(theme.CAPTION, 700))
        painter.drawText(ring, Qt.AlignmentFlag.AlignCenter, str(self._number))


class _Where(QWidget):
    """A phone's settings as a sketch: where debugging is turned on."""

    ROWS = ("System", "Developer options", "USB debugging")

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(148, 170)
        self.setAccessibleName("A phone's settings: System, Developer options, and the switch USB debugging turned on")

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        glass = QRectF(8, 4, 132, 162)
        painter.setPen(QPen(theme.INK, 1.6))
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(glass, 12, 12)
        painter.setFont(theme.font(theme.BODY, 700))
        painter.drawText(QRectF(20, 14, 110, 20), Qt.AlignmentFlag.AlignVCenter, "Settings")
        painter.setFont(theme.font(theme.CAPTION, 500))
        for number, words in enumerate(self.ROWS):
            y = 42.0 + 38 * number
            painter.setPen(QPen(theme.RULE, 1))
            painter.drawLine(QPointF(18, y), QPointF(130, y))
            painter.setPen(theme.INK)
            painter.drawText(QRectF(20 + 6 * number, y + 8, 110, 20), Qt.AlignmentFlag.AlignVCenter, words)
        switch = QRectF(106, 42 + 76 + 27, 24, 13)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.INK)
        painter.drawRoundedRect(switch, 6.5, 6.5)
        painter.setBrush(theme.SHEET)
        painter.drawEllipse(QPointF(switch.right() - 6.5, switch.center().y()), 4.5, 4.5)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.TOUCH, 2))
        painter.drawEllipse(switch.center(), 17, 12)


class _Row(QWidget):
    """Some devices in a row, as the bench draws them."""

    SIZES = ((34, 70), (28, 56), (32, 66), (62, 84), (52, 74))

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(108)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        x, floor = 2.0, self.height() / 2 + 46
        for number, (wide, tall) in enumerate(self.SIZES):
            painter.setPen(QPen(theme.TOUCH if number == 0 else theme.INK, 2 if number == 0 else 1.3))
            painter.setBrush(theme.SHEET)
            glass = QRectF(x, floor - tall, wide, tall)
            painter.drawRoundedRect(glass, 5, 5)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.RULE)
            painter.drawRoundedRect(glass.adjusted(4, 5, -4, -(tall - 14)), 2, 2)
            x += wide + 10
