"""One writer for every file: whole or not at all, to the place a link leads to, with the rights the file had."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import stat
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from ..model.errors import FileTrouble
from .places import Place
from .reading import FileKind, opened, read_bytes, trouble

LOCK_TRIES, LOCK_PAUSE_S = 60, 0.05
REMEMBERED = 2000  # of the versions that this process wrote
_written: dict[FileVersion, None] = {}
_remembering = threading.Lock()


@dataclass(frozen=True)
class FileVersion:
    """What a file held when it was read or written: equal for the same bytes. Empty where there was no file."""

    digest: str = ""

    @classmethod
    def of(cls, data: bytes) -> FileVersion:
        """The version that holds these bytes."""
        return cls(hashlib.sha256(data).hexdigest())


NO_FILE = FileVersion()


class FileChanged(FileTrouble):
    """The file is not the version that was to be replaced: another program wrote it, moved it away or deleted it.

    `there` is what it holds now, None where it is gone.
    """

    def __init__(self, path: Place, there: bytes | None) -> None:
        what = "was changed by another program" if there is not None else "is not there any more: it was moved or deleted"
        super().__init__(f"{path.name} {what}. Nothing was written.", path=path)
        self.path, self.there = path, there


def write_whole(path: Place, data: bytes, replaces: FileVersion | None = None, *, sync: bool = True) -> FileVersion:
    """Write a file in one step: a reader, or a crash, sees the old one or the new one. Returns the new version.

    With `replaces`, only where the file is still that version. A link is followed; what is no regular file (a terminal, a pipe,
    `/dev/null`) and a file that has several names are written in place. The file's mode stays. `sync`: it is on the disk
    when this returns. Raises FileChanged, FileTrouble.
    """
    try:
        if not isinstance(path, Path):
            if replaces is not None:
                _must_be(path, replaces)
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(data)
            return FileVersion.of(data)
        place, facts = _place(path)
        if facts is not None and not stat.S_ISREG(facts.st_mode):
            if replaces is not None:
                raise FileTrouble(f"{path} is not a regular file any more. Nothing was written.", path=path)
            _write_in_place(place, data, truncate=False)
            return FileVersion.of(data)
        place.parent.mkdir(parents=True, exist_ok=True)
        version = FileVersion.of(data)
        with _locked(place.parent):
            if replaces is not None:
                _must_be(place, replaces)
            _remember(version)
            _replace(place, data, facts, sync)
    except OSError as error:
        raise trouble(error, path) from error
    except ValueError as error:
        raise FileTrouble(f"{str(path)[:200]!r} is not a valid file name.", path=path) from error
    return version


def written_here(version: FileVersion) -> bool:
    """Did this process write these bytes lately, into whatever file?"""
    return version in _written


def _remember(version: FileVersion) -> None:
    with _remembering:
        _written[version] = None
        if len(_written) > REMEMBERED:
            del _written[next(iter(_written))]


def _place(path: Path) -> tuple[Path, os.stat_result | None]:
    """Where the bytes go, and what is there; what leads to no regular file is opened by the name that was given."""
    try:
        facts = path.stat()
    except FileNotFoundError:
        return Path(os.path.realpath(path)), None
    return (Path(os.path.realpath(path)) if stat.S_ISREG(facts.st_mode) else path), facts


def _must_be(path: Place, version: FileVersion) -> None:
    try:
        there: bytes | None = read_bytes(path, FileKind.PACKAGE)
    except FileTrouble:
        if path.exists():
            raise
        there = None
    if (FileVersion.of(there) if there is not None else NO_FILE) != version:
        raise FileChanged(path, there)


@contextmanager
def _locked(folder: Path) -> Iterator[None]:
    """No other Copione writes into the folder meanwhile. Where a file system has no locks, or one is held for long, it goes on without."""
    descriptor = os.open(folder, os.O_RDONLY | os.O_CLOEXEC)
    try:
        for _ in range(LOCK_TRIES):
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                time.sleep(LOCK_PAUSE_S)
            except OSError:
                break
        yield
    finally:
        os.close(descriptor)


def _replace(path: Path, data: bytes, facts: os.stat_result | None, sync: bool) -> None:
    try:
        descriptor, name = tempfile.mkstemp(prefix=".copione-", suffix=".new", dir=path.parent)
    except PermissionError:
        if facts is None:
            raise
        _write_in_place(path, data, truncate=True)  # a folder that takes no new files
        return
    aside = Path(name)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
            file.flush()
            _same_rights(descriptor, facts)
            if sync:
                os.fsync(descriptor)
        if facts is not None and facts.st_nlink > 1:  # a new file would leave its other names behind; the copy beside is for a crash
            _write_in_place(path, data, truncate=True)
            aside.unlink()
        else:
            aside.replace(path)
        if sync:
            _sync_folder(path.parent)
    except BaseException:
        with contextlib.suppress(OSError):
            aside.unlink()
        raise


def _same_rights(descriptor: int, facts: os.stat_result | None) -> None:
    """The mode and the owner of the file that is replaced; of a new one what the user's mask says."""
    if facts is None:
        os.fchmod(descriptor, 0o666 & ~_umask())
        return
    if (facts.st_uid, facts.st_gid) != (os.geteuid(), os.getegid()):
        with contextlib.suppress(OSError):
            os.fchown(descriptor, facts.st_uid, facts.st_gid)
    os.fchmod(descriptor, stat.S_IMODE(facts.st_mode))


def _umask() -> int:
    """The user's mask, without changing it for other threads."""
    with contextlib.suppress(OSError, ValueError, StopIteration):
        status = Path("/proc/self/status").read_text("ascii", "replace")
        return int(next(line for line in status.splitlines() if line.startswith("Umask:")).split()[1], 8)
    return 0o022


def _write_in_place(path: Path, data: bytes, *, truncate: bool) -> None:
    """Into what is there. A pipe that nobody reads is an error at once."""
    flags = os.O_WRONLY | os.O_CLOEXEC | os.O_NOCTTY | os.O_NONBLOCK | (os.O_TRUNC if truncate else 0)
    descriptor = os.open(path, flags)
    os.set_blocking(descriptor, True)
    with os.fdopen(descriptor, "wb") as file:
        file.write(data)


def _sync_folder(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY | os.O_CLOEXEC)
    try:
        with contextlib.suppress(OSError):
            os.fsync(descriptor)
    finally:
        os.close(descriptor)


def version_of(path: Path, kind: FileKind) -> FileVersion:
    """The version of a file as it is now. Raises FileTrouble for what cannot be read."""
    try:
        return FileVersion.of(read_bytes(path, kind))
    except FileTrouble:
        if path.exists():
            raise
        return NO_FILE


def copied(picture: Place, to: Path) -> bool:
    """Copy a picture of a moment, where there is one: a device may have sent none. Raises FileTrouble for what else goes wrong."""
    if not picture.exists():
        return False
    try:
        with opened(picture, FileKind.PICTURE) as file, to.open("wb") as copy:
            shutil.copyfileobj(file, copy)
    except OSError as error:
        raise trouble(error, to) from error
    return True
