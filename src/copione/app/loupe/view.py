"""The loupe: one step on each device, large, with what differs said in words and the times side by side."""

from __future__ import annotations

import html

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from ...comparison.causes import FindingKind
from ...comparison.finding import Finding
from ...comparison.lanes import Lane
from ...model.action import Check
from ...model.address import Address
from ...model.geometry import Box
from ...model.outcome import Outcome, Result
from ...model.reading import BranchTaken
from ...model.take import TakeName
from ...project.archive import picture_path
from .. import theme
from ..lanes.painting import paint_corner
from ..parts import Label, checkable, named
from ..pictures import PictureCache
from ..runs import ShownRun
from ..stage import marks
from ..wording import quoted, sentence
from .linked import Linked

LEFT, RIGHT = 232, 236
TOP, GAP, NARROWEST = 50.0, 24.0, 104.0  # over the pictures, between them, and the least that a name needs
LINE = 12.0  # the least from one time to the next
_RANK = {Outcome.STUCK: 0, Outcome.DIFFERS: 0, Outcome.ADAPTED: 1, Outcome.HELD: 1, Outcome.SKIPPED: 1, Outcome.UNREACHED: 2}


class _Screens(QWidget):
    """The step's screen on some devices, each as large as fits, aligned by their tops, targets outlined. `pointed` while one is hovered."""

    pointed = Signal(bool)
    over = Signal(object, float, float)  # the take and the place (dp) under the pointer; None for none

    def __init__(self, runs: ShownRun, pictures: PictureCache) -> None:
        super().__init__()
        self.runs, self.pictures = runs, pictures
        self.shown: list[tuple[Lane, Result]] = []
        self.lit = False  # the targets are washed: one of them is hovered, here or beside
        self.linked: dict[TakeName, Box] = {}  # the element under the pointer, on every device
        self.setMouseTracking(True)
        pictures.arrived.connect(self.update)

    def scale(self, lane: Lane) -> float:
        """Pixels a dp for that device's screen."""
        return max(0.05, (self.height() - TOP - 12) / self._held(lane)[1])

    @staticmethod
    def _held(lane: Lane) -> tuple[float, float]:
        return lane.device.width, lane.device.height

    def room(self, lane: Lane) -> float:
        """How wide a device's column is."""
        return max(NARROWEST, self._held(lane)[0] * self.scale(lane))

    def wanted_width(self) -> int:
        """With every device in sight."""
        return int(sum(self.room(lane) + GAP for lane, _ in self.shown) + 6)

    def resize_to_fit(self) -> None:
        self.setMinimumWidth(self.wanted_width())
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.setMinimumWidth(self.wanted_width())

    def light(self, on: bool) -> None:
        """Wash the targets, or no more."""
        self.lit = on
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        x = 16.0
        for lane, result in self.shown:
            k, room = self.scale(lane), self.room(lane)
            wide, tall = lane.device.width * k, lane.device.height * k
            painter.setPen(theme.INK)
            painter.setFont(theme.font(theme.BODY, 600))
            name = painter.fontMetrics().elidedText(lane.device.name, Qt.TextElideMode.ElideRight, int(room + 16))
            painter.drawText(QRectF(x, 10, room + 20, 18), Qt.AlignmentFlag.AlignLeft, name)
            painter.setPen(theme.OUTCOME_WORDS[result.outcome])
            painter.setFont(theme.font(theme.CAPTION))
            words = painter.fontMetrics().elidedText(said(result), Qt.TextElideMode.ElideRight, int(room + 20))
            painter.drawText(QRectF(x, 28, room + 24, 16), Qt.AlignmentFlag.AlignLeft, words)
            self._screen(painter, QRectF(x, TOP, wide, tall), lane, result, k)
            x += room + GAP

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
            if self.lit:
                wash = QColor(theme.LINE)
                wash.setAlpha(110)
                painter.fillRect(box, wash)
            marks.outline(painter, box, ink, 2.4, dashed=result.outcome in (Outcome.ADAPTED, Outcome.STUCK))

        linked = self.linked.get(lane.name)
        if linked is not None:
            around = QRectF(glass.left() + linked.left * k, glass.top() + linked.top * k, linked.width * k, linked.height * k)
            marks.outline(painter, around.intersected(glass), theme.CHECK, 1.8)
        for remark in self.runs.remarks.get(lane.name, {}).get(result.address, ()):
            if remark.box is not None:
                b = remark.box
                around = QRectF(glass.left() + b.left * k, glass.top() + b.top * k, b.width * k, b.height * k).intersected(glass)
                marks.outline(painter, around.adjusted(-3, -3, 3, 3), theme.INK, 1.6)
                paint_corner(painter, around.adjusted(-3, -3, 3, 3), 9)

    def _inside(self, point: QPointF) -> bool:
        x = 16.0
        for lane, result in self.shown:
            k, b = self.scale(lane), result.box
            if b is not None and QRectF(x + b.left * k, TOP + b.top * k, b.width * k, b.height * k).contains(point):
                return True
            x += self.room(lane) + GAP
        return False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.pointed.emit(self._inside(event.position()))
        x = 16.0
        for lane, _ in self.shown:
            k = self.scale(lane)
            if QRectF(x, TOP, lane.device.width * k, lane.device.height * k).contains(event.position()):
                self.over.emit(lane.name, (event.position().x() - x) / k, (event.position().y() - TOP) / k)
                return
            x += self.room(lane) + GAP
        self.over.emit(None, 0.0, 0.0)

    def leaveEvent(self, _event: QEvent) -> None:
        self.pointed.emit(False)
        self.over.emit(None, 0.0, 0.0)

    def link(self, linked: dict[TakeName, Box]) -> None:
        """Outline the same element on every device."""
        if linked != self.linked:
            self.linked = linked
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
        pitch = max(LINE, min(26.0, (self.height() - 40) / max(1, len(self.shown))))
        for i, (lane, result) in enumerate(self.shown):
            y = 36 + i * pitch
            painter.setPen(theme.INK)
            name = painter.fontMetrics().elidedText(lane.device.name, Qt.TextElideMode.ElideRight, 74)
            painter.drawText(QRectF(12, y, 78, 16), Qt.AlignmentFlag.AlignVCenter, name)
            wide = max(3.0, 84 * result.seconds / longest)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.OUTCOMES[result.outcome])
            painter.drawRoundedRect(QRectF(92, y + 3, wide, 10), 3, 3)
            painter.setPen(theme.MUTED)
            words = "gave up" if result.outcome is Outcome.STUCK else "–" if not result.outcome.tried else f"{result.seconds:.2f} s"
            painter.drawText(QRectF(98 + wide, y, 60, 16), Qt.AlignmentFlag.AlignVCenter, words)


