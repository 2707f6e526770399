"""The strip: a frame a step, the current one marked, and brackets round scenes and blocks, which fold."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from functools import lru_cache
from itertools import accumulate

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QContextMenuEvent, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QScrollArea, QWidget

from ...model.outcome import Outcome
from .. import theme
from ..pictures import PictureCache
from ..stage import marks
from ..wording import quoted, short
from .stills import Bracket, Film, Of, Still

FRAME = QSize(46, 86)
CELL = 76
WIDEST = 168  # of a frame
ROW = 17  # of a bracket's words
ROWS = 3  # of them, at most; what stands deeper has lines only
BELOW = 116  # the frames and their words
_INKS = {Of.SCENE: theme.MUTED, Of.WHEN: theme.OUTCOME_WORDS[Outcome.ADAPTED], Of.LOOP: theme.CHECK, Of.PERFORMED: QColor("#5C5E67")}


class _Frames(QWidget):
    picked = Signal(int)
    turned = Signal(object)  # the key of a bracket that is to be folded, or opened
    menu_asked = Signal(int, object)  # a line, and where on the screen

    def __init__(self, pictures: PictureCache) -> None:
        super().__init__()
        self.pictures = pictures
        self.film = Film()
        self._lefts = [8.0]  # of each frame, and where the last one ends
        self.top = 4  # where the frames begin, under the words of the brackets
        self.line = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Frames of the steps")
        self.setMouseTracking(True)
        pictures.arrived.connect(self.update)

    @property
    def stills(self) -> tuple[Still, ...]:
        return self.film.stills

    def show_film(self, film: Film) -> None:
        self.film = film
        wide = [float(CELL)] * len(film.stills)
        for bracket in film.brackets:  # one frame is as wide as what is said over it
            if bracket.first == bracket.last and bracket.depth < ROWS:
                needed = _wide(_said(bracket)) + 28 + 4 * bracket.depth
                wide[bracket.first] = max(wide[bracket.first], min(WIDEST, needed))
        self._lefts = [8.0, *(8.0 + each for each in accumulate(wide))]
        self.top = 4 + ROW * min(ROWS, film.depth)
        self.setFixedSize(int(self._lefts[-1]) + 8, self.top + BELOW)
        self.update()

    def cell(self, index: int) -> QRectF:
        return QRectF(self._lefts[index], self.top, self._lefts[index + 1] - self._lefts[index], BELOW)

    def current(self) -> int:
        found = -1
        for i, still in enumerate(self.stills):
            if still.line <= self.line:
                found = i
            if still.line == self.line:
                break
        return found

    def bracket_box(self, bracket: Bracket) -> QRectF:
        """The frame of a bracket, down to the strip's edge."""
        deep = min(bracket.depth, ROWS)
        left = self.cell(bracket.first).left() + 2 + 2 * deep
        right = self.cell(bracket.last).right() - 2 - 2 * deep
        return QRectF(left, 3 + ROW * deep, right - left, self.height() - 3 - ROW * deep)

    def _near(self, left: float, right: float) -> Iterator[tuple[Bracket, QRectF]]:
        """The brackets of which something stands between two sides."""
        lefts = self._lefts
        for bracket in self.film.brackets:
            if lefts[bracket.first] <= right and lefts[bracket.last + 1] >= left:
                yield bracket, self.bracket_box(bracket)

    def bracket_at(self, x: float, y: float) -> Bracket | None:
        """The bracket whose words stand there."""
        for bracket, box in self._near(x, x):
            if bracket.depth < ROWS and QRectF(box.left(), box.top(), box.width(), ROW).contains(x, y):
                return bracket
        return None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        shown = QRectF(event.rect())
        for bracket, box in self._near(shown.left(), shown.right()):
            self._paint_bracket(painter, bracket, box)
        current = self.current()
        first = max(0, bisect_right(self._lefts, shown.left()) - 1)
        for i in range(first, min(len(self.stills), bisect_right(self._lefts, shown.right()))):
            self._paint(painter, self.cell(i), self.stills[i], i == current)

    def _paint_bracket(self, painter: QPainter, bracket: Bracket, box: QRectF) -> None:
        ink = _INKS[bracket.of]
        path = QPainterPath(QPointF(box.left(), box.bottom()))
        path.lineTo(box.left(), box.top() + 5)
        path.quadTo(box.topLeft(), QPointF(box.left() + 5, box.top()))
        path.lineTo(box.right() - 5, box.top())
        path.quadTo(box.topRight(), QPointF(box.right(), box.top() + 5))
        path.lineTo(box.right(), box.bottom())
        painter.setPen(QPen(theme.RULE if bracket.of is Of.SCENE else ink, 1 if bracket.of is Of.SCENE else 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        if bracket.depth >= ROWS:
            return
        painter.setPen(ink)
        painter.setFont(theme.font(theme.CAPTION, 600))
        room = QRectF(box.left() + 7, box.top() + 1, box.width() - 12, ROW - 1)
        elided = painter.fontMetrics().elidedText(_said(bracket), Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, elided)

    def _paint(self, painter: QPainter, cell: QRectF, still: Still, current: bool) -> None:
        room = QRectF(cell.center().x() - FRAME.width() / 2, cell.top() + 8, FRAME.width(), FRAME.height())
        width, height = still.size
        scale = min(room.width() / width, room.height() / height)
        frame = QRectF(room.center().x() - width * scale / 2, room.center().y() - height * scale / 2, width * scale, height * scale)
        painter.setPen(QPen(theme.INK if current else theme.RULE, 2 if current else 1))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(frame.adjusted(-3, -3, 3, 3), 6, 6)
        ratio = self.devicePixelRatioF()
        pixmap = self.pictures.get(still.picture, (frame.size() * ratio).toSize()) if still.picture else None
        if pixmap is not None and not pixmap.isNull():
            painter.drawPixmap(frame, pixmap, QRectF(pixmap.rect()))
        else:
            painter.setPen(theme.MUTED)
            painter.setFont(theme.font(theme.CAPTION))
            painter.drawText(frame, Qt.AlignmentFlag.AlignCenter, "–")
        if still.box is not None and pixmap is not None:
            b = still.box
            box = QRectF(frame.left() + b.left * scale, frame.top() + b.top * scale, b.width * scale, b.height * scale).intersected(frame)
            if still.step.is_check:
                marks.outline(painter, box, theme.CHECK, 1.4)
            else:
                marks.gesture(painter, still.step.verb, [box.center()], 4)
        verb, rest = short(still.words)
        painter.setPen(theme.INK if current else theme.MUTED)
        painter.setFont(theme.font(theme.CAPTION, 700 if current else 400))
        words = painter.fontMetrics().elidedText(f"{verb} {rest}", Qt.TextElideMode.ElideRight, int(cell.width()) - 12)
        painter.drawText(QRectF(cell.left(), cell.top() + 98, cell.width(), 16), Qt.AlignmentFlag.AlignCenter, words)

    def _line_at(self, x: float) -> int:
        index = bisect_right(self._lefts, x) - 1
        return self.stills[index].line if 0 <= index < len(self.stills) else 0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = event.position()
        bracket = self.bracket_at(place.x(), place.y())
        if bracket is not None and event.button() == Qt.MouseButton.LeftButton:
            self.turned.emit(bracket.key)
        elif line := self._line_at(place.x()):
            self.picked.emit(line)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        over = self.bracket_at(event.position().x(), event.position().y()) is not None
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        line = self._line_at(event.pos().x())
        if line:
            self.picked.emit(line)
            self.menu_asked.emit(line, event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        move = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        current = self.current()
        if event.key() in (Qt.Key.Key_Minus, Qt.Key.Key_Plus, Qt.Key.Key_Space):
            inner = [b for b in self.film.brackets if b.first <= current <= b.last]
            if inner:
                self.turned.emit(inner[-1].key)
            return
        if move is None:
            super().keyPressEvent(event)
            return
        index = min(max(0, current + move), len(self.stills) - 1)
        if self.stills:
            self.picked.emit(self.stills[index].line)


@lru_cache(maxsize=4096)
def _wide(words: str) -> int:
    return QFontMetrics(theme.font(theme.CAPTION, 600)).horizontalAdvance(words)


def _said(bracket: Bracket) -> str:
    return quoted(bracket.words) + (" ▸" if bracket.folded else "")


class Strip(QScrollArea):
    """Scrolls the frames sideways."""

    def __init__(self, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.frames = _Frames(pictures)
        self.setWidget(self.frames)
        self.setFixedHeight(130)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.picked, self.turned, self.menu_asked = self.frames.picked, self.frames.turned, self.frames.menu_asked

    def show_film(self, film: Film) -> None:
        """Another film, in the height that its brackets need."""
        self.frames.show_film(film)
        self.setFixedHeight(self.frames.height() + 12)

    def show_line(self, line: int) -> None:
        self.frames.line = line
        index = self.frames.current()
        if index >= 0:
            place: QPointF = self.frames.cell(index).center()
            self.ensureVisible(int(place.x()), 10, CELL, 0)
        self.frames.update()
