"""The lanes themselves: rows are devices, columns are steps; only what is in sight is painted."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from ...comparison.lanes import Column, Lane
from ...model.outcome import Outcome, Result
from ...project.archive import TakeRecord
from .. import theme
from ..pictures import Pictures, close_part
from ..runs import Runs
from ..stage.steps import CROP_DP
from ..wording import short

NAMES, HEAD, BAR = 132.0, 76.0, 12.0
#: Cell sizes: marks only, crops, whole screens.
ZOOMS = ((18.0, 16.0), (86.0, 44.0), (86.0, 150.0))
GAP = 10.0


class LanesView(QAbstractScrollArea):
    """Arrow keys walk steps and devices; Ctrl+wheel goes from marks to crops to whole screens."""

    chosen = Signal(int, int)  # lane, column

    def __init__(self, runs: Runs, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs, self.pictures = runs, pictures
        self.zoom = 1
        self.column, self.lane = -1, 0
        self.only_different = False
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Lanes: devices by steps")
        self.viewport().setMouseTracking(True)
        runs.changed.connect(self._changed)
        pictures.arrived.connect(self.viewport().update)

    # geometry

    def columns(self) -> list[int]:
        """Indices of the columns that are shown."""
        lanes = self.runs.lanes
        every = range(len(lanes.columns))
        if not self.only_different:
            return list(every)
        return [i for i in every if any(i < len(lane.results) and not lane.results[i].outcome.good for lane in lanes.lanes)]

    def cell_size(self) -> tuple[float, float]:
        return ZOOMS[self.zoom]

    def pitch(self) -> tuple[float, float]:
        wide, tall = self.cell_size()
        return wide + (GAP if self.zoom else 4), tall + (BAR + 12 if self.zoom else 8)

    def head(self) -> float:
        return HEAD if self.zoom else 34.0

    def cell(self, row: int, place: int) -> QRectF:
        """A cell in the viewport; `place` counts the shown columns."""
        wide, tall = self.cell_size()
        dx, dy = self.pitch()
        x = NAMES + place * dx - self.horizontalScrollBar().value()
        y = self.head() + 8 + row * dy - (self.verticalScrollBar().value() if row else 0)  # the lead's row stays where it is
        return QRectF(x, y, wide, tall)

    def _ranges(self) -> None:
        dx, dy = self.pitch()
        wide = NAMES + len(self.columns()) * dx + 10
        tall = self.head() + 8 + len(self.runs.lanes.lanes) * dy + 8
        view = self.viewport().size()
        self.horizontalScrollBar().setRange(0, max(0, int(wide - view.width())))
        self.verticalScrollBar().setRange(0, max(0, int(tall - view.height())))
        self.horizontalScrollBar().setPageStep(view.width())
        self.verticalScrollBar().setPageStep(view.height())
        self.horizontalScrollBar().setSingleStep(int(dx))

    def wanted_height(self) -> int:
        return int(self.head() + 8 + len(self.runs.lanes.lanes) * self.pitch()[1] + 22)

    def resizeEvent(self, _event: QResizeEvent) -> None:
        self._ranges()
        if self.column >= 0:
            self.reveal()

    def _changed(self) -> None:
        self._ranges()
        self.viewport().update()

    def set_only_different(self, on: bool) -> None:
        self.only_different = on
        self.horizontalScrollBar().setValue(0)
        self._changed()

    # painting

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        lanes = self.runs.lanes
        columns = self.columns()
        view = self.viewport().rect()
        longest = max((r.seconds for lane in lanes.lanes for r in lane.results), default=1.0) or 1.0
        painter.fillRect(view, theme.SHEET)
        dx, dy = self.pitch()
        first = max(0, int((self.horizontalScrollBar().value()) // dx))
        last = min(len(columns), first + int(view.width() // dx) + 2)
        for row, lane in [*list(enumerate(lanes.lanes))[1:], *list(enumerate(lanes.lanes))[:1]]:
            top = self.cell(row, 0).top() - 6
            if top > view.bottom() or top + dy < 0:
                continue
            ceiling = self.head() + (dy + 2 if row else 0)
            painter.save()
            painter.setClipRect(QRectF(0, ceiling, view.width(), view.height()))
            if row == 0:
                painter.fillRect(QRectF(0, ceiling, view.width(), dy + 2), theme.SHEET)
            painter.save()
            painter.setClipRect(QRectF(NAMES - 6, ceiling, view.width(), view.height()))
            for place in range(first, last):
                index = columns[place]
                result = lane.results[index] if index < len(lane.results) else None
                self._cell(painter, self.cell(row, place), lane, result, longest)
                if index == self.column:
                    self._current(painter, self.cell(row, place), row == self.lane)
            painter.restore()
            self._name(painter, QRectF(0, top, NAMES - 8, dy), lane, row == 0)
            painter.setPen(QPen(theme.INK if row == 0 and len(lanes.lanes) > 1 else theme.RULE, 1.4 if row == 0 else 1))
            painter.drawLine(QPointF(0, top + dy), QPointF(view.width(), top + dy))
            painter.restore()
        self._heads(painter, columns, first, last)

    def _heads(self, painter: QPainter, columns: list[int], first: int, last: int) -> None:
        view = self.viewport().rect()
        painter.fillRect(QRectF(0, 0, view.width(), self.head()), theme.PAPER)
        painter.setPen(theme.RULE)
        painter.drawLine(QPointF(0, self.head()), QPointF(view.width(), self.head()))
        painter.save()
        painter.setClipRect(QRectF(NAMES - 6, 0, view.width(), self.head()))
        lanes = self.runs.lanes
        scene = None
        for place, index in enumerate(columns):
            column = lanes.columns[index]
            x = self.cell(0, place).left()
            if column.scene != scene:
                scene = column.scene
                painter.fillRect(QRectF(x, 8, 2, 16), theme.INK)
                painter.setPen(theme.INK)
                painter.setFont(theme.font(theme.BODY, 700))
                painter.drawText(QPointF(x + 8, 21), scene)
            if first <= place < last and self.zoom:
                self._head(painter, x, column, index == self.column)
        painter.restore()

    def _head(self, painter: QPainter, x: float, column: Column, current: bool) -> None:
        wide = self.cell_size()[0]
        verb, rest = short(column.words)
        painter.setPen(theme.CHECK if verb == "check" else theme.TOUCH_TEXT)
        painter.setFont(theme.font(theme.CAPTION, 600))
        painter.drawText(QRectF(x - 4, 30, wide + 8, 14), Qt.AlignmentFlag.AlignHCenter, verb)
        painter.setPen(theme.INK if current else theme.MUTED)
        painter.setFont(theme.font(theme.CAPTION, 700 if current else 400))
        painter.drawText(
            QRectF(x - 4, 43, wide + 8, 30), Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap, _two_lines(painter, rest, wide + 8)
        )

    def _name(self, painter: QPainter, area: QRectF, lane: Lane, first: bool) -> None:
        painter.fillRect(area, theme.SHEET)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(theme.BODY, 600))
        name = painter.fontMetrics().elidedText(lane.device.name, Qt.TextElideMode.ElideRight, int(area.width() - 14))
        middle = area.center().y()
        if not self.zoom:
            painter.drawText(area.adjusted(12, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, name)
            return
        painter.drawText(QRectF(12, middle - 18, area.width(), 18), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(theme.MUTED)
        painter.setFont(theme.font(theme.CAPTION))
        device = lane.device
        words = [f"{device.width:.0f} dp"]
        if device.text_scale != 1:
            words.append(f"text {device.text_scale:.0%}".replace("%", " %"))
        if any(other.row > 1 for other in self.runs.lanes.lanes):
            words.append(f"row {lane.row}")
        painter.drawText(
            QRectF(12, middle, area.width(), 16), Qt.AlignmentFlag.AlignVCenter, " · ".join(["lead", *words[:1]] if first else words)
        )

    def _cell(self, painter: QPainter, cell: QRectF, lane: Lane, result: Result | None, longest: float) -> None:
        outcome = result.outcome if result else None
        if outcome in (None, Outcome.UNREACHED):
            self._blank(painter, cell, outcome is Outcome.UNREACHED)
            return
        assert result is not None and outcome is not None
        ink = theme.OUTCOMES[outcome]
        if not self.zoom:
            paint_mark(painter, cell, outcome)
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(cell, 4, 4)
        self._picture(painter, cell, lane, result)
        pen = QPen(theme.RULE, 1)
        if outcome is Outcome.ADAPTED:
            pen = QPen(ink, 2, Qt.PenStyle.DashLine)
        elif outcome in (Outcome.DIFFERS, Outcome.STUCK):
            pen = QPen(ink, 2 if outcome is Outcome.DIFFERS else 3)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(cell, 4, 4)
        track = QRectF(cell.left(), cell.bottom() + 5, cell.width(), 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.DESK)
        painter.drawRoundedRect(track, 2, 2)
        painter.setBrush(ink)
        painter.drawRoundedRect(QRectF(track.left(), track.top(), max(4.0, track.width() * result.seconds / longest), 4), 2, 2)
        if outcome in (Outcome.DIFFERS, Outcome.STUCK):
            paint_flag(painter, QPointF(cell.right() + 4, cell.top() - 3), outcome)

    def _blank(self, painter: QPainter, cell: QRectF, hatched: bool) -> None:
        painter.setPen(QPen(theme.RULE, 1, Qt.PenStyle.DashLine))
        painter.setBrush(QBrush(QColor("#D8D2C4"), Qt.BrushStyle.BDiagPattern) if hatched else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(cell, 4, 4)

    def _picture(self, painter: QPainter, cell: QRectF, lane: Lane, result: Result) -> None:
        take = lane.place
        name = result.before or result.after
        if not isinstance(take, TakeRecord) or not name:
            return
        ratio = self.devicePixelRatioF()
        part = None
        if self.zoom == 1:
            device = lane.device
            box = result.box or (0.0, 0.0, device.width, device.width * cell.height() / cell.width())
            part = close_part(tuple(box), device.width, device.height, cell.size().toSize(), CROP_DP)
        pixmap = self.pictures.get(take.picture(name), (cell.size() * ratio).toSize(), part)
        if pixmap is None or pixmap.isNull():
            return
        wide, tall = pixmap.width() / ratio, pixmap.height() / ratio
        painter.drawPixmap(QRectF(cell.center().x() - wide / 2, cell.center().y() - tall / 2, wide, tall), pixmap, QRectF(pixmap.rect()))

    def _current(self, painter: QPainter, cell: QRectF, strong: bool) -> None:
        painter.setPen(QPen(theme.INK, 2.4 if strong else 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(cell.adjusted(-4, -4, 4, BAR if self.zoom else 4), 7, 7)

    # choosing

    def choose(self, lane: int, column: int) -> None:
        lanes = self.runs.lanes
        if not lanes.columns or not lanes.lanes:
            return
        self.lane = min(max(0, lane), len(lanes.lanes) - 1)
        self.column = min(max(0, column), len(lanes.columns) - 1)
        self.reveal()
        self.viewport().update()
        self.chosen.emit(self.lane, self.column)

    def reveal(self) -> None:
        """Scroll so that the chosen cell is in sight."""
        shown = self.columns()
        if self.column in shown:
            cell = self.cell(self.lane, shown.index(self.column))
            down = self.verticalScrollBar()
            above = self.head() + self.pitch()[1] + 8
            if self.lane and cell.top() < above:
                down.setValue(int(down.value() + cell.top() - above - 6))
            elif cell.bottom() + BAR > self.viewport().height():
                down.setValue(int(down.value() + cell.bottom() + BAR + 8 - self.viewport().height()))
            bar = self.horizontalScrollBar()
            if cell.left() < NAMES:
                bar.setValue(int(bar.value() + cell.left() - NAMES - 10))
            elif cell.right() > self.viewport().width() - 8:
                bar.setValue(int(bar.value() + cell.right() - self.viewport().width() + 16))

    def at(self, point: QPoint) -> tuple[int, int] | None:
        """Lane and column under a point of the viewport."""
        shown = self.columns()
        for row in range(len(self.runs.lanes.lanes)):
            for place, index in enumerate(shown):
                if self.cell(row, place).adjusted(-4, -4, 4, BAR).contains(QPointF(point)):
                    return row, index
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.at(event.position().toPoint())
        if found is not None:
            self.choose(*found)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        found = self.at(event.position().toPoint())
        words = ""
        if found is not None:
            lane = self.runs.lanes.lanes[found[0]]
            if found[1] < len(lane.results):
                result = lane.results[found[1]]
                words = f"{lane.device.name}: {result.step}\n{result.outcome.value}, {result.seconds:.2f} s" + (
                    f"\n{result.reason}" if result.reason else ""
                )
        self.viewport().setToolTip(words)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        shown = self.columns()
        moves = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        move = moves.get(Qt.Key(event.key()))
        if move is None or not shown:
            super().keyPressEvent(event)
            return
        place = shown.index(self.column) if self.column in shown else -1
        self.choose(self.lane + move[0], shown[min(max(0, place + move[1]), len(shown) - 1)])

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.set_zoom(self.zoom + (1 if event.angleDelta().y() > 0 else -1))
        else:
            super().wheelEvent(event)

    def set_zoom(self, zoom: int) -> None:
        self.zoom = min(len(ZOOMS) - 1, max(0, zoom))
        self._changed()


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


def paint_mark(painter: QPainter, cell: QRectF, outcome: Outcome) -> None:
    """An outcome without picture or word: a bar, a dashed frame, a frame with a bar, a heavy block."""
    ink = theme.OUTCOMES[outcome]
    if outcome is Outcome.HELD:
        painter.fillRect(QRectF(cell.left(), cell.center().y() - 2, cell.width(), 4), ink)
        return
    painter.setPen(QPen(ink, 1.6, Qt.PenStyle.DashLine if outcome is Outcome.ADAPTED else Qt.PenStyle.SolidLine))
    painter.setBrush(ink if outcome is Outcome.STUCK else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(cell.adjusted(1, 1, -1, -1), 3, 3)
    if outcome is Outcome.DIFFERS:
        painter.fillRect(QRectF(cell.left() + 4, cell.center().y() - 1.5, cell.width() - 8, 3), ink)


def _two_lines(painter: QPainter, words: str, width: float) -> str:
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
