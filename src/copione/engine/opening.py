"""Opening a script so that it can be replayed: with the values it is given, and without problems."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.errors import CopioneError, ScriptBroken
from ..model.step import Need
from ..project.loaded import Loaded


class UnknownValue(CopioneError):
    """A value is given that the script does not take."""


class ValuesMissing(CopioneError):
    """The script declares values with `needs` that were not given."""

    def __init__(self, script: str, needs: tuple[Need, ...]) -> None:
        super().__init__(f"{script} needs {', '.join(need.name for need in needs)}.")
        self.needs = needs


def with_values(loaded: Loaded, values: Mapping[str, str]) -> Loaded:
    """The script with values that come before those of its data and of the environment. Raises UnknownValue."""
    known = {*loaded.needs, *loaded.rows[0], *(need.name for need in loaded.asked)}
    for name in values:
        if name not in known:
            takes = f"It takes {', '.join(sorted(known))}." if known else "It takes none."
            raise UnknownValue(f"The script takes no value called {name}. {takes}")
    return loaded.given(dict(values), over=True)


def must_be_ready(loaded: Loaded) -> None:
    """Can it be replayed as it is? Raises ValuesMissing, and ScriptBroken for problems."""
    name, problems = loaded.path.name, loaded.problems()
    missing = tuple(loaded.needs[need.name] for need in loaded.asked if need.default is None and need.name in loaded.needs)
    if missing and not problems:
        raise ValuesMissing(name, missing)
    if problems:
        many = f"{len(problems)} problems" if len(problems) > 1 else "a problem"
        raise ScriptBroken(f"{name} has {many}; nothing was run.", tuple(problems))
