"""The files of scripts that are edited: each write says which version it replaces, so that nothing of others is written over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from ..files.changing import encoded
from ..files.reading import FileKind, read_bytes
from ..files.writing import NO_FILE, FileChanged, FileVersion, version_of, write_whole, written_here
from ..model.errors import FileTrouble
from ..model.secrecy import Redactor
from .data import Row, save_rows
from .loaded import AsRead
from .loading import text_in
from .merging import merge_portraits, merge_texts
from .naming import portraits_path
from .portraits import Portraits, portraits_in, read_portraits, save_portraits

TRIES = 20  # where others write the portraits at the same time
KEPT = 100  # versions of a table: what was read of it may be some writes old


@dataclass(frozen=True)
class Edit:
    """A script as it is to be written. `as_read`: what its files held when it was read. `portraits`: None where they stay."""

    path: Path
    text: str
    as_read: AsRead
    portraits: Portraits | None = None
    sync: bool = True


@dataclass(frozen=True)
class Elsewhere:
    """Another one wrote a script's text: `text` is what its file holds now, None where it is gone, `base` what it held before.

    `here`: another part of this program did. `why`: in a sentence, why what is there cannot be read as a script.
    """

    path: Path
    base: str
    text: str | None = None
    version: FileVersion = NO_FILE
    ends: str = "\n"
    here: bool = False
    why: str = ""


@dataclass(frozen=True)
class FilesFound:
    """What was found when the files were looked at: what others wrote of the text, of the portraits, and into which tables."""

    text: Elsewhere | None = None
    portraits: tuple[Portraits, FileVersion] | None = None
    tables: tuple[str, ...] = ()


class ScriptFiles:
    """All its calls are made on one thread, one after the other. Raises FileTrouble for what cannot be read or written."""

    def __init__(self) -> None:
        self._own: dict[Path, tuple[AsRead, AsRead]] = {}  # as it was read, and what our own writes made of it since
        self._own_tables: dict[Path, tuple[FileVersion, ...]] = {}  # as each was read, and then what our own writes made of it
        self._moved: dict[Path, Path] = {}
        self._unsynced: set[Path] = set()

    def moved(self, path: Path, to: Path) -> None:
        """A script has another name from now on: what was changed in it before that was known goes there."""
        if path != to:
            self._moved[path] = to
            self._moved.pop(to, None)
            if path in self._own:
                self._own[to] = self._own.pop(path)

    def read_anew(self, path: Path) -> None:
        """A script is edited from now on as its files were read last."""
        self._own.pop(path, None)
        self._moved.pop(path, None)

    def place(self, path: Path) -> Path:
        """Where a script is now."""
        while path in self._moved:
            path = self._moved[path]
        return path

    # writing

    def write(self, edit: Edit, redactor: Redactor | None = None) -> Elsewhere | Portraits | None:
        """Write what is not there yet. Where another one wrote the text since it was read, nothing is written and that is returned.

        Portraits that another one wrote are put together with those of the edit, and returned as they are then.
        """
        was = now = self._latest(edit.path, edit.as_read)
        place = self.place(edit.path)
        try:
            if edit.text != was.text or (edit.sync and edit.path in self._unsynced):
                version = write_whole(place, encoded(edit.text, was.ends), was.version, sync=edit.sync)
                now = replace(now, text=edit.text, version=version)
                (self._unsynced.discard if edit.sync else self._unsynced.add)(edit.path)
        except FileChanged as error:
            return _elsewhere(edit.path, was, error.there)
        self._own[edit.path] = edit.as_read, now
        if edit.portraits is None:
            return None
        written = self._write_portraits(place, edit.portraits, now, redactor)
        self._own[edit.path] = edit.as_read, written
        return written.portraits if written.portraits is not edit.portraits else None

    def _write_portraits(self, place: Path, portraits: Portraits, was: AsRead, redactor: Redactor | None) -> AsRead:
        path, base, version = portraits_path(place), was.portraits, was.portraits_version
        for attempt in range(TRIES):
            try:
                return replace(was, portraits=portraits, portraits_version=save_portraits(path, portraits, redactor, version))
            except FileChanged as error:
                if attempt == TRIES - 1:
                    raise
                theirs = portraits_in(error.there, path) if error.there is not None else {}
                portraits, base = merge_portraits(base, portraits, theirs), theirs
                version = FileVersion.of(error.there) if error.there is not None else NO_FILE
        raise AssertionError("the last try ends it")

    def write_table(self, path: Path, rows: Sequence[Row], version: FileVersion, redactor: Redactor | None = None) -> None:
        """Write a table whose `version` was read. Raises FileChanged where another one wrote it since."""
        own = self._own_tables.get(path, ())
        if version not in own:
            own = (version,)  # read anew since we wrote it
        try:
            self._own_tables[path] = (*own[-KEPT:], save_rows(path, rows, redactor, own[-1]))
        except FileChanged:
            self._own_tables.pop(path, None)
            raise

    def settle(self, edit: Edit, met: Elsewhere) -> bool:
        """Put an edit of a script that is not open any more together with what another one wrote; False where it cannot be."""
        if met.text is None:
            return False
        merged = merge_texts(met.base, edit.text, met.text)
        if merged.clashes:
            return False
        try:
            write_whole(self.place(edit.path), encoded(merged.text, met.ends), met.version)
        except FileChanged:
            return False
        return True

    def _latest(self, path: Path, as_read: AsRead) -> AsRead:
        since, now = self._own.get(path, (as_read, as_read))
        texts = now if as_read.version in (since.version, now.version) else as_read
        portraits = now if as_read.portraits_version in (since.portraits_version, now.portraits_version) else as_read
        return replace(texts, portraits=portraits.portraits, portraits_version=portraits.portraits_version)

    # looking

    def look(self, path: Path, as_read: AsRead, tables: dict[str, Path]) -> FilesFound:
        """What did others write since it was read, or since we wrote it ourselves? `tables` are the files of its tables by name."""
        was, place = self._latest(path, as_read), self.place(path)
        text = portraits = None
        if version_of(place, FileKind.SCRIPT) != was.version:
            text = _elsewhere(path, was, read_bytes(place, FileKind.SCRIPT) if place.exists() else None)
        if version_of(portraits_path(place), FileKind.PORTRAITS) != was.portraits_version:
            portraits = read_portraits(portraits_path(place))
        return FilesFound(text, portraits, tuple(name for name, file in tables.items() if self._is_other(file, as_read.tables.get(name))))

    def _is_other(self, file: Path, read: FileVersion | None) -> bool:
        try:
            version = version_of(file, FileKind.TABLE)
        except FileTrouble:
            return read is not None
        own = self._own_tables.get(file, (NO_FILE,))
        return version != (read or NO_FILE) and not (version == own[-1] and read in own)


def _elsewhere(path: Path, was: AsRead, there: bytes | None) -> Elsewhere:
    if there is None:
        return Elsewhere(path, was.text)
    version = FileVersion.of(there)
    ends = "\r\n" if b"\r\n" in there else "\n"
    try:
        return Elsewhere(path, was.text, text_in(there, path), version, ends, written_here(version))
    except FileTrouble as error:
        return Elsewhere(path, was.text, None, version, ends, why=error.sentence)
