"""Where secrets come from, and results without them."""

from __future__ import annotations

import os
from collections.abc import Collection, Iterable, Mapping
from dataclasses import replace
from pathlib import Path

import msgspec

from ..files.reading import read_toml
from ..model.outcome import Result
from ..model.secrecy import Redactor
from ..model.words import InvalidValue

PREFIX = "COPIONE_"  # of variables of the environment that are meant for scripts


class _Settings(msgspec.Struct, forbid_unknown_fields=True):
    """`environment.toml` among the user's settings: variables that scripts may have under their own names."""

    allowed: list[str] = []


def allowed_file() -> Path:
    """Where the user says which variables of the environment scripts may have."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "environment.toml"


def from_environment(names: Iterable[str], allowed: Collection[str] | None = None) -> dict[str, str]:
    """The values that the environment gives for variables: `password` is `COPIONE_PASSWORD`.

    Other variables are the user's own: a script gets one, of its name or in capitals, only where the user allows it by name
    (`allowed_file`, or `allowed`). Raises FileTrouble for a file that cannot be read.
    """
    if allowed is None:
        path = allowed_file()
        allowed = read_toml(path, _Settings).allowed if path.exists() else ()
    found = {}
    for name in names:
        ways = (f"{PREFIX}{name.upper()}", *(each for each in (name, name.upper()) if each in allowed))
        given = next((os.environ[way] for way in ways if way in os.environ), None)
        if given is not None:
            found[name] = given
    return found


def masked(values: Mapping[str, str], secrets: Mapping[str, str]) -> dict[str, str]:
    """A data row for the eye: secrets stay variables."""
    return {**values, **{name: "{" + name + "}" for name in secrets}}


def without_secrets(result: Result, redactor: Redactor) -> Result:
    """What became of a step, as anybody may read it: also what a device said of it, or the text that a check found."""
    if not redactor.knows_any:
        return result
    clean, why, reading, action = redactor.words, result.why, result.reading, result.action
    if why is not None:
        why = replace(why, words=clean(why.words), about=clean(why.about))
    reading = reading.cleaned(clean) if reading is not None else None
    try:
        action = action.map_text(lambda words, _kind: clean(words)) if action is not None else None
    except InvalidValue:  # a number or a day that was secret is one no more
        action = None
    obstacle = replace(result.obstacle, name=clean(result.obstacle.name)) if result.obstacle is not None else None
    told = replace(result, step=clean(result.step), target=clean(result.target), meant=clean(result.meant), obstacle=obstacle)
    return replace(told, why=why, reading=reading, action=action)
