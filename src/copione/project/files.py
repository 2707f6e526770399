"""Reading and writing files so that nothing is lost and every trouble has a sentence."""

from __future__ import annotations

import contextlib
import errno
import os
import re
import shutil
import unicodedata
from pathlib import Path

import msgspec

from ..model.errors import FileTrouble

#: What reading plain values raises when they are not what they should be.
DAMAGED = (KeyError, ValueError, TypeError, AttributeError, IndexError, ArithmeticError, RecursionError, msgspec.MsgspecError)
MOST_AT_ONCE = 1000  # folders begun under one name, which holds the second


def trouble(error: OSError, path: Path) -> FileTrouble:
    """The sentence for what the file system said."""
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return FileTrouble(
            f"The disk is full: {path.name} could not be written. Free some room; what was written before is still there.", path=path
        )
    if isinstance(error, FileNotFoundError):
        return FileTrouble(f"There is no file {path}.", path=path)
    if isinstance(error, PermissionError):
        return FileTrouble(f"No permission for {path}.", path=path)
    return FileTrouble(f"{path} could not be used: {error.strerror or error}.", path=path)


def read_text(path: Path) -> str:
    """UTF-8 text, without the mark that some editors put before it. Raises FileTrouble."""
    try:
        return path.read_text("utf-8-sig")
    except OSError as error:
        raise trouble(error, path) from error
    except UnicodeDecodeError as error:
        raise FileTrouble(f"{path} is not UTF-8 text (byte {error.start}).", path=path) from error


def inside(folder: Path, name: str) -> Path:
    """A file by a name that stands in a script, a portrait or an archive: always below `folder`. Raises FileTrouble for any other."""
    try:
        path = (folder / name).resolve()
        if name and "\0" not in name and path != folder.resolve() and path.is_relative_to(folder.resolve()):
            return folder / name
    except (OSError, ValueError):
        pass
    raise FileTrouble(f"{name!r} is not in {folder.name}: nothing outside of it is used.", folder=folder)


def read_bytes(path: Path) -> bytes:
    """A file as it is. Raises FileTrouble."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise trouble(error, path) from error


def write_whole(path: Path, data: bytes) -> None:
    """Replace a file in one step: a reader, or a crash, sees the old one or the new one. Raises FileTrouble."""
    aside = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        aside.write_bytes(data)
        aside.replace(path)
    except OSError as error:
        with contextlib.suppress(OSError):
            aside.unlink()
        raise trouble(error, path) from error


def claimed(parent: Path, stem: str) -> Path:
    """A new folder that nobody else has, also no other process: made here, or the next name is tried. Raises FileTrouble."""
    for number in range(1, MOST_AT_ONCE):
        folder = parent / (stem if number == 1 else f"{stem}-{number}")
        try:
            parent.mkdir(parents=True, exist_ok=True)
            folder.mkdir()
            return folder
        except FileExistsError:
            continue
        except OSError as error:
            raise trouble(error, folder) from error
    raise FileTrouble(f"Too many folders were begun at once in {parent}.", path=parent)


def copied(picture: Path, to: Path) -> bool:
    """Copy a picture of a moment, where there is one: a device may have sent none. Raises OSError for what else goes wrong."""
    try:
        shutil.copyfile(picture, to)
    except FileNotFoundError:
        return False
    return True


def slug(words: str) -> str:
    """A file name for words: lower case, dashes; never empty."""
    plain = unicodedata.normalize("NFKD", words).encode("ascii", "ignore").decode()
    return re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-") or "untitled"
