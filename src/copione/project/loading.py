"""Reading a script from disk with all that its text names."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

from ..files.naming import inside
from ..files.reading import FileKind, read_text
from ..language.document import Document, parse
from ..model.action import ForEach, Perform
from ..model.errors import FileTrouble
from .data import Row, load_rows
from .loaded import Loaded, Used
from .naming import portraits_path
from .portraits import Portraits, load_portraits

MOST_LINES = 25_000  # of a script
MOST_USED = 100  # scripts that one script uses, directly or not
_USES = re.compile(r'^\s*uses\s+"([^"]+)"', re.MULTILINE)


def read_document(path: Path) -> Document:
    """A script's text, and what it means. Raises FileTrouble."""
    text = read_text(path, FileKind.SCRIPT)
    if text.count("\n") > MOST_LINES:
        raise FileTrouble(f"{path} has more than {MOST_LINES:,} lines: it is not read.", path=path)
    return parse(text)


def load(path: Path, data: Path) -> Loaded:
    """A script with its portraits, its data from the folder `data`, and the scripts it uses from its own.

    Raises FileTrouble when the script itself cannot be read; what else is missing is told by the value.
    """
    document = read_document(path)
    notes: list[str] = []
    portraits = _portraits(path, notes)
    return complete(Loaded(path, document, portraits, ({},), tuple(notes)), data).with_environment()


def complete(loaded: Loaded, data: Path) -> Loaded:
    """The same with what its text names now."""
    used, broken, notes = _used(loaded.path, loaded.document)
    named = [d.script for d in (loaded.document, *(each.document for each in used.values()))]
    tables: dict[str, tuple[Row, ...]] = {}
    no_tables: dict[str, str] = {}
    own = loaded.document.script.data
    wanted = {own} if own else set()
    wanted |= {step.action.table for script in named for _, step in script.steps() if isinstance(step.action, ForEach)}
    for name in sorted(wanted):
        try:
            tables[name] = tuple(load_rows(inside(data, name)))
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
        used[name] = Used(there, text, _portraits(there, notes))
        waiting += text.script.uses
    return used, broken, notes


def _portraits(path: Path, notes: list[str]) -> Portraits:
    try:
        return load_portraits(portraits_path(path))
    except FileTrouble as error:
        notes.append(error.sentence)
        return {}


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
