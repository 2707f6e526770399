"""The lead as the interface sees it: its live screen, and the recording that is made on it."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QTimer, Signal

from ..language.words import KEYS
from ..model.clock import SystemClock
from ..model.errors import CopioneError
from .courier import Courier

if TYPE_CHECKING:  # what records is imported when recording begins: the window is up sooner
    from ..links.bench import Device
    from ..links.link import InstalledApp, Link
    from ..model.geometry import Box
    from ..model.gesture import Contact
    from ..model.screen import Moment
    from ..project.journal import Unfinished
    from ..project.project import Loaded, Project
    from ..recording.hand import Hand
    from ..recording.insertion import Insertion
    from ..recording.intent import Meaning
    from ..recording.recording import Recording, State
    from ..recording.session import Session
    from ..report.defect import Defect

FEED_MS = 200


class Lead(QObject):
    """Everything is asked of the device on its worker; answers come as signals."""

    device_changed = Signal()
    shown = Signal()  # `png` is new
    moment_changed = Signal()  # `moment` is new
    steps_changed = Signal()
    recording_changed = Signal()
    saved = Signal(object, int)  # Path, the line to look at or 0
    troubled = Signal(str)
    told = Signal(str)

    def __init__(self, courier: Courier, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.courier = courier
        self.device: Device | None = None
        self.png = b""
        self.moment: Moment | None = None
        self.steps: State = ()
        self.scene = ""
        self.since = 0.0
        self._session: Session | None = None
        self._asked = False
        self._jobs = 0
        self._starting = False
        self._given_up = threading.Event()
        self.way: tuple[int, int] | None = None  # steps done and in all, on the way to the line from which to record
        self._hand: Hand | None = None
        self.on_phone = False
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._feed)

    @property
    def recording(self) -> bool:
        return self._session is not None

    @property
    def idle(self) -> bool:
        """Nothing that was asked for is still to come."""
        return self._jobs == 0

    @property
    def shots(self) -> Path | None:
        """Where the pictures of the recorded steps are."""
        return self._session.journal.folder if self._session else None

    def follow(self, device: Device | None) -> None:
        """Make a device the lead. Not while recording."""
        if self.recording or device is self.device:
            return
        self.device, self.png, self.moment = device, b"", None
        self.device_changed.emit()
        self.moment_changed.emit()
        if device is not None and device.worker is not None:
            self._timer.start(FEED_MS)
        else:
            self._timer.stop()

    def close(self) -> None:
        """Stop looking. The workers have ended; a recording that goes on is left in its journal and offered again."""
        self._timer.stop()
        self._let_go()
        if self._session is not None:
            self._session.journal.close()

    # the live screen

    def _feed(self) -> None:
        if self._asked or self._jobs or self.device is None or self.device.worker is None:
            return
        self._asked = True
        shown, session, hand = self.png, self._session, self._hand

        def job(link: Link) -> tuple[bytes, Moment | None]:
            if session is not None and hand is not None:
                hand.follow()
                return session.moment.png, session.moment if session.moment.png != shown else None
            png = link.picture()
            if png == shown:
                return png, None
            return png, session.look() if session is not None else link.moment()

        self.courier.follow(self.device.worker.submit(job), self._fed, self._feed_failed)

    def _fed(self, answer: tuple[bytes, Moment | None]) -> None:
        self._asked = False
        png, moment = answer
        if moment is not None:
            self._show(moment)
        elif png != self.png:
            self.png = png
            self.shown.emit()

    def _feed_failed(self, error: CopioneError) -> None:
        self._asked = False
        self.troubled.emit(error.sentence)

    def _show(self, moment: Moment) -> None:
        self.moment, self.png = moment, moment.png
        self.shown.emit()
        self.moment_changed.emit()

    # acting

    def _do(
        self,
        job: Callable[[Link], Any],
        done: Callable[[Any], None] = lambda result: None,
        refused: Callable[[CopioneError], None] = lambda error: None,
    ) -> None:
        if self.device is None or self.device.worker is None:
            return
        self._jobs += 1

        def ended(result: Any) -> None:
            self._jobs -= 1
            done(result)

        def failed(error: CopioneError) -> None:
            self._jobs -= 1
            refused(error)
            self.troubled.emit(error.sentence)

        self.courier.follow(self.device.worker.submit(job), ended, failed)

    def touch(self, contacts: list[Contact]) -> None:
        session, png = self._session, self.png
        if session is not None:
            self._do(lambda link: session.touch(contacts, png))
        else:
            self._do(lambda link: (link.touch(contacts), link.moment())[1], self._show)

    def type(self, words: str) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.type(words))
        else:
            self._do(lambda link: (link.type_text(words), link.moment())[1], self._show)

    def turn(self, orientation: str) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.turn(orientation))
        else:
            self._do(lambda link: (link.turn(orientation), link.moment())[1], self._show)

    @property
    def plainly(self) -> bool:
        """Are gestures written down as they are, not as what they mean?"""
        return self._session is not None and self._session.plainly

    def be_plain(self, plainly: bool) -> None:
        session = self._session
        if session is not None:
            session.plainly = plainly
            self.recording_changed.emit()

    def erase(self) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.erase())
        else:
            self._do(lambda link: (link.press("Backspace"), link.moment())[1], self._show)

    def press(self, word: str) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.press(word))
        else:
            self._do(lambda link: (link.press(KEYS[word]), link.moment())[1], self._show)

    def check(self, meaning: Meaning) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.check(meaning))

    def open_app(self, package: str, *, afresh: bool = False) -> None:
        self._do(lambda link: (link.launch(package, afresh=afresh), link.moment())[1], self._show)

    def stop_app(self, package: str) -> None:
        self._do(lambda link: (link.stop(package), link.moment())[1], self._show)

    def do(self, act: Callable[[Link], object]) -> None:
        """Something of the device, and a look at what it did."""
        self._do(lambda link: (act(link), link.moment())[1], self._show)

    def list_apps(self, done: Callable[[list[InstalledApp], tuple[str, str]], None]) -> None:
        """The installed apps with their versions, and package and activity of what is in front."""
        self._do(lambda link: (link.apps(), link.front()), lambda found: done(*found))

    # recording

    def start(self, project: Project, recovered: Unfinished | None = None, loaded: Loaded | None = None, line: int = 0) -> None:
        """Begin to record the app in front, started afresh; or go on with a recovered recording as it stood.

        With a script and a line: replay it up to there, and record what goes in behind that line.
        """
        if self.recording or self._starting or self.device is None:
            return
        self._starting = True
        self._given_up.clear()
        from ..recording.insertion import Insertion
        from ..recording.session import Session

        into = Insertion.behind(loaded, line) if loaded is not None else None

        def done_step(number: int, total: int) -> None:
            self.courier.bring(lambda: self._on_the_way(number, total))

        def shown(moment: Moment) -> None:
            self.courier.bring(lambda: self._show(moment))

        def job(link: Link) -> Session:
            if loaded is not None:
                from ..replay.way import walk

                walk(link, project, loaded, line, SystemClock(), done_step, self._given_up.is_set)
            package = link.front()[0]
            if package not in link.packages():
                raise CopioneError("Open the app to be tested on the phone first, then press Record.")
            session = Session(link, project, package, shown, lambda state: None, recovered, into)
            session.recording.changed = lambda state: self._journal(session, state)
            if recovered is None and into is None:
                session.launch()
            return session

        def done(session: Session) -> None:
            self._starting, self.way = False, None
            self._session = session
            self.since = time.monotonic()
            if self.on_phone:
                self.put_hand(True)
            self._take(session.recording.steps, session.recording.scene)
            self.recording_changed.emit()

        def failed(error: CopioneError) -> None:
            self._starting, self.way = False, None
            self._jobs -= 1
            self.recording_changed.emit()
            self.troubled.emit(error.sentence)

        assert self.device.worker is not None
        self._jobs += 1
        self.courier.follow(self.device.worker.submit(job), lambda s: (self._ended(), done(s)), failed)

    def give_up(self) -> None:
        """Stop on the way to the line from which to record."""
        self._given_up.set()

    def _on_the_way(self, number: int, total: int) -> None:
        if self._starting:
            self.way = number, total
            self.recording_changed.emit()

    @property
    def into(self) -> Insertion | None:
        """The script that the recording goes into, if it is not one of its own."""
        return self._session.into if self._session is not None else None

    def _ended(self) -> None:
        self._jobs -= 1

    def _journal(self, session: Session, state: State) -> None:
        """On the worker: keep the change, then tell the interface."""
        session.journal.steps(state, session.recording.scene, session.recording.values)
        scene = session.recording.scene
        self.courier.bring(lambda: self._take(state, scene))

    def _take(self, state: State, scene: str) -> None:
        self.steps, self.scene = state, scene
        self.steps_changed.emit()

    def put_hand(self, there: bool) -> None:
        """While recording: listen to the fingers on the phone itself, or no more."""
        session = self._session
        self._let_go()
        self.on_phone = there
        if not there or session is None:
            return

        from ..recording.hand import Hand

        def listening(hand: Hand) -> None:
            self._hand = hand

        def refused(_error: CopioneError) -> None:
            self.on_phone = False
            self.recording_changed.emit()

        self._do(lambda link: Hand(link, session, SystemClock()), listening, refused)

    def _let_go(self) -> None:
        """Nobody listens to the phone's panel any more."""
        if self._hand is not None:
            self._hand.close()
            self._hand = None

    def change(self, job: Callable[[Recording], object]) -> None:
        """Change the recording: delete, rename, undo ... on the worker, in order with the gestures."""
        session = self._session
        if session is None:
            return

        def done(_result: object) -> None:
            self._take(session.recording.steps, session.recording.scene)

        self._do(lambda link: job(session.recording), done)

    def read_area(self, moment: Moment, box: Box, width: float, done: Callable[[str], None]) -> None:
        """What is written in an area of a moment's picture; `width` of the screen in dp. Nobody waits for it meanwhile."""

        def job() -> str:
            from ..recognition.pictures import decode
            from ..recognition.text import said_in

            picture = decode(moment.png, width)
            return said_in(picture.cut(box)) if picture is not None else ""

        self.courier.aside(job, done, lambda error: self.told.emit(error.sentence))

    def note(self, words: str) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.note(words))

    def snap(self) -> None:
        session = self._session
        if session is not None:
            self._do(lambda link: session.snap())

    def save_stretch(self, name: str, uids: list[int]) -> None:
        """Some of the steps as a script of its own; the recording goes on."""
        session = self._session
        if session is not None:
            self._do(
                lambda link: session.save_stretch(name, uids), lambda path: self.told.emit(f"Saved as {path.name}; recording goes on.")
            )

    def write_up(self, defect: Defect, uids: list[int] | None) -> None:
        """A stretch of the recording, or all of it, as a defect write-up."""
        session = self._session
        if session is None:
            return

        def job(link: Link) -> Path:
            steps = session.recording.stretch(uids)
            build = link.version(session.package) if session.package else ""
            folder = session.project.folder / "defects"
            log = link.log(session.since)
            from ..report.defect import write_up

            return write_up(folder, defect, steps, session.journal.folder, link.profile(), session.recording.app, build, log)

        self._do(job, lambda path: self.told.emit(f"Written up in {path}"))

    def stop(self, name: str) -> None:
        """Save the recording as a script of that name; stays recording when that fails."""
        session = self._session
        if session is None:
            return

        def done(path: Path) -> None:
            self._session = None
            self._let_go()
            self.recording_changed.emit()
            self.saved.emit(path, session.began_at)

        self._do(lambda link: session.save(name), done)

    def throw_away(self) -> None:
        session = self._session
        if session is None:
            return

        def done(_result: object) -> None:
            self._session = None
            self._let_go()
            self._take((), "")
            self.recording_changed.emit()

        self._do(lambda link: session.discard(), done)
