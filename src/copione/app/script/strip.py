"""The strip: a frame a step, the current one marked."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QScrollArea, QWidget

from ...model.geometry import Box
from ...model.step import Step
from .. import theme
from ..pictures import Pictures
from ..stage import marks
from ..wording import short

FRAME = QSize(46, 86)
CELL = 76


@dataclass(frozen=True)
class Still:
    """One frame of the strip: the step, its picture, and where on a screen of that size (dp) the target is."""

    step: Step
    words: str
    picture: Path | None
    box: Box | None
    size: tuple[float, float]
    mark: tuple[tuple[float, float], ...] = ()


class _Frames(QWidget):
    picked = Signal(int)

    def __init__(self, pictures: Pictures) -> None:
        super().__init__()
        self.pictures = pictures
        self.stills: list[Still] = []
        self.line = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Frames of the steps")
        pictures.arrived.connect(self.update)

    def show_stills(self, stills: list[Still]) -> None:
        self.stills = stills
        self.setFixedSize(max(1, len(stills)) * CELL + 12, 120)
        self.update()

    def cell(self, index: int) -> QRectF:
        return QRectF(8 + index * CELL, 0, CELL, 118)

    def current(self) -> int:
        found = -1
        for i, still in enumerate(self.stills):
            if still.step.line <= self.line:
                found = i
        return found

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        current = self.current()
        for i, still in enumerate(self.stills):
            cell = self.cell(i)
            if cell.intersects(QRectF(event.rect())):
                self._paint(painter, cell, still, i == current)

    def _paint(self, painter: QPainter, cell: QRectF, still: Still, current: bool) -> None:
        room = QRectF(cell.center().x() - FRAME.width() / 2, 10, FRAME.width(), FRAME.height())
        width, height = still.size
        scale = min(room.width() / width, room.height() / height)
        frame = QRectF(room.center().x() - width * scale / 2, room.center().y() - height * scale / 2, width * scale, height * scale)
        painter.setPen(QPen(theme.INK if current else theme.RULE, 2 if current else 1))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(frame.adjusted(-3, -3, 3, 3), 6, 6)
        ratio = self.devicePixelRatioF()
        pixmap = self.pictures.get(still.picture, (frame.size() * ratio).toSize()) if still.picture else None
        if pixmap is not None and not pixmap.isNull():
            painter.drawPixmap(frame, pixmap, QRectF(pixmap.rect()))
        else:
            painter.setPen(theme.MUTED)
            painter.setFont(theme.font(theme.CAPTION))
            painter.drawText(frame, Qt.AlignmentFlag.AlignCenter, "–")
        if still.box is not None and pixmap is not None:
            b = still.box
            box = QRectF(frame.left() + b.left * scale, frame.top() + b.top * scale, b.width * scale, b.height * scale).intersected(frame)
            if still.step.is_check:
                marks.outline(painter, box, theme.CHECK, 1.4)
            else:
                marks.gesture(painter, still.step.verb, [box.center()], 4)
        verb, rest = short(still.words)
        painter.setPen(theme.INK if current else theme.MUTED)
        painter.setFont(theme.font(theme.CAPTION, 700 if current else 400))
        words = painter.fontMetrics().elidedText(f"{verb} {rest}", Qt.TextElideMode.ElideRight, CELL - 6)
        painter.drawText(QRectF(cell.left(), 100, cell.width(), 16), Qt.AlignmentFlag.AlignCenter, words)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        index = int((event.position().x() - 8) // CELL)
        if 0 <= index < len(self.stills):
            self.picked.emit(self.stills[index].step.line)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        move = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if move is None:
            super().keyPressEvent(event)
            return
        index = min(max(0, self.current() + move), len(self.stills) - 1)
        if self.stills:
            self.picked.emit(self.stills[index].step.line)


class Strip(QScrollArea):
    """Scrolls the frames sideways."""

    def __init__(self, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.frames = _Frames(pictures)
        self.setWidget(self.frames)
        self.setFixedHeight(130)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.picked = self.frames.picked

    def show_line(self, line: int) -> None:
        self.frames.line = line
        index = self.frames.current()
        if index >= 0:
            place: QPointF = self.frames.cell(index).center()
            self.ensureVisible(int(place.x()), 10, CELL, 0)
        self.frames.update()
