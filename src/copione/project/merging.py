"""Two changes of one script put together: what was changed here, and what another program wrote meanwhile."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from merge3 import Merge3

from ..model.portrait import Portrait
from .portraits import Portraits

THERE = "# from the file:"  # before a line of the other's that was kept as a comment


@dataclass(frozen=True)
class Merged:
    """A text with both changes. Where both changed the same lines (`clashes` places) it has mine, and theirs as comments behind them."""

    text: str
    clashes: int = 0


def merge_texts(base: str, mine: str, theirs: str) -> Merged:
    """Put two changes of the text `base` together, line by line."""
    if mine == theirs or theirs == base:
        return Merged(mine)
    if mine == base:
        return Merged(theirs)
    before, one, other = base.split("\n"), mine.split("\n"), theirs.split("\n")
    head = _alike(before, one, other)
    tail = _alike(before[head:][::-1], one[head:][::-1], other[head:][::-1])
    lines, clashes = one[:head], 0
    between = [each[head : len(each) - tail] for each in (before, one, other)]
    for part in Merge3(between[0], between[1], between[2]).merge_groups():
        if part[0] != "conflict":
            lines += part[1]
            continue
        clashes += 1
        lines += part[2]
        lines += [f"{_indent(line)}{THERE} {line.strip()}" for line in part[3] if line.strip() and line not in part[2]]
    return Merged("\n".join([*lines, *one[len(one) - tail :]]), clashes)


def _alike(*texts: Sequence[str]) -> int:
    """How many lines all of them begin with."""
    return next((n for n, lines in enumerate(zip(*texts, strict=False)) if len(set(lines)) > 1), min(map(len, texts)))


def _indent(line: str) -> str:
    return line[: len(line) - len(line.lstrip(" "))]


def merge_portraits(base: Portraits, mine: Mapping[str, tuple[Portrait, ...]], theirs: Portraits) -> Portraits:
    """Portraits with both changes; where both changed those of a target it has all, mine first."""
    found: Portraits = {}
    for key in dict.fromkeys((*theirs, *mine)):
        was, here, there = base.get(key, ()), mine.get(key, ()), theirs.get(key, ())
        if _same(here, was):
            kept = there
        elif _same(there, was):
            kept = here
        else:
            known = {_sign(each) for each in here}
            kept = (*here, *(each for each in there if _sign(each) not in known))
        if kept:
            found[key] = kept
    return found


def _sign(portrait: Portrait) -> tuple[object, ...]:
    """What tells one from another; places are left out, for a file keeps them rounded."""
    screen = portrait.screen
    where = portrait.device, portrait.build, portrait.locale, round(screen.width), round(screen.height)
    return portrait.scene, portrait.grip, portrait.row, where, screen.roles, screen.texts, screen.labels


def _same(one: Sequence[Portrait], other: Sequence[Portrait]) -> bool:
    return [_sign(each) for each in one] == [_sign(each) for each in other]
