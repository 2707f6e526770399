"""The findings: what differs between devices, as sentences, worst first."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QShowEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...comparison.findings import Finding
from ...comparison.lanes import Lane
from ...model.geometry import Box
from ...model.outcome import Outcome, Result
from ...project.archive import picture_path
from .. import theme
from ..page import RunPage
from ..parts import Label, named
from ..pictures import Pictures, close_part
from ..stage import marks
from ..wording import quoted
from ..workspace import Workspace

CROP = QSize(150, 104)
WIDE_DP = 230.0  # of the screen are shown across a crop
AT_ONCE = 12  # cards that are made at a time; more when the end of the list comes into sight
NEAR_END = 400  # pixels
_COUNTS = ("Nothing differs", "One thing differs", "Two things differ", "Three things differ", "Four things differ", "Five things differ")


class FindingsPage(RunPage):
    """`open_asked` with the finding that is to be looked at in the lanes."""

    title = "Findings"
    open_asked = Signal(object)

    def __init__(self, workspace: Workspace, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.pictures = pictures
        self._headline = named(Label(), "headline")
        self._counts = named(Label(), "muted")
        head = QHBoxLayout()
        head.setContentsMargins(20, 18, 20, 12)
        head.setSpacing(14)
        head.addWidget(self._headline)
        head.addWidget(self._counts)
        head.addStretch(1)
        self._list = QVBoxLayout()
        self._list.setContentsMargins(20, 0, 20, 20)
        self._list.setSpacing(10)
        self._list.addStretch(1)
        self._cards: dict[Finding, QFrame] = {}  # those that are made, in order
        self._most = AT_ONCE
        holder = QWidget()
        holder.setLayout(self._list)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setWidget(holder)
        self.area.setAccessibleName("Findings")
        self.area.verticalScrollBar().valueChanged.connect(self._scrolled)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(head)
        layout.addWidget(self.area, 1)
        self.runs.changed.connect(self._refresh)
        self._refresh()

    # as a page

    def take_focus(self) -> None:
        """The list is scrolled by keys."""
        self.area.setFocus()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._refresh()

    # what it shows

    def _refresh(self) -> None:
        if not self.isVisible():
            return  # looked at again when it comes into sight
        found, lanes = self.runs.news.findings, self.runs.lanes
        if not lanes.columns:
            self._headline.setText("No run yet")
            self._counts.setText("Replay a script on two devices or more: what differs between them is explained here.")
        else:
            words = _COUNTS[len(found)] if len(found) < len(_COUNTS) else f"{len(found)} things differ"
            self._headline.setText(f"{words} between devices")
            said = [f"{lanes.counts[o]} {o.value}" for o in Outcome if lanes.counts.get(o)]
            self._counts.setText(" · ".join([f"{lanes.done} outcomes", *said]))
        self._show(found[: self._most])

    def _show(self, found: tuple[Finding, ...]) -> None:
        """The cards of those findings, in order; a card is made once for as long as its finding says the same."""
        for finding in [each for each in self._cards if each not in found]:
            card = self._cards.pop(finding)
            self._list.removeWidget(card)
            card.hide()
            card.deleteLater()
        for place, finding in enumerate(found):
            card = self._cards.get(finding) or self._cards.setdefault(finding, self._card(finding))
            item = self._list.itemAt(place)
            if item is None or item.widget() is not card:
                self._list.removeWidget(card)
                self._list.insertWidget(place, card)

    def _scrolled(self, value: int) -> None:
        if value > self.area.verticalScrollBar().maximum() - NEAR_END and len(self._cards) < len(self.runs.news.findings):
            self._most += AT_ONCE
            self._refresh()

    def _card(self, finding: Finding) -> QFrame:
        card = named(QFrame(), "card")
        card.setMaximumWidth(1080)
        flag = Label(finding.flag)
        ink = theme.OUTCOMES[finding.outcome].name()
        flag.setStyleSheet(
            f"background: {ink}; color: {theme.SHEET.name()}; border-radius: 3px; padding: 1px 7px; font-size: 11px; font-weight: 600;"
        )
        title = named(Label(quoted(finding.title)), "title")
        title.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        look = QPushButton("Look at it in the lanes")
        look.clicked.connect(lambda: self.open_asked.emit(finding))
        layout = QVBoxLayout()
        layout.setSpacing(5)
        across = QHBoxLayout(card)
        across.setContentsMargins(14, 12, 16, 14)
        across.setSpacing(12)
        for take in (*finding.passing[:1], finding.takes[0]):
            lane = self.runs.lanes.lane(take)
            result = lane.result(finding.address) if lane is not None else None
            if lane is not None and result is not None:
                across.addWidget(Crop(lane, result, self.pictures), 0, Qt.AlignmentFlag.AlignTop)
        across.addSpacing(4)
        across.addLayout(layout, 1)
        layout.addWidget(flag, 0, Qt.AlignmentFlag.AlignLeft)
        for label in (title, named(Label(quoted(finding.detail)), "muted"), *([Label(finding.apart)] if finding.apart else [])):
            label.setWordWrap(True)
            layout.addWidget(label)
        layout.addSpacing(4)
        layout.addWidget(look, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addStretch(1)
        return card


class Crop(QWidget):
    """The place of a step on one device, with the device's name."""

    def __init__(self, lane: Lane, result: Result, pictures: Pictures) -> None:
        super().__init__()
        self.device, self.folder, self.result, self.pictures = lane.device, lane.folder, result, pictures
        self.setFixedSize(CROP)
        self.setAccessibleName(f"{lane.device.name}: {result.outcome.value}")
        pictures.arrived.connect(self.update)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(area, 5, 5)
        self._picture(painter, area)
        painter.setClipping(False)
        painter.setPen(QPen(theme.RULE, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(area, 5, 5)
        painter.setFont(theme.font(theme.CAPTION, 600))
        plate = QRectF(area.left() + 5, area.bottom() - 21, painter.fontMetrics().horizontalAdvance(self.device.name) + 12, 16)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(plate, 3, 3)
        painter.setPen(theme.INK)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, self.device.name)

    def _picture(self, painter: QPainter, area: QRectF) -> None:
        device, name = self.device, self.result.before or self.result.after
        if self.folder is None or not name:
            return
        box = self.result.box or Box(0, 0, device.width, device.width * CROP.height() / CROP.width())
        part = close_part(box, device.width, device.height, CROP, WIDE_DP)
        ratio = self.devicePixelRatioF()
        pixmap = self.pictures.get(picture_path(self.folder, name), (area.size() * ratio).toSize(), part)
        if pixmap is None or pixmap.isNull():
            return
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
