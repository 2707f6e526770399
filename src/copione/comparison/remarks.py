"""Differences that nobody wrote a check for: each device's screen at a step held against those of the others. Pure.

Most devices are right. What is said of an element is said only beside devices that show the same page in the same layout, and of what
shows whole: what is scrolled away, covered by the keyboard or cut by an edge tells nothing. Each rule says when it is silent.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import chain
from types import MappingProxyType

from ..model import remark_kinds as kinds
from ..model.address import Address
from ..model.geometry import Box
from ..model.remark import Remark, RemarkKind
from ..model.take import TakeName
from . import appearance  # noqa: F401 - registers its rules
from .columns import (
    FEWEST,
    MOST,
    RULES,
    SaidEarlier,
    Told,
    ViewColumn,
    Votes,
    alike_laid_out,
    as_much,
    most,
    never,
    remark_on,
    rule,
    translates,
)
from .gaps import gaps, replaced, told_of
from .views import SeenElement, View, like, like_pages, within

INSIDE = 0.6  # share of what a narrow page shows that a wide one shows beside others, where it is the same page
SAME_PAGE = 0.5  # share of what two devices show that has to be the same
NEARLY = 0.8  # the same, where one is laid out for wide screens and the other is not
ELLIPSES = ("…", "...")
FIGURES = re.compile(r"\d{1,4}([./-])\d{1,2}\1\d{1,4}")


def remarks(address: Address, views: Told, before: Told = MappingProxyType({}), earlier: SaidEarlier = never) -> list[Remark]:
    """The remarks on one step with one data row. `before`: what the takes showed at the previous step. `earlier` says whether a take
    showed given words at any previous step.
    """
    peers = _peers(views)
    column = ViewColumn(address, views, peers, _votes(views, peers), before, earlier)
    found: list[Remark] = []
    for take, view in views.items():
        if len(column.peers[take]) >= FEWEST:
            for each in RULES:
                found += each(column, take, view)
    return _not_of_a_kind(column, found)


def _peers(views: Told) -> dict[TakeName, tuple[TakeName, ...]]:
    """For each take the others that show the same page."""

    def same(one: View, other: View) -> bool:
        return max(like(one, other), like_pages(one, other)) >= SAME_PAGE or (one.wide != other.wide and within(one, other) >= INSIDE)

    names = list(views)
    return {name: tuple(other for other in names if other != name and same(views[name], views[other])) for name in names}


# what is there


def _votes(views: Told, peers: Mapping[TakeName, tuple[TakeName, ...]]) -> Votes:
    """For each take what it lacks between neighbours that others have there, and which others."""
    found: dict[TakeName, dict[str, list[TakeName]]] = {}
    for take, view in views.items():
        lacks = found.setdefault(take, {})
        for other in alike_laid_out(views, take, peers[take]):
            for each in chain.from_iterable(gaps(view, views[other])):
                lacks.setdefault(each.key, []).append(other)
    return found


@rule
def _missing(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """An element that most show between the same two neighbours, both of which show here, with nothing in between.

    Silent where the neighbours are apart here, or something else stands between them, or it may lie beyond an edge.
    """
    lacking = {}
    for key, have in column.votes[take].items():
        lack = [other for other in alike_laid_out(column.views, take, column.peers[take]) if key in column.votes[other]]
        if most(len(have), len(have) + len(lack)) and (not lack or len(have) > len(lack) + 1):  # two against two are no majority
            lacking[key] = have
    told: set[str] = set()
    for key, have in lacking.items():
        if key in told:
            continue
        there = column.views[have[0]]
        for seen, keys in told_of(gaps(view, there), lacking.keys() - told):
            told |= keys
            so = "it is not there", "it is there"
            yield remark_on(column, kinds.MISSING, take, seen, so, lacking[seen.key], _place(view, there, seen.key))


def _place(view: View, there: View, key: str) -> Box | None:
    """Where it should be here: between its neighbours."""
    place = there.order[key]
    shown = [e for e in there.elements if e.key in view.by_key and e.leaf]
    before = [e for e in shown if there.order.get(e.key, place) < place][-1:]
    behind = [e for e in shown if there.order.get(e.key, place) > place][:1]
    boxes = [view.by_key[e.key].box for e in (*before, *behind)]
    if not boxes:
        return None
    return Box(min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes))


@rule
def _new(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """An element that most do not have between the same two neighbours. Where only one has the same kind of layout, it says so, and
    the others have it nowhere. Silent where they showed it at the step before: it goes a little later here."""
    peers = column.peers[take]
    alike = [other for other in peers if column.views[other].wide == view.wide]
    found = {}
    for key in dict.fromkeys(key for other in alike for key, others in column.votes[other].items() if take in others):
        without = [other for other in alike if take in column.votes[other].get(key, ())]
        have = [other for other in alike if key in column.views[other].keys]
        if len(alike) < FEWEST:
            have = [other for other in peers if key in column.views[other].keys]
            without += [other for other in peers if other not in alike and other not in have]
        gone = [other for other in without if other in column.before and key in column.before[other].keys]
        more = not have or len(without) > len(have) + 1
        if more and most(len(without), len(without) + len(have)) and 2 * len(gone) < len(without):
            found[key] = without
    told: set[str] = set()
    for key, without in found.items():
        if key in told:
            continue
        for seen, keys in told_of(gaps(column.views[without[0]], view), found.keys() - told):
            told |= keys
            yield remark_on(column, kinds.NEW, take, seen, ("it is there", "it is not there"), found[seen.key])


# what it says


@rule
def _words(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Other words, another language, another format, or cut: beside others that all say the same, and know it by more than its words.

    Silent where the others do not agree: what changes from device to device or from minute to minute. Silent too about what only holds
    words that come and go, a carousel say, where the others said this at the step before: it is only late.
    """
    for key, seen in view.by_key.items():
        if seen.cut or not seen.said:
            continue
        others = column.others(take, key)
        said = Counter(other.said for _, other in others)
        if not said:
            continue
        usual, many = said.most_common(1)[0]
        if usual == seen.said or not most(many, len(others)):
            continue
        fine = [name for name, other in others if other.said == usual]
        if seen.role == "generic" and 2 * len([name for name in fine if _said_before(column, name, seen)]) >= len(fine):
            continue
        if view.language not in {column.views[name].language for name in fine} and not translates(usual, view):
            continue
        kind = _how_otherwise(seen, usual, view)
        if kind == kinds.WORDS and not any(_laid_out_alike(view, column.views[name]) for name in fine):
            continue
        if kind is not None:
            yield remark_on(column, kind, take, seen, (f"“{seen.text}”", f"“{usual}”"), fine)


