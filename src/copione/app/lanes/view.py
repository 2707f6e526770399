"""The lanes themselves: rows are devices, columns are steps; only what is in sight is painted, and of that only what has changed."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QRegion, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from ...comparison.lanes import Cell, Lane, LaneColumn, Lanes
from ...model.action import Check
from ...model.address import Address
from ...model.outcome import Outcome, Result
from ...model.reading import BranchTaken
from ...model.take import TakeName
from ...project.archive import picture_path
from .. import theme
from ..parts import tip
from ..pictures import PictureCache, close_part
from ..runs import ShownRun
from ..stage.steps import CROP_DP
from ..wording import quoted, short, way_said
from .grid import AROUND, BAR, CROPS, NAMES, ZOOMS, Grid
from .painting import Stamps, frame_pen, paint_blank, paint_corner, paint_flag, paint_mark, paint_way, two_lines

MANY = 300  # cells that changed, from which all is painted anew
BLOCK = 64  # marks of a row that are stamped as one
ROOM = 900  # stamps: some screens full of frames
MARKED: tuple[Outcome | None, ...] = (None, *Outcome)
HEAD_TOP = 30.0  # of a column's words in the heads
LEFT, OVER, RIGHT = 2.0, 6.0, 5.0  # pixels round a cell within which its frame and flag are drawn


class LanesView(QAbstractScrollArea):
    """Arrow keys walk steps and devices; Ctrl+wheel goes from marks to crops to whole screens."""

    chosen = Signal(object, object)  # TakeName, Address

    def __init__(self, runs: ShownRun, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs, self.pictures = runs, pictures
        self.zoom = CROPS
        self.take: TakeName | None = None
        self.address: Address | None = None
        self.only_different = False
        self._stamps = Stamps(ROOM)
        self._outcomes: list[bytearray] = []  # by row and column: places in `MARKED`
        self._columns: tuple[LaneColumn, ...] = ()
        self._noticed: object = None  # the remarks that are painted
        self._scenes: list[tuple[int, str]] = []
        self._places: dict[Address, int] = {}
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Lanes: devices by steps")
        self.viewport().setMouseTracking(True)
        runs.changed.connect(self._changed)
        pictures.arrived.connect(self._arrived)
        self._changed()

    # geometry

    @property
    def lanes(self) -> Lanes:
        """What is shown."""
        return self.runs.lanes

    @property
    def columns(self) -> tuple[LaneColumn, ...]:
        """The columns that are shown."""
        return self._columns

    def grid(self) -> Grid:
        """Where the cells are now."""
        return Grid(self.zoom, self.horizontalScrollBar().value(), self.verticalScrollBar().value())

    def cell_of(self, take: TakeName, address: Address) -> QRectF | None:
        """A cell in the viewport; None where its column is not shown."""
        row, place = self.lanes.places.get(take), self._places.get(address)
        return self.grid().cell(row, place) if row is not None and place is not None else None

    def at(self, point: QPointF) -> tuple[Lane, LaneColumn] | None:
        """Lane and column under a point of the viewport."""
        found = self.grid().at(point, len(self.lanes.lanes), len(self._columns))
        return (self.lanes.lanes[found[0]], self._columns[found[1]]) if found is not None else None

    def wanted_height(self) -> int:
        """With every device in sight."""
        return Grid(self.zoom).whole(len(self.lanes.lanes), 0)[1] + 14

    def _arrange(self) -> None:
        """Which columns are shown, and how far it scrolls."""
        lanes = self.lanes
        self._columns = tuple(c for c in lanes.columns if lanes.wrong.get(c.address)) if self.only_different else lanes.columns
        self._places = {column.address: place for place, column in enumerate(self._columns)}
        self._scenes = [(n, c.scene) for n, c in enumerate(self._columns) if n == 0 or self._columns[n - 1].scene != c.scene]
        self._outcomes = [bytearray(_marked(lane.result(c.address)) for c in lanes.columns) for lane in lanes.lanes]
        self._ranges()

    def _ranges(self) -> None:
        grid = Grid(self.zoom)
        wide, tall = grid.whole(len(self.lanes.lanes), len(self._columns))
        view = self.viewport().size()
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        across.setRange(0, max(0, wide - view.width()))
        down.setRange(0, max(0, tall - view.height()))
        across.setPageStep(view.width())
        down.setPageStep(view.height())
        across.setSingleStep(int(grid.pitch[0]))
        down.setSingleStep(int(grid.pitch[1]))

    def resizeEvent(self, _event: QResizeEvent) -> None:
        self._ranges()
        if self.address is not None:
            self.reveal()

    def _changed(self) -> None:
        changed, noticed = self.runs.news.changed, self._noticed
        self._noticed = self.runs.remarks
        if noticed is not self._noticed and changed is not None:
            self.viewport().update()
        if changed is None or self.only_different:
            self._arrange()
        else:
            for cell in changed:
                row, number = self.lanes.places[cell.take], self.lanes.numbers[cell.address]
                self._outcomes[row][number] = _marked(self.lanes.lanes[row].result(cell.address))
        if changed is None or self.only_different or len(changed) > MANY:
            self.viewport().update()
        else:
            self.viewport().update(self._region(changed))

    def _arrived(self) -> None:
        self._stamps.finish()
        self.viewport().update()

    def _region(self, cells: frozenset[Cell]) -> QRegion:
        grid, view = self.grid(), QRectF(self.viewport().rect())
        region = QRegion()
        for cell in cells:
            row, place = self.lanes.places.get(cell.take), self._places.get(cell.address)
            if row is not None and place is not None:
                area = grid.cell(row, place).adjusted(-LEFT, -OVER, RIGHT, BAR)
                if area.intersects(view):
                    region += area.toAlignedRect()
        return region

    def set_only_different(self, on: bool) -> None:
        """Show only columns in which something went wrong."""
        self.only_different = on
        self._arrange()
        self.horizontalScrollBar().setValue(0)
        self.viewport().update()

    def set_zoom(self, zoom: int) -> None:
        """Marks (0), crops (1), whole screens (2)."""
        self.zoom = min(len(ZOOMS) - 1, max(0, zoom))
        self._ranges()
        self.viewport().update()

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        grid, lanes, view = self.grid(), self.lanes, self.viewport().rect()
        painter.fillRect(event.rect(), theme.SHEET)
        places = grid.places_in(view.width(), len(self._columns))
        for rows, ceiling in (
            (grid.rows_in(view.height(), len(lanes.lanes)), grid.lead_bottom),
            (range(min(1, len(lanes.lanes))), grid.head),
        ):
            painter.setClipRect(QRectF(0, ceiling, view.width(), view.height()))
            if rows.start == 0 and rows:
                painter.fillRect(QRectF(0, ceiling, view.width(), grid.lead_bottom - ceiling), theme.SHEET)
            painter.setClipRect(QRectF(NAMES - 6, ceiling, view.width(), view.height()))
            for row in rows:
                if self.zoom:
                    self._frames(painter, grid, lanes.lanes[row], row, places)
                else:
                    self._row_of_marks(painter, grid, row, places)
            self._current(painter, grid, rows)
            painter.setClipRect(QRectF(0, ceiling, view.width(), view.height()))
            for row in rows:
                self._name(painter, grid, lanes.lanes[row], row)
            for row in rows:
                self._rule(painter, grid, row)
        painter.setClipping(False)
        self._heads(painter, grid, places)
        if self.hasFocus():
            painter.setPen(QPen(theme.CHECK, 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(view).adjusted(1, 1, -1, -1))

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.viewport().update()

    def _row_of_marks(self, painter: QPainter, grid: Grid, row: int, places: range) -> None:
        """A row of marks, stamped in blocks: a screen full of them is more than a thousand."""
        shown = self._shown_outcomes(row)
        name, dx, ratio = self.lanes.lanes[row].name, grid.pitch[0], self.devicePixelRatioF()
        for block in range(places.start // BLOCK, (places.stop - 1) // BLOCK + 1):
            says = bytes(shown[block * BLOCK : (block + 1) * BLOCK])
            size = QSizeF(len(says) * dx, grid.pitch[1])
            stamp = self._stamps.of(("marks", name, block), says, size, ratio, partial(self._paint_marks, grid, says))
            painter.drawPixmap(grid.cell(row, block * BLOCK).topLeft(), stamp)
        for address in self.runs.remarks.get(name, ()):
            if self._places.get(address, -1) in places:
                paint_corner(painter, grid.cell(row, self._places[address]), 5)

    def _shown_outcomes(self, row: int) -> bytearray:
        outcomes = self._outcomes[row]
        if len(self._columns) == len(outcomes):
            return outcomes
        return bytearray(outcomes[self.lanes.numbers[column.address]] for column in self._columns)

    def _paint_marks(self, grid: Grid, says: bytes, painter: QPainter) -> bool:
        ratio, size = self.devicePixelRatioF(), QSizeF(*grid.size)
        area = QRectF(0.5, 0.5, size.width() - 1, size.height() - 1)
        marks = [self._stamps.of(outcome, None, size, ratio, partial(_paint_mark, area, outcome)) for outcome in MARKED]
        for place, code in enumerate(says):
            painter.drawPixmap(QPointF(place * grid.pitch[0], 0), marks[code])
        return True

    def _frames(self, painter: QPainter, grid: Grid, lane: Lane, row: int, places: range) -> None:
        ratio, longest, remarked = self.devicePixelRatioF(), self.lanes.longest, self.runs.remarks.get(lane.name, {})
        wide, tall = grid.size
        size, area = QSizeF(LEFT + wide + RIGHT, OVER + tall + BAR), QRectF(LEFT, OVER, wide, tall)
        first = grid.cell(row, places.start)
        x, y, dx = first.left() - LEFT, first.top() - OVER, grid.pitch[0]
        for place in places:
            address = self._columns[place].address
            result = lane.result(address)

            def paint(onto: QPainter, result: Result | None = result) -> bool:
                return self._cell(onto, area, lane, result)

            key = None if result is None else (lane.name, address, self.zoom)
            says = None if result is None else (id(result), lane.folder, longest, address in remarked)
            painter.drawPixmap(QPointF(x, y), self._stamps.of(("frame", key, self.zoom), says, size, ratio, paint))
            x += dx

    def _current(self, painter: QPainter, grid: Grid, rows: range) -> None:
        """The column that is looked at, and in it the device."""
        place = self._places.get(self.address) if self.address is not None else None
        if place is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for row in rows:
            painter.setPen(QPen(theme.INK, 2.4 if self.lanes.lanes[row].name == self.take else 1.4))
            around = grid.cell(row, place).adjusted(-AROUND, -AROUND, AROUND, BAR if self.zoom else AROUND)
            painter.drawRoundedRect(around, 7, 7)

    def _heads(self, painter: QPainter, grid: Grid, places: range) -> None:
        view = self.viewport().rect()
        painter.fillRect(QRectF(0, 0, view.width(), grid.head), theme.PAPER)
        painter.setPen(theme.RULE)
        painter.drawLine(QPointF(0, grid.head), QPointF(view.width(), grid.head))
        painter.setClipRect(QRectF(NAMES - 6, 0, view.width(), grid.head))
        painter.setFont(theme.font(theme.BODY, 700))
        for number, (place, scene) in enumerate(self._scenes):
            after = self._scenes[number + 1][0] if number + 1 < len(self._scenes) else len(self._columns)
            if after > places.start and place < places.stop:
                x = grid.cell(0, place).left()
                painter.fillRect(QRectF(x, 8, 2, 16), theme.INK)
                painter.setPen(theme.INK)
                left = max(x + 8, NAMES)  # a scene that began out of sight keeps its name
                room = int(grid.cell(0, after).left() - left - 6)
                painter.drawText(QPointF(left, 21), painter.fontMetrics().elidedText(scene, Qt.TextElideMode.ElideRight, max(0, room)))
        if self.zoom:
            size = QSizeF(grid.size[0] + 8, grid.head - HEAD_TOP - 2)
            for place in places:
                column = self._columns[place]
                says = (column.words, column.address == self.address)
                paint = partial(_paint_head, column, says[1], size.width())
                stamp = self._stamps.of(("head", column.address, self.zoom), says, size, self.devicePixelRatioF(), paint, theme.PAPER)
                painter.drawPixmap(QPointF(grid.cell(0, place).left() - 4, HEAD_TOP), stamp)
        painter.setClipping(False)

    def _name(self, painter: QPainter, grid: Grid, lane: Lane, row: int) -> None:
        lead = row == 0
        area = QRectF(0, grid.cell(row, 0).top() - 6, NAMES - 8, grid.pitch[1])
        says = (lane.device.name, self._about(lane, lead) if self.zoom else "")
        paint = partial(_paint_name, area.size(), *says)
        stamp = self._stamps.of(("name", lane.name, self.zoom), says, area.size(), self.devicePixelRatioF(), paint)
        painter.drawPixmap(area.topLeft(), stamp)

    def _rule(self, painter: QPainter, grid: Grid, row: int) -> None:
        lead, below = row == 0, grid.cell(row, 0).top() - 6 + grid.pitch[1]
        painter.setPen(QPen(theme.INK if lead and len(self.lanes.lanes) > 1 else theme.RULE, 1.4 if lead else 1))
        painter.drawLine(QPointF(0, below), QPointF(self.viewport().width(), below))

    def _about(self, lane: Lane, lead: bool) -> str:
        device = lane.device
        words = [f"{device.width:.0f} dp"]
        if lead:
            return " · ".join(["lead", *words])
        if device.text_scale != 1:
            words.append(f"text {device.text_scale:.0%}".replace("%", " %"))
        if self.lanes.lanes[-1].row > 1 or lane.row > 1:
            words.append(f"row {lane.row}")
        return " · ".join(words)

    def _cell(self, painter: QPainter, cell: QRectF, lane: Lane, result: Result | None) -> bool:
        """Draw a cell; False while its picture is still to come."""
        if result is None or not result.outcome.tried:
            paint_blank(painter, cell, result.outcome if result is not None else None)
            return True
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(cell, 4, 4)
        whole = self._picture(painter, cell, lane, result)
        painter.setPen(frame_pen(result.outcome))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(cell, 4, 4)
        track = QRectF(cell.left(), cell.bottom() + 5, cell.width(), 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.DESK)
        painter.drawRoundedRect(track, 2, 2)
        painter.setBrush(theme.OUTCOMES[result.outcome])
        share = result.seconds / (self.lanes.longest or 1.0)
        painter.drawRoundedRect(QRectF(track.left(), track.top(), max(4.0, track.width() * share), 4), 2, 2)
        if result.address in self.runs.remarks.get(lane.name, ()):
            paint_corner(painter, QRectF(cell.left(), cell.bottom() - 12, 12, 12) if result.outcome.bad else cell, 12)
        if result.outcome.bad:
            paint_flag(painter, QPointF(cell.right() + 4, cell.top()), result.outcome)
        elif isinstance(result.reading, BranchTaken):
            paint_way(painter, QPointF(cell.right() + 4, cell.top()), way_said(result.reading))
        return whole

    def _picture(self, painter: QPainter, cell: QRectF, lane: Lane, result: Result) -> bool:
        name = result.before or result.after
        if lane.folder is None or not name:
            return True
        ratio = self.devicePixelRatioF()
        part = None
        if self.zoom == CROPS:
            device = lane.device
            box = result.box or (0.0, 0.0, device.width, device.width * cell.height() / cell.width())
            part = close_part(tuple(box), device.width, device.height, cell.size().toSize(), CROP_DP)
        pixmap = self.pictures.get(picture_path(lane.folder, name), (cell.size() * ratio).toSize(), part)
        if pixmap is None:
            return False
        if not pixmap.isNull():
            wide, tall = pixmap.width() / ratio, pixmap.height() / ratio
            painter.drawPixmap(
                QRectF(cell.center().x() - wide / 2, cell.center().y() - tall / 2, wide, tall), pixmap, QRectF(pixmap.rect())
            )
        return True

    # choosing

    def choose(self, take: TakeName, address: Address) -> None:
        """Make a cell the current one."""
        if take in self.lanes.places and address in self.lanes.numbers:
            self.take, self.address = take, address
            self.reveal()
            self.viewport().update()
            self.chosen.emit(take, address)

    def reveal(self) -> None:
        """Scroll so that the chosen cell is in sight."""
        cell = self.cell_of(self.take, self.address) if self.take is not None and self.address is not None else None
        if cell is None or self.take is None:
            return
        down, across, grid = self.verticalScrollBar(), self.horizontalScrollBar(), self.grid()
        if self.lanes.places[self.take] and cell.top() < grid.lead_bottom + 6:
            down.setValue(int(down.value() + cell.top() - grid.lead_bottom - 12))
        elif cell.bottom() + BAR > self.viewport().height():
            down.setValue(int(down.value() + cell.bottom() + BAR + 8 - self.viewport().height()))
        if cell.left() < NAMES:
            across.setValue(int(across.value() + cell.left() - NAMES - 10))
        elif cell.right() > self.viewport().width() - 8:
            across.setValue(int(across.value() + cell.right() - self.viewport().width() + 16))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.at(event.position())
        if found is not None:
            self.choose(found[0].name, found[1].address)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        found = self.at(event.position())
        result = found[0].result(found[1].address) if found is not None else None
        words = ""
        if found is not None and result is not None:
            words = f"{found[0].device.name}: {result.step}\n{result.outcome.value}, {result.seconds:.2f} s"
            words += f"\n{result.reason}" if result.reason else ""
        tip(self.viewport(), quoted(words))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        move = moves.get(Qt.Key(event.key()))
        lanes = self.lanes.lanes
        if move is None or not self._columns or not lanes:
            super().keyPressEvent(event)
            return
        row = self.lanes.places.get(self.take, 0) if self.take is not None else 0
        place = self._places.get(self.address, -1) if self.address is not None else -1
        row, place = min(max(0, row + move[0]), len(lanes) - 1), min(max(0, place + move[1]), len(self._columns) - 1)
        self.choose(lanes[row].name, self._columns[place].address)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.set_zoom(self.zoom + (1 if event.angleDelta().y() > 0 else -1))
        else:
            super().wheelEvent(event)


def _paint_mark(area: QRectF, outcome: Outcome | None, painter: QPainter) -> bool:
    paint_mark(painter, area, outcome)
    return True


def _marked(result: Result | None) -> int:
    return MARKED.index(result.outcome) if result is not None else 0


def _paint_head(column: LaneColumn, current: bool, wide: float, painter: QPainter) -> bool:
    """Verb and object of a step."""
    verb, rest = short(column.words)
    painter.setPen(theme.CHECK if isinstance(column.action, Check) else theme.TOUCH_TEXT)
    painter.setFont(theme.font(theme.CAPTION, 600))
    painter.drawText(QRectF(0, 0, wide, 14), Qt.AlignmentFlag.AlignHCenter, verb)
    painter.setPen(theme.INK if current else theme.MUTED)
    painter.setFont(theme.font(theme.CAPTION, 700 if current else 400))
    words = two_lines(painter, rest, wide)
    painter.drawText(QRectF(0, 13, wide, 30), int(Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap), words)
    return True


def _paint_name(area: QSizeF, name: str, about: str, painter: QPainter) -> bool:
    """A device's name, and under it what it is."""
    painter.fillRect(QRectF(0, 0, area.width(), area.height()), theme.SHEET)
    painter.setPen(theme.INK)
    painter.setFont(theme.font(theme.BODY, 600))
    name = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(area.width() - 14))
    middle = area.height() / 2
    if not about:
        painter.drawText(QRectF(12, 0, area.width(), area.height()), Qt.AlignmentFlag.AlignVCenter, name)
        return True
    painter.drawText(QRectF(12, middle - 18, area.width(), 18), Qt.AlignmentFlag.AlignVCenter, name)
    painter.setPen(theme.MUTED)
    painter.setFont(theme.font(theme.CAPTION))
    painter.drawText(QRectF(12, middle, area.width(), 16), Qt.AlignmentFlag.AlignVCenter, about)
    return True
