"""A window that *is* one of the phones: the mouse there is the user's finger on the glass. Its contacts come out of `getevent` only."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

from PySide6.QtCore import QPointF, Qt, QTimer
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QApplication, QWidget

from .phone import Phone

HEIGHT = 820  # pixels of the desktop for the phone's height
LOOK_MS = 60
BESIDE_DP = 70.0  # from the first finger to the one beside it


class Glass(QWidget):
    """Shows the phone's picture; press, move and release are a finger, with Ctrl two opposite ones, with Shift too side by side."""

    def __init__(self, phone: Phone) -> None:
        super().__init__()
        self.phone = phone
        self.scale = HEIGHT / phone.model.height_px
        self.now: Callable[[], float] = time.monotonic
        self._second: Callable[[float, float], tuple[float, float]] | None = None
        self.setWindowTitle(f"{phone.model.name}: your finger on the glass")
        self.setFixedSize(round(phone.model.width_px * self.scale), HEIGHT)
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.update)
        self._timer.start()

    def paintEvent(self, _event: QPaintEvent) -> None:
        picture = self.phone.picture()
        image = QImage(picture.tobytes(), picture.width, picture.height, picture.width * 3, QImage.Format.Format_RGB888)
        if (picture.width > picture.height) != (self.width() > self.height()):  # the phone was turned
            self.setFixedSize(self.height(), self.width())
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self.rect(), image)

    def _finger(self, action: str, at: QPointF) -> None:
        """The first finger is where the mouse is; the second one, if any, where `_second` has it."""
        now, x, y = self.now(), at.x() / self.scale, at.y() / self.scale
        self.phone.hand(action, 0, x, y, now)
        if self._second is not None:
            self.phone.hand(action, 1, *self._second(x, y), now)
        self.update()

    def _mirrored(self, x: float, y: float) -> tuple[float, float]:
        """About the middle of the glass: both together pinch and twist."""
        width, height = self.phone.size_px
        return width - x, height - y

    def _beside(self, x: float, y: float) -> tuple[float, float]:
        """Always as far to the side: both together push."""
        return x + BESIDE_DP * self.phone.model.density, y

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            ctrl, shift = (
                bool(event.modifiers() & key) for key in (Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier)
            )
            self._second = (self._beside if shift else self._mirrored) if ctrl else None
            self._finger("down", event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._finger("move", event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            self._finger("up", event.position())


def show(phone: Phone) -> int:
    """Until the window is closed."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    glass = Glass(phone)
    glass.show()
    return int(app.exec())
