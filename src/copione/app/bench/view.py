"""The bench: each device as an outline at true relative size, with its live thumbnail and what it is doing."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...model.errors import CopioneError
from ...model.outcome import Outcome
from .. import theme
from ..lead import thumbnail
from ..parts import Label, named, tip
from ..workspace import Workspace

if TYPE_CHECKING:
    from ...links.bench import Device
    from ...links.link import Link
    from ...links.worker import DeviceWorker

ROOMY, CLOSE = (0.36, 58.0), (0.205, 38.0)  # pixels a millimetre of glass, and the least height of a tile: few devices, many devices
MANY = 7
THUMB_MS = 2500


class DeviceTile(QWidget):
    """One device. Click makes it the lead; the switch at its right, Ctrl+click or the space bar takes it in or out of replays."""

    picked = Signal(object)
    toggled = Signal(object, bool)

    def __init__(self, device: Device, scale: tuple[float, float] = ROOMY, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.device = device
        self.mm, self.least = scale
        self.lead = False
        self.aside = 0.0  # where the words begin, at least: the same for all tiles of a close bench
        self.left_out = ""  # why replays leave it out; empty where they do not
        self.doing = ""
        self.thumb = QPixmap()
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Device {device.name}")
        self.setFixedHeight(int(max(self.least, self.glass().height() + 12)) if device.ready else 104)

    def glass(self) -> QRectF:
        """Where the device is drawn."""
        p = self.device.profile
        if p is None:
            return QRectF(10, 10, 24, 46)
        return QRectF(10, 6, p.width_mm * self.mm, p.height_mm * self.mm)

    def mark_box(self) -> QRectF:
        return QRectF(self.width() - 28, 9, 20, 12)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        glass = self.glass()
        ready = self.device.ready
        pen = QPen(theme.TOUCH if self.lead else theme.INK if ready else theme.MUTED, 2 if self.lead else 1.3)
        if not ready:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(glass, 4, 4)
        if not self.thumb.isNull():
            inner = glass.adjusted(2, 2, -2, -2)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawPixmap(inner, self.thumb, QRectF(self.thumb.rect()))
        left = max(glass.right() + 9, self.aside)
        width = self.width() - left - 6
        painter.setPen(theme.INK)
        painter.setFont(theme.font(theme.BODY, 600))
        y = 4.0 if self.least < ROOMY[1] else 8.0
        name_room = width - 24 if ready else width
        painter.drawText(
            QRectF(left, y, name_room, 18),
            Qt.AlignmentFlag.AlignLeft,
            painter.fontMetrics().elidedText(self.device.name, Qt.TextElideMode.ElideRight, int(name_room)),
        )
        painter.setFont(theme.font(theme.CAPTION))
        painter.setPen(theme.MUTED)
        p = self.device.profile
        if p is not None:
            lines = [
                p.system,
                f"{p.width:.0f} dp" + (f" · text {p.text_scale:.0%}".replace("%", " %") if p.text_scale != 1 else ""),
            ]
            if self.least < ROOMY[1]:
                told = f"{p.system} · {p.width:.0f} dp" if p.text_scale == 1 else f"{p.width:.0f} dp · text {p.text_scale:.0%}"
                lines = [] if self.doing else [self.left_out or told]
            elif self.left_out:
                lines = [lines[0], self.left_out]
            for i, words in enumerate(lines):
                painter.drawText(QRectF(left, y + 17 + 13 * i, width, 14), Qt.AlignmentFlag.AlignLeft, words)
            if self.doing:
                close = self.least < ROOMY[1]
                painter.setPen(theme.TOUCH_TEXT)
                painter.setFont(theme.font(theme.CAPTION, 600))
                painter.drawText(QRectF(left, y + (17 if close else 43), width, 14), Qt.AlignmentFlag.AlignLeft, self.doing)
            self._paint_mark(painter)
        else:
            painter.setPen(theme.OUTCOME_WORDS[Outcome.STUCK])
            words = self.device.trouble or f"{self.device.listed.readiness.value.capitalize()}. {self.device.listed.advice}"
            painter.drawText(QRectF(left, y + 17, width, self.height() - y - 18), Qt.TextFlag.TextWordWrap, words)
        if self.hasFocus():
            painter.setPen(QPen(theme.CHECK, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(2, 2, -2, -2), 6, 6)

    def _paint_mark(self, painter: QPainter) -> None:
        """A small switch: its knob at the right and filled when replays go to the device."""
        box, part = self.mark_box(), not self.left_out
        painter.setPen(QPen(theme.INK if part else theme.MUTED, 1.2))
        painter.setBrush(theme.INK if part else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.SHEET if part else theme.MUTED)
        painter.drawEllipse(QPointF(box.right() - 6 if part else box.left() + 6, box.center().y()), 3.4, 3.4)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        with_ctrl = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if self.device.ready and (with_ctrl or self.mark_box().adjusted(-6, -6, 6, 6).contains(event.position())):
            self._toggle()
        elif self.device.ready:
            self.picked.emit(self.device)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.device.ready:
            self.picked.emit(self.device)
        elif event.key() == Qt.Key.Key_Space and self.device.ready:
            self._toggle()
        else:
            super().keyPressEvent(event)

    def _toggle(self) -> None:
        self.toggled.emit(self.device, bool(self.left_out))

    def show_left_out(self, why: str) -> None:
        """Why replays leave it out; empty where they do not."""
        self.left_out = why
        self.setAccessibleDescription(f"Replays leave it out: {why}" if why else "Replays go to it")
        state = "Left out of replays" if why else "Replays go to this device"
        tip(self, f"{state}. The switch, Ctrl+click or the space bar changes it; a click works on it.")
        self.update()


class BenchView(QWidget):
    """All devices, and how to connect one."""

    connect_asked = Signal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.tiles: dict[str, DeviceTile] = {}
        self._asked: set[str] = set()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(190)
        title = Label("Bench")
        title.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        title.setObjectName("caption")
        self._note = Label()
        self._note.setWordWrap(True)
        self._note.setObjectName("caption")
        self._column = QVBoxLayout()
        self._column.setSpacing(2)
        self._column.setContentsMargins(0, 0, 0, 0)
        holder = QWidget()
        holder.setLayout(self._column)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(holder)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        connect = QPushButton("Connect a device")
        connect.clicked.connect(self.connect_asked)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 12, 0, 12)
        layout.setSpacing(6)
        self.count = named(QPushButton(), "link")
        self.count.setAccessibleName("Devices that replays go to")
        self.count.setToolTip("Choose the devices to replay on by what they have in common")
        self.count.clicked.connect(self.choose)
        head = QHBoxLayout()
        head.setContentsMargins(10, 0, 4, 0)
        head.addWidget(title)
        head.addStretch(1)
        head.addWidget(self.count)
        layout.addLayout(head)
        self._note.setContentsMargins(10, 0, 8, 0)
        layout.addWidget(self._note)
        layout.addWidget(scroll, 1)
        row = QVBoxLayout()
        row.setContentsMargins(10, 0, 10, 0)
        row.addWidget(connect)
        layout.addLayout(row)
        self._column.addStretch(1)
        workspace.devices_changed.connect(self._rebuild)
        workspace.chosen_changed.connect(self._chosen)
        workspace.lead.device_changed.connect(self._mark)
        workspace.recorder.state_changed.connect(self._mark)
        workspace.lead.shown.connect(self._lead_thumb)
        workspace.runs.changed.connect(self._mark)
        workspace.runs.state_changed.connect(self._mark)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._thumbs)
        self._timer.start(THUMB_MS)
        self._rebuild()

    def _rebuild(self) -> None:
        trouble = self.workspace.server_trouble
        devices = self.workspace.devices
        if devices and all(device.listed.stand_in for device in devices):
            trouble = ""  # nobody waits for a phone
        self._note.setText(trouble or ("" if devices else "Looking for devices."))
        self._note.setVisible(bool(self._note.text()))
        for tile in self.tiles.values():
            self._column.removeWidget(tile)
            tile.deleteLater()
        before = self.tiles
        self.tiles = {}
        close = len(self.workspace.devices) > MANY
        widest = max((d.profile.width_mm for d in self.workspace.devices if d.profile), default=0.0)
        for device in self.workspace.devices:
            tile = DeviceTile(device, CLOSE if close else ROOMY)
            tile.aside = 19 + widest * CLOSE[0] if close else 0.0
            tile.show_left_out(self.workspace.left_out.get(device.listed.address, ""))
            if device.listed.address in before:
                tile.thumb = before[device.listed.address].thumb
            tile.picked.connect(self.workspace.lead.set_device)
            tile.toggled.connect(self.workspace.take_part)
            self.tiles[device.listed.address] = tile
            self._column.insertWidget(self._column.count() - 1, tile)
        self._mark()
        self._chosen()
        self._thumbs()

    def choose(self) -> None:
        """By trait, from a menu."""
        from ...model.choices import choices

        menu = QMenu(self)
        devices = [d for d in self.workspace.devices if d.profile is not None]
        menu.addAction(f"Every device   {len(devices)}", lambda: self.workspace.choose(None))
        menu.addSeparator()
        for choice in choices(d.profile for d in devices if d.profile is not None):
            many = sum(choice.fits(d.profile) for d in devices if d.profile is not None)
            menu.addAction(f"{choice.words}   {many}", partial(self.workspace.choose, choice))
        menu.popup(self.count.mapToGlobal(self.count.rect().bottomLeft()))

    def _chosen(self) -> None:
        for address, tile in self.tiles.items():
            tile.show_left_out(self.workspace.left_out.get(address, ""))
        ready = sum(d.ready for d in self.workspace.devices)
        self.count.setText(f"Replay on {len(self.workspace.chosen())} of {ready}")
        self.count.setVisible(ready > 1)

    def _mark(self) -> None:
        lead = self.workspace.lead
        lanes = self.workspace.runs.lanes.lanes if self.workspace.runs.running else ()
        done = {lane.device.name: len(lane.own) for lane in lanes}
        total = len(self.workspace.runs.lanes.columns)
        for tile in self.tiles.values():
            is_lead = lead.device is not None and tile.device.listed.address == lead.device.listed.address
            steps = done.get(tile.device.name)
            recording = is_lead and self.workspace.recorder.active
            doing = "recording" if recording else f"step {steps} of {total}" if steps is not None else ""
            if (doing, is_lead) != (tile.doing, tile.lead):
                tile.doing, tile.lead = doing, is_lead
                tile.update()

    def _lead_thumb(self) -> None:
        device = self.workspace.lead.device
        if device is not None:
            self._set_thumb(device.listed.address, self.workspace.lead.live.thumb)

    def _thumbs(self) -> None:
        lead = self.workspace.lead.device
        for address, tile in self.tiles.items():
            worker = tile.device.worker
            if (
                worker is None
                or address in self._asked
                or (lead is not None and lead.listed.address == address)
                or self.workspace.runs.running
            ):
                continue
            self._asked.add(address)
            self._ask_thumb(address, worker)

    def _ask_thumb(self, address: str, worker: DeviceWorker) -> None:
        def job(link: Link) -> QImage:
            return thumbnail(QImage.fromData(link.picture()))

        def arrived(image: QImage) -> None:
            self._asked.discard(address)
            self._set_thumb(address, image)

        self.workspace.courier.deliver(worker.submit(job), arrived, lambda error: self._failed(address, error))

    def _failed(self, address: str, error: CopioneError) -> None:
        self._asked.discard(address)
        tile = self.tiles.get(address)
        if tile is not None:
            tip(tile, error.sentence)

    def _set_thumb(self, address: str, image: QImage) -> None:
        tile = self.tiles.get(address)
        if tile is not None and not image.isNull():
            tile.thumb = QPixmap.fromImage(image)
            tile.update()
