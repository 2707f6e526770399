"""Names that stand in several scripts of a project."""

from __future__ import annotations

from pathlib import Path

from ..files.writing import write_whole
from ..language.refactor import rename_scene
from .loading import read_document


def rename_scene_elsewhere(home: Path, old: str, new: str, besides: Path) -> list[str]:
    """Rename a scene of the script `home` there and in the scripts beside it that use it, but for one. Returns which were changed.

    Raises FileTrouble.
    """
    changed = []
    for path in sorted(home.parent.glob("*.copione")):
        if path == besides:
            continue
        document = read_document(path)
        own = document.script.scene(old) is not None
        if path != home and (home.name not in document.script.uses or own):
            continue
        after = rename_scene(document, old, new, defined=path == home)
        if after.text != document.text:
            write_whole(path, after.text.encode())
            changed.append(path.name)
    return changed
