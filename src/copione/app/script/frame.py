"""The frame of the step under the caret, its target outlined; another element can be picked in it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ...model.geometry import Box
from ...model.portrait import Portrait
from ...model.screen import Element
from ...recording.checks import checkable
from .. import theme
from ..pictures import PictureCache
from ..stage import marks


class FrameView(QWidget):
    """`picked` carries the element that was clicked, or None when the pick is taken back."""

    picked = Signal(object)

    def __init__(self, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.pictures = pictures
        self.portrait: Portrait | None = None
        self.pick: Element | None = None
        self._hover: Element | None = None
        self._picture: Path | None = None
        self._check = False
        self._empty = "No frame was recorded for this step."
        pictures.arrived.connect(self.update)
        self.setMouseTracking(True)
        self.setAccessibleName("Recorded frame of the step")

    def show_portrait(self, portrait: Portrait | None, picture: Path | None, check: bool) -> None:
        """The frame of a portrait; `check` for one that is looked at, not touched."""
        self.portrait, self.pick, self._hover, self._check = portrait, None, None, check
        self._picture = picture
        self.update()

    def glass(self) -> QRectF:
        if self.portrait is None:
            return QRectF()
        screen = self.portrait.screen
        room = QRectF(self.rect()).adjusted(20, 16, -20, -16)
        scale = min(room.width() / screen.width, room.height() / screen.height)
        wide, tall = screen.width * scale, screen.height * scale
        return QRectF(room.center().x() - wide / 2, room.top(), wide, tall)

    def box_of(self, element: Element, area: Box | None = None) -> QRectF:
        """Where an element is drawn, or an area of it (dp)."""
        glass = self.glass()
        k = glass.width() / element.screen.width
        b = area or element.box
        return QRectF(glass.left() + b.left * k, glass.top() + b.top * k, b.width * k, b.height * k).intersected(glass)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        portrait = self.portrait
        if portrait is None:
            painter.setPen(theme.MUTED)
            painter.drawText(
                QRectF(self.rect()).adjusted(24, 24, -24, -24), Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap, self._empty
            )
            return
        glass = self.glass()
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(glass.adjusted(-8, -8, 8, 8), 16, 16)
        size = (glass.size() * self.devicePixelRatioF()).toSize()
        picture = self.pictures.get(self._picture, size) if self._picture is not None else None
        if picture is not None and not picture.isNull():
            painter.drawPixmap(glass, picture, QRectF(picture.rect()))
        elif self._picture is None or picture is not None:
            self._paint_tree(painter, portrait)
        box = self.box_of(portrait.element, portrait.box)
        marks.outline(painter, box, theme.CHECK if self._check else theme.TOUCH, 2.2)
        if not self._check:
            marks.gesture(painter, "tap", [box.center()], 9)
        for element in (self._hover, self.pick):
            if element is not None and element != portrait.element:
                marks.outline(painter, self.box_of(element), theme.INK, 1.6, dashed=True)

    def _paint_tree(self, painter: QPainter, portrait: Portrait) -> None:
        """Without a picture the tree itself is drawn: boxes and words."""
        painter.setFont(theme.font(theme.CAPTION))
        for element in portrait.screen:
            box = self.box_of(element)
            painter.setPen(theme.RULE)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            if element.text:
                painter.setPen(theme.MUTED)
                painter.drawText(box.adjusted(3, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, element.text)

    def _at(self, point: QPointF) -> Element | None:
        glass = self.glass()
        if self.portrait is None or not glass.contains(point):
            return None
        k = self.portrait.screen.width / glass.width()
        return checkable(self.portrait.screen, (point.x() - glass.left()) * k, (point.y() - glass.top()) * k)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._hover = self._at(event.position())
        self.update()

    def leaveEvent(self, _event: object) -> None:
        self._hover = None
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        self.pick = None if self.portrait is not None and found == self.portrait.element else found
        self.picked.emit(self.pick)
        self.update()
