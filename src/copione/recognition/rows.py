"""What tells apart elements that say the same: what else their own row says, then the heading they stand under, then their order.

Rows are found by what repeats, not by a role: the largest part of the tree that holds an element and none of its like. Where a tree is
flat, the stretch between one of them and the next.
"""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

from ..model.roles import VALUED
from ..model.screen import Element, Flag, Screen, of_element, of_screen
from ..model.sentences import pieces_of
from .evidence import fold, stable_ids
from .wording import alike

LEAD = 0.25  # of what a row says that the best must be ahead of the next
ENOUGH = 0.5  # of it that must be there
TITLE = 2.0  # what a row is called counts so much more than the rest of it
SURE_NAME = 0.9
ASIDE = 0.3  # of a row by which the place of a nameless element in it may differ
LOOK_BACK = 200  # elements before one that may be its heading


Key = tuple[str, str, str, bool, bool]


@dataclass(frozen=True)
class RowChoice:
    """Which of several is meant: its row on the screen, or -1 and why not: no row (`left` is empty), or those that say the same."""

    row: int
    why: str = ""
    left: tuple[int, ...] = ()


@of_screen
def _keys(screen: Screen) -> list[Key]:
    clickable = ((screen.flags & Flag.CLICKABLE) > 0).tolist()
    holds = (bool(name or inner) for name, inner in zip(screen.names, screen.children, strict=True))
    return list(zip(screen.roles, stable_ids(screen), map(fold, screen.names), clickable, holds, strict=True))


@of_screen
def _groups(screen: Screen) -> dict[Key, tuple[int, ...]]:
    found: dict[Key, list[int]] = {}
    for row, key in enumerate(_keys(screen)):
        found.setdefault(key, []).append(row)
    return {key: tuple(rows) for key, rows in found.items()}


def like(element: Element) -> tuple[int, ...]:
    """The rows of all on its screen with its role, id and name that take touches as it does; itself among them.

    Of nameless ones those that hold something are no kin of those that hold nothing.
    """
    return _groups(element.screen)[_keys(element.screen)[element.row]]


@dataclass(frozen=True, eq=False)
class AlikeRows:
    """Of elements that say the same, in tree order: what else the row of each says, and where in the tree that row is."""

    of: tuple[int, ...]
    units: tuple[int, ...]
    said: tuple[tuple[str, ...], ...]
    counts: Counter[str]
    stretch: RowExtent | None

    @cached_property
    def where(self) -> dict[str, list[int]]:
        """Which of them say each of the words."""
        found: dict[str, list[int]] = {}
        for i, said in enumerate(self.said):
            for word in set(said):
                found.setdefault(word, []).append(i)
        return found


@dataclass(frozen=True)
class RowExtent:
    """How far a row reaches in a flat tree: so many siblings at most before (`trailing`) or behind what it is told by.

    `level`: which of the two is told by what shares a line, not by what repeats.
    """

    trailing: bool
    least: int
    most: int
    level: bool


@of_screen
def _kept(screen: Screen) -> dict[tuple[int, ...], AlikeRows]:
    return {}


def rows_of(screen: Screen, group: tuple[int, ...]) -> AlikeRows:
    """The rows of a group, found once for a screen."""
    kept = _kept(screen)
    if group not in kept:
        units = [_unit(screen, row, group) for row in group]
        said, stretch = [_words(screen, unit) for unit in units], None
        if len(group) > 1:
            shared = set.intersection(*map(set, said))
            if not all(set(each) - shared for each in said):
                stretch = _stretch(screen, units)
                said = _flat(screen, units, said, stretch) if stretch else said
        counts = Counter(word for each in said for word in set(each))
        kept[group] = AlikeRows(group, tuple(units), tuple(map(tuple, said)), counts, stretch)
    return kept[group]


def _only(screen: Screen, row: int, known: Element, home: AlikeRows) -> AlikeRows:
    """The row of the only one left of several: as far around it as the known ones reached, and never all that a list holds."""
    unit = row
    for _ in range(_depth(known.screen, known.row) - _depth(known.screen, home.units[home.of.index(known.row)])):
        parent = int(screen.parents[unit])
        if parent <= 0 or screen.roles[parent] == "list" or screen.flags[parent] & Flag.SCROLLABLE or _repeats(screen, unit):
            break
        unit = parent
    said = _words(screen, unit)
    if home.stretch:
        said = _flat(screen, [unit], [said], home.stretch)[0]
    return AlikeRows((row,), (unit,), (tuple(said),), Counter(said), home.stretch)


