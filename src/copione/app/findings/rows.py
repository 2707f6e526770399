"""The list of findings: a model of what is shown, and how a row is painted. However many there are, a row costs when it is in sight."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QPoint, QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPainterPath, QPen, QPixmap, QTextLayout, QTextOption
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ...comparison.causes import FindingKind
from ...comparison.finding import Finding
from ...comparison.standing import FindingStanding
from ...model.geometry import Box
from ...model.take import TakeName
from ...project.archive import picture_path
from .. import theme
from ..pictures import PictureCache, close_part
from ..runs import ShownRun
from ..stage import marks
from ..wording import quoted

CROP = QSize(148, 64)
GAP = 12
WIDE_DP = 230.0  # of the screen are shown across a crop
ROW, HEAD = 98, 40
KEPT = 40  # painted rows
MARGIN = 18
ANY = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True)
class Row:
    """One line of the list: a finding, or the words over a part of it. `gone`: it was there in the run that is compared with."""

    standing: FindingStanding | None = None
    words: str = ""
    gone: bool = False

    @property
    def finding(self) -> Finding | None:
        """What it is about."""
        return self.standing.finding if self.standing is not None else None


class FindingRows(QAbstractListModel):
    """What the list shows."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[Row, ...] = ()

    def rowCount(self, parent: ANY = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def data(self, index: ANY, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return row.words if row.finding is None else f"{row.finding.flag}: {quoted(row.finding.title)}"
        return None

    def flags(self, index: ANY) -> Qt.ItemFlag:
        head = index.isValid() and self.rows[index.row()].finding is None
        return Qt.ItemFlag.NoItemFlags if head else Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable

    def show(self, rows: Sequence[Row]) -> bool:
        """Show those; were they others?"""
        if tuple(rows) == self.rows:
            return False
        self.beginResetModel()
        self.rows = tuple(rows)
        self.endResetModel()
        return True


@dataclass(frozen=True)
class _Painted:
    """A row: its words alone, all of it as far as it is there, and where to look for the pictures that have not come."""

    words: QPixmap
    made: QPixmap
    awaited: tuple[Callable[[], QPixmap | None], ...]


class Painting(QStyledItemDelegate):
    """Two pictures, the kind as a worded flag, the title, and where it is. A row is painted once, as soon as its pictures are there."""

    def __init__(self, model: FindingRows, runs: ShownRun, pictures: PictureCache) -> None:
        super().__init__()
        self.model, self.runs, self.pictures = model, runs, pictures
        self._painted: OrderedDict[tuple[int, int, bool, float], _Painted] = OrderedDict()
        self._awaited: list[Callable[[], QPixmap | None]] = []  # pictures of the row that is painted, which have not come
        model.modelReset.connect(self._painted.clear)

    def sizeHint(self, option: QStyleOptionViewItem, index: ANY) -> QSize:
        row = self.model.rows[index.row()]
        return QSize(200, HEAD if row.finding is None else ROW)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: ANY) -> None:
        row, area = self.model.rows[index.row()], option.rect
        painter.save()
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        if row.standing is None:
            self._head(painter, area, row.words)
        else:
            chosen = bool(option.state & QStyle.StateFlag.State_Selected)
            painter.drawPixmap(
                area.topLeft(), self._row(index.row(), row, row.standing, chosen, area.size(), painter.device().devicePixelRatioF())
            )
        painter.restore()

    def _row(self, number: int, row: Row, standing: FindingStanding, chosen: bool, size: QSize, ratio: float) -> QPixmap:
        """The row as it can be painted now: its words once, its pictures when they have come."""
        key = number, size.width(), chosen, ratio
        known = self._painted.get(key)
        if known is not None and all(look() is None for look in known.awaited):
            self._painted.move_to_end(key)
            return known.made
        words = known.words if known is not None else self._drawn(row, standing, chosen, size, ratio)
        self._awaited = []
        made = words.copy()
        painter = _painter(made)
        self._crops(painter, row, standing.finding)
        painter.end()
        self._painted[key] = _Painted(words, made, tuple(self._awaited))
        if len(self._painted) > KEPT:
            self._painted.popitem(last=False)
        return made

    def _drawn(self, row: Row, standing: FindingStanding, chosen: bool, size: QSize, ratio: float) -> QPixmap:
        """The row without its pictures."""
        made = QPixmap(size * ratio)
        made.setDevicePixelRatio(ratio)
        made.fill(theme.SHEET if chosen else theme.PAPER)
        painter, area = _painter(made), QRect(QPoint(0, 0), size)
        if chosen:
            painter.fillRect(QRect(0, 0, 3, size.height()), theme.INK)
        left = MARGIN + 2 * (CROP.width() + GAP)
        self._words(painter, QRect(left, 13, area.right() - left - 16, area.height() - 20), row, standing)
        self._rule(painter, area)
        painter.end()
        return made

    def _head(self, painter: QPainter, area: QRect, words: str) -> None:
        painter.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        painter.setPen(theme.MUTED)
        painter.drawText(area.adjusted(18, 10, -18, 0), Qt.AlignmentFlag.AlignVCenter, words)
        self._rule(painter, area)

    def _rule(self, painter: QPainter, area: QRect) -> None:
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())

    def _crops(self, painter: QPainter, row: Row, finding: Finding) -> None:
        fine = next(iter(finding.passing), None)
        for number, (take, failing) in enumerate(((fine, False), (finding.takes[0], True))):
            place = QRect(MARGIN + number * (CROP.width() + GAP), 15, CROP.width(), CROP.height())
            self._crop(painter, place, finding, take if not row.gone else None, failing)

    def _words(self, painter: QPainter, area: QRect, row: Row, standing: FindingStanding) -> None:
        finding = standing.finding
        right = flag(painter, area.left(), area.top(), finding.flag, finding.kind)
        painter.setFont(theme.font(theme.CAPTION, 600))
        sign, ink = ("gone", theme.MUTED) if row.gone else ("new", theme.CHECK) if standing.new else ("", theme.CHECK)
        if standing.expected:
            sign, ink = f"expected: {standing.expected}", theme.MUTED
        painter.setPen(ink)
        room = area.right() - right - 8
        painter.drawText(
            QPointF(right + 8, area.top() + 12.5), QFontMetrics(painter.font()).elidedText(sign, Qt.TextElideMode.ElideRight, int(room))
        )
        top = wrapped(
            painter, QRect(area.left(), area.top() + 20, area.width(), 40), quoted(finding.title), theme.font(14, 600), theme.INK, 2
        )
        one = 2 if top < area.top() + 42 else 1
        wrapped(painter, QRect(area.left(), int(top) + 1, area.width(), 40), quoted(finding.detail), theme.font(12), theme.MUTED, one)

    def _crop(self, painter: QPainter, place: QRect, finding: Finding, take: TakeName | None, failing: bool) -> None:
        area = QRectF(place)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.DESK)
        painter.drawRoundedRect(area, 4, 4)
        if take is not None:
            self._picture(painter, area, finding, take, failing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawRoundedRect(area, 4, 4)
        name = take.device if take is not None else ""
        if name:
            painter.setFont(theme.font(theme.CAPTION, 600))
            metrics = painter.fontMetrics()
            shown = metrics.elidedText(name, Qt.TextElideMode.ElideRight, place.width() - 22)
            plate = QRectF(area.left() + 5, area.bottom() - 21, metrics.horizontalAdvance(shown) + 12, 16)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.SHEET)
            painter.drawRoundedRect(plate, 3, 3)
            painter.setPen(theme.INK)
            painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, shown)

    def _picture(self, painter: QPainter, area: QRectF, finding: Finding, take: TakeName, failing: bool) -> None:
        lane = self.runs.lanes.lane(take)
        result = lane.result(finding.address) if lane is not None else None
        if lane is None or lane.folder is None:
            return
        name, found = finding.place_on(take, result)
        if not name:
            return
        device = lane.device
        box = found or Box(0, 0, device.width, device.width * CROP.height() / CROP.width())
        part = close_part(box, device.width, device.height, CROP, WIDE_DP)
        ratio = painter.device().devicePixelRatioF()
        look = partial(self.pictures.get, picture_path(lane.folder, name), (area.size() * ratio).toSize(), part)
        pixmap = look()
        if pixmap is None:
            self._awaited.append(look)
        if pixmap is None or pixmap.isNull():
            return
        wide, tall = pixmap.width() / ratio, pixmap.height() / ratio
        place = QRectF(area.center().x() - wide / 2, area.center().y() - tall / 2, wide, tall)
        painter.save()
        corners = QPainterPath()
        corners.addRoundedRect(area, 4, 4)
        painter.setClipPath(corners)
        painter.drawPixmap(place, pixmap, QRectF(pixmap.rect()))
        if found is not None:
            k = wide / (part[2] * device.width)
            x, y = place.left() - part[0] * device.width * k, place.top() - part[1] * device.height * k
            there = QRectF(x + box.left * k, y + box.top * k, box.width * k, box.height * k).intersected(area)
            ink = flag_ink(finding.kind) if failing else theme.OUTCOMES[next(iter(theme.OUTCOMES))]
            marks.outline(painter, there.adjusted(2, 2, -2, -2), ink, 2)
        painter.restore()


