"""One reader for every file: only regular files, each kind up to its size."""

from __future__ import annotations

import errno
import os
import stat
import tomllib
from collections.abc import Iterator
from contextlib import contextmanager
from enum import Enum
from pathlib import Path
from typing import IO, Any, TypeVar

import msgspec

from ..model.errors import FileTrouble
from .places import Place

MEGABYTE = 1 << 20
#: What reading plain values raises when they are not what they should be.
DAMAGED = (KeyError, ValueError, TypeError, AttributeError, IndexError, ArithmeticError, RecursionError, msgspec.MsgspecError)
LONGEST_LINE = 8 * MEGABYTE  # bytes of one line of a file that is read line by line
MOST_LINES = 100_000  # of a file that is read line by line
MOST_DOTS = 100  # outside of texts in one line of TOML: the standard parser's time grows with the square of a dotted key
MOST_COMMAS = 50_000  # outside of texts in a TOML file: an editing parser takes seconds over more values
_TOML_TEXT = r'"(?:\\.|[^"\\\n])*"' + r"|'[^'\n]*'"
T = TypeVar("T")


class FileKind(Enum):
    """What a file is, in words, and how many bytes it may have."""

    SETTINGS = "a settings file", MEGABYTE // 2
    SCRIPT = "a script", 4 * MEGABYTE
    PORTRAITS = "a file of portraits", 24 * MEGABYTE
    TABLE = "a table", 16 * MEGABYTE
    RECORD = "a record of a run", 16 * MEGABYTE
    LINES = "a file of results", 256 * MEGABYTE  # read line by line
    JOURNAL = "a journal", 64 * MEGABYTE
    TREE = "an element tree", 16 * MEGABYTE
    PICTURE = "a picture", 48 * MEGABYTE
    LOG = "a log", 32 * MEGABYTE
    PACKAGE = "an app's package", 2048 * MEGABYTE

    def __init__(self, words: str, most: int) -> None:
        self.words, self.most = words, most


def trouble(error: OSError, path: Place) -> FileTrouble:
    """The sentence for what the file system said."""
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return FileTrouble(
            f"The disk is full: {path.name} could not be written. Free some room; what was written before is still there.", path=path
        )
    if isinstance(error, FileNotFoundError):
        return FileTrouble(f"There is no file {path}.", path=path)
    if isinstance(error, PermissionError):
        return FileTrouble(f"No permission for {path}.", path=path)
    if isinstance(error, NotADirectoryError | FileExistsError):
        return FileTrouble(f"{path} cannot be used: a file is where a folder should be.", path=path)
    if isinstance(error, IsADirectoryError):
        return FileTrouble(f"{path} is a folder, not a file.", path=path)
    if error.errno == errno.ENAMETOOLONG:
        return FileTrouble(f"The name {path.name[:80]}... is too long for a file.", path=path)
    return FileTrouble(f"{path} could not be used: {error.strerror or error}.", path=path)


@contextmanager
def opened(path: Place, kind: FileKind) -> Iterator[IO[bytes]]:
    """A regular file, to be read. Raises FileTrouble for a pipe, a device, a folder, a file of more bytes than its kind may have."""
    try:
        if not isinstance(path, Path):
            with path.open("rb") as file:
                yield file
            return
        descriptor = os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK | os.O_NOCTTY)
        with os.fdopen(descriptor, "rb", buffering=1 << 16) as file:
            facts = os.fstat(descriptor)
            if stat.S_ISDIR(facts.st_mode):
                raise IsADirectoryError(errno.EISDIR, "is a folder")
            if not stat.S_ISREG(facts.st_mode):
                raise FileTrouble(f"{path} is not a regular file: it was not read.", path=path)
            if facts.st_size > kind.most:
                raise _too_large(path, kind)
            yield file
    except OSError as error:
        raise trouble(error, path) from error
    except ValueError as error:
        raise FileTrouble(f"{str(path)[:200]!r} is not a valid file name.", path=path) from error


def read_bytes(path: Place, kind: FileKind) -> bytes:
    """A file as it is. Raises FileTrouble."""
    with opened(path, kind) as file:
        data = file.read(kind.most + 1)  # it may have grown since its size was asked
    if len(data) > kind.most:
        raise _too_large(path, kind)
    return data


def read_text(path: Place, kind: FileKind) -> str:
    """UTF-8 text, without the mark that some editors put before it. Raises FileTrouble."""
    return decoded(read_bytes(path, kind), path)


def decoded(data: bytes, path: Place) -> str:
    """Bytes as UTF-8 text, without the mark that some editors put before it; `path` is for the sentence. Raises FileTrouble."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileTrouble(f"{path} is not UTF-8 text (byte {error.start}).", path=path) from error


def read_lines(path: Place, kind: FileKind) -> Iterator[bytes]:
    """A file line by line, without the ends of the lines; lines of more than `LONGEST_LINE` bytes are left out.

    Raises FileTrouble, also for one of more than `MOST_LINES`.
    """
    with opened(path, kind) as file:
        left, skipping, count = kind.most, False, 0
        while left > 0 and (line := file.readline(min(left, LONGEST_LINE))):
            left, count = left - len(line), count + 1
            if count > MOST_LINES:
                raise FileTrouble(f"{path} has more than {MOST_LINES:,} lines: it is not read.", path=path)
            whole = line.endswith(b"\n")
            if not skipping and (whole or len(line) < LONGEST_LINE):
                yield line[:-1] if whole else line
            skipping = not whole


def read_toml(path: Path, kind: type[T]) -> T:
    """A settings file as a value of that type. Raises FileTrouble for what is no TOML, or not as it should be."""
    return parse_toml(read_text(path, FileKind.SETTINGS), kind, path)


def parse_toml(text: str, kind: type[T], path: Path) -> T:
    """TOML as a value of that type; `path` is for the sentence. Raises FileTrouble."""
    import re

    bare = re.sub(_TOML_TEXT, '""', text)
    for number, line in enumerate(bare.split("\n"), 1):
        if line.count(".") > MOST_DOTS:
            raise FileTrouble(f"{path.name} line {number} has more than {MOST_DOTS} dots: it is not read.", path=path, line=number)
    if bare.count(",") > MOST_COMMAS:
        raise FileTrouble(f"{path.name} has more than {MOST_COMMAS:,} values in its lists: it is not read.", path=path)
    try:
        told: dict[str, Any] = tomllib.loads(text)
    except (ValueError, RecursionError) as error:  # ValueError: a number of thousands of digits, too
        raise FileTrouble(f"{path.name} is not valid TOML: {error}.", path=path) from error
    try:
        return msgspec.convert(told, kind)
    except msgspec.ValidationError as error:
        raise FileTrouble(f"{path.name} has an unexpected structure: {error}.", path=path) from error


def _too_large(path: Place, kind: FileKind) -> FileTrouble:
    return FileTrouble(f"{path} is too large for {kind.words}: more than {kind.most // MEGABYTE} MB.", path=path)