def _depth(screen: Screen, row: int) -> int:
    depth = 0
    while (row := int(screen.parents[row])) >= 0:
        depth += 1
    return depth


def _unit(screen: Screen, row: int, group: tuple[int, ...]) -> int:
    """The top of the largest part of the tree around an element that holds none of the others; of a lone one its row, as rows look."""
    here = row
    while (parent := int(screen.parents[here])) > 0:
        first = bisect_left(group, parent)
        held = bisect_left(group, screen.ends[parent]) - first
        if held > 1:
            break
        if len(group) == 1 and (screen.roles[here] == "listitem" or screen.roles[parent] == "list" or _repeats(screen, here)):
            break
        if len(group) == 1 and here != row and screen.flags[parent] & Flag.SCROLLABLE and _words(screen, here):
            break  # what else the container holds are other rows
        here = parent
    return here


def _repeats(screen: Screen, row: int) -> bool:
    """Does an element that holds words stand beside others made like it?"""
    if not screen.children[row] or not _words(screen, row):
        return False
    shape = _shape(screen, row)
    return any(other != row and _shape(screen, other) == shape for other in screen.children[int(screen.parents[row])])


def _shape(screen: Screen, row: int) -> tuple[str, str, bool, bool]:
    role, id, _, clickable, _ = _keys(screen)[row]
    return role, id, clickable, bool(screen.children[row])


def _words(screen: Screen, top: int) -> list[str]:
    """All that is said in a part of the tree, folded, in tree order; values of controls are no words."""
    found: dict[str, None] = {}
    for row in range(top, screen.ends[top]):
        said = screen.labels[row] or ("" if screen.roles[row] in VALUED else screen.texts[row])
        if said:
            found.update(dict.fromkeys(map(fold, pieces_of(said))))
    return list(found)


def _stretch(screen: Screen, units: list[int]) -> RowExtent | None:
    """How far the rows of units that are siblings reach; None where they are none, or nothing is between them."""
    parent = int(screen.parents[units[0]])
    if parent < 0 or any(int(screen.parents[unit]) != parent for unit in units):
        return None
    siblings = screen.children[parent]
    made = {_shape(screen, unit) for unit in units if screen.children[unit]}
    if any(screen.children[row] and row not in units and _shape(screen, row) in made for row in siblings):
        return None  # they are rows themselves, and what stands between them is others
    at = [bisect_left(siblings, unit) for unit in units]
    between = [b - a - 1 for a, b in pairwise(at)]
    if min(between) <= 0:
        return None
    level = _on_level(screen, siblings, at)
    trailing = _trailing(screen, siblings, at, min(between)) if level is None else level
    return RowExtent(trailing, min(between), max(between), level is not None)


def _flat(screen: Screen, units: list[int], said: list[list[str]], reach: RowExtent) -> list[list[str]]:
    """What stands before each unit among its siblings since the one before it, or behind it up to the next, whichever repeats."""
    siblings = screen.children[int(screen.parents[units[0]])]
    at = [bisect_left(siblings, unit) for unit in units]
    found = []
    for i, place in enumerate(at):
        if reach.trailing:
            begin = at[i - 1] + 1 if i else max(0, place - reach.most)
            stretch = siblings[begin : place + 1]
        else:
            stretch = siblings[place : at[i + 1] if i + 1 < len(at) else place + 1 + reach.most]
        found.append([word for top in stretch for word in _words(screen, top)])
    return [list(dict.fromkeys([*one, *other])) for one, other in zip(found, said, strict=True)]


def _trailing(screen: Screen, siblings: Sequence[int], at: list[int], between: int) -> bool:
    """Do the elements end their rows, or begin them? By whether what stands between two of them stands also before the first, or behind
    the last, which an edge may cut off.
    """
    roles = [screen.roles[row] for row in siblings]
    pattern = roles[at[1] - between : at[1]], roles[at[0] + 1 : at[0] + 1 + between]
    before = roles[max(0, at[0] - between) : at[0]] == pattern[0]
    behind = roles[at[-1] + 1 : at[-1] + 1 + between] == pattern[1]
    if before != behind:
        return before
    return True


def _on_level(screen: Screen, siblings: Sequence[int], at: list[int]) -> bool | None:
    """Do the elements share a line with what stands before them alone (True), with what stands behind them alone (False), or neither?"""
    before, behind = ([_level(screen, siblings, i, step) for i in at[1:-1] or at] for step in (-1, 1))
    if all(before) == all(behind) or (any(before) and any(behind)):
        return None
    return all(before)