def said(result: Result) -> str:
    """How a target was found, or what became of the step, in a few words."""
    if result.outcome is Outcome.UNREACHED:
        return "not reached"
    if isinstance(result.reading, BranchTaken):
        return quoted(result.read)
    if result.outcome is Outcome.HELD:
        words = f"found by {result.by}" if result.by else "held"
        return f"{words} · reads {result.read}" if result.read and isinstance(result.action, Check) else words
    return quoted(result.reason) or result.outcome.value


class Loupe(QWidget):
    """Shows a column of the run."""

    def __init__(self, runs: ShownRun, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs, self.pictures = runs, pictures
        self.linked = Linked(runs.courier)
        self.address: Address | None = None
        self._read: Address | None = None  # whose screens are read
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
        left.addWidget(self._caption)
        left.addWidget(self._title)
        words = QScrollArea()
        words.setWidgetResizable(True)
        words.setWidget(self._words)
        words.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        words.setAccessibleName("What differs")
        for ground in (words.viewport(), self._words):
            ground.setAutoFillBackground(False)  # the loupe's own
        left.addWidget(words, 1)
        holder = QWidget()
        holder.setFixedWidth(LEFT)
        holder.setLayout(left)
        self.only = checkable(QPushButton("Only devices that differ"))
        self.only.toggled.connect(lambda _on: self._show())
        left.addWidget(self.only, 0, Qt.AlignmentFlag.AlignLeft)
        self.laid = QPushButton("Lay two over each other")
        self.laid.clicked.connect(self._lay_over)
        self.lead = _Screens(runs, pictures)
        self.screens = _Screens(runs, pictures)
        for screens in (self.lead, self.screens):
            screens.over.connect(self._link)
            for other in (self.lead, self.screens):
                screens.pointed.connect(other.light)
        self._rule = QFrame()
        self._rule.setFixedWidth(1)
        self._rule.setStyleSheet(f"background: {theme.RULE.name()};")
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
        layout.addWidget(self.lead)
        layout.addWidget(self._rule)
        layout.addWidget(scroll, 1)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 12, 12)
        right.setSpacing(4)
        right.addWidget(self.times, 1)
        right.addWidget(self.laid, 0, Qt.AlignmentFlag.AlignRight)
        layout.addLayout(right)
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
        noticed = {lane.name for lane, _ in shown if column.address in self.runs.remarks.get(lane.name, ())}
        rank = {lane.name: 0 if lane.name in noticed else _RANK[result.outcome] for lane, result in shown}
        shown = [*shown[:1], *sorted(shown[1:], key=lambda pair: rank[pair[0].name])]  # the lead, then what went wrong
        differ = [pair for pair in shown[1:] if pair[1].outcome is not Outcome.HELD or pair[0].name in noticed]
        self.only.setEnabled(bool(differ))
        self._caption.setText(f"Loupe · step {column.number}")
        self._title.setText(sentence(column.words))
        self._words.setText(self._explained(column.address, shown))
        self.lead.shown = shown[:1]
        self.screens.shown = differ if self.only.isChecked() and differ else shown[1:]
        if [lane.name for lane, _ in self.times.shown] != [lane.name for lane, _ in shown] or self._read is not column.address:
            self._read = column.address
            self.linked.read(shown, lambda: None)
        self.times.shown = shown
        self.laid.setEnabled(len(shown) > 1)
        self._fit()
        self.screens.resize_to_fit()
        self.times.update()

    def _link(self, take: TakeName | None, x: float, y: float) -> None:
        linked = self.linked.under(take, x, y) if take is not None else {}
        for screens in (self.lead, self.screens):
            screens.link(linked)

    def _lay_over(self) -> None:
        from .over import lay_over

        if len(self.times.shown) > 1:
            lay_over(self, self.pictures, self.times.shown, 1)

    def _fit(self) -> None:
        """The lead stays where it is while the others scroll."""
        self.lead.setFixedWidth(self.lead.wanted_width() if self.lead.shown else 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    @staticmethod
    def _said(f: Finding) -> str:
        ink = (theme.INK if f.kind in (FindingKind.REMARK, FindingKind.SLOW) else theme.OUTCOME_WORDS[f.outcome]).name()
        names = html.escape(", ".join(dict.fromkeys(take.device for take in f.takes)))
        head = f"<span style='color:{ink};font-weight:700'>{f.flag.capitalize()} on {names}.</span> {html.escape(quoted(f.detail))}"
        return f"{head} <span style='color:{theme.MUTED.name()}'>{html.escape(f.apart)}</span>" if f.apart else head

    def _explained(self, address: Address, shown: list[tuple[Lane, Result]]) -> str:
        found = [f for f in self.runs.news.findings if f.address == address or any(r.address == address for r in f.remarks)]
        if found:
            return "<br><br>".join(self._said(f) for f in found)
        adapted = [lane.device.name for lane, r in shown if r.outcome is Outcome.ADAPTED]
        if adapted:
            return f"Done everywhere; by another way than recorded on {html.escape(', '.join(adapted))}."
        unreached = [lane.device.name for lane, r in shown if r.outcome is Outcome.UNREACHED]
        if unreached:
            return f"The same on all {len(shown) - len(unreached)} devices that came to it; not on {html.escape(', '.join(unreached))}."
        ways = {r.read: [x.device.name for x, o in shown if o.read == r.read] for _, r in shown if isinstance(r.reading, BranchTaken)}
        if len(ways) > 1:  # takes that went different ways: the branch is named
            said = (f"{html.escape(quoted(way))}: {html.escape(', '.join(dict.fromkeys(names)))}." for way, names in ways.items())
            return "Gone different ways.<br><br>" + "<br><br>".join(said)
        skipped = [lane.device.name for lane, r in shown if r.outcome is Outcome.SKIPPED]
        if skipped:
            why = html.escape(quoted(next(r.reason for _, r in shown if r.outcome is Outcome.SKIPPED)))
            return f"Skipped on {len(skipped)} of {len(shown)} devices: {html.escape(', '.join(dict.fromkeys(skipped)))}. There {why}."
        return f"The same on all {len(shown)} devices."
