"""Changing a file that others change too: what they write meanwhile is never written over."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from .reading import FileKind, decoded, read_bytes
from .writing import NO_FILE, FileChanged, FileVersion, write_whole

TRIES = 20  # where others write the file at the same time


def change_file(path: Path, kind: FileKind, change: Callable[[bytes | None], bytes | None]) -> FileVersion:
    """Read a file, change it and write it; it is read again, and changed again, where another program wrote it meanwhile.

    `change` gets what the file holds, None where there is none, and returns what it is to hold, None to leave it alone; it may be
    called several times. Returns the version that is there now. Raises FileTrouble, and what `change` raises.
    """
    for attempt in range(TRIES):
        data = read_bytes(path, kind) if path.exists() else None
        version = FileVersion.of(data) if data is not None else NO_FILE
        after = change(data)
        if after is None or after == data:
            return version
        try:
            return write_whole(path, after, version)
        except FileChanged:
            if attempt == TRIES - 1:
                raise
    raise AssertionError("the last try ends it")


def change_text(path: Path, kind: FileKind, change: Callable[[str], str]) -> bool:
    """The same of UTF-8 text that is there; was it changed? Raises FileTrouble, and what `change` raises.

    `change` gets lines that end in "\n", whatever they end in; in the file they go on ending as they did.
    """
    changed = False

    def apply(data: bytes | None) -> bytes | None:
        nonlocal changed
        whole = decoded(data if data is not None else read_bytes(path, kind), path)
        text = plain_ends(whole)
        after = change(text)
        changed = after != text
        return encoded(after, ends_of(whole)) if changed else None

    change_file(path, kind, apply)
    return changed


def ends_of(text: str) -> str:
    """What its lines end in: two signs where another system's editor wrote it."""
    return "\r\n" if "\r\n" in text else "\n"


def plain_ends(text: str) -> str:
    """The text with lines that end in "\n"."""
    return text.replace("\r\n", "\n")


def encoded(text: str, ends: str = "\n") -> bytes:
    """As a file holds it; half a letter, as some keyboards and clipboards give, becomes a question mark."""
    return (text.replace("\n", ends) if ends != "\n" else text).encode("utf-8", "replace")
