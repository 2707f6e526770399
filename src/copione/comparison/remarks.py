"""Differences that nobody wrote a check for: each device's screen at a step held against those of the others. Pure.

Most devices are right. What is said of an element is said only beside devices that show the same page in the same layout, and of what
shows whole: what is scrolled away, covered by the keyboard or cut by an edge tells nothing. Each rule says when it is silent.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain
from statistics import median
from types import MappingProxyType

from ..model.address import Address
from ..model.geometry import Box
from ..model.likeness import is_another
from ..model.remark import Remark, RemarkKind
from ..model.take import TakeName
from ..model.words import plain
from .gaps import gaps, told_of
from .views import Seen, View, lie_over, like, like_pages, within

INSIDE = 0.6  # the same, of a narrow page that a wide one shows beside others
SAME_PAGE = 0.5  # share of what two devices show that has to be the same
NEARLY = 0.8  # the same, where one is laid out for wide screens and the other is not
MOST = 2 / 3  # of those that can tell have to agree
FEWEST = 2  # others that have to agree
TARGET_DP = 24.0  # WCAG 2.2, success criterion 2.5.8: the least size of a target, in CSS pixels
MANY_WEAK = 4  # texts of a page; from more of them on it matters whether they are most of it
WEAKER = 0.6  # of the contrast elsewhere: what is only a little less is how letters are drawn
SPILL_DP = 3.0  # beyond what it stands in
CRAMPED = 0.8  # of the height that one line of the text takes elsewhere, for its size
LINE_DP = 14.0  # no line is lower, at the ordinary text size
ELLIPSES = ("…", "...")
EXACT = 0.015  # of a share or an angle that a gesture has set: screens have other dots
_SHARE = re.compile(r"(-?\d+(?:\.\d+)?) ?([%°])")
FIGURES = re.compile(r"\d{1,4}([./-])\d{1,2}\1\d{1,4}")

Told = Mapping[TakeName, View]
Votes = Mapping[TakeName, Mapping[str, list[TakeName]]]  # for each take, what it lacks, and who has it


@dataclass(frozen=True)
class _Column:
    """The views of one step and data row, and for each take those that show the same page."""

    address: Address
    views: Told
    peers: Mapping[TakeName, tuple[TakeName, ...]]
    votes: Votes
    before: Told

    def others(self, take: TakeName, key: str) -> list[tuple[TakeName, Seen]]:
        """The element on the other devices that show it whole."""
        found = []
        for other in self.peers[take]:
            seen = self.views[other].by_key.get(key)
            if seen is not None and not seen.cut:
                found.append((other, seen))
        return found


def remarks(address: Address, views: Told, before: Told = MappingProxyType({})) -> list[Remark]:
    """What is otherwise on some devices at one step with one data row. `before`: what they showed at the step before."""
    peers = _peers(views)
    column = _Column(address, views, peers, _votes(views, peers), before)
    found: list[Remark] = []
    for take, view in views.items():
        if len(column.peers[take]) >= FEWEST:
            for rule in _RULES:
                found += rule(column, take, view)
    return _not_of_a_kind(column, found)


def _peers(views: Told) -> dict[TakeName, tuple[TakeName, ...]]:
    """For each take the others that show the same page."""

    def same(one: View, other: View) -> bool:
        return max(like(one, other), like_pages(one, other)) >= SAME_PAGE or (one.wide != other.wide and within(one, other) >= INSIDE)

    names = list(views)
    return {name: tuple(other for other in names if other != name and same(views[name], views[other])) for name in names}


def _remark(
    column: _Column,
    kind: RemarkKind,
    take: TakeName,
    seen: Seen,
    so: tuple[str, str],
    fine: Iterable[TakeName],
    box: Box | None = None,
) -> Remark:
    view, fine = column.views[take], tuple(fine)
    example = column.views[fine[0]] if fine else None
    there = example.by_key.get(seen.key) if example is not None else None
    made = Remark(kind, seen.key, _called(seen), *so, take, column.address, box or seen.box, view.shot, fine)
    if example is None or there is None:
        return made
    return replace(made, example_box=there.box, example_shot=example.shot)


def _called(seen: Seen) -> str:
    return seen.name or seen.said or seen.role


def _most(agree: int, of: int) -> bool:
    return agree >= FEWEST and agree >= MOST * of


# what is there


def _votes(views: Told, peers: Mapping[TakeName, tuple[TakeName, ...]]) -> Votes:
    """For each take what it lacks between neighbours that others have there, and which others."""
    found: dict[TakeName, dict[str, list[TakeName]]] = {}
    for take, view in views.items():
        lacks = found.setdefault(take, {})
        for other in _alike_laid_out(views, take, peers[take]):
            for each in chain.from_iterable(gaps(view, views[other])):
                lacks.setdefault(each.key, []).append(other)
    return found


def _alike_laid_out(views: Told, take: TakeName, peers: Sequence[TakeName]) -> Sequence[TakeName]:
    """Those with the same kind of layout, narrow or wide; all where there are too few of them."""
    same = [other for other in peers if views[other].wide == views[take].wide]
    return same if len(same) >= FEWEST else peers


def _missing(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """An element that most show between the same two neighbours, both of which show here, with nothing in between.

    Silent where the neighbours are apart here, or something else stands between them, or it may lie beyond an edge.
    """
    lacking = {}
    for key, have in column.votes[take].items():
        lack = [other for other in _alike_laid_out(column.views, take, column.peers[take]) if key in column.votes[other]]
        if _most(len(have), len(have) + len(lack)):
            lacking[key] = have
    told: set[str] = set()
    for key, have in lacking.items():
        if key in told:
            continue
        there = column.views[have[0]]
        for seen, keys in told_of(gaps(view, there), lacking.keys() - told):
            told |= keys
            so = "it is not there", "it is there"
            yield _remark(column, RemarkKind.MISSING, take, seen, so, lacking[seen.key], _place(view, there, seen.key))


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


def _new(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
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
        if _most(len(without), len(without) + len(have)) and 2 * len(gone) < len(without):
            found[key] = without
    told: set[str] = set()
    for key, without in found.items():
        if key in told:
            continue
        for seen, keys in told_of(gaps(column.views[without[0]], view), found.keys() - told):
            told |= keys
            yield _remark(column, RemarkKind.NEW, take, seen, ("it is there", "it is not there"), found[seen.key])


# what it says


def _words(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """Other words, another language, another format, or cut: beside others that all say the same, and know it by more than its words.

    Silent where the others do not agree: what changes from device to device or from minute to minute.
    """
    for key, seen in view.by_key.items():
        if seen.cut or not seen.said or seen.repeated:
            continue
        others = column.others(take, key)
        said = Counter(other.said for _, other in others)
        if not said:
            continue
        usual, many = said.most_common(1)[0]
        if usual == seen.said or not _most(many, len(others)):
            continue
        fine = [name for name, other in others if other.said == usual]
        if view.language not in {column.views[name].language for name in fine} and not _translates(usual, view):
            continue
        kind = _how_otherwise(seen, usual)
        if kind is RemarkKind.WORDS and not any(_laid_out_alike(view, column.views[name]) for name in fine):
            continue
        if kind is not None:
            yield _remark(column, kind, take, seen, (f"“{seen.text}”", f"“{usual}”"), fine)


def _laid_out_alike(one: View, other: View) -> bool:
    """The same layout, or another one that shows nearly the same: what a wide page calls so may be another thing on a narrow one."""
    return one.wide == other.wide or like(one, other) >= NEARLY


def _translates(usual: str, view: View) -> bool:
    """Is it known how the device's language says that? A figure needs no translation."""
    return usual.casefold() in view.translated or not any(c.isalpha() for c in usual)