def _painter(on: QPixmap) -> QPainter:
    painter = QPainter(on)
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
    return painter


def flag_ink(kind: FindingKind) -> QColor:
    """The ink of a kind's flag."""
    if kind is FindingKind.LIMIT:
        return theme.MUTED
    return theme.INK if kind in (FindingKind.REMARK, FindingKind.SLOW) else theme.OUTCOMES[kind.outcome]


def flag(painter: QPainter, left: float, top: float, words: str, kind: FindingKind) -> float:
    """A kind as a worded flag: filled, for a remark or a slow step framed only; where it ends."""
    painter.setFont(theme.font(theme.CAPTION, 600))
    wide = painter.fontMetrics().horizontalAdvance(words) + 13
    plate = QRectF(left, top, wide, 17)
    framed = kind in (FindingKind.REMARK, FindingKind.SLOW)
    ink = flag_ink(kind)
    painter.setPen(QPen(ink, 1.2) if framed else Qt.PenStyle.NoPen)
    painter.setBrush(theme.SHEET if framed else ink)
    painter.drawRoundedRect(plate.adjusted(0.6, 0.6, -0.6, -0.6), 3, 3)
    painter.setPen(ink if framed else theme.SHEET)
    painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, words)
    return plate.right()


def wrapped(painter: QPainter, area: QRect, words: str, face: QFont, ink: QColor, most: int) -> float:
    """Words in at most so many lines, the last one cut; where they end."""
    layout = QTextLayout(words, face)
    layout.setTextOption(QTextOption(Qt.AlignmentFlag.AlignLeft))
    metrics = QFontMetrics(face)
    painter.setFont(face)
    painter.setPen(ink)
    layout.beginLayout()
    top = float(area.top())
    for number in range(most):
        line = layout.createLine()
        if not line.isValid():
            break
        line.setLineWidth(area.width())
        begin, length = line.textStart(), line.textLength()
        said = words[begin : begin + length]
        if number == most - 1 and begin + length < len(words):
            said = metrics.elidedText(words[begin:], Qt.TextElideMode.ElideRight, area.width())
        painter.drawText(QPointF(area.left(), top + metrics.ascent()), said)
        top += metrics.height()
    layout.endLayout()
    return top
