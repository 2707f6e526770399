"""Gesture marks, drawn as the hand made them."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from ...model.outcome import Outcome
from .. import theme


def bars(painter: QPainter, left: float, bottom: float, count: int) -> None:
    """The three-bar mark: how easy a target is to find again."""
    painter.setPen(Qt.PenStyle.NoPen)
    for i in range(3):
        tall = 4 + 3 * i
        painter.setBrush(theme.OUTCOMES[Outcome.HELD] if i < count else theme.RULE)
        painter.drawRect(QRectF(left + i * 5, bottom - tall, 3.5, tall))


def gesture(painter: QPainter, verb: str, points: Sequence[QPointF], size: float = 9.0, strength: float = 1.0) -> None:
    """A ring for a tap, two for a double tap, a filled one for a hold, a stroke that widens towards its end, two of them for two fingers,
    the traced line of a drawing."""
    if not points:
        return
    if verb in {"pinch", "twist", "pan"} and len(points) == 4:
        gesture(painter, "swipe", points[:2], size * 0.8, strength)
        gesture(painter, "swipe", points[2:], size * 0.8, strength)
        return
    ink = QColor(theme.TOUCH)
    ink.setAlphaF(strength)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if len(points) == 1:
        fill = QColor(ink)
        fill.setAlphaF(strength * (0.55 if verb == "hold" else 0.12))
        painter.setPen(QPen(ink, max(1.6, size * 0.24)))
        painter.setBrush(fill)
        painter.drawEllipse(points[0], size, size)
        if verb == "double-tap":
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(points[0], size * 0.5, size * 0.5)
        return
    if verb == "draw":
        painter.setPen(QPen(ink, max(1.6, size * 0.3), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(list(points)))
        return
    begin, end = points[0], points[-1]
    dx, dy = end.x() - begin.x(), end.y() - begin.y()
    length = max(1.0, (dx * dx + dy * dy) ** 0.5)
    nx, ny = -dy / length * size * 0.55, dx / length * size * 0.55
    wash = QColor(ink)
    wash.setAlphaF(strength * 0.6)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(wash)
    painter.drawPolygon(QPolygonF([begin, QPointF(end.x() + nx, end.y() + ny), QPointF(end.x() - nx, end.y() - ny)]))
    painter.setPen(QPen(ink, max(1.6, size * 0.24)))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(end, size * 0.8, size * 0.8)


def outline(painter: QPainter, box: QRectF, ink: QColor, width: float = 2.0, *, dashed: bool = False) -> None:
    """A pencilled outline round an element."""
    pen = QPen(ink, width)
    if dashed:
        pen.setStyle(Qt.PenStyle.DashLine)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box.adjusted(-2, -2, 2, 2), 5, 5)
