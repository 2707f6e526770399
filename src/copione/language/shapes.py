"""Lines that differ in their quoted words and numbers alone are read once or twice: the others are made after them, with their own words.

A shape is a line without what stands in its quotes, and without its numbers. How it was built is found out with words and numbers that
stand for themselves; what was built is then built again, through the same constructors, with other words. Where that cannot be, the line
is read by the grammar as any other.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from typing import Any

from ..model.acting import Action
from ..model.words import InvalidValue
from .quoting import unquoted

PART = re.compile(r'"(?:\\.|[^"\\])*"|(?<![\w.{-])-?(?:\d+(?:\.\d+)?|\.\d+)(?![\w.}])')
MOST = 20_000  # shapes that are kept
_WORDS, _NUMBER = "\ue000{}\ue001", 90_000_017
Build = Callable[[list[str]], Any]
Read = tuple[Action, float | None, bool]  # an action, the step's own patience, and whether its place will do
Reader = Callable[[str], Read | None]

_known: dict[str, Build | None] = {}
_once: set[str] = set()


def built(says: str, read: Reader) -> Read | None:
    """What a line means by its shape; None where it has to be read by the grammar. `read` gives what the grammar makes of a line.

    Raises nothing: words that a shape does not take are for the grammar, which says what is wrong with them.
    """
    parts = PART.findall(says)
    if not parts:
        return None
    shape = PART.sub(_sign, says)
    if shape not in _known:
        if shape not in _once:  # most that come once never come again
            if len(_once) >= MOST:
                _once.clear()
            _once.add(shape)
            return None
        if len(_known) >= MOST:
            _known.clear()
        _known[shape] = _learned(says, parts, read)
    build = _known[shape]
    if build is None:
        return None
    try:
        action, within, place = build([unquoted(each) for each in parts])
        return action, within, place
    except (InvalidValue, ValueError):
        return None


def _sign(match: re.Match[str]) -> str:
    return '""' if match[0].startswith('"') else "0"


def _learned(says: str, parts: list[str], read: Reader) -> Build | None:
    """What builds such a line from its parts; None where they go into it in another way than as they are."""
    stand_ins = [_WORDS.format(n) if part.startswith('"') else str(_NUMBER + 2 * n) for n, part in enumerate(parts)]
    left = iter(stand_ins)
    made = read(PART.sub(lambda match: f'"{next(left)}"' if match[0].startswith('"') else next(left), says))
    if made is None:
        return None
    used: list[int] = []
    build = _builder(made, {words: number for number, words in enumerate(stand_ins)}, used)
    return build if build is not None and sorted(used) == list(range(len(parts))) else None


def _builder(value: Any, places: dict[str, int], used: list[int]) -> Build | None:
    """What builds the same value with other parts."""
    if isinstance(value, str):
        place = places.get(value)
        if place is None:
            return None if "\ue000" in value or any(number in value for number in places if number.isdigit()) else _constant(value)
        used.append(place)
        return lambda parts: parts[place]
    if isinstance(value, int | float) and not isinstance(value, bool):
        number = places.get(str(int(value))) if value == int(value) else None
        if number is None:
            return _constant(value)
        used.append(number)
        kind: type[int] | type[float] = type(value)
        return lambda parts: kind(parts[number])
    if isinstance(value, tuple) and type(value) is tuple:
        builds = [build for part in value if (build := _builder(part, places, used)) is not None]
        return (lambda parts: tuple(build(parts) for build in builds)) if len(builds) == len(value) else None
    if is_dataclass(value) and not isinstance(value, type):
        kept: dict[str, Any] = {}
        varied: list[tuple[str, Build]] = []
        for each in fields(value):
            before, part = len(used), getattr(value, each.name)
            build = _builder(part, places, used)
            if build is None:
                return None
            if len(used) == before:
                kept[each.name] = part
            else:
                varied.append((each.name, build))
        of = type(value)
        return (lambda parts: of(**kept, **{name: build(parts) for name, build in varied})) if varied else _constant(value)
    return _constant(value)


def _constant(value: Any) -> Build:
    return lambda _parts: value
