"""The findings: what differs between devices, as sentences, worst first."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...comparison.findings import Finding
from ...comparison.lanes import Lane
from ...model.geometry import Box
from ...model.outcome import Outcome, Result
from ...project.archive import TakeRecord
from .. import theme
from ..pictures import Pictures, close_part
from ..runs import Runs
from ..stage import marks

CROP = QSize(150, 104)
WIDE_DP = 230.0  # of the screen are shown across a crop
_COUNTS = ("Nothing differs", "One thing differs", "Two things differ", "Three things differ", "Four things differ", "Five things differ")


class FindingsPage(QWidget):
    """`open_asked` with the step's number when a finding is to be looked at in the lanes."""

    open_asked = Signal(int)

    def __init__(self, runs: Runs, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.runs, self.pictures = runs, pictures
        self._headline = QLabel(objectName="headline")
        self._counts = QLabel(objectName="muted")
        head = QHBoxLayout()
        head.setContentsMargins(20, 18, 20, 12)
        head.setSpacing(14)
        head.addWidget(self._headline)
        head.addWidget(self._counts)
        head.addStretch(1)
        self._list = QVBoxLayout()
        self._list.setContentsMargins(20, 0, 20, 20)
        self._list.setSpacing(10)
        holder = QWidget()
        holder.setLayout(self._list)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(head)
        layout.addWidget(scroll, 1)
        runs.changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        found, lanes = self.runs.findings, self.runs.lanes
        if not lanes.columns:
            self._headline.setText("No run yet")
            self._counts.setText("Replay a script on two devices or more: what differs between them is explained here.")
        else:
            words = _COUNTS[len(found)] if len(found) < len(_COUNTS) else f"{len(found)} things differ"
            self._headline.setText(f"{words} between devices")
            counts = lanes.counts()
            self._counts.setText(
                " · ".join([f"{sum(counts.values())} outcomes", *(f"{counts[o]} {o.value}" for o in Outcome if counts[o])])
            )
        while (item := self._list.takeAt(0)) is not None:
            if item.widget() is not None:
                item.widget().deleteLater()
        for finding in found:
            self._list.addWidget(self._card(finding))
        self._list.addStretch(1)

    def _card(self, finding: Finding) -> QFrame:
        card = QFrame(objectName="card")
        card.setMaximumWidth(1080)
        flag = QLabel("slow" if finding.outcome is Outcome.HELD else finding.outcome.value)
        ink = theme.OUTCOMES[finding.outcome].name()
        flag.setStyleSheet(
            f"background: {ink}; color: {theme.SHEET.name()}; border-radius: 3px; padding: 1px 7px; font-size: 11px; font-weight: 600;"
        )
        title = QLabel(finding.title, objectName="title")
        title.setWordWrap(True)
        title.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        detail = QLabel(finding.detail, objectName="muted")
        detail.setWordWrap(True)
        look = QPushButton("Look at it in the lanes")
        look.clicked.connect(lambda: self.open_asked.emit(finding.number))
        layout = QVBoxLayout()
        layout.setSpacing(5)
        across = QHBoxLayout(card)
        across.setContentsMargins(14, 12, 16, 14)
        across.setSpacing(12)
        for lane in (*finding.passing[:1], finding.lanes[0]):
            across.addWidget(Crop(lane, lane.results[finding.number - 1], self.pictures), 0, Qt.AlignmentFlag.AlignTop)
        across.addSpacing(4)
        across.addLayout(layout, 1)
        for widget in (flag, title, detail):
            layout.addWidget(widget, 0, Qt.AlignmentFlag.AlignLeft if widget is flag else Qt.AlignmentFlag(0))
        if finding.apart:
            apart = QLabel(finding.apart)
            apart.setWordWrap(True)
            layout.addWidget(apart)
        layout.addSpacing(4)
        layout.addWidget(look, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addStretch(1)
        return card


class Crop(QWidget):
    """The place of a step on one device, with the device's name."""

    def __init__(self, lane: Lane, result: Result, pictures: Pictures) -> None:
        super().__init__()
        self.lane, self.result, self.pictures = lane, result, pictures
        self.setFixedSize(CROP)
        self.setAccessibleName(f"{lane.device.name}: {result.outcome.value}")
        pictures.arrived.connect(self.update)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        device, take = self.lane.device, self.lane.place
        name = self.result.before or self.result.after
        box = self.result.box or Box(0, 0, device.width, device.width * CROP.height() / CROP.width())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(area, 5, 5)
        if isinstance(take, TakeRecord) and name:
            part = close_part(box, device.width, device.height, CROP, WIDE_DP)
            ratio = self.devicePixelRatioF()
            pixmap = self.pictures.get(take.picture(name), (area.size() * ratio).toSize(), part)
            if pixmap is not None and not pixmap.isNull():
                wide, tall = pixmap.width() / ratio, pixmap.height() / ratio
                place = QRectF(area.center().x() - wide / 2, area.center().y() - tall / 2, wide, tall)
                round_corners = QPainterPath()
                round_corners.addRoundedRect(area, 5, 5)
                painter.setClipPath(round_corners)
                painter.drawPixmap(place, pixmap, QRectF(pixmap.rect()))
                if self.result.box is not None:
                    k = wide / (part[2] * device.width)
                    left, top = place.left() - part[0] * device.width * k, place.top() - part[1] * device.height * k
                    there = QRectF(left + box.left * k, top + box.top * k, box.width * k, box.height * k).intersected(area)
                    marks.outline(painter, there.adjusted(2, 2, -2, -2), theme.OUTCOMES[self.result.outcome], 2)
        painter.setPen(QPen(theme.RULE, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(area, 5, 5)
        painter.setFont(theme.font(theme.CAPTION, 600))
        plate = QRectF(area.left() + 5, area.bottom() - 21, painter.fontMetrics().horizontalAdvance(device.name) + 12, 16)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(plate, 3, 3)
        painter.setPen(theme.INK)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, device.name)
