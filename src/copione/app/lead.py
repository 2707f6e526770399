"""The lead as the interface sees it: its live screen, and what is done on it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QObject, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QImage

from ..links.link import HasConditions, HasKeys, HoldsFinger, RunsApps
from ..model.action import Key, Orientation, Start
from ..model.errors import CopioneError, LinkError
from .courier import Courier

if TYPE_CHECKING:  # what reads screens is imported when a device is there: the window is up sooner
    from ..links.bench import Device
    from ..links.finger import HeldFinger
    from ..links.link import InstalledApp, Link
    from ..model.gesture import Contact
    from ..model.screen import Element, Moment
    from ..recording.session import Session

FEED_MS = 200
BY_HAND = "used by hand"
THUMB = QSize(240, 240)  # pixels: the most that the bench shows of a screen
T = TypeVar("T")


@dataclass(frozen=True)
class LiveScreen:
    """One picture of a device as the interface needs it, decoded on the device's thread. `fitted` is as large as the mirror asked for."""

    png: bytes
    image: QImage
    fitted: QImage
    thumb: QImage

    @classmethod
    def of(cls, png: bytes, fit: QSize) -> LiveScreen:
        """From a device's PNG; null images for what is none."""
        image = QImage.fromData(png)
        fitted = (
            image.scaled(fit, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation) if fit.isValid() else image
        )
        return cls(png, image, fitted, thumbnail(image))


def thumbnail(image: QImage) -> QImage:
    """As small as the bench shows it."""
    return _within(image, THUMB)


def _within(image: QImage, size: QSize) -> QImage:
    """Scaled into a size; as it is where there is no picture or no size."""
    if image.isNull() or size.isEmpty():
        return image
    return image.scaled(size, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)


NOTHING = LiveScreen(b"", QImage(), QImage(), QImage())


