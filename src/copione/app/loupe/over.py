"""Two devices laid over each other at one step, scaled to the same element: slid between, or blinked."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from ...comparison.lanes import Lane
from ...model.geometry import Box
from ...model.outcome import Result
from ...project.archive import picture_path
from .. import theme
from ..parts import Label, checkable
from ..pictures import PictureCache
from ..sheet import Sheet

BLINK_MS = 700
HIGH, WIDE = 520, 620
STEP = 0.05

Pair = tuple[Lane, Result]


class _Laid(QWidget):
    """The one to the left of the edge, the other to the right; the arrow keys and the pointer move the edge."""

    def __init__(self, pictures: PictureCache) -> None:
        super().__init__()
        self.pictures = pictures
        self.pair: tuple[Pair, Pair] | None = None
        self.edge, self.blink = 0.5, False
        self.setFixedHeight(HIGH)
        self.setMinimumWidth(WIDE)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Two devices over each other: the arrow keys move the edge between them")
        pictures.arrived.connect(self.update)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.DESK)
        if self.pair is None:
            return
        (first, mine), (second, theirs) = self.pair
        k = (HIGH - 24) / first.device.height
        left = (self.width() - first.device.width * k) / 2
        own = QRectF(left, 12, first.device.width * k, first.device.height * k)
        split = self.width() * (1.0 if self.blink and self.edge >= 0.5 else 0.0 if self.blink else self.edge)
        painter.setClipRect(QRectF(0, 0, split, self.height()))
        self._draw(painter, first, mine, own)
        painter.setClipRect(QRectF(split, 0, self.width() - split, self.height()))
        self._draw(painter, second, theirs, self._aligned(own, k, mine.box, theirs.box, second))
        painter.setClipping(False)
        if not self.blink:
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawLine(QPointF(split, 0), QPointF(split, self.height()))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.CHECK, 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    @staticmethod
    def _aligned(own: QRectF, k: float, mine: Box | None, theirs: Box | None, lane: Lane) -> QRectF:
        """Where the other screen lies so that its target is as wide as this one's, and begins where it does."""
        if mine is None or theirs is None or not theirs.width or not mine.width:
            return QRectF(own.left(), own.top(), lane.device.width * k, lane.device.height * k)
        scale = k * mine.width / theirs.width
        x, y = own.left() + mine.left * k - theirs.left * scale, own.top() + mine.top * k - theirs.top * scale
        return QRectF(x, y, lane.device.width * scale, lane.device.height * scale)

    def _draw(self, painter: QPainter, lane: Lane, result: Result, place: QRectF) -> None:
        name = result.before or result.after
        painter.setPen(QPen(theme.INK, 1))
        painter.setBrush(theme.PAPER)
        painter.drawRect(place)
        if lane.folder is not None and name:
            size = (place.size() * self.devicePixelRatioF()).toSize()
            pixmap = self.pictures.get(picture_path(lane.folder, name), size)
            if pixmap is not None and not pixmap.isNull():
                painter.drawPixmap(place, pixmap, QRectF(pixmap.rect()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.edge = min(1.0, max(0.0, event.position().x() / max(1, self.width())))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        move = {Qt.Key.Key_Left: -STEP, Qt.Key.Key_Right: STEP}.get(Qt.Key(event.key()))
        if move is None:
            super().keyPressEvent(event)
            return
        self.edge = min(1.0, max(0.0, self.edge + move))
        self.update()


def lay_over(parent: QWidget, pictures: PictureCache, shown: list[Pair], second: int) -> None:
    """A sheet in which two of the devices are laid over each other; the first one and `second` to begin with."""
    sheet = Sheet("Laid over each other", "Close", parent, WIDE + 60)
    sheet.cancel.hide()
    laid = _Laid(pictures)
    names = [lane.device.name + (f" · row {lane.row}" if lane.row > 1 else "") for lane, _ in shown]
    choices = []
    for name, place in (("Left", 0), ("Right", second)):
        box = QComboBox()
        box.setAccessibleName(name)
        box.addItems(names)
        box.setCurrentIndex(place)
        choices.append(box)
    blink = checkable(QPushButton("Blink"))
    row = QHBoxLayout()
    row.addWidget(choices[0], 1)
    row.addWidget(Label("and"))
    row.addWidget(choices[1], 1)
    row.addWidget(blink)
    sheet.body.addLayout(row)
    sheet.body.addWidget(laid)
    timer = QTimer(sheet)
    timer.setInterval(BLINK_MS)

    def turn() -> None:
        laid.edge = 0.0 if laid.edge >= 0.5 else 1.0
        laid.update()

    def chosen() -> None:
        laid.pair = shown[choices[0].currentIndex()], shown[choices[1].currentIndex()]
        laid.update()

    def blinks(on: bool) -> None:
        laid.blink = on
        laid.edge = 1.0 if on else 0.5
        (timer.start if on else timer.stop)()
        laid.update()

    timer.timeout.connect(turn)
    blink.toggled.connect(blinks)
    for box in choices:
        box.currentIndexChanged.connect(chosen)
    chosen()
    sheet.open(laid)
