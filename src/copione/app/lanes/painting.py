"""How one result is drawn: as a mark, or as a frame with a flag."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
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


def paint_blank(painter: QPainter, cell: QRectF, outcome: Outcome | None) -> None:
    """A cell in which nothing was done: still to come, never tried (hatched), or in a block that was not entered (dotted, small)."""
    skipped = outcome is Outcome.SKIPPED
    painter.setPen(
        QPen(theme.OUTCOMES[Outcome.SKIPPED] if skipped else theme.RULE, 1, Qt.PenStyle.DotLine if skipped else Qt.PenStyle.DashLine)
    )
    painter.setBrush(QBrush(HATCH, Qt.BrushStyle.BDiagPattern) if outcome is Outcome.UNREACHED else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(cell.adjusted(8, 8, -8, -8) if skipped and cell.height() > 40 else cell, 4, 4)


def paint_way(painter: QPainter, right_top: QPointF, words: str) -> None:
    """A quiet flag that names the branch."""
    painter.setFont(theme.font(theme.CAPTION, 600))
    wide = painter.fontMetrics().horizontalAdvance(words) + 12
    flag = QRectF(right_top.x() - wide, right_top.y() - 5, wide, 17)
    painter.setPen(QPen(theme.RULE, 1))
    painter.setBrush(theme.SHEET)
    painter.drawRoundedRect(flag, 3, 3)
    painter.setPen(theme.INK)
    painter.drawText(flag, Qt.AlignmentFlag.AlignCenter, words)


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


def paint_corner(painter: QPainter, cell: QRectF, side: float) -> None:
    """A folded corner in ink, whatever the outcome: something was noticed here."""
    right, top = cell.right(), cell.top()
    painter.setPen(QPen(theme.INK, 1))
    painter.setBrush(theme.INK)
    painter.drawPolygon([QPointF(right - side, top), QPointF(right, top + side), QPointF(right, top)])
    painter.setBrush(theme.SHEET)
    painter.drawPolygon([QPointF(right - side, top), QPointF(right, top + side), QPointF(right - side, top + side)])


def paint_mark(painter: QPainter, cell: QRectF, outcome: Outcome | None) -> None:
    """An outcome without picture or word: a bar, a dashed frame, a frame with a bar, a heavy block; a blank where there is none."""
    if outcome is None or not outcome.tried:
        paint_blank(painter, cell, outcome)
        return
    ink = theme.OUTCOMES[outcome]
    if outcome is Outcome.HELD:
        painter.fillRect(QRectF(cell.left(), cell.center().y() - 2, cell.width(), 4), ink)
        return
    painter.setPen(QPen(ink, 1.6, Qt.PenStyle.DashLine if outcome is Outcome.ADAPTED else Qt.PenStyle.SolidLine))
    painter.setBrush(ink if outcome is Outcome.STUCK else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(cell.adjusted(1, 1, -1, -1), 3, 3)
    if outcome is Outcome.DIFFERS:
        painter.fillRect(QRectF(cell.left() + 4, cell.center().y() - 1.5, cell.width() - 8, 3), ink)


def two_lines(painter: QPainter, words: str, width: float) -> str:
    """Words broken into at most two lines, the second elided."""
    metrics = painter.fontMetrics()
    if metrics.horizontalAdvance(words) <= width:
        return words
    first, rest = "", words.split(" ")
    while rest and metrics.horizontalAdvance(f"{first} {rest[0]}".strip()) <= width:
        first = f"{first} {rest.pop(0)}".strip()
    if not first:
        return metrics.elidedText(words, Qt.TextElideMode.ElideRight, int(width))
    return first + "\n" + metrics.elidedText(" ".join(rest), Qt.TextElideMode.ElideRight, int(width))


class Stamps:
    """What was drawn is kept as a picture and stamped from then on, for as long as it says the same: a screen full of cells is many.

    `room` is how many are kept. Stamps are opaque, on the colour that they are put on: they must not overlap.
    """

    def __init__(self, room: int) -> None:
        self._room = room
        self._kept: OrderedDict[Hashable, tuple[object, QPixmap, bool]] = OrderedDict()

    def finish(self) -> None:
        """More of what could not be drawn yet is there now: draw it the next time."""
        for key in [key for key, (_, _, whole) in self._kept.items() if not whole]:
            del self._kept[key]

    def of(
        self, key: Hashable, says: object, size: QSizeF, ratio: float, paint: Callable[[QPainter], bool], ground: QColor = theme.SHEET
    ) -> QPixmap:
        """The stamp of that key, drawn anew where it says something else now; `ratio` device pixels a pixel.

        `paint` tells whether all of it could be drawn: if not, it is drawn again after `finish`.
        """
        kept = self._kept.get(key)
        if kept is not None and kept[0] == says:
            self._kept.move_to_end(key)
            return kept[1]
        stamp = QPixmap((size * ratio).toSize())
        stamp.setDevicePixelRatio(ratio)
        stamp.fill(ground)
        painter = QPainter(stamp)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        whole = paint(painter)
        painter.end()
        self._kept[key] = says, stamp, whole
        if len(self._kept) > self._room:
            self._kept.popitem(last=False)
        return stamp
