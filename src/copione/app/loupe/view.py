"""The loupe: one step on each device, large, with what differs said in words and the times side by side."""

from __future__ import annotations

import html

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from ...comparison.findings import Finding
from ...comparison.lanes import Lane
from ...model.action import Check
from ...model.address import Address
from ...model.outcome import Outcome, Result
from ...project.archive import picture_path
from .. import theme
from ..parts import Label, named
from ..pictures import Pictures
from ..runs import Runs
from ..stage import marks
from ..wording import quoted, sentence

LEFT, RIGHT = 232, 236
_RANK = {Outcome.STUCK: 0, Outcome.DIFFERS: 0, Outcome.ADAPTED: 1, Outcome.HELD: 1, Outcome.UNREACHED: 2}


class _Screens(QWidget):
    """The step's screen on each device, at one scale, targets outlined; hovering one lights up all."""

    def __init__(self, pictures: Pictures) -> None:
        super().__init__()
        self.pictures = pictures
        self.shown: list[tuple[Lane, Result]] = []
        self._hover = False
        self.setMouseTracking(True)
        pictures.arrived.connect(self.update)

    def scale(self) -> float:
        tallest = max((lane.device.height for lane, _ in self.shown), default=900.0)
        return max(0.1, (self.height() - 62) / tallest)

    def resize_to_fit(self) -> None:
        k = self.scale()
        wide = sum(max(120.0, lane.device.width * k) + 26 for lane, _ in self.shown) + 20
        self.setMinimumWidth(int(wide))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        k = self.scale()
        x = 16.0
        for lane, result in self.shown:
            wide, tall = lane.device.width * k, lane.device.height * k
            room = max(120.0, wide)
            painter.setPen(theme.INK)
            painter.setFont(theme.font(theme.BODY, 600))
            painter.drawText(QRectF(x, 10, room + 20, 18), Qt.AlignmentFlag.AlignLeft, lane.device.name)
            painter.setPen(theme.OUTCOME_WORDS[result.outcome])
            painter.setFont(theme.font(theme.CAPTION))
            words = painter.fontMetrics().elidedText(said(result), Qt.TextElideMode.ElideRight, int(room + 20))
            painter.drawText(QRectF(x, 28, room + 24, 16), Qt.AlignmentFlag.AlignLeft, words)
            self._screen(painter, QRectF(x, 50, wide, tall), lane, result, k)
            x += room + 26

    def _screen(self, painter: QPainter, glass: QRectF, lane: Lane, result: Result, k: float) -> None:
        painter.setPen(QPen(theme.INK, 1.2))
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(glass.adjusted(-2, -2, 2, 2), 5, 5)
        name = result.before or result.after
        if lane.folder is not None and name:
            ratio = self.devicePixelRatioF()
            pixmap = self.pictures.get(picture_path(lane.folder, name), (glass.size() * ratio).toSize())
            if pixmap is not None and not pixmap.isNull():
                painter.drawPixmap(glass, pixmap, QRectF(pixmap.rect()))
        if result.box is not None:
            b = result.box
            box = QRectF(glass.left() + b.left * k, glass.top() + b.top * k, b.width * k, b.height * k).intersected(glass)
            ink = theme.OUTCOMES[result.outcome]
            if self._hover:
                wash = QColor(theme.LINE)
                wash.setAlpha(110)
                painter.fillRect(box, wash)
            marks.outline(painter, box, ink, 2.4, dashed=result.outcome in (Outcome.ADAPTED, Outcome.STUCK))

    def _inside(self, point: QPointF) -> bool:
        k = self.scale()
        x = 16.0
        for lane, result in self.shown:
            b = result.box
            if b is not None and QRectF(x + b.left * k, 50 + b.top * k, b.width * k, b.height * k).contains(point):
                return True
            x += max(120.0, lane.device.width * k) + 26
        return False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._hover = self._inside(event.position())
        self.update()


