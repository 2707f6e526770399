"""Recordings that were cut short, or thrown away by mistake: looked for, offered, gone on with."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from .message import Told

if TYPE_CHECKING:
    from ..project.journal import Unfinished
    from .workspace import Workspace


class UnfinishedRecordings(QObject):
    """`newest` is the one that is offered; `changed` when it is another one."""

    changed = Signal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(workspace)
        self._workspace = workspace
        self.newest: Unfinished | None = None
        self._recorded = False  # when it was last looked
        workspace.recorder.state_changed.connect(self._recording_changed)
        workspace.recorder.thrown.connect(self._thrown)

    def _recording_changed(self) -> None:
        """Where one begins or ends, or did not begin after all, there is another one to offer, or none."""
        recorder = self._workspace.recorder
        if recorder.active != self._recorded or not (recorder.active or recorder.starting):
            self._recorded = recorder.active
            self.look()

    def look(self) -> None:
        """Is there a recording that was cut short?"""
        workspace = self._workspace
        folder, recording = workspace.project.recordings_folder, workspace.recorder.folder

        def look() -> Unfinished | None:
            from ..project.journal import unfinished

            return next((each for each in unfinished(folder) if each.folder != recording), None)

        def done(found: Unfinished | None) -> None:
            self.newest = found if not workspace.recorder.active else None
            self.changed.emit()

        workspace.courier.read(look, done, workspace.failed)

    def go_on(self) -> None:
        """Go on with it."""
        if self.newest is not None:
            found, self.newest = self.newest, None
            self._workspace.recording_began.emit()
            self._workspace.recorder.start(self._workspace.project, recovered=found)
            self.changed.emit()

    def throw_away(self) -> None:
        """Do not offer it again."""
        found, self.newest = self.newest, None
        if found is None:
            return

        def throw() -> None:
            from ..recording.session import throw_away

            throw_away(found)

        def thrown(_done: object) -> None:
            self.look()
            self._thrown(found.folder)

        self._workspace.courier.with_files(throw, thrown, self._workspace.failed)

    def _thrown(self, folder: Path) -> None:
        """One was thrown away: its files stay, and it can be taken back."""

        def again() -> None:
            from ..project.journal import offer_again

            offer_again(folder)

        def back() -> None:
            self._workspace.courier.with_files(again, lambda _done: self.look(), self._workspace.failed)

        words = f"The recording was thrown away. Its pictures and journal stay in {folder} until you delete them."
        self._workspace.offered.emit(Told(words, (("Bring it back", back),)))
