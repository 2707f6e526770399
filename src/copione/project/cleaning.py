"""Files that were written before something in them was known to be secret, without it."""

from __future__ import annotations

from collections.abc import Collection

from ..files.places import Place, below
from ..files.reading import FileKind, read_bytes
from ..files.writing import write_whole
from ..model.errors import FileTrouble
from ..model.secrecy import Redactor

TEXTS = frozenset({".json", ".jsonl", ".xml", ".log", ".md"})


def clean_folder(folder: Place, redactor: Redactor, besides: Collection[Place] = ()) -> list[Place]:
    """Take the redactor's secrets out of all texts below a folder, but for some. Returns the files that held one. Raises FileTrouble."""
    changed = []
    for path in below(folder):
        if path.suffix in TEXTS and path not in besides and path.is_file() and clean_file(path, redactor):
            changed.append(path)
    return changed


def clean_file(path: Place, redactor: Redactor) -> bool:
    """The same of one file; did it hold one? A file that is no text of ours is left alone."""
    try:
        data = read_bytes(path, FileKind.LINES)
    except FileTrouble:
        return False
    if not redactor.seems_in(data):
        return False
    clean = redactor.bytes(data)
    if clean == data:
        return False
    write_whole(path, clean, sync=False)
    return True


def clean_trees(trees: Place, pictures: Place, redactor: Redactor) -> None:
    """Element trees without secrets; of a screen whose tree held one no picture is kept, for it shows it. Raises FileTrouble."""
    for path in clean_folder(trees, redactor):
        (pictures / f"{path.stem}.png").unlink(missing_ok=True)
