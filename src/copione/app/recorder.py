"""The recording that is made on the lead, as the interface sees it: what the session publishes, forwarded to Qt's thread."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ..links.claims import Busy
from ..model.clock import SystemClock
from ..model.errors import CopioneError, DeviceTaken
from .lead import Lead

if TYPE_CHECKING:  # what records is imported when recording begins: the window is up sooner
    from ..engine.recording import AppStart
    from ..links.link import Link
    from ..model.geometry import Box
    from ..model.screen import Element, Moment
    from ..project.journal import Unfinished
    from ..project.loaded import Loaded
    from ..project.project import Project
    from ..recording.hand import Hand
    from ..recording.insertion import Insertion
    from ..recording.intent import Meaning
    from ..recording.recording import Recording, RecordingState, Steps
    from ..recording.session import Session
    from ..report.defect import Defect


class Recorder(QObject):
    """`steps` and `scene` are what is recorded so far. The session makes changes, on the lead's thread, in order with the gestures."""

    steps_changed = Signal()
    state_changed = Signal()  # it began, ended, or goes on otherwise
    saved = Signal(object, int)  # Path, the line to look at or 0
    thrown = Signal(object)  # Path: the recording's folder

    def __init__(self, lead: Lead, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.lead = lead
        self.steps: Steps = ()
        self.scene = ""
        self.since = 0.0
        self.suggested_name = ""
        self.approach: tuple[int, int] | None = None  # steps done and in all, on the way to the line from which to record
        self.plainly = False
        self.on_phone = False
        self._starting = False
        self._cancelled = threading.Event()
        self._hand: Hand | None = None
        self.ask_busy: Callable[[str], Busy | None] = lambda sentence: None

    @property
    def active(self) -> bool:
        """Does a recording go on?"""
        return self.lead.session is not None

    @property
    def starting(self) -> bool:
        """Is one about to begin?"""
        return self._starting

    @property
    def folder(self) -> Path | None:
        """Where the pictures of the recorded steps are."""
        return self.lead.session.folder if self.lead.session is not None else None

    @property
    def into(self) -> Insertion | None:
        """The script that the recording goes into, if it is not one of its own."""
        return self.lead.session.into if self.lead.session is not None else None

    # beginning

    def start(
        self,
        project: Project,
        begin: AppStart | None = None,
        recovered: Unfinished | None = None,
        loaded: Loaded | None = None,
        line: int = 0,
        busy: Busy = Busy.TELL,
    ) -> None:
        """Begin to record as `begin` says; or go on with a recovered recording as it stood, in the app that is in front.

        With a script and a line: replay it up to there, and record what goes in behind that line.
        """
        if self.active or self._starting or self.lead.device is None:
            return
        self._starting = True
        self._cancelled.clear()
        self.state_changed.emit()
        bring, show, device = self.lead.courier.bring, self.lead.shower(), self.lead.device

        def done_step(number: int, total: int) -> None:
            bring(lambda: self._approached(number, total))

        def changed(state: RecordingState) -> None:
            bring(lambda: self._take(state))

        def job(link: Link) -> tuple[Session, str]:
            from ..engine.recording import RecordingListener, RecordingPlan, begin_recording

            plan = RecordingPlan(begin, recovered, loaded, line, busy)
            session = begin_recording(link, project, plan, RecordingListener(show, changed, done_step), self._cancelled.is_set)
            return session, project.free_name("Script")

        def done(found: tuple[Session, str]) -> None:
            if self.lead.device is not device:  # another one leads: what was begun is left, and offered again
                self._starting, self.approach = False, None
                self.lead.courier.think(found[0].stop_journal, lambda _done: self.state_changed.emit())
                return
            self._starting, self.approach, self.plainly = False, None, False
            self.lead.session, self.suggested_name = found
            self.since = time.monotonic()
            self._take(found[0].recording.state)
            self.state_changed.emit()
            if self.on_phone:
                self.listen_to_phone(True)

        def failed(error: CopioneError) -> None:
            self._starting, self.approach = False, None
            choice = self.ask_busy(error.sentence) if isinstance(error, DeviceTaken) else None
            if choice is not None:
                self.start(project, begin, recovered, loaded, line, choice)
            self.state_changed.emit()

        self.lead.ask(job, done, failed, anyway=True)

    def cancel_approach(self) -> None:
        """Stop on the way to the line from which to record."""
        self._cancelled.set()

    def _approached(self, number: int, total: int) -> None:
        if self._starting:
            self.approach = number, total
            self.state_changed.emit()

    def _take(self, state: RecordingState) -> None:
        self.steps, self.scene = state.steps, state.scene
        self.steps_changed.emit()

    # going on

    def _ask(self, act: Callable[[Session], object]) -> None:
        session = self.lead.session
        if session is not None:
            self.lead.ask(lambda link: act(session))

    def edit(self, change: Callable[[Recording], object]) -> None:
        """Change what is recorded: delete, rename, undo ..."""
        self._ask(lambda session: session.edit(change))

    def check(self, meaning: Meaning) -> None:
        """Take a check in."""
        self._ask(lambda session: session.check(meaning))

    def note(self, words: str) -> None:
        """Words for people."""
        self._ask(lambda session: session.note(words))

    def snap(self) -> None:
        """A picture of this moment."""
        self._ask(lambda session: session.snap())

    def record_plainly(self, plainly: bool) -> None:
        """Write gestures down as they are, or what they mean again."""
        if self.active:
            self.plainly = plainly
            self._ask(lambda session: session.record_plainly(plainly))
            self.state_changed.emit()

    def listen_to_phone(self, there: bool) -> None:
        """While recording: listen to the fingers on the phone itself, or no more."""
        session = self.lead.session
        self._stop_listening()
        self.on_phone = there
        if not there or session is None:
            return

        def job(link: Link) -> Hand:
            from ..recording.hand import Hand

            return Hand(link, session, SystemClock())

        def listening(hand: Hand) -> None:
            self._hand, self.lead.listen = hand, hand.take_in

        def refused(_error: CopioneError) -> None:
            self.on_phone = False
            self.state_changed.emit()

        self.lead.ask(job, listening, refused)

    def _stop_listening(self) -> None:
        self.lead.listen = None
        if self._hand is not None:
            self._hand.close()
            self._hand = None

    # what can be checked

    @property
    def _locale(self) -> str:
        profile = self.lead.device.profile if self.lead.device is not None else None
        return profile.locale if profile is not None else ""

    def ask_checks(self, element: Element, done: Callable[[list[Meaning], int], object]) -> None:
        """The likely checks of an element, and how easy it would be to find again."""
        locale = self._locale

        def job() -> tuple[list[Meaning], int]:
            from ..recognition.ease import ease
            from ..recording.checks import likely_checks

            return likely_checks(element, locale), ease(element)

        self.lead.courier.think_newest("checks", job, lambda found: done(*found))

    def ask_area_checks(
        self, moment: Moment, size: tuple[float, float], box: Box, number: int, done: Callable[[list[Meaning], bool], object]
    ) -> None:
        """The checks of an area of a moment's picture; `size` of the screen and `box` in dp. Told twice where text in it can be read:
        at once, and again (True) when it has been."""
        locale = self._locale

        def unread() -> list[Meaning]:
            from ..recording.checks import area_checks

            return area_checks(moment.screen, size, box, number, locale=locale)

        def read() -> list[Meaning]:
            from ..recognition.pictures import picture_of
            from ..recognition.text import said_in
            from ..recording.checks import area_checks

            picture = picture_of(moment, size[0])
            words = said_in(picture.cut(box)) if picture is not None else ""
            return area_checks(moment.screen, size, box, number, words, locale)

        def first(found: list[Meaning]) -> None:
            from ..recognition.text import can_read

            done(found, False)
            if can_read():
                self.lead.courier.think(read, lambda again: done(again, True), lambda error: self.lead.told.emit(error.sentence))

        self.lead.courier.think(unread, first)

    # what becomes of it

    def save_stretch(self, name: str, uids: list[int]) -> None:
        """Some of the steps as a script of its own; the recording goes on."""
        session = self.lead.session
        if session is not None:
            self.lead.ask(
                lambda link: session.save_stretch(session.project.free_name(name), uids),
                lambda path: self.lead.told.emit(f"Saved as {path.name}; recording goes on."),
            )

    def write_up(self, defect: Defect, uids: list[int] | None) -> None:
        """A stretch of the recording, or all of it, as a defect write-up."""
        session = self.lead.session
        if session is None:
            return

        def job(link: Link) -> Path:
            from ..engine.recording import write_defect

            return write_defect(link, session, defect, uids)

        self.lead.ask(job, lambda path: self.lead.told.emit(f"Written up in {path}"))

    def stop(self, name: str) -> None:
        """Save the recording as a script of that name, or a free one like it; stays recording when that fails."""
        session, courier = self.lead.session, self.lead.courier
        if session is None:
            return

        def job(link: Link) -> Path:
            courier.files_done()  # what was edited in the script that it goes into is on the disk first
            return session.save(session.project.free_name(name))

        def done(path: Path) -> None:
            self._over()
            self.saved.emit(path, session.began_at)

        self.lead.ask(job, done)

    def throw_away(self) -> None:
        """Keep nothing but the files that are there."""
        session = self.lead.session
        if session is not None:
            self.lead.ask(lambda link: session.discard(), lambda _done: self._thrown(session.folder))

    def _thrown(self, folder: Path) -> None:
        self._over(thrown=True)
        self.thrown.emit(folder)

    def _over(self, thrown: bool = False) -> None:
        self.lead.session = None
        self._stop_listening()
        if thrown:
            self.steps, self.scene = (), ""
            self.steps_changed.emit()
        self.state_changed.emit()

    def close(self) -> None:
        """The device's thread has ended: a recording that goes on is left as it is, and offered again."""
        self._stop_listening()
        if self.lead.session is not None:
            self.lead.session.stop_journal()