def _told_before(known: Element, home: AlikeRows) -> bool | None:
    """Is all that its row says before a known element in its tree (True), all of it behind (False), or neither?"""
    unit = home.units[home.of.index(known.row)]
    screen, shared = known.screen, {word for word, count in home.counts.items() if count == len(home.of)}
    sides = set()
    for row in range(unit, screen.ends[unit]):
        own = row != known.row and screen.texts[row] and fold(screen.texts[row]) not in shared
        if own and not known.row < row < screen.ends[known.row]:
            sides.add(row < known.row)
    return sides.pop() if len(sides) == 1 else None


def _level(screen: Screen, siblings: Sequence[int], at: int, step: int) -> bool:
    """Does what stands before (-1) or behind (1) a sibling share its line?"""
    if not 0 <= at + step < len(siblings):
        return False
    top, bottom = screen.boxes[siblings[at], [1, 3]].tolist()
    box = screen.boxes[siblings[at + step]].tolist()
    return bool(min(bottom, box[3]) - max(top, box[1]) > 0.5 * min(bottom - top, box[3] - box[1]))


def _above(screen: Screen, unit: int) -> list[str]:
    """What is said before a row, the nearest first, and not in rows made like it."""
    parent, shape = int(screen.parents[unit]), _shape(screen, unit)
    skip: set[int] = set()
    if parent >= 0:
        for other in screen.children[parent]:
            if other < unit and _shape(screen, other) == shape:
                skip.update(range(other, screen.ends[other]))
    found: dict[str, None] = {}
    for row in range(unit - 1, max(-1, unit - LOOK_BACK), -1):
        role = screen.roles[row]
        said = screen.texts[row] or (screen.labels[row] if role in {"listitem", "generic"} else "")
        if said and row not in skip and role in {"text", "heading", "listitem", "generic"}:
            found.setdefault(fold(said))
            if len(found) == 12:
                break
    return list(found)


def choose(known: Element, screen: Screen, group: tuple[int, ...]) -> RowChoice:
    """Which of a group that says the same is the known one."""
    home = rows_of(known.screen, like(known))
    at = home.of.index(known.row)
    there = rows_of(screen, group) if len(group) > 1 or len(home.of) == 1 else _only(screen, group[0], known, home)
    trailing = home.stretch.trailing if home.stretch else _told_before(known, home) if there.stretch and not there.stretch.level else None
    if trailing is not None and there.stretch and trailing != there.stretch.trailing:
        said = [_words(screen, unit) for unit in there.units]
        told = _flat(screen, list(there.units), said, replace(there.stretch, trailing=trailing))
        there = replace(there, said=tuple(map(tuple, told)), counts=Counter(word for each in told for word in each))
    left, missing = _by_row(home, at, there)
    if len(left) == 1:
        return RowChoice(group[left[0]])
    if not left:
        return RowChoice(
            -1, f"nothing like it is beside “{_as_written(known.screen, missing)}”" if missing else "what stood beside it is gone"
        )
    own, others = _headings(known.screen, home.units), _headings(screen, there.units)
    under = _by_heading(own, at, others, left)
    if len(under) == 1:
        return RowChoice(group[under[0]])
    if home.said == there.said and own == others and len(group) == len(home.of):
        return RowChoice(group[at])
    return RowChoice(-1, "their rows say the same", tuple(group[i] for i in left))


def choose_within(known: Element, group: tuple[int, ...]) -> RowChoice:
    """Which of those that say the same within one row: in their order, where they are as many as in the known one's."""
    item = next((a for a in known.ancestors() if a.role == "listitem"), None)
    own = [row for row in like(known) if item is not None and known.screen.element(row).within(item)]
    if len(own) == len(group):
        return RowChoice(group[own.index(known.row)])
    return RowChoice(-1, "nothing tells them apart", group)


def _by_row(home: AlikeRows, at: int, there: AlikeRows) -> tuple[list[int], str]:
    """Those whose row says what the known one's says, and what none says; all of them where it says nothing of its own."""
    own, total = home.said[at], len(home.of)
    weights = {word: 1.0 / home.counts[word] for word in own if total == 1 or home.counts[word] < total}
    if not weights:
        return list(range(len(there.of))), ""
    title = next((word for word in own if home.counts[word] == 1 and word in weights), "")
    if title:
        weights[title] *= TITLE
    whole = sum(weights.values())
    shares: dict[int, float] = {}
    for word, weight in weights.items():
        for i in there.where.get(word, ()):
            shares[i] = shares.get(i, 0.0) + weight / whole
    if title and title not in there.where:
        close = _nearly(title, home, there)
        if not close:
            return _without_title(home, at, there, title, weights)
        shares = {i: shares.get(i, 0.0) + weights[title] / whole for i in close}
    best = max(shares.values(), default=0.0)
    if best < ENOUGH or (not title and best < 1.0 - 1e-9):
        return [], ""
    named = there.where.get(title, shares)
    return [i for i, share in sorted(shares.items()) if share > best - LEAD + 1e-9 and i in named], ""


