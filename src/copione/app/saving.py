"""The open script on the disk: written with every letter, and taken in anew where another program writes it."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from enum import Enum
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtCore import QFileSystemWatcher, QObject, Qt, QTimer
from PySide6.QtGui import QGuiApplication

from ..files.changing import encoded
from ..files.reading import FileKind, read_bytes
from ..files.writing import FileChanged, FileVersion
from ..language.document import Document, parse
from ..model.errors import CopioneError
from ..project.keeping import Edit, Elsewhere, FilesFound, ScriptFiles
from ..project.merging import Merged, merge_portraits, merge_texts
from ..project.naming import portraits_path
from .courier import Courier
from .message import Notice

if TYPE_CHECKING:
    from ..project.data import Row
    from ..project.loaded import Loaded
    from ..project.portraits import Portraits
    from ..project.project import Project

LOOK_MS = 100  # what happens to a file comes as several events
AGAIN_MS = 400  # some editors delete a file and write it anew
REMIND_S = 15.0  # between two sentences that what is typed has no file


class Clash(Enum):
    """What is to become of lines that were changed here and in the file."""

    BOTH = "both"  # mine, and the file's as comments behind them
    MINE = "mine"
    THEIRS = "theirs"


class SavingHost(Protocol):
    """Whoever has the script that is open."""

    loaded: Loaded | None
    project: Project

    @property
    def offered(self) -> Any:
        """Told of words with what can be done about them."""
        ...

    def failed(self, error: CopioneError) -> None:
        """Tell what went wrong."""
        ...


class Saving(QObject):
    """Writes on the files' thread. `ask` is asked where both changed the same lines: the script's name, and at how many places.

    `take_in`, `put` and `complete` are those of the editing: see there.
    """

    def __init__(self, workspace: SavingHost, courier: Courier, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace, self._courier = workspace, courier
        self.ask: Callable[[str, int], Clash] = lambda name, places: Clash.BOTH
        self.take_in: Callable[[], object] = lambda: None
        self.put: Callable[[Document, Portraits | None], object] = lambda document, portraits: None
        self.complete: Callable[..., object] = lambda over=lambda: None: over()
        self.files = ScriptFiles()  # for the files' thread
        self._pending: dict[Path, Edit] = {}
        self._lock = threading.Lock()
        self._meeting: set[Path] = set()  # nothing is written into these: what another one wrote is being put together with them
        self._gone: set[Path] = set()  # nor into these: there is no such file, and the user has not said that there is to be one
        self._reminded = 0.0
        self._closed = False
        self._watcher = QFileSystemWatcher(self)
        self._look = QTimer(self, singleShot=True, interval=LOOK_MS)
        self._look.timeout.connect(self.look)
        self._watcher.fileChanged.connect(lambda _path: self._look_soon())
        self._watcher.directoryChanged.connect(lambda _path: self._look_soon())
        app = QGuiApplication.instance()
        if isinstance(app, QGuiApplication):
            app.applicationStateChanged.connect(self._application)

    # writing

    def save(self, portraits: Portraits | None = None) -> None:
        """Write the open script as it is now; what is asked for while it is being written is written once."""
        loaded = self._workspace.loaded
        if loaded is not None:
            self._write(Edit(loaded.path, loaded.document.text, loaded.as_read, portraits))

    def typed(self, text: str) -> None:
        """A letter was typed: it is on its way to the disk before anything else becomes of it."""
        loaded = self._workspace.loaded
        if loaded is not None and loaded.path not in self._gone:
            self._write(Edit(loaded.path, text, loaded.as_read, sync=False))

    def _write(self, edit: Edit) -> None:
        if edit.path in self._meeting:
            return
        if edit.path in self._gone:
            self._remind(edit.path)
            return
        with self._lock:
            before = self._pending.get(edit.path)
            if before is not None and edit.portraits is None:
                edit = replace(edit, portraits=before.portraits)
            if before is not None and before.sync:
                edit = replace(edit, sync=True)
            self._pending[edit.path] = edit
        if before is None:
            project = self._workspace.project
            self._courier.with_files(partial(self._written, project, edit.path), self._done, self._workspace.failed)

    def _written(self, project: Project, path: Path) -> tuple[Project, Edit, Elsewhere | Portraits | None] | None:
        with self._lock:
            edit = self._pending.pop(path, None)
        if edit is None:
            return None
        found = self.files.write(edit, project.redactor)
        if self._closed and isinstance(found, Elsewhere):  # nobody hears of it any more
            self._settled(project, edit, found)
        return project, edit, found

    def _done(self, result: tuple[Project, Edit, Elsewhere | Portraits | None] | None) -> None:
        if result is None:
            return
        project, edit, found = result
        path = self.files.place(edit.path)
        loaded = self._open(path)
        if isinstance(found, Elsewhere):
            if loaded is not None:
                self._meet(replace(found, path=path))
            else:
                self._settle(project, edit, found)
        elif found is not None and loaded is not None:
            self._workspace.loaded = loaded.edited(loaded.document, found)

    def save_table(self, name: str, rows: Sequence[Row], read: FileVersion | None, over: Callable[[], object] = lambda: None) -> None:
        """Write a table of the open script in place of the version that was `read`, of whatever version for None.

        It is read again: `over` once that is done, or could not be.
        """
        project = self._workspace.project
        path = project.data_path(name)

        def write() -> None:
            if read is not None:
                self.files.write_table(path, rows, read, project.redactor)
            else:
                _save(path, rows, project)

        def failed(error: CopioneError) -> None:
            if isinstance(error, FileChanged):
                self.complete(over)
                words = f"{name} was changed by another program. Your change was not written; the table is shown as it is there."
                self._workspace.offered.emit(Notice(words, (("Write mine over it", again),)))
            else:
                over()
                self._workspace.failed(error)

        def over_it() -> None:
            if path.exists():
                _aside(project, name, read_bytes(path, FileKind.TABLE))
            _save(path, rows, project)

        def again() -> None:
            self._courier.with_files(over_it, lambda _done: self.complete(), self._workspace.failed)

        self._courier.with_files(write, lambda _written: self.complete(over), failed)

    # what others wrote

    def watch(self) -> None:
        """The files of the open script, and their folders: a file that is replaced as a whole is another one."""
        loaded = self._workspace.loaded
        wanted: set[str] = set()
        if loaded is not None:
            files = {loaded.path, portraits_path(loaded.path), *self._tables(loaded).values()}
            wanted = {str(path) for path in (*files, *(file.parent for file in files)) if path.exists()}
        watched = {*self._watcher.files(), *self._watcher.directories()}
        if watched - wanted:
            self._watcher.removePaths(sorted(watched - wanted))
        if wanted - watched:
            self._watcher.addPaths(sorted(wanted - watched))

    def _tables(self, loaded: Loaded) -> dict[str, Path]:
        folder = self._workspace.project.data_folder
        return {name: folder / name for name in (*loaded.tables, *loaded.no_tables) if (folder / name).parent == folder}

    def _look_soon(self) -> None:
        if not self._look.isActive():
            self._look.start()

    def _application(self, state: Qt.ApplicationState) -> None:
        """The user comes back, perhaps from another program; not every file system tells of changes."""
        if state == Qt.ApplicationState.ApplicationActive:
            self._look_soon()

    def look(self) -> None:
        """Did another program write the files of the open script?"""
        loaded = self._workspace.loaded
        if loaded is None:
            return
        path, read, tables = loaded.path, loaded.as_read, self._tables(loaded)
        self.watch()
        self._courier.with_files(lambda: self.files.look(path, read, tables), lambda seen: self._seen(path, seen), self._workspace.failed)

    def _seen(self, path: Path, seen: FilesFound) -> None:
        self.take_in()
        loaded = self._open(path)
        if loaded is None:
            return
        if seen.text is not None:
            self._meet(seen.text)
        elif path in self._gone:
            self._gone.discard(path)  # it came back as it was
            self.save(dict(loaded.portraits))
        if seen.portraits is not None and path not in self._gone:
            theirs, version = seen.portraits
            if version != loaded.as_read.portraits_version:
                merged = merge_portraits(loaded.as_read.portraits, loaded.portraits, theirs)
                read = replace(loaded.as_read, portraits=theirs, portraits_version=version)
                now = self._workspace.loaded
                self._workspace.loaded = replace(now, portraits=merged, as_read=read) if now is loaded else now
                self.put(loaded.document, merged)
        if seen.tables:
            self.complete()

    def _open(self, path: Path) -> Loaded | None:
        loaded = self._workspace.loaded
        return loaded if loaded is not None and loaded.path == path else None

    def _meet(self, met: Elsewhere) -> None:
        loaded = self._open(met.path)
        if loaded is None or met.path in self._meeting or met.version == loaded.as_read.version:
            return
        if met.text is None:
            self._meet_none(met)
            return
        self._gone.discard(met.path)
        self._meeting.add(met.path)
        self._merge(met, met.text)

    def _merge(self, met: Elsewhere, theirs: str) -> None:
        """Again, as long as something is typed meanwhile."""
        self.take_in()
        loaded = self._open(met.path)
        if loaded is None:
            self._meeting.discard(met.path)
            return
        mine = loaded.document.text

        def done(merged: Merged) -> None:
            self.take_in()
            now = self._open(met.path)
            if now is None or now.document.text != mine:
                self._merge(met, theirs)
            elif merged.clashes:
                aside = partial(self._aside, self._workspace.project, met.path.name, mine)
                self._courier.with_files(aside, lambda kept: self._ask(met, theirs, mine, merged, kept), failed)
            else:
                self._take(met, theirs, merged.text)

        def failed(error: CopioneError) -> None:
            self._meeting.discard(met.path)
            self._workspace.failed(error)

        self._courier.with_files(lambda: merge_texts(met.base, mine, theirs), done, failed)

    def _ask(self, met: Elsewhere, theirs: str, mine: str, merged: Merged, kept: Path) -> None:
        choice = self.ask(met.path.name, merged.clashes)
        text = {Clash.BOTH: merged.text, Clash.MINE: mine, Clash.THEIRS: theirs}[choice]
        if choice is Clash.MINE:
            aside = partial(self._aside, self._workspace.project, met.path.name, theirs)
            self._courier.with_files(aside, failed=self._workspace.failed)
        self._take(met, theirs, text, f" What you had is also in {kept}." if choice is Clash.THEIRS else "")

    def _take(self, met: Elsewhere, theirs: str, text: str, more: str = "") -> None:
        self._meeting.discard(met.path)
        loaded = self._open(met.path)
        if loaded is None:
            return
        self._courier.with_files(partial(self.files.read_anew, met.path))
        read = replace(loaded.as_read, text=theirs, version=met.version, ends=met.ends)
        self._workspace.loaded = replace(loaded, as_read=read)
        before = loaded.document
        after = parse(text, before) if text != before.text else before
        self.put(after, None)
        self._look_soon()  # it may have gone on
        if not met.here and after is not before:
            words = f"{met.path.name} was changed by another program. What it wrote is taken in.{more}"
            self._workspace.offered.emit(Notice(words, (("Take it back", lambda: self._back(before, after)),)))

    def _back(self, before: Document, after: Document) -> None:
        self.take_in()
        loaded = self._workspace.loaded
        if loaded is not None and loaded.document is after:
            self.put(before, None)
        else:
            self._workspace.offered.emit(Notice("The script has changed since: undo takes it back step by step."))

    # a file that is not there any more

    def _meet_none(self, met: Elsewhere) -> None:
        if met.path in self._gone:
            return
        if met.why:
            self._workspace.failed(
                CopioneError(f"The changes made by another program could not be merged, and were not overwritten. {met.why}")
            )
            self._gone.add(met.path)
            return
        QTimer.singleShot(AGAIN_MS, self, partial(self._still_none, met.path))

    def _still_none(self, path: Path) -> None:
        if self._open(path) is not None and path not in self._gone:
            if path.exists():
                self._look_soon()
                self.save()
            else:
                self._gone.add(path)
                self._reminded = 0.0
                self._remind(path)

    def _remind(self, path: Path) -> None:
        now = time.monotonic()
        if now - self._reminded > REMIND_S:
            self._reminded = now
            words = f"{path.name} was moved, deleted or made unreadable by another program. What you change is not written."
            self._workspace.offered.emit(Notice(words, (("Save it here again", lambda: self._save_again(path)),)))

    def _save_again(self, path: Path) -> None:
        self.take_in()
        loaded = self._open(path)
        self._gone.discard(path)
        if loaded is not None:
            from ..project.loaded import AsRead

            self._courier.with_files(partial(self.files.read_anew, path))
            self._workspace.loaded = replace(loaded, as_read=AsRead(tables=loaded.as_read.tables))
            self.put(loaded.document, dict(loaded.portraits))

    # what belongs to no open script

    def _settle(self, project: Project, edit: Edit, met: Elsewhere) -> None:
        """A change of a script that was left meanwhile."""

        def done(kept: Path | None) -> None:
            if kept is not None:
                words = f"{edit.path.name} was changed by another program while your last change was written: yours is in {kept}."
                self._workspace.offered.emit(Notice(words))

        self._courier.with_files(partial(self._settled, project, edit, met), done, self._workspace.failed)

    def _settled(self, project: Project, edit: Edit, met: Elsewhere) -> Path | None:
        """Where the edit is kept, if it could not be put together with what is there."""
        return None if self.files.settle(edit, met) else self._aside(project, edit.path.name, edit.text)

    def close(self) -> None:
        """The window is closed."""
        self._closed = True
        self.keep()

    def keep(self) -> None:
        """The script is left: what could not be written into its file is kept beside."""
        loaded = self._workspace.loaded
        if loaded is not None and loaded.path in self._gone | self._meeting:
            if loaded.document.text != loaded.as_read.text:
                aside = partial(self._aside, self._workspace.project, loaded.path.name, loaded.document.text)
                self._courier.with_files(
                    aside, lambda kept: self._workspace.offered.emit(Notice(f"What you changed in {loaded.path.name} is in {kept}."))
                )
            self._gone.discard(loaded.path)
            self._meeting.discard(loaded.path)

    @staticmethod
    def _aside(project: Project, name: str, text: str) -> Path:
        return _aside(project, name, encoded(text))


def _aside(project: Project, name: str, data: bytes) -> Path:
    from ..project.shelf import put_text_aside

    return put_text_aside(project, name, data)


def _save(path: Path, rows: Sequence[Row], project: Project) -> None:
    from ..project.data import save_rows

    save_rows(path, rows, project.redactor)
