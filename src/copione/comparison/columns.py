"""One step on all devices, as the rules of the remarks see it: what each shows, and which of the others show the same page. Pure."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from ..model.address import Address
from ..model.geometry import Box
from ..model.number import PLAIN
from ..model.remark import Remark, RemarkKind
from ..model.take import TakeName
from ..model.words import plain
from .views import SeenElement, View

MOST = 2 / 3  # of those that can tell have to agree
FEWEST = 2  # others that have to agree
EXACT = 0.015  # of a share or an angle that a gesture has set: screens have other dots
_SHARE = re.compile(rf"({PLAIN}) ?([%°])")

Told = Mapping[TakeName, View]
SaidEarlier = Callable[[TakeName, str], bool]
Votes = Mapping[TakeName, Mapping[str, list[TakeName]]]  # for each take, what it lacks, and who has it


def never(take: TakeName, words: str) -> bool:
    """For a caller that knows no earlier steps."""
    return False


@dataclass(frozen=True)
class ViewColumn:
    """The views of one step and data row, and for each take those that show the same page."""

    address: Address
    views: Told
    peers: Mapping[TakeName, tuple[TakeName, ...]]
    votes: Votes
    before: Told
    earlier: SaidEarlier = never

    def others(self, take: TakeName, key: str) -> list[tuple[TakeName, SeenElement]]:
        """The element on the other devices that show it whole."""
        found = []
        for other in self.peers[take]:
            seen = self.views[other].by_key.get(key)
            if seen is not None and not seen.cut:
                found.append((other, seen))
        return found


Rule = Callable[[ViewColumn, TakeName, View], Iterable[Remark]]
RULES: list[Rule] = []


def rule(found: Rule) -> Rule:
    """Register a rule, which yields the remarks on one take of a column. Use it as a decorator."""
    RULES.append(found)
    return found


def remark_on(
    column: ViewColumn,
    kind: RemarkKind,
    take: TakeName,
    seen: SeenElement,
    so: tuple[str, str],
    fine: Iterable[TakeName],
    box: Box | None = None,
) -> Remark:
    """A remark on an element of a take: `so` is what is so here and elsewhere, `fine` the takes on which it is as on most."""
    view, fine = column.views[take], tuple(fine)
    example = column.views[fine[0]] if fine else None
    there = example.by_key.get(seen.key) if example is not None else None
    made = Remark(kind, seen.key, called(seen), *so, take, column.address, box or seen.box, view.shot, fine)
    if example is None or there is None:
        return made
    return replace(made, example_box=there.box, example_shot=example.shot)


def called(seen: SeenElement) -> str:
    """As a person calls it."""
    return seen.name or seen.said or seen.role


def most(agree: int, of: int) -> bool:
    """Do enough of those that can tell agree?"""
    return agree >= FEWEST and agree >= MOST * of


def alike_laid_out(views: Told, take: TakeName, peers: Sequence[TakeName]) -> Sequence[TakeName]:
    """Those with the same kind of layout, narrow or wide; all where there are too few of them."""
    same = [other for other in peers if views[other].wide == views[take].wide]
    return same if len(same) >= FEWEST else peers


def translates(usual: str, view: View) -> bool:
    """Is it known how the device's language says that? A figure needs no translation."""
    return usual.casefold() in view.translated or not any(c.isalpha() for c in usual)


def as_much(one: str, other: str) -> bool:
    """Are both the same share or angle, as far as a finger is exact: `199%` and `201%`?"""
    found = _SHARE.fullmatch(plain(one)), _SHARE.fullmatch(plain(other))
    if None in found or found[0][2] != found[1][2]:  # type: ignore[index]
        return False
    values = [float(match[1]) for match in found if match is not None]
    return abs(values[0] - values[1]) <= EXACT * max(map(abs, values))
