"""How one result is drawn: as a mark, or as a frame with a flag."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPixmap

from ...model.outcome import Outcome
from .. import theme

HATCH = QColor("#D8D2C4")


def frame_pen(outcome: Outcome) -> QPen:
    """The frame round a cell: thin for what held, dashed for what was adapted, the heavier the worse."""
    if outcome is Outcome.ADAPTED:
        return QPen(theme.OUTCOMES[outcome], 2, Qt.PenStyle.DashLine)
    if outcome in (Outcome.DIFFERS, Outcome.STUCK):
        return QPen(theme.OUTCOMES[outcome], 2 if outcome is Outcome.DIFFERS else 3)
    return QPen(theme.RULE, 1)


def paint_blank(painter: QPainter, cell: QRectF, hatched: bool) -> None:
    """A cell without a result: still to come, or (hatched) never tried."""
    painter.setPen(QPen(theme.RULE, 1, Qt.PenStyle.DashLine))
    painter.setBrush(QBrush(HATCH, Qt.BrushStyle.BDiagPattern) if hatched else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(cell, 4, 4)


def paint_flag(painter: QPainter, right_top: QPointF, outcome: Outcome) -> None:
    """A worded flag over a cell's corner."""
    painter.setFont(theme.font(theme.CAPTION, 600))
    wide = painter.fontMetrics().horizontalAdvance(outcome.value) + 12
    flag = QRectF(right_top.x() - wide, right_top.y() - 5, wide, 17)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.OUTCOMES[outcome])
    painter.drawRoundedRect(flag, 3, 3)
    painter.setPen(theme.SHEET)
    painter.drawText(flag, Qt.AlignmentFlag.AlignCenter, outcome.value)


def paint_mark(painter: QPainter, cell: QRectF, outcome: Outcome | None) -> None:
    """An outcome without picture or word: a bar, a dashed frame, a frame with a bar, a heavy block; a blank where there is none."""
    if outcome in (None, Outcome.UNREACHED):
        paint_blank(painter, cell, outcome is Outcome.UNREACHED)
        return
    assert outcome is not None
    ink = theme.OUTCOMES[outcome]
    if outcome is Outcome.HELD:
        painter.fillRect(QRectF(cell.left(), cell.center().y() - 2, cell.width(), 4), ink)
        return
    painter.setPen(QPen(ink, 1.6, Qt.PenStyle.DashLine if outcome is Outcome.ADAPTED else Qt.PenStyle.SolidLine))
    painter.setBrush(ink if outcome is Outcome.STUCK else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(cell.adjusted(1, 1, -1, -1), 3, 3)
    if outcome is Outcome.DIFFERS:
        painter.fillRect(QRectF(cell.left() + 4, cell.center().y() - 1.5, cell.width() - 8, 3), ink)


class Marks:
    """Each mark drawn once and stamped from then on: a screen full of them is a thousand and more."""

    def __init__(self) -> None:
        self._drawn: dict[tuple[Outcome | None, float], QPixmap] = {}

    def of(self, outcome: Outcome | None, size: tuple[float, float], ratio: float) -> QPixmap:
        """The mark of an outcome; `ratio` device pixels a pixel."""
        mark = self._drawn.get((outcome, ratio))
        if mark is None:
            mark = self._drawn[outcome, ratio] = QPixmap(QSize(int(size[0] * ratio), int(size[1] * ratio)))
            mark.setDevicePixelRatio(ratio)
            mark.fill(Qt.GlobalColor.transparent)
            painter = QPainter(mark)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint_mark(painter, QRectF(0.5, 0.5, size[0] - 1, size[1] - 1), outcome)
            painter.end()
        return mark
