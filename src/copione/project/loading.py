"""Reading a script from disk with all that its text names."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

from ..files.changing import plain_ends
from ..files.naming import inside
from ..files.reading import FileKind, decoded, read_bytes, read_text
from ..files.writing import NO_FILE, FileVersion
from ..language.document import Document, parse
from ..model.action import Perform
from ..model.errors import FileTrouble
from .data import Row, read_rows
from .loaded import AsRead, Loaded, Used
from .naming import portraits_path
from .portraits import Portraits, read_portraits

MOST_LINES = 25_000  # of a script
MOST_USED = 100  # scripts that one script uses, directly or not
_USES = re.compile(r'^\s*uses\s+"([^"]+)"', re.MULTILINE)


def read_document(path: Path) -> Document:
    """A script's text, and what it means. Raises FileTrouble."""
    return parse(text_in(read_bytes(path, FileKind.SCRIPT), path))


def text_in(data: bytes, path: Path) -> str:
    """A script's bytes as text; `path` is for the sentence. Raises FileTrouble for what is none, or too long to be worked with."""
    text = plain_ends(decoded(data, path))
    if text.count("\n") > MOST_LINES:
        raise FileTrouble(f"{path} has more than {MOST_LINES:,} lines: it is not read.", path=path)
    return text


def load(path: Path, data: Path) -> Loaded:
    """A script with its portraits, its data from the folder `data`, and the scripts it uses from its own.

    Raises FileTrouble when the script itself cannot be read; what else is missing is told by the value.
    """
    held = read_bytes(path, FileKind.SCRIPT)
    document = parse(text_in(held, path))
    notes: list[str] = []
    portraits, version = _portraits(path, notes)
    as_read = AsRead(document.text, FileVersion.of(held), portraits, version, ends="\r\n" if b"\r\n" in held else "\n")
    return complete(Loaded(path, document, portraits, ({},), tuple(notes), as_read=as_read), data).with_environment()


def complete(loaded: Loaded, data: Path) -> Loaded:
    """The same with what its text names now."""
    used, broken, notes = _used(loaded.path, loaded.document)
    named = [d.script for d in (loaded.document, *(each.document for each in used.values()))]
    tables: dict[str, tuple[Row, ...]] = {}
    versions: dict[str, FileVersion] = {}
    no_tables: dict[str, str] = {}
    own = loaded.document.script.data
    wanted = {own} if own else set()
    wanted |= {table for script in named for _, step in script.steps() for table in step.action.tables}
    for name in sorted(wanted):
        try:
            read, versions[name] = read_rows(inside(data, name))
            tables[name] = tuple(read)
        except FileTrouble as error:
            no_tables[name] = error.sentence
    rows: tuple[Row, ...] = tables.get(own, ({},)) if own else ({},)
    return replace(
        loaded,
        rows=rows,
        used=used,
        broken=broken,
        tables=tables,
        no_tables=no_tables,
        notes=tuple(dict.fromkeys((*loaded.notes, *notes))),
        elsewhere=_performed_elsewhere(loaded.path),
        as_read=replace(loaded.as_read, tables=versions),
    )


def _used(path: Path, document: Document) -> tuple[dict[str, Used], dict[str, str], list[str]]:
    """The scripts that a script uses, and those that they use; why one is not there; and what can be done without."""
    used: dict[str, Used] = {}
    broken: dict[str, str] = {}
    notes: list[str] = []
    waiting = list(document.script.uses)
    while waiting:
        name = waiting.pop(0)
        if name in used or name in broken:
            continue
        if len(used) >= MOST_USED:
            broken[name] = f"A script may use {MOST_USED} others."
            continue
        try:
            there = inside(path.parent, name)
            if there.resolve() == path.resolve():
                broken[name] = "A script cannot use itself: it has its own scenes anyway."
                continue
            text = read_document(there)
        except FileTrouble as error:
            broken[name] = error.sentence
            continue
        if text.problems:
            first = text.problems[0]
            broken[name] = f"{name} has a problem in line {first.line}: {first.message}"
        used[name] = Used(there, text, _portraits(there, notes)[0])
        waiting += text.script.uses
    return used, broken, notes


def _portraits(path: Path, notes: list[str]) -> tuple[Portraits, FileVersion]:
    try:
        return read_portraits(portraits_path(path))
    except FileTrouble as error:
        notes.append(error.sentence)
        return {}, NO_FILE


def _performed_elsewhere(path: Path) -> frozenset[str]:
    """Scenes that other scripts in the same folder perform, where they use this one."""
    found: set[str] = set()
    for other in sorted(path.parent.glob("*.copione")):
        if other == path:
            continue
        try:
            text = read_text(other, FileKind.SCRIPT)
        except FileTrouble:
            continue
        if path.name in _USES.findall(text):
            script = parse(text).script
            found |= {step.action.scene for _, step in script.steps() if isinstance(step.action, Perform)}
    return frozenset(found)