def _how_otherwise(seen: Seen, usual: str) -> RemarkKind | None:
    if seen.text.rstrip().endswith(ELLIPSES) and not usual.rstrip().endswith(ELLIPSES):
        return RemarkKind.CUT
    if seen.said.casefold() == usual.casefold():  # an older look says it in capitals
        return None
    if _as_much(seen.said, usual):
        return None
    if _squeezed(seen.said) == _squeezed(usual) or FIGURES.search(seen.text):
        return RemarkKind.FORMAT
    return RemarkKind.WORDS


def _as_much(one: str, other: str) -> bool:
    """Are both the same share or angle, as far as a finger is exact: `199%` and `201%`?"""
    found = _SHARE.fullmatch(plain(one)), _SHARE.fullmatch(plain(other))
    if None in found or found[0][2] != found[1][2]:  # type: ignore[index]
        return False
    values = [float(match[1]) for match in found if match is not None]
    return abs(values[0] - values[1]) <= EXACT * max(map(abs, values))


def _squeezed(words: str) -> str:
    """Its digits and letters: equal for one number with other signs in it."""
    return "".join(c for c in words.casefold() if c.isalnum())


def _untranslated(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """A text in the script's language, though the phrasebook knows it in the device's, and its neighbours speak that."""
    if not view.translated:
        return
    spoken = sum(1 for e in view.elements if e.text and e.said != e.text and e.said.casefold() in view.translated)
    if spoken < FEWEST:
        return
    for seen in view.elements:
        if seen.text and not seen.cut and view.translated.get(seen.text.casefold(), seen.text) != seen.text and seen.leaf:
            fine = [other for other in column.peers[take] if column.views[other].language != view.language]
            yield _remark(
                column, RemarkKind.UNTRANSLATED, take, seen, (f"“{seen.text}”", f"“{view.translated[seen.text.casefold()]}”"), fine
            )


# how it is laid out


def _cramped(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """Text in less height than it takes elsewhere, for its size; or beyond the edge of what it stands in."""
    for key, seen in view.by_key.items():
        if seen.cut or not seen.text or not seen.leaf or seen.tappable:
            continue
        shown = [(name, other) for name, other in column.others(take, key) if other.text]
        if len(shown) < FEWEST:
            continue
        tall = [h for name, other in shown if (h := other.box.height / column.views[name].text_scale) >= LINE_DP]
        here = seen.box.height / view.text_scale
        if tall and here < min(LINE_DP, CRAMPED * min(tall)):
            words = f"{seen.box.height:.0f} dp high"
            so = words, f"{median(o.box.height for _, o in shown):.0f} dp"
            yield _remark(column, RemarkKind.SPILLS, take, seen, so, [name for name, _ in shown])
            continue
        others = [(name, other) for name, other in shown if other.said == seen.said]
        over = _beyond(view, seen)
        if over > SPILL_DP:
            within = [name for name, other in others if _beyond(column.views[name], other) <= SPILL_DP]
            if _most(len(within), len(others)):
                yield _remark(column, RemarkKind.SPILLS, take, seen, (f"{over:.0f} dp beyond its edge", "within it"), within)


def _beyond(view: View, seen: Seen) -> float:
    """How far a text goes beyond what it stands in, or beyond the screen, dp."""
    holder = view.elements[seen.holder].box if seen.holder >= 0 else None
    screen = Box(0.0, 0.0, view.width, view.height)
    return max((max(b.left - seen.box.left, seen.box.right - b.right) for b in (holder, screen) if b is not None), default=0.0)


def _overlaps(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """Two things that lie over one another here, and side by side on most of those that show both."""
    shown = [e for e in view.elements if e.alone and e.leaf and not e.cut]
    for place, seen in enumerate(shown):
        for other in shown[place + 1 :]:
            if not lie_over(seen, other):
                continue
            apart, both = [], 0
            for name in column.peers[take]:
                one, two = column.views[name].by_key.get(seen.key), column.views[name].by_key.get(other.key)
                if one is not None and two is not None and not one.cut and not two.cut:
                    both += 1
                    if not lie_over(one, two):
                        apart.append(name)
            if _most(len(apart), both):
                words = f"over “{_called(other)}”"
                remark = _remark(column, RemarkKind.OVERLAPS, take, seen, (words, "beside it"), apart, seen.box.clipped(other.box))
                yield replace(remark, over=other.key)


def _reach(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """A control of which less than half is on the screen, and nothing scrolls to it; elsewhere all of it is."""
    screen = Box(0.0, 0.0, view.width, view.height)
    for key, seen in view.by_key.items():
        if not seen.tappable or seen.scrolls or seen.box.empty or seen.box.clipped(screen).area >= 0.5 * seen.box.area:
            continue
        others = column.others(take, key)
        if len(others) >= FEWEST:
            yield _remark(column, RemarkKind.REACH, take, seen, ("beyond the edge", "on the screen"), [name for name, _ in others])


def _small(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """A target below the least size of WCAG 2.2 here, and at least of it on most others."""
    for key, seen in view.by_key.items():
        least = min(seen.box.width, seen.box.height)
        if not seen.tappable or seen.cut or least >= TARGET_DP - 0.5:
            continue
        others = column.others(take, key)
        large = [name for name, other in others if min(other.box.width, other.box.height) >= TARGET_DP - 0.5]
        if _most(len(large), len(others)):
            usual = median(min(other.box.width, other.box.height) for _, other in others)
            yield _remark(column, RemarkKind.SMALL, take, seen, (f"{least:.0f} dp", f"{usual:.0f} dp"), large)


def _focus(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """The focus comes to something earlier or later than it is read here, and as it is read on most others. Once for a page."""
    for key, seen in view.by_key.items():
        if not seen.jump or seen.cut:
            continue
        others = [(name, other) for name, other in column.others(take, key) if other.jump is not None]
        fine = [name for name, other in others if not other.jump]
        if _most(len(fine), len(others)):
            yield _remark(column, RemarkKind.FOCUS, take, seen, (seen.jump, "as it is read"), fine)
            return


# how it looks


def _picture(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """A picture that is another than on most, who show the same one; silent in the dark among the light, and where each shows its own."""
    for key, seen in view.by_key.items():
        if not seen.fingerprint or seen.cut:
            continue
        others = [(n, o) for n, o in column.others(take, key) if o.fingerprint and column.views[n].dark == view.dark]
        unlike = [(name, other) for name, other in others if is_another(seen.fingerprint, other.fingerprint)]
        if not _most(len(unlike), len(others)):
            continue
        camp = [name for name, other in unlike if not is_another(other.fingerprint, unlike[0][1].fingerprint)]
        if _most(len(camp), len(others)):
            yield _remark(column, RemarkKind.PICTURE, take, seen, ("another picture", "the same on most devices"), camp)


def _contrast(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """Text with less contrast than WCAG 2.2 asks for, and enough of it on most others. Silent where most of the page is: it fades in."""
    weak = {key: seen for key, seen in view.by_key.items() if seen.is_weak and not seen.cut and seen.enabled}
    if len(weak) > max(MANY_WEAK, sum(seen.contrast > 0 for seen in view.by_key.values()) / 2):
        return
    for key, seen in weak.items():
        others = [(n, o) for n, o in column.others(take, key) if o.contrast and o.enabled == seen.enabled]
        fine = [name for name, other in others if other.contrast >= seen.least_contrast and seen.contrast < WEAKER * other.contrast]
        if _most(len(fine), len(others)):
            usual = median(other.contrast for _, other in others)
            yield _remark(column, RemarkKind.CONTRAST, take, seen, (f"{seen.contrast:.1f} to 1", f"{usual:.1f} to 1"), fine)


def _state(column: _Column, take: TakeName, view: View) -> Iterable[Remark]:
    """On here and off on most, or the other way round; since a turn of the device it was lost by that."""
    for key, seen in view.by_key.items():
        if not seen.state:
            continue
        others = [(name, other) for name, other in column.others(take, key) if other.state]
        usual, many = Counter(other.state for _, other in others).most_common(1)[0] if others else ("", 0)
        if many and usual != seen.state and _most(many, len(others)):
            fine = [name for name, other in others if other.state == usual]
            kind = RemarkKind.LOST if view.turned else RemarkKind.STATE
            yield _remark(column, kind, take, seen, (seen.state, usual), fine)


Rule = Callable[[_Column, TakeName, View], Iterable[Remark]]
_RULES: tuple[Rule, ...] = (_missing, _new, _words, _untranslated, _cramped, _overlaps, _reach, _small, _focus, _picture, _contrast, _state)

#: What is laid out by a platform's conventions, or by a layout for wide screens, is not remarked on where all of that kind have it.
_BY_CONVENTION = frozenset(
    {RemarkKind.MISSING, RemarkKind.NEW, RemarkKind.OVERLAPS, RemarkKind.SMALL, RemarkKind.SPILLS, RemarkKind.WORDS, RemarkKind.FOCUS}
)


def _not_of_a_kind(column: _Column, found: Sequence[Remark]) -> list[Remark]:
    """Without what all devices of a platform, or all of one layout, have in common, and only they: a convention, not a fault."""
    odd: dict[tuple[RemarkKind, str], set[TakeName]] = {}
    for remark in found:
        odd.setdefault((remark.kind, remark.key), set()).add(remark.take)
    classes: list[set[TakeName]] = []
    for names in (("platform",), ("wide",), ("platform", "wide")):
        kinds: dict[object, set[TakeName]] = {}
        for take, view in column.views.items():
            kinds.setdefault(tuple(getattr(view, name) for name in names), set()).add(take)
        classes += list(kinds.values()) if len(kinds) > 1 else []

    def kept(remark: Remark) -> bool:
        if remark.kind in (RemarkKind.MISSING, RemarkKind.NEW):
            return _stands_out(column, remark)
        alike = odd[remark.kind, remark.key]
        return remark.kind not in _BY_CONVENTION or len(alike) < 2 or alike not in classes

    return [remark for remark in found if kept(remark)]


def _stands_out(column: _Column, remark: Remark) -> bool:
    """Is it otherwise on another device of the same platform, and on one of the same layout? Else it may be how these do it."""
    own = column.views[remark.take]
    if remark.kind is RemarkKind.MISSING:
        usual = [view for view in column.views.values() if remark.key in view.keys]
    else:  # what does not show elsewhere may only be scrolled away there
        usual = [column.views[take] for take in remark.fine]
    return any(view.platform == own.platform for view in usual) and any(view.wide == own.wide for view in usual)
