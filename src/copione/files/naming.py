"""File names from people's words, and folders that nobody else has."""

from __future__ import annotations

import unicodedata
from pathlib import Path
from typing import TypeVar

from ..model.errors import FileTrouble
from .places import Place
from .reading import trouble

P = TypeVar("P", bound=Place)

MOST_AT_ONCE = 1000  # folders begun under one name, which holds the second
LONGEST_NAME = 120  # bytes of a name made from words: file systems take 255, and endings and numbers are added


def slug(words: str) -> str:
    """A file name for words: lower case, dashes, letters of any script; accents on Latin letters are left out. Never empty.

    Different words may give the same name: whoever makes a file or a folder of it looks for a free one.
    """
    plain = "".join(map(_plain_letter, unicodedata.normalize("NFKC", words))).casefold()
    kept = "".join(c if c.isalnum() or unicodedata.category(c).startswith("M") else "-" for c in plain)
    name = "-".join(part for part in kept.split("-") if part)
    return name.encode()[:LONGEST_NAME].decode("utf-8", "ignore").strip("-") or "untitled"


def _plain_letter(letter: str) -> str:
    base = unicodedata.normalize("NFKD", letter).encode("ascii", "ignore").decode()
    return base or letter


def claimed(parent: P, stem: str) -> P:
    """A new folder that nobody else has, no other process either: made here, or the next number is tried. Raises FileTrouble."""
    try:
        parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise trouble(error, parent) from error
    for number in range(1, MOST_AT_ONCE):
        folder = parent / (stem if number == 1 else f"{stem}-{number}")
        try:
            folder.mkdir()
            return folder
        except FileExistsError:
            continue
        except OSError as error:
            raise trouble(error, folder) from error
    raise FileTrouble(f"{parent} already has {MOST_AT_ONCE} folders called {stem}. Move some of them away.", path=parent)


def free_path(path: Path) -> Path:
    """The path, or the first like it with a number before its endings that no file has."""
    stem, dot, rest = path.name.partition(".")
    number, found = 1, path
    while found.exists() or found.is_symlink():
        number += 1
        found = path.with_name(f"{stem}-{number}{dot}{rest}")
    return found


def inside(folder: P, name: str) -> P:
    """A file by a name that stands in a script, a portrait or an archive: always below `folder`. Raises FileTrouble for any other."""
    try:
        if not isinstance(folder, Path):
            if name and not {"", ".", ".."} & set(name.split("/")):
                return folder / name
            raise ValueError("not below it")
        path = (folder / name).resolve()
        if name and "\0" not in name and path != folder.resolve() and path.is_relative_to(folder.resolve()):
            return folder / name
    except (OSError, ValueError, RuntimeError):
        pass
    raise FileTrouble(f"{name[:200]!r} is not in {folder.name}: nothing outside of it is used.", folder=folder)
