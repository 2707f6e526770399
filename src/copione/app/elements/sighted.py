"""The lead's screen with what was found on it."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ...model.outcome import Outcome
from ...model.screen import Element
from .. import theme
from ..pictures import fitted
from ..stage import marks


class SightedView(QWidget):
    """A moment; what was found is outlined, the runner-up dashed."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image = QImage()
        self._found: Element | None = None
        self._second: Element | None = None
        self.setAccessibleName("The lead's screen")

    def show_screen(self, image: QImage, found: Element | None, second: Element | None) -> None:
        """A picture of the device, and elements of its tree."""
        self._image = image
        self._found, self._second = found, second
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._image.isNull():
            return
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        room = QRectF(self.rect()).adjusted(20, 16, -20, -16)
        scale = min(room.width() / self._image.width(), room.height() / self._image.height())
        wide, tall = self._image.width() * scale, self._image.height() * scale
        glass = QRectF(room.center().x() - wide / 2, room.top(), wide, tall)
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(glass.adjusted(-8, -8, 8, 8), 16, 16)
        painter.drawImage(glass, fitted(self._image, glass.size(), self.devicePixelRatioF()))
        for element, ink, dashed in ((self._second, theme.OUTCOMES[Outcome.STUCK], True), (self._found, theme.CHECK, False)):
            if element is not None:
                k = glass.width() / element.screen.width
                b = element.box
                box = QRectF(glass.left() + b.left * k, glass.top() + b.top * k, b.width * k, b.height * k).intersected(glass)
                marks.outline(painter, box, ink, 1.6 if dashed else 2.4, dashed=dashed)
