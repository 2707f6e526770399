"""Where the files of a run are: what is asked of such a place. A folder is one, as `pathlib.Path`; memory is another."""

from __future__ import annotations

import errno
import io
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Any, Protocol, Self


class Place(Protocol):
    """A file or a folder, there or not: the part of `pathlib.Path` that runs are written and read by.

    Raises OSError as that does. Whatever else keeps runs (an archive, a server) offers the same, and nothing that reads or writes a run
    knows the difference.
    """

    @property
    def name(self) -> str:
        """The last part of it."""
        ...

    @property
    def stem(self) -> str:
        """The name without its ending."""
        ...

    @property
    def suffix(self) -> str:
        """The ending of the name, with its dot."""
        ...

    @property
    def parent(self) -> Self:
        """What it is in."""
        ...

    def __truediv__(self, name: str) -> Self:
        """A place in it."""
        ...

    def exists(self) -> bool:
        """Is there anything?"""
        ...

    def is_file(self) -> bool:
        """Is it a file?"""
        ...

    def is_dir(self) -> bool:
        """Is it a folder?"""
        ...

    def mkdir(self, mode: int = ..., parents: bool = ..., exist_ok: bool = ...) -> None:
        """Make the folder; with `parents` those that it is in too."""
        ...

    def iterdir(self) -> Iterator[Self]:
        """What is in a folder."""
        ...

    def unlink(self, missing_ok: bool = ...) -> None:
        """Remove a file."""
        ...

    def write_bytes(self, data: Any) -> int:
        """Make it a file of these bytes."""
        ...

    def open(self, mode: str, buffering: int = ..., encoding: str | None = ...) -> IO[Any]:
        """Open a file."""
        ...


def below(place: Place) -> Iterator[Place]:
    """Every file below a folder, in the order of their names."""
    for each in sorted(place.iterdir(), key=lambda each: each.name):
        if each.is_dir():
            yield from below(each)
        else:
            yield each


def is_in(place: Place, folder: Place | None) -> bool:
    """Is it in that folder, however deep?"""
    while place != folder:
        if place.parent == place:
            return False
        place = place.parent
    return True


class _Memory:
    """The files of all places of one memory, by their paths, and the folders."""

    def __init__(self) -> None:
        self.lock = threading.RLock()
        self.files: dict[tuple[str, ...], bytes] = {}
        self.folders: set[tuple[str, ...]] = {()}


class MemoryPlace(Place):
    """A place in memory; its content lives as long as any place of that memory. Several threads may use it."""

    def __init__(self, memory: _Memory | None = None, parts: tuple[str, ...] = ()) -> None:
        self._memory, self._parts = memory or _Memory(), parts

    def __repr__(self) -> str:
        return f"memory:/{'/'.join(self._parts)}"

    def __eq__(self, other: object) -> bool:
        return isinstance(other, MemoryPlace) and other._memory is self._memory and other._parts == self._parts

    def __hash__(self) -> int:
        return hash((id(self._memory), self._parts))

    @property
    def name(self) -> str:
        return self._parts[-1] if self._parts else ""

    @property
    def stem(self) -> str:
        return Path(self.name).stem

    @property
    def suffix(self) -> str:
        return Path(self.name).suffix

    @property
    def parent(self) -> MemoryPlace:
        return MemoryPlace(self._memory, self._parts[:-1])

    def __truediv__(self, name: str) -> MemoryPlace:
        return MemoryPlace(self._memory, (*self._parts, *(part for part in name.split("/") if part not in {"", "."})))

    def exists(self) -> bool:
        return self.is_file() or self.is_dir()

    def is_file(self) -> bool:
        return self._parts in self._memory.files

    def is_dir(self) -> bool:
        return self._parts in self._memory.folders

    def mkdir(self, mode: int = 0o777, parents: bool = False, exist_ok: bool = False) -> None:
        with self._memory.lock:
            if self.is_file() or (self.is_dir() and not exist_ok):
                raise FileExistsError(errno.EEXIST, "is there already", repr(self))
            if not parents and not self.parent.is_dir():
                raise self._none()
            self._memory.folders |= {self._parts[:length] for length in range(len(self._parts) + 1)}

    def iterdir(self) -> Iterator[MemoryPlace]:
        with self._memory.lock:
            if not self.is_dir():
                raise self._none()
            inside = [each for each in (*self._memory.files, *self._memory.folders) if each and each[:-1] == self._parts]
        return iter([MemoryPlace(self._memory, each) for each in inside])

    def unlink(self, missing_ok: bool = False) -> None:
        with self._memory.lock:
            if self._memory.files.pop(self._parts, None) is None and not missing_ok:
                raise self._none()

    def write_bytes(self, data: bytes) -> int:
        with self._memory.lock:
            if not self.parent.is_dir():
                raise self._none()
            self._memory.files[self._parts] = bytes(data)
        return len(data)

    def open(self, mode: str, buffering: int = -1, encoding: str | None = None) -> IO[Any]:
        """To be read (`rb`), or to be added to (`a`, as UTF-8): what is added is there once it is flushed."""
        if mode == "a":
            return io.TextIOWrapper(io.BufferedWriter(_Added(self)), encoding=encoding or "utf-8")
        with self._memory.lock:
            if not self.is_file():
                raise IsADirectoryError(errno.EISDIR, "is a folder", repr(self)) if self.is_dir() else self._none()
            return io.BytesIO(self._memory.files[self._parts])

    def add(self, data: bytes) -> None:
        """More bytes at the end of the file."""
        with self._memory.lock:
            self.write_bytes(self._memory.files.get(self._parts, b"") + data)

    def _none(self) -> FileNotFoundError:
        return FileNotFoundError(errno.ENOENT, "is not there", repr(self))


class _Added(io.RawIOBase):
    """What is written goes to the end of a file in memory."""

    def __init__(self, place: MemoryPlace) -> None:
        super().__init__()
        self._place = place
        place.add(b"")

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._place.add(bytes(data))
        return len(data)
