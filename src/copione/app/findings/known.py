"""What is known of the findings that are shown: the project's allowances, the run they are compared with, and the steps' histories."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ...comparison.standing import Allowance, Assessed
from ...files.places import Place
from ...model.clock import SystemClock, today
from ...model.errors import CopioneError
from ..workspace import Workspace

if TYPE_CHECKING:
    from ...comparison.finding import Finding
    from ...engine.judging import Before
    from ...project.history import History


class KnownFindings(QObject):
    """Files are read beside Qt's thread. `changed` tells that the same findings stand otherwise now."""

    changed = Signal()
    Read = tuple[tuple[Allowance, ...], Place | None, "Before | None"]

    def __init__(self, workspace: Workspace, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.runs = workspace, workspace.runs
        self.allowances: tuple[Allowance, ...] = ()
        self.baseline: Place | None = None
        self._chosen = False  # by hand, so that it stays
        self._before: Before | None = None
        self._undo: list[tuple[Allowance, ...]] = []
        self._redo: list[tuple[Allowance, ...]] = []
        self._edits = 0  # what was read before one of them is not the newest
        self._shown: tuple[tuple[object, ...], Assessed] | None = None  # and of what
        self.runs.state_changed.connect(self.read)
        workspace.project_opened.connect(self._another_project)
        self.read()

    def _another_project(self) -> None:
        self._undo, self._redo, self._chosen = [], [], False
        self.read()

    @property
    def assessed(self) -> Assessed:
        """The findings as they stand now."""
        from ...engine.judging import standing

        news, of = self.runs.news, (self.runs.news.findings, self.allowances, self._before)
        if self._shown is None or any(one is not other for one, other in zip(self._shown[0], of, strict=True)):
            day = today(SystemClock())
            self._shown = of, standing(self.runs.title, news.lanes, news.findings, self.allowances, self._before, day)
        return self._shown[1]

    @property
    def since(self) -> str:
        """What the baseline is called; empty without one."""
        return self._before.called if self._before is not None else ""

    def read(self) -> None:
        """The allowances, and the run to compare with: the one that was chosen, else the one before."""
        edits = self._edits
        folder, script, project = self.runs.folder, self.runs.title, self.workspace.project.folder
        chosen = self.baseline if self._chosen else None

        def reading() -> KnownFindings.Read:
            from ...engine.judging import Before, usual_baseline
            from ...project.allowances import read_allowances

            earlier = chosen if chosen is not None or folder is None else usual_baseline(folder, script)
            before = Before.of(earlier) if earlier is not None and earlier.exists() else None
            return read_allowances(project), earlier, before

        self.workspace.courier.think(reading, lambda read: self._have(read, edits), self.workspace.failed)

    def _have(self, read: KnownFindings.Read, edits: int) -> None:
        allowances, self.baseline, self._before = read
        if edits == self._edits:
            self.allowances = allowances
        self.changed.emit()

    def compare_with(self, folder: Place | None) -> None:
        """Another run to compare with; None for the one before."""
        self.baseline, self._chosen = folder, folder is not None
        self.read()

    # what is expected

    def expect(self, allowance: Allowance) -> None:
        """One more allowance, on the disk before it shows."""
        self._undo.append(self.allowances)
        self._redo.clear()
        self._write((*self.allowances, allowance))

    def not_expected(self, finding: Finding) -> None:
        """Take back what says that a finding is expected."""
        self._undo.append(self.allowances)
        self._redo.clear()
        self._write(tuple(a for a in self.allowances if not a.about_this(finding)))

    def undo(self) -> None:
        """As it was before the last change."""
        if self._undo:
            self._redo.append(self.allowances)
            self._write(self._undo.pop())

    def redo(self) -> None:
        """Do again what was taken back."""
        if self._redo:
            self._undo.append(self.allowances)
            self._write(self._redo.pop())

    def _write(self, allowances: tuple[Allowance, ...]) -> None:
        """So they are from now on; shown once they are on the disk, and as the file has them where that fails."""
        project, before = self.workspace.project.folder, self.allowances
        self.allowances = allowances
        self._edits += 1

        edits = self._edits

        def write() -> tuple[Allowance, ...]:
            from ...project.allowances import change_allowances

            return change_allowances(project, before, allowances)

        def written(there: tuple[Allowance, ...]) -> None:
            if edits == self._edits:
                self.allowances = there
            self.changed.emit()

        def failed(error: CopioneError) -> None:
            self.allowances = before
            self.workspace.failed(error)
            self.changed.emit()

        self.workspace.courier.with_files(write, written, failed)

    # histories

    def history(self, finding: Finding, done: Callable[[tuple[History, ...]], None]) -> None:
        """The step of a finding on its first device over the runs."""
        runs, script, device, step = self.workspace.project.runs_folder, self.runs.title, finding.devices[0], finding.step

        def look() -> tuple[History, ...]:
            from ...project.history import RunIndex

            index = RunIndex(runs)
            index.complete()
            return tuple(index.of_steps(script, [(device, step)]))

        self.workspace.courier.think(look, done, self.workspace.failed)
