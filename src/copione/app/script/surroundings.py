"""What a script can name, for completion."""

from __future__ import annotations

from ...language.assist import Surroundings
from ...language.refactor import variables_of
from ...model.target import Target
from ...project.loaded import Loaded
from ..workspace import Workspace


def surroundings(loaded: Loaded, workspace: Workspace) -> Surroundings:
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
    scripts = [name for name in workspace.library if name != loaded.path.name]
    return Surroundings(tuple(targets), tuple(workspace.scenes_there()), tuple(values), tuple(loaded.tables), tuple(scripts))