class Lead(QObject):
    """Everything is asked of the device on its worker; answers come as signals. While a session records, it is the session that acts."""

    leaving = Signal()  # another device is about to lead
    device_changed = Signal()
    shown = Signal()  # `live` is new
    moment_changed = Signal()  # `moment` is new
    troubled = Signal(str)
    told = Signal(str)

    def __init__(self, courier: Courier, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.courier = courier
        self.device: Device | None = None
        self.live = NOTHING
        self.moment: Moment | None = None
        self.fit = QSize()  # how large the mirror shows it, in device pixels
        self.session: Session | None = None  # set by the recorder, and by nobody else
        self.listen: Callable[[], object] | None = None  # takes in what a finger on the phone did; set by the recorder
        self._fingers: dict[int, HeldFinger] = {}  # by turn, while nothing is recorded; used on the devices' threads
        self._asked = False
        self._jobs = 0
        self._turn = 0  # which device leads: an answer of the one before is not this one's
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._feed)

    @property
    def idle(self) -> bool:
        """Nothing that was asked for is still to come."""
        return self._jobs == 0

    def set_device(self, device: Device | None) -> None:
        """Make a device the lead. Not while recording. What was asked of the one before is answered to nobody any more."""
        if self.session is not None or device is self.device:
            return
        if self.device is not None:
            self.leaving.emit()
        self.device, self.live, self.moment = device, NOTHING, None
        self._turn, self._asked, self._jobs = self._turn + 1, False, 0
        self.device_changed.emit()
        self.moment_changed.emit()
        if device is not None and device.worker is not None:
            self._timer.start(FEED_MS)
        else:
            self._timer.stop()

    def close(self) -> None:
        """Stop looking."""
        self._timer.stop()

    # the live screen

    def _feed(self) -> None:
        if self._asked or self._jobs or self.device is None or self.device.worker is None:
            return
        self._asked = True
        turn = self._turn
        shown, session, listen, fit = self.live.png, self.session, self.listen, self.fit

        def job(link: Link) -> tuple[LiveScreen | None, Moment | None]:
            if session is not None and listen is not None:
                listen()
                moment = session.moment
                return (LiveScreen.of(moment.png, fit), moment) if moment.png != shown else (None, None)
            png = link.picture()
            if png == shown:
                return None, None
            fresh = session.look() if session is not None else link.moment()
            return LiveScreen.of(fresh.png, fit), fresh

        def fed(answer: tuple[LiveScreen | None, Moment | None]) -> None:
            if turn == self._turn:
                self._asked = False
                live, moment = answer
                if live is not None and moment is not None:
                    self._show(live, moment)

        def failed(error: CopioneError) -> None:
            if turn == self._turn:
                self._asked = False
                self.troubled.emit(error.sentence)

        self.courier.deliver(self.device.worker.submit(job), fed, failed)

    def shower(self) -> Callable[[Moment], None]:
        """What shows moments of the device that leads now, as long as it leads. It is called on that device's thread."""
        turn = self._turn

        def show(moment: Moment) -> None:
            live = LiveScreen.of(moment.png, self.fit)
            self.courier.bring(lambda: self._show(live, moment) if turn == self._turn else None)

        return show

    def _show(self, live: LiveScreen, moment: Moment) -> None:
        self.live, self.moment = live, moment
        self.shown.emit()
        self.moment_changed.emit()

    # acting

    def ask(
        self,
        job: Callable[[Link], T],
        done: Callable[[T], object] = lambda result: None,
        refused: Callable[[CopioneError], object] = lambda error: None,
        *,
        quiet: bool = False,
        anyway: bool = False,
    ) -> None:
        """Something of the device, on its own thread; what it refuses is told, unless `quiet`.

        Where another device leads by the time it is answered, nobody is told, unless `anyway`.
        """
        if self.device is None or self.device.worker is None:
            return
        self._jobs += 1
        turn = self._turn

        def still() -> bool:
            if turn == self._turn:
                self._jobs -= 1
            return turn == self._turn or anyway

        def ended(result: T) -> None:
            if still():
                done(result)

        def failed(error: CopioneError) -> None:
            if still():
                refused(error)
                if not quiet:
                    self.troubled.emit(error.sentence)

        self.courier.deliver(self.device.worker.submit(job), ended, failed)

    def do(self, act: Callable[[Link], object]) -> None:
        """Something that changes the device, and a look at what it did. Not while another Copione has it."""
        show = self.shower()

        def job(link: Link) -> None:
            from ..links.holding import held

            with held(link, BY_HAND):
                act(link)
                moment = link.moment()
            show(moment)

        self.ask(job)

    def _act(self, recorded: Callable[[Session], object], plain: Callable[[Link], object]) -> None:
        """Through the session while one records, else on the device itself."""
        session = self.session
        if session is not None:
            self.ask(lambda link: recorded(session))
        else:
            self.do(plain)

    def touch(self, contacts: list[Contact]) -> None:
        """Fingers on its glass."""
        png = self.live.png
        self._act(lambda session: session.touch(contacts, png), lambda link: link.touch(contacts))

    def finger_down(self, path: Sequence[tuple[float, float]], png: bytes, refused: Callable[[], object]) -> None:
        """A finger that is held: put it down where it began, and follow it; `refused` where the device takes gestures as a whole only."""
        session, show, turn = self.session, self._picture_shower(), self._turn

        def job(link: Link) -> None:
            from ..links.finger import HeldFinger

            if not link.has(HoldsFinger):
                raise LinkError("This device accepts only complete gestures.")
            if session is not None:
                session.finger_down(path, png)
            else:
                from ..links.holding import held

                with held(link, BY_HAND):
                    finger = HeldFinger(link)
                    finger.down(path)
                self._fingers[turn] = finger
            show(link)

        self.ask(job, lambda _done: None, lambda _error: refused(), quiet=True)

    def finger_moved(self, path: Sequence[tuple[float, float]], done: Callable[[], object]) -> None:
        """It went on; `done` when the device has followed."""
        session, show, turn = self.session, self._picture_shower(), self._turn

        def job(link: Link) -> None:
            finger = self._fingers.get(turn)
            if session is not None:
                session.finger_moved(path)
            elif finger is not None:
                finger.move(path)
            show(link)

        self.ask(job, lambda _done: done(), lambda _error: done(), quiet=True)

    def finger_up(self, contact: Contact) -> None:
        """It lifted."""
        turn = self._turn

        def lift(link: Link) -> None:
            finger = self._fingers.pop(turn, None)
            if finger is not None and finger.is_down:
                finger.up(contact)
            else:
                link.touch([contact])

        self._act(lambda session: session.finger_up(contact), lift)

    def _picture_shower(self) -> Callable[[Link], None]:
        """What shows the lead's screen while a finger is down: no tree is waited for. It is called on the device's thread."""
        turn = self._turn

        def look(link: Link) -> None:
            live = LiveScreen.of(link.picture(), self.fit)

            def show() -> None:
                if turn == self._turn:
                    self.live = live
                    self.shown.emit()

            self.courier.bring(show)

        return look

    def type(self, words: str) -> None:
        """Letters for the field that has the focus."""
        self._act(lambda session: session.type(words), lambda link: link.able(HasKeys).type_text(words))

    def erase(self) -> None:
        """The letter before."""
        self._act(lambda session: session.erase(), lambda link: link.able(HasKeys).press(Key.BACKSPACE))

    def press(self, key: Key) -> None:
        """A key of the device."""
        self._act(lambda session: session.press(key), lambda link: link.able(HasKeys).press(key))

    def turn(self, orientation: Orientation) -> None:
        """Hold it the other way."""
        self._act(lambda session: session.turn(orientation), lambda link: link.able(HasConditions).turn(orientation.value))

    def open_app(self, package: str, start: Start = Start.FRONT) -> None:
        """Bring an app to the front."""
        self._act(lambda session: session.open_app(package, start), lambda link: link.able(RunsApps).launch(package, start))

    def stop_app(self, package: str) -> None:
        """End an app."""
        self._act(lambda session: session.stop_app(package), lambda link: link.able(RunsApps).stop(package))

    def list_apps(self, done: Callable[[list[InstalledApp], tuple[str, str]], object]) -> None:
        """The installed apps with their versions, and package and activity of what is in front."""
        self.ask(lambda link: (link.able(RunsApps).apps(), link.able(RunsApps).front()), lambda found: done(*found))

    # thinking about what is shown

    def ask_ease(self, element: Element, done: Callable[[int], object]) -> None:
        """How easy an element would be to find again, 1 to 3."""

        def job() -> int:
            from ..recognition.ease import ease

            return ease(element)

        self.courier.think_newest("ease", job, done)
