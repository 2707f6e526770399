"""Recordings that were cut short, or thrown away by mistake: looked for, offered, gone on with."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ..project.project import Project
from .courier import Courier
from .message import Notice
from .recorder import Recorder

if TYPE_CHECKING:
    from ..project.journal import Unfinished


class UnfinishedRecordings(QObject):
    """`newest` is the one that is offered; `changed` when it is another one, `gone_on` when it is recorded on."""

    changed = Signal()
    gone_on = Signal()
    told = Signal(object)  # a Told
    troubled = Signal(object)  # what failed

    def __init__(self, recorder: Recorder, courier: Courier, project: Callable[[], Project], parent: QObject) -> None:
        super().__init__(parent)
        self._recorder, self._courier, self._project = recorder, courier, project
        self.newest: Unfinished | None = None
        self._recorded = False  # when it was last looked
        recorder.state_changed.connect(self._recording_changed)
        recorder.thrown.connect(self._thrown)

    def _recording_changed(self) -> None:
        """Where one begins or ends, or did not begin after all, there is another one to offer, or none."""
        recorder = self._recorder
        if recorder.active != self._recorded or not (recorder.active or recorder.starting):
            self._recorded = recorder.active
            self.look()

    def look(self) -> None:
        """Is there a recording that was cut short?"""
        folder, recording = self._project().recordings_folder, self._recorder.folder

        def look() -> Unfinished | None:
            from ..project.journal import unfinished

            return next((each for each in unfinished(folder) if each.folder != recording), None)

        def done(found: Unfinished | None) -> None:
            self.newest = found if not self._recorder.active else None
            self.changed.emit()

        self._courier.read(look, done, self.troubled.emit)

    def go_on(self) -> None:
        """Go on with it."""
        if self.newest is not None:
            found, self.newest = self.newest, None
            self.gone_on.emit()
            self._recorder.start(self._project(), recovered=found)
            self.changed.emit()

    def throw_away(self) -> None:
        """Do not offer it again."""
        found, self.newest = self.newest, None
        if found is None:
            return

        def throw() -> None:
            from ..project.journal import throw_away

            throw_away(found)

        def thrown(_done: object) -> None:
            self.look()
            self._thrown(found.folder)

        self._courier.with_files(throw, thrown, self.troubled.emit)

    def _thrown(self, folder: Path) -> None:
        """One was thrown away: its files stay, and it can be taken back."""

        def again() -> None:
            from ..project.journal import offer_again

            offer_again(folder)

        def back() -> None:
            self._courier.with_files(again, lambda _done: self.look(), self.troubled.emit)

        words = f"The recording was thrown away. Its pictures and journal stay in {folder} until you delete them."
        self.told.emit(Notice(words, (("Bring it back", back),)))
