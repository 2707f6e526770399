"""What a script can name, for completion."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ...language.assist import CompletionContext, SceneOffered
from ...language.refactor import variables_of
from ...model.step import Script
from ...model.target import Target
from ...project.loaded import Loaded


def scenes_of(loaded: Loaded, library: Mapping[str, Script]) -> list[SceneOffered]:
    """Scenes that the script may perform: its own, and those of the project's other scripts that ask for values."""
    found = [SceneOffered(s.name, s.values) for s in loaded.script.scenes]
    for name, script in library.items():
        if name != loaded.path.name:
            found += [SceneOffered(s.name, s.values, name) for s in script.scenes if s.values]
    return found


def surroundings(loaded: Loaded, scenes: Sequence[SceneOffered], scripts: Sequence[str]) -> CompletionContext:
    """Targets that were recorded or are written, scenes, values with where they come from, tables, other scripts."""
    targets = {key: None for key, several in loaded.portraits.items() if any(not p.grip for p in several)}
    for _, step in loaded.script.steps():
        for target in step.action.targets():
            known: Target | None = target
            while known is not None:
                targets.setdefault(known.words())
                known = known.inside
    columns = {name: table for table, rows in loaded.tables.items() if rows for name in rows[0]}
    needs = dict.fromkeys(loaded.needs, "given at the start")
    kept = dict.fromkeys(variables_of(loaded.document), "kept")
    values = sorted({**kept, **needs, **columns}.items())
    others = tuple(name for name in scripts if name != loaded.path.name)
    return CompletionContext(tuple(targets), tuple(scenes), tuple(values), tuple(loaded.tables), others)
