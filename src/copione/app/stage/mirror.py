"""The lead's live screen: what the pointer does here is what a finger does there."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPixmap, QResizeEvent, QShowEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ...model.action import Key
from ...model.geometry import Box
from ...touch.thresholds import DOUBLE_NEAR, DOUBLE_S
from .. import theme
from ..keys import HeldKey
from ..lead import NOTHING, Lead
from . import marks
from .held import Following
from .pointer import PointerStroke, is_tap, pinch, wheel

if TYPE_CHECKING:  # what reads gestures and screens is imported when the pointer needs it: the window is up sooner
    from ...model.gesture import Contact
    from ...model.screen import Element

TYPE_MS = 220  # letters that follow each other so fast are typed together
MARK_MS = 900
FRAME_PX = 24  # a shorter drag is a click
ACTION_KEYS = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.MetaModifier
EASE = {1: "hard to find again", 2: "findable", 3: "easy to find again"}


class Mirror(QWidget):
    """Signals what the user does; paints picture, element under the pointer, gesture marks."""

    check_asked = Signal(object)  # Element
    area_asked = Signal(object)  # Box in dp
    check_mode_changed = Signal(bool)
    take_back_asked = Signal()

    def __init__(self, lead: Lead, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.lead = lead
        self.zoom = 1.0
        self.latched = False
        self.held = HeldKey(Qt.Key.Key_C, self.hasFocus, self._typing_now, self)
        self.held.changed.connect(self._checking_changed)
        self.held.typed.connect(self._add_letters)
        self._picture = QPixmap()  # as large as it is drawn
        self._finger = PointerStroke()
        self.following = Following(lead, self._finger, self)
        self._first: Contact | None = None  # a tap that may be the first of two
        self._second = False  # the pointer is down for the second one
        self._waiting = QTimer(self, singleShot=True, interval=int(1000 * DOUBLE_S))
        self._waiting.timeout.connect(self._was_one)
        self._pinched: tuple[float, float] | None = None
        self._letters = ""
        self._hover: Element | None = None
        self._hover_ease = 0  # 1 to 3 once it is known
        self._at = QPointF(-1, -1)
        self.asked: Element | None = None  # the element whose checks are being chosen
        self.asked_area: Box | None = None  # or the area, dp
        self._corner: QPointF | None = None  # where the framing of an area began
        self._mark: tuple[str, list[tuple[float, float]]] | None = None
        self._typing = QTimer(self, singleShot=True, interval=TYPE_MS)
        self._typing.timeout.connect(self._type)
        self._fading = QTimer(self, singleShot=True, interval=MARK_MS)
        self._fading.timeout.connect(self._fade)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Live screen of the lead")
        lead.shown.connect(self._show)
        lead.leaving.connect(self._leave)
        lead.device_changed.connect(self._other_device)
        lead.moment_changed.connect(self._rehover)

    # geometry

    @property
    def checking(self) -> bool:
        """Does a click ask for checks?"""
        return self.latched or self.held.down

    def screen_dp(self) -> tuple[float, float] | None:
        """Width and height of the screen as the lead is held, dp; None without a lead."""
        profile = self.lead.device.profile if self.lead.device else None
        if profile is None:
            return None
        image = self.lead.live.image
        if image.isNull():
            return profile.width, profile.height
        return image.width() / profile.density, image.height() / profile.density

    def glass(self) -> QRectF:
        """Where the screen is drawn."""
        size = self.screen_dp()
        if size is None:
            return QRectF()
        room = QRectF(self.rect()).adjusted(24, 16, -24, -14)
        scale = min(room.width() / size[0], room.height() / size[1]) * self.zoom
        wide, tall = size[0] * scale, size[1] * scale
        return QRectF(room.center().x() - wide / 2, room.center().y() - tall / 2, wide, tall)

    def to_dp(self, point: QPointF) -> tuple[float, float]:
        glass = self.glass()
        size = self.screen_dp()
        if size is None or glass.isEmpty():
            return -1.0, -1.0
        return (point.x() - glass.left()) * size[0] / glass.width(), (point.y() - glass.top()) * size[1] / glass.height()

    def from_dp(self, x: float, y: float) -> QPointF:
        glass = self.glass()
        size = self.screen_dp()
        if size is None:
            return QPointF()
        return QPointF(glass.left() + x * glass.width() / size[0], glass.top() + y * glass.height() / size[1])

    def box(self, element: Element) -> QRectF:
        return self.area(element.box)

    def area(self, box: Box) -> QRectF:
        return QRectF(self.from_dp(box.left, box.top), self.from_dp(box.right, box.bottom))

    def set_zoom(self, zoom: float) -> None:
        self.zoom = max(0.5, min(3.0, zoom))
        self.lead.fit = (self.glass().size() * self.devicePixelRatioF()).toSize()
        self.update()

    # painting

    def _show(self) -> None:
        self._picture = QPixmap.fromImage(self.lead.live.fitted)
        self.lead.fit = (self.glass().size() * self.devicePixelRatioF()).toSize()
        self.update()

    def resizeEvent(self, _event: QResizeEvent) -> None:
        self.lead.fit = (self.glass().size() * self.devicePixelRatioF()).toSize()
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        glass = self.glass()
        if glass.isEmpty():
            return
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(glass.adjusted(-9, -9, 9, 9), 18, 18)
        if self.hasFocus():
            painter.setPen(QPen(theme.CHECK, 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(glass.adjusted(-12, -12, 12, 12), 21, 21)
        if self._picture.isNull():
            painter.setPen(theme.MUTED)
            painter.drawText(glass, Qt.AlignmentFlag.AlignCenter, "Waiting for the screen.")
            return
        clip = QPainterPath()
        clip.addRoundedRect(glass, 11, 11)
        painter.save()
        painter.setClipPath(clip)
        painter.drawPixmap(glass, self._picture, QRectF(self._picture.rect()))
        painter.restore()
        area = self._framed() or self.asked_area
        if area is not None:
            marks.outline(painter, self.area(area).intersected(glass), theme.CHECK, 2, dashed=True)
        elif self.asked is not None:
            marks.outline(painter, self.box(self.asked).intersected(glass), theme.CHECK, 2, dashed=True)
        elif self._hover is not None and not self._finger.down:
            self._paint_hover(painter, self._hover)
        self._paint_marks(painter)

    def _paint_hover(self, painter: QPainter, element: Element) -> None:
        box = self.box(element).intersected(self.glass())
        marks.outline(painter, box, theme.CHECK if self.checking else theme.TOUCH, 1.6, dashed=True)
        words = element.called
        painter.setFont(theme.font(theme.CAPTION, 600))
        metrics = painter.fontMetrics()
        words = metrics.elidedText(words, Qt.TextElideMode.ElideRight, int(self.glass().width() - 60))
        wide = metrics.horizontalAdvance(words) + 38
        left = min(max(box.left() - 2, self.glass().left()), self.glass().right() - wide)
        top = box.top() - 25 if box.top() - 25 > self.glass().top() else box.bottom() + 5
        plate = QRectF(left, top, wide, 20)
        painter.setPen(QPen(theme.RULE, 1))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(plate, 4, 4)
        painter.setPen(theme.INK)
        painter.drawText(plate.adjusted(8, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, words)
        if self._hover_ease:
            marks.bars(painter, plate.right() - 22, plate.bottom() - 5, self._hover_ease)

    def _paint_marks(self, painter: QPainter) -> None:
        if self._first is not None and not self._finger.down:
            marks.gesture(painter, "tap", [self.from_dp(*self._first.begin)], 12)
        elif self._finger.down:
            first, last = self._finger.path[0], self._finger.path[-1]
            points = [self.from_dp(first[1], first[2])]
            if abs(first[1] - last[1]) + abs(first[2] - last[2]) > 8:
                points.append(self.from_dp(last[1], last[2]))
            marks.gesture(painter, "double-tap" if self._second else "tap", points, 12)
        elif self._mark is not None:
            kind, path = self._mark
            marks.gesture(painter, kind, [self.from_dp(x, y) for x, y in path], 12, 0.8)

    def _fade(self) -> None:
        self._mark = None
        self.update()

    # pointer

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is not Qt.MouseButton.LeftButton or not self._shown_at(event.position()):
            return
        self.held.hold()
        x, y = self.to_dp(event.position())
        if self.checking:
            self._was_one()
            self._corner = event.position()
            return
        self._type()
        self._second = self._first is not None and self._waiting.isActive() and _near(self._first.begin, (x, y))
        if self._second:
            self._waiting.stop()
        else:
            self._was_one()
        self._pinched = (x, y) if event.modifiers() & Qt.KeyboardModifier.ControlModifier else None
        self._finger.press(_when(event), x, y)
        if self._pinched is None and not self._second:
            self.following.begin()
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._at = event.position()
        if self._corner is not None:
            self.update()
        elif self._finger.down:
            self._finger.move(_when(event), *self.to_dp(event.position()))
            self.update()
        else:
            self._rehover()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._corner is not None:
            self._at = event.position()
            self._check_here(event.position())
            return
        contact = self._finger.release(_when(event), *self.to_dp(event.position()))
        if contact is None:
            return
        first, self._first = self._first, None
        if self._pinched is not None:
            self._touch(pinch(*self._pinched, contact.end))
        elif self._second and first is not None and is_tap(contact):
            from ...touch.making import double_tap

            self._touch(double_tap(*contact.begin))
        else:
            if first is not None:
                self._touch([first])
            if self.following.lift(contact):
                self._leave_mark([contact])
            elif is_tap(contact):
                self._first = contact
                self._waiting.start()
                self.update()
            else:
                self._touch([contact])

    def _shown_at(self, at: QPointF) -> bool:
        """Is there a screen to be touched: the one that the lead shows?"""
        return self.lead.live is not NOTHING and self.glass().contains(at)

    @property
    def waiting(self) -> bool:
        """Is a tap held back that may be the first of two?"""
        return self._first is not None

    def _was_one(self) -> None:
        """No second tap came."""
        first, self._first = self._first, None
        self._waiting.stop()
        if first is not None:
            self._touch([first])

    def _framed(self) -> Box | None:
        """The area that is being framed, dp; None for a click."""
        if self._corner is None or (self._at - self._corner).manhattanLength() < FRAME_PX:
            return None
        (x0, y0), (x1, y1) = self.to_dp(self._corner), self.to_dp(self._at)
        size = self.screen_dp() or (0.0, 0.0)
        framed = Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)).clipped(Box(0.0, 0.0, *size))
        return None if framed.empty else framed

    def _check_here(self, at: QPointF) -> None:
        """A frame asks for checks of an area, a click for those of the element under it."""
        from ...recording.checks import checkable

        area, self._corner = self._framed(), None
        moment = self.lead.moment
        if area is not None:
            self.area_asked.emit(area)
            return
        element = checkable(moment.screen, *self.to_dp(at)) if moment and moment.screen else None
        if element is not None:
            self.check_asked.emit(element)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.set_zoom(self.zoom * (1.1 if event.angleDelta().y() > 0 else 1 / 1.1))
            return
        size = self.screen_dp()
        if size is not None and self._shown_at(event.position()):
            self._was_one()
            x, y = self.to_dp(event.position())
            self._touch([wheel(x, y, event.angleDelta().y() / 120, size[1])])

    def _touch(self, contacts: list[Contact]) -> None:
        self.following.stop()
        self._leave_mark(contacts)
        self.lead.touch(contacts)

    def _leave_mark(self, contacts: list[Contact]) -> None:
        """What the hand did stays to be seen for a moment."""
        from ...touch.reading import read_contacts

        gesture = read_contacts(contacts)
        self._mark = (gesture.kind, list(gesture.trace))
        self._fading.start()
        self._hover = None
        self.update()

    def leaveEvent(self, _event: object) -> None:
        self._at = QPointF(-1, -1)
        self._rehover()

    def _rehover(self) -> None:
        element = None
        moment = self.lead.moment
        if moment is not None and moment.screen is not None and self.glass().contains(self._at):
            from ...recording.checks import checkable
            from ...recording.intent import touched

            x, y = self.to_dp(self._at)
            element = checkable(moment.screen, x, y) if self.checking else touched(moment.screen, x, y)
        if element != self._hover:
            self._hover, self._hover_ease = element, 0
            if element is not None:
                self.lead.ask_ease(element, lambda bars, element=element: self._eased(element, bars))  # type: ignore[misc]
        self.update()

    def _eased(self, element: Element, bars: int) -> None:
        if element == self._hover:
            self._hover_ease = bars
            self.update()

    def _leave(self) -> None:
        """Another device is to lead: what was done on this one is done on it, and a finger that is down on it is lifted."""
        self.flush()
        path = self._finger.path
        contact = self._finger.release(*path[-1]) if path else None
        if contact is not None:
            self.following.lift(contact)

    def _other_device(self) -> None:
        """Nothing that was begun on the one before goes on."""
        self._first = self._corner = self._pinched = self._mark = self._hover = self.asked = self.asked_area = None
        self._second, self._letters = False, ""
        for timer in (self._waiting, self._typing, self._fading):
            timer.stop()
        self._show()

    # keys

    def set_latched(self, on: bool) -> None:
        """Checks stay on without holding C."""
        self.latched = on
        self._checking_changed()

    def _checking_changed(self) -> None:
        self._rehover()
        self.check_mode_changed.emit(self.checking)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        handle = self.window().windowHandle()
        if handle is not None:
            self.held.watch(handle)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == self.held.key and self.held.down:
            return
        self._was_one()
        if event.key() == Qt.Key.Key_Backspace and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.take_back_asked.emit()
        elif event.key() == Qt.Key.Key_Backspace and self._typing_now():
            self._type()
            self.lead.erase()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._typing_now():
            self._type()
            self.lead.press(Key.ENTER)
        elif event.text() and event.text().isprintable() and not event.modifiers() & ACTION_KEYS and self._typing_now():
            self._add_letters(event.text())
        else:
            super().keyPressEvent(event)

    def _add_letters(self, letters: str) -> None:
        self._letters += letters
        self._typing.start()

    def _typing_now(self) -> bool:
        """Does the phone show a keyboard? Then letters are for its field. A browser shows none: there the focus tells."""
        moment, device = self.lead.moment, self.lead.device
        if moment is None or moment.screen is None:
            return False
        from ...recording.intent import focused_field

        browser = device is not None and device.profile is not None and device.profile.platform == "web"
        return moment.screen.keyboard is not None or (browser and focused_field(moment.screen) is not None)

    def _type(self) -> None:
        self._typing.stop()
        if self._letters:
            words, self._letters = self._letters, ""
            self.lead.type(words)

    def flush(self) -> None:
        """Send what was done and typed and is not sent yet."""
        self._was_one()
        self._type()


def _when(event: QMouseEvent) -> float:
    """Seconds on the window system's clock: when the hand did it, not when this window, which may be busy, came to it."""
    return event.timestamp() / 1000 or time.monotonic()


def _near(one: tuple[float, float], other: tuple[float, float]) -> bool:
    return abs(one[0] - other[0]) + abs(one[1] - other[1]) < DOUBLE_NEAR
