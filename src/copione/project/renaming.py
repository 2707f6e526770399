"""Names that stand in several scripts of a project."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from ..files.changing import change_text
from ..files.reading import FileKind
from ..language.document import parse
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
        if change_text(path, FileKind.SCRIPT, partial(_renamed, old=old, new=new, defined=path == home)):
            changed.append(path.name)
    return changed


def _renamed(text: str, old: str, new: str, defined: bool) -> str:
    return rename_scene(parse(text), old, new, defined=defined).text
