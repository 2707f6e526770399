"""The scripts and the runs of the project, as the window lists them: opened, made, renamed, copied, deleted and brought back."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QObject, Signal

from .message import Notice
from .workspace import Workspace

if TYPE_CHECKING:
    from ..project.shelf import PutAside, RunEntry, ScriptEntry


T = TypeVar("T")


class Shelf(QObject):
    """`scripts` and `runs` are what the project holds; `changed` when they are others. Files are read and written beside Qt's thread."""

    changed = Signal()
    renamed = Signal(object, object)  # a script's old and new path

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(workspace)
        self.workspace = workspace
        self.scripts: tuple[ScriptEntry, ...] = ()
        self.runs: tuple[RunEntry, ...] = ()
        self._deleted: dict[str, list[PutAside]] = {"script": [], "run": []}
        workspace.script_opened.connect(self.refresh)
        workspace.project_opened.connect(self._other_project)
        workspace.runs.state_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Look what there is."""
        project, known = self.workspace.project, {entry.folder: entry for entry in self.runs}

        def scripts() -> tuple[ScriptEntry, ...]:
            from ..project.shelf import scripts_of

            return scripts_of(project)

        def runs() -> tuple[RunEntry, ...]:
            from ..engine.judging import lanes_of
            from ..project.shelf import runs_of

            return runs_of(project, known, lambda run: lanes_of(run).counts)

        def listed(found: tuple[ScriptEntry, ...]) -> None:
            if project is self.workspace.project and found != self.scripts:
                self.scripts = found
                self.changed.emit()

        def kept(found: tuple[RunEntry, ...]) -> None:
            if project is self.workspace.project and found != self.runs:
                self.runs = found
                self.changed.emit()

        self.workspace.courier.read(scripts, listed, self.workspace.failed)
        self.workspace.courier.think_newest("runs", runs, kept)

    def _other_project(self) -> None:
        self.scripts, self.runs, self._deleted = (), (), {"script": [], "run": []}
        self.changed.emit()
        self.refresh()

    # scripts

    def new_script(self, name: str) -> None:
        """An empty one, opened."""
        project, loaded = self.workspace.project, self.workspace.loaded
        app = loaded.script.app if loaded is not None else next(iter(project.apps), "")

        def make() -> Path:
            from ..project.shelf import new_script

            return new_script(project, name, app)

        self._change(make, self._open)

    def rename(self, entry: ScriptEntry, name: str) -> None:
        """Call a script otherwise."""
        workspace, project = self.workspace, self.workspace.project

        def change() -> Path:
            from ..project.shelf import rename_script

            path = rename_script(project, entry.path, name)
            workspace.saving.files.moved(entry.path, path)
            return path

        def done(path: Path) -> None:
            self.renamed.emit(entry.path, path)
            workspace.renamed(entry.path, path)

        self._change(change, done)

    def duplicate(self, entry: ScriptEntry) -> None:
        """The same once more, opened."""
        project = self.workspace.project

        def change() -> Path:
            from ..project.shelf import duplicate_script

            return duplicate_script(project, entry.path)

        self._change(change, self._open)

    def delete_script(self, entry: ScriptEntry) -> None:
        """Put a script aside; it can be brought back."""
        workspace, project = self.workspace, self.workspace.project
        loaded = workspace.loaded

        def change() -> PutAside:
            from ..project.shelf import put_script_aside

            return put_script_aside(project, entry)

        def done(aside: PutAside) -> None:
            self._deleted["script"].append(aside)
            if loaded is not None and loaded.path == entry.path and workspace.loaded is not None and workspace.loaded.path == entry.path:
                workspace.close_script()
            workspace.offered.emit(Notice(f"“{entry.name}” was deleted.", (("Bring it back", lambda: self.bring_back("script")),)))

        self._change(change, done)

    def _open(self, path: Path) -> None:
        self.workspace.open_script(path)

    # runs

    def delete_run(self, entry: RunEntry) -> None:
        """Put a run aside; it can be brought back."""
        workspace, project = self.workspace, self.workspace.project

        def change() -> PutAside:
            from ..project.shelf import put_run_aside

            return put_run_aside(project, entry)

        def done(aside: PutAside) -> None:
            self._deleted["run"].append(aside)
            if workspace.runs.folder == entry.folder:
                workspace.runs.forget()
            workspace.offered.emit(
                Notice(f"The run of “{entry.script}” was deleted.", (("Bring it back", lambda: self.bring_back("run")),))
            )

        self._change(change, done)

    def bring_back(self, kind: str) -> None:
        """The script, or the run, that was deleted last."""
        if not self._deleted[kind]:
            return
        aside = self._deleted[kind].pop()

        def change() -> PutAside:
            from ..project.shelf import bring_back

            return bring_back(aside)

        def done(back: PutAside) -> None:
            place = back.moved[0][0] if back.moved else None
            if place is not None and kind == "script":
                self._open(place)
            elif place is not None:
                self.workspace.runs.show_run(place)

        self._change(change, done)

    def _change(self, change: Callable[[], T], done: Callable[[T], object]) -> None:
        def changed(result: T) -> None:
            done(result)
            self.refresh()

        self.workspace.editing.end_typing()
        self.workspace.courier.with_files(change, changed, self.workspace.failed)