def _as_written(screen: Screen, folded: str) -> str:
    """Words as they stand on the screen."""
    said = (piece for words in (*screen.texts, *screen.labels) for piece in pieces_of(words))
    return next((piece for piece in said if fold(piece) == folded), folded)


def _nearly(title: str, home: AlikeRows, there: AlikeRows) -> set[int]:
    """The rows that say something so like the title that it may be it, those first that begin with it; what another row said before is
    that one's.
    """
    close = [word for word in there.where if word not in home.counts and alike(title, word) >= SURE_NAME]
    found = {i for word in close for i in there.where[word]}
    return {i for i in found if there.said[i][0] in close} or found


def _without_title(home: AlikeRows, at: int, there: AlikeRows, title: str, weights: dict[str, float]) -> tuple[list[int], str]:
    """The row whose title changed, where at least two more things that only it said are there, all of them in one row."""
    others = [word for word in weights if word != title and home.counts[word] == 1]
    fits = [i for i, said in enumerate(there.said) if len(others) > 1 and all(word in said for word in others)]
    fits = [i for i in fits if not any(word in said for word in there.said[i] for said in home.said if word not in home.said[at])]
    return (fits, "") if len(fits) == 1 else ([], title)


Headings = tuple[tuple[str, ...], ...]


@of_screen
def _kept_headings(screen: Screen) -> dict[tuple[int, ...], Headings]:
    return {}


def _headings(screen: Screen, units: tuple[int, ...]) -> Headings:
    """What is said before each of the rows, the nearest first."""
    kept = _kept_headings(screen)
    if units not in kept:
        kept[units] = tuple(tuple(_above(screen, unit)) for unit in units)
    return kept[units]


def _by_heading(home: Headings, at: int, there: Headings, left: list[int]) -> list[int]:
    """Those of `left` that stand under the heading of the known one: the nearest words before it that none of its like has so near."""
    if len(home) < 2 or not (own := _distinct(home, at)):
        return []
    every = {word for i in range(len(home)) if (word := _distinct(home, i))}
    return [i for i in left if next((word for word in there[i] if word in every), "") == own]


def _distinct(headings: Headings, at: int) -> str:
    for depth, word in enumerate(headings[at]):
        if not any(word in other[: depth + 1] for i, other in enumerate(headings) if i != at):
            return word
    return ""


def same_else(known: Element, pick: Element) -> bool:
    """Does a row of another name say all the rest that the known one alone said, and is there such?"""
    siblings = [row for row in known.screen.children[int(known.screen.parents[known.row])] if row != known.row]
    others = {word for row in siblings for word in _words(known.screen, row)}
    own = [word for word in _words(known.screen, known.row) if word != fold(known.name) and word not in others]
    return bool(own) and set(own) <= set(_words(pick.screen, pick.row))


@of_element
def in_item(element: Element) -> bool:
    """Does it stand in a list's item, or is it one; or in what takes touches or has an id and stands beside others made like it?"""
    screen = element.screen
    for each in (element, *element.ancestors()):
        row = each.row
        if each.role == "listitem" or (
            (each.has(Flag.CLICKABLE) or stable_ids(screen)[row]) and each.parent is not None and _repeats(screen, row)
        ):
            return True
    return False


def as_made(known: Element, pick: Element) -> bool:
    """Is a nameless element still nameless, and made as it was?"""
    same = all(known.has(flag) == pick.has(flag) for flag in (Flag.CLICKABLE, Flag.CHECKABLE))
    return same and not pick.name and _as_large(known, pick)


def _as_large(known: Element, pick: Element) -> bool:
    """Within half and double, each way."""
    one, other = known.box, pick.box
    wide, tall = sorted((one.width, other.width)), sorted((one.height, other.height))
    return wide[0] >= 0.5 * wide[1] and tall[0] >= 0.5 * tall[1]


def same_place(known: Element, pick: Element, group: tuple[int, ...]) -> bool:
    """Is a nameless element placed in its row as the known one was in its own?"""
    places = []
    for element, rows in ((known, rows_of(known.screen, like(known))), (pick, rows_of(pick.screen, group))):
        row = element.screen.element(rows.units[rows.of.index(element.row)]).box
        places.append((element.box.centre[0] - row.left) / max(row.width, 1.0))
    return abs(places[0] - places[1]) <= ASIDE