def _said_before(column: ViewColumn, name: TakeName, seen: SeenElement) -> bool:
    """Did that device show the same words there at the step before?"""
    then = column.before[name].by_key.get(seen.key) if name in column.before else None
    return then is not None and then.said == seen.said


@rule
def _replaced(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A text without an id, in a place where most other devices show the same other text.

    Silent where the others disagree, where they showed this text at the step before, and across languages.
    """
    found: dict[str, list[tuple[TakeName, SeenElement]]] = {}
    for name in column.peers[take]:
        if column.views[name].language == view.language:
            for seen, other in replaced(view, column.views[name]):
                found.setdefault(seen.key, []).append((name, other))
    for key, others in found.items():
        seen, have = view.by_key[key], [name for name in column.peers[take] if key in column.views[name].keys]
        usual, many = Counter(other.said for _, other in others).most_common(1)[0]
        kind = _how_otherwise(seen, usual, view)
        if kind is None or not most(many, len(others) + len(have)):
            continue
        fine = [(name, other) for name, other in others if other.said == usual]
        late = [name for name, _ in fine if name in column.before and key in column.before[name].keys]
        if 2 * len(late) >= len(fine):
            continue
        there = fine[0][1]
        remark = remark_on(column, kind, take, seen, (f"“{seen.text}”", f"“{there.text}”"), [name for name, _ in fine])
        yield replace(remark, example_box=there.box, example_shot=column.views[fine[0][0]].shot)


def _laid_out_alike(one: View, other: View) -> bool:
    """The same layout, or another one that shows nearly the same: what a wide page calls so may be another thing on a narrow one."""
    return one.wide == other.wide or like(one, other) >= NEARLY


def _all_in_capitals(view: View, role: str) -> bool:
    """Does an older look say all of a kind in capitals?"""
    said = [e.text for e in view.elements if e.role == role and e.leaf and len(e.text) > 1 and e.text.upper() != e.text.lower()]
    return bool(said) and sum(words.isupper() for words in said) >= MOST * len(said)


def _how_otherwise(seen: SeenElement, usual: str, view: View) -> RemarkKind | None:
    if seen.text.rstrip().endswith(ELLIPSES) and not usual.rstrip().endswith(ELLIPSES):
        return kinds.CUT
    if seen.said.casefold() == usual.casefold():
        return kinds.WORDS if seen.said.isupper() != usual.isupper() and not _all_in_capitals(view, seen.role) else None
    if as_much(seen.said, usual):
        return None
    if _squeezed(seen.said) == _squeezed(usual) or FIGURES.search(seen.text):
        return kinds.FORMAT
    return kinds.WORDS


def _squeezed(words: str) -> str:
    """Its digits and letters: equal for one number with other signs in it."""
    return "".join(c for c in words.casefold() if c.isalnum())


@rule
def _untranslated(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A text in the script's language, though the phrasebook knows it in the device's, and its neighbours speak that."""
    if not view.translated:
        return
    spoken = sum(1 for e in view.elements if e.text and e.said != e.text and e.said.casefold() in view.translated)
    if spoken < FEWEST:
        return
    for seen in view.elements:
        if seen.text and not seen.cut and view.translated.get(seen.text.casefold(), seen.text) != seen.text and seen.leaf:
            fine = [other for other in column.peers[take] if column.views[other].language != view.language]
            yield remark_on(column, kinds.UNTRANSLATED, take, seen, (f"“{seen.text}”", f"“{view.translated[seen.text.casefold()]}”"), fine)


def _not_of_a_kind(column: ViewColumn, found: Sequence[Remark]) -> list[Remark]:
    """Without what all devices of a platform, or all of one layout, have in common, and only they: a convention, not a fault."""
    odd: dict[tuple[RemarkKind, str], set[TakeName]] = {}
    for remark in found:
        odd.setdefault((remark.kind, remark.key), set()).add(remark.take)
    classes: list[set[TakeName]] = []
    for names in (("platform",), ("wide",), ("platform", "wide")):
        alike: dict[object, set[TakeName]] = {}
        for take, view in column.views.items():
            alike.setdefault(tuple(getattr(view, name) for name in names), set()).add(take)
        classes += list(alike.values()) if len(alike) > 1 else []

    def kept(remark: Remark) -> bool:
        if remark.kind in (kinds.MISSING, kinds.NEW, kinds.COLOUR, kinds.ORDER):
            return _stands_out(column, remark)
        alike = odd[remark.kind, remark.key]
        return not remark.kind.conventional or len(alike) < 2 or alike not in classes

    return [remark for remark in found if kept(remark)]


def _stands_out(column: ViewColumn, remark: Remark) -> bool:
    """Is it otherwise on another device of the same platform, and on one of the same layout? Else it may be how these do it."""
    own = column.views[remark.take]
    if remark.kind == kinds.MISSING:
        usual = [view for view in column.views.values() if remark.key in view.keys]
    else:  # what does not show elsewhere may only be scrolled away there
        usual = [column.views[take] for take in remark.fine]
    return any(view.platform == own.platform for view in usual) and any(view.wide == own.wide for view in usual)
