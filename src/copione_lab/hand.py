"""A window that *is* one of the phones: the mouse there is the user's finger on the glass. Its contacts come out of `getevent` only."""

from __future__ import annotations

import sys
import time

from PySide6.QtCore import QPointF, Qt, QTimer
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QApplication, QWidget

from .phone import Phone

HEIGHT = 820  # pixels of the desktop for the phone's height
LOOK_MS = 60


class Glass(QWidget):
    """Shows the phone's picture; press, move and release are a finger."""

    def __init__(self, phone: Phone) -> None:
        super().__init__()
        self.phone = phone
        self.scale = HEIGHT / phone.model.height_px
        self._two = False
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

    def _finger(self, action: str, at: QPointF, second: bool) -> None:
        """The first finger is where the mouse is; with Ctrl a second one is mirrored about the middle of the glass."""
        now, x, y = time.monotonic(), at.x() / self.scale, at.y() / self.scale
        self.phone.hand(action, 0, x, y, now)
        if action == "down":
            self._two = second
        if self._two:
            width, height = self.phone.size_px
            self.phone.hand(action, 1, width - x, height - y, now)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            self._finger("down", event.position(), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._finger("move", event.position(), self._two)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            self._finger("up", event.position(), self._two)


def show(phone: Phone) -> int:
    """Until the window is closed."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    glass = Glass(phone)
    glass.show()
    return int(app.exec())
