"""Where secrets come from, and results without them."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import replace

from ..model.outcome import Result
from ..model.reading import InDay, InNumber, InOrder, Looked, Said, Went
from ..model.secrecy import Redactor
from ..model.words import Meaningless


def from_environment(names: set[str]) -> dict[str, str]:
    """The values that the environment gives for variables, each under its own name or in capitals."""
    found = {name: os.environ.get(name, os.environ.get(name.upper())) for name in names}
    return {name: value for name, value in found.items() if value is not None}


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
    if isinstance(reading, Said):
        reading = Said(clean(reading.words))
    elif isinstance(reading, Looked):
        reading = replace(reading, remark=clean(reading.remark))
    elif isinstance(reading, Went):
        reading = replace(reading, words=clean(reading.words))
    elif isinstance(reading, InDay) and clean(reading.words) != reading.words:
        reading = InDay(None, clean(reading.words))
    elif isinstance(reading, InNumber) and clean(reading.words) != reading.words:
        reading = InNumber(None, clean(reading.words))
    elif isinstance(reading, InOrder):
        reading = InOrder(tuple(map(clean, reading.values)))
    try:
        action = action.map_text(lambda words, _kind: clean(words)) if action is not None else None
    except Meaningless:  # a number or a day that was secret is one no more
        action = None
    obstacle = replace(result.obstacle, name=clean(result.obstacle.name)) if result.obstacle is not None else None
    told = replace(result, step=clean(result.step), target=clean(result.target), meant=clean(result.meant), obstacle=obstacle)
    return replace(told, why=why, reading=reading, action=action)