class _Times(QWidget):
    """How long the step took on each device."""

    def __init__(self) -> None:
        super().__init__()
        self.shown: list[tuple[Lane, Result]] = []
        self.setFixedWidth(RIGHT)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        painter.setPen(theme.MUTED)
        painter.drawText(QPointF(12, 22), "Time to find and act")
        longest = max((r.seconds for _, r in self.shown), default=1.0) or 1.0
        painter.setFont(theme.font(theme.CAPTION))
        for i, (lane, result) in enumerate(self.shown):
            y = 40 + i * 26
            painter.setPen(theme.INK)
            name = painter.fontMetrics().elidedText(lane.device.name, Qt.TextElideMode.ElideRight, 74)
            painter.drawText(QRectF(12, y, 78, 16), Qt.AlignmentFlag.AlignVCenter, name)
            wide = max(3.0, 84 * result.seconds / longest)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.OUTCOMES[result.outcome])
            painter.drawRoundedRect(QRectF(92, y + 3, wide, 10), 3, 3)
            painter.setPen(theme.MUTED)
            words = (
                "gave up" if result.outcome is Outcome.STUCK else "–" if result.outcome is Outcome.UNREACHED else f"{result.seconds:.2f} s"
            )
            painter.drawText(QRectF(98 + wide, y, 60, 16), Qt.AlignmentFlag.AlignVCenter, words)


def said(result: Result) -> str:
    """How a target was found, or what became of the step, in a few words."""
    if result.outcome is Outcome.UNREACHED:
        return "not reached"
    if result.outcome is Outcome.HELD:
        words = f"found by {result.by}" if result.by else "held"
        return f"{words} · reads {result.read}" if result.read and isinstance(result.action, Check) else words
    return quoted(result.reason) or result.outcome.value


class Loupe(QWidget):
    """Shows a column of the run."""

    def __init__(self, runs: Runs, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs = runs
        self.address: Address | None = None
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._caption = named(Label(), "caption")
        self._caption.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        self._title = Label(rich=True)
        self._title.setFont(theme.font(theme.TITLE, 600))
        self._title.setWordWrap(True)
        self._words = Label(rich=True)
        self._words.setWordWrap(True)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        left = QVBoxLayout()
        left.setContentsMargins(14, 14, 12, 12)
        left.setSpacing(6)
        for label in (self._caption, self._title, self._words):
            left.addWidget(label)
        left.addStretch(1)
        holder = QWidget()
        holder.setFixedWidth(LEFT)
        holder.setLayout(left)
        self.screens = _Screens(pictures)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.screens)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.times = _Times()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(holder)
        layout.addWidget(scroll, 1)
        layout.addWidget(self.times)
        runs.changed.connect(self._refresh)

    def show_column(self, address: Address) -> None:
        """One step on every device."""
        self.address = address
        self._show()

    def _refresh(self) -> None:
        changed = self.runs.news.changed
        if changed is None or any(cell.address == self.address for cell in changed):
            self._show()

    def _show(self) -> None:
        lanes = self.runs.lanes
        column = lanes.column(self.address) if self.address is not None else None
        if column is None:
            return
        shown = lanes.cells(column.address)
        shown = [*shown[:1], *sorted(shown[1:], key=lambda pair: _RANK[pair[1].outcome])]  # the lead, then what went wrong
        self._caption.setText(f"Loupe · step {column.number}")
        self._title.setText(sentence(column.words))
        self._words.setText(self._explained(column.address, shown))
        self.screens.shown = shown
        self.times.shown = shown
        self.screens.resize_to_fit()
        self.times.update()

    @staticmethod
    def _said(f: Finding) -> str:
        ink = theme.OUTCOME_WORDS[f.outcome].name()
        names = html.escape(", ".join(dict.fromkeys(take.device for take in f.takes)))
        head = f"<span style='color:{ink};font-weight:700'>{f.flag.capitalize()} on {names}.</span> {html.escape(quoted(f.detail))}"
        return f"{head} <span style='color:{theme.MUTED.name()}'>{html.escape(f.apart)}</span>" if f.apart else head

    def _explained(self, address: Address, shown: list[tuple[Lane, Result]]) -> str:
        found = [f for f in self.runs.news.findings if f.address == address]
        if found:
            return "<br><br>".join(self._said(f) for f in found)
        adapted = [lane.device.name for lane, r in shown if r.outcome is Outcome.ADAPTED]
        if adapted:
            return f"Done everywhere; by another way than recorded on {html.escape(', '.join(adapted))}."
        return f"The same on all {len(shown)} devices."
