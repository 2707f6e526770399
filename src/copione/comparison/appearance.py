"""Remarks on how things look and stand: their size and place, their picture, colours, states and values. Pure.

Each rule says when it is silent. See `remarks`.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from statistics import median

from ..model import remark_kinds as kinds
from ..model.geometry import Box
from ..model.likeness import is_another
from ..model.remark import Remark, RemarkKind
from ..model.take import TakeName
from .columns import FEWEST, ViewColumn, as_much, called, most, remark_on, rule, translates
from .views import Aim, SeenElement, View, lie_over

TARGET_DP = 24.0  # WCAG 2.2, success criterion 2.5.8: the least size of a target, in CSS pixels
MANY_WEAK = 4  # texts of a page; from more of them on it matters whether they are most of it
WEAKER = 0.6  # of the contrast elsewhere: what is only a little less is how letters are drawn
SPILL_DP = 3.0  # beyond what it stands in
CRAMPED = 0.8  # of the height that one line of the text takes elsewhere, for its size
LINE_DP = 14.0  # no line is lower, at the ordinary text size
ORDERED = frozenset({"tab", "radio", "button"})
WRITTEN = frozenset({"text", "heading"})  # roles of what names the cards of a list that nothing marks as one
ROWS = 3  # of a list, that have to be shown on both to tell in which order they stand
COLOUR_APART = 48  # of 255: from there on two grounds are two colours

# how it is laid out


@rule
def _cramped(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
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
            yield remark_on(column, kinds.SPILLS, take, seen, so, [name for name, _ in shown])
            continue
        others = [(name, other) for name, other in shown if other.said == seen.said]
        over = _beyond(view, seen)
        if over > SPILL_DP:
            within = [name for name, other in others if _beyond(column.views[name], other) <= SPILL_DP]
            if most(len(within), len(others)):
                yield remark_on(column, kinds.SPILLS, take, seen, (f"{over:.0f} dp beyond its edge", "within it"), within)


def _beyond(view: View, seen: SeenElement) -> float:
    """How far a text goes beyond what it stands in, or beyond the screen, dp."""
    holder = view.elements[seen.holder].box if seen.holder >= 0 else None
    screen = Box(0.0, 0.0, view.width, view.height)
    return max((max(b.left - seen.box.left, seen.box.right - b.right) for b in (holder, screen) if b is not None), default=0.0)


@rule
def _overlaps(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Two things that lie over one another here, and side by side on most of those that show both. Once where it is so row by row."""
    told: set[tuple[object, ...]] = set()
    shown = [e for e in view.elements if e.alone and e.leaf and not e.cut]
    for place, seen in enumerate(shown):
        for other in shown[place + 1 :]:
            if not lie_over(seen, other):
                continue
            lies = seen.role, other.role, seen.pane, *(round(a - b) for a, b in zip(other.box, seen.box, strict=True))
            if lies in told:
                continue
            apart, both = [], 0
            for name in column.peers[take]:
                one, two = column.views[name].by_key.get(seen.key), column.views[name].by_key.get(other.key)
                if one is not None and two is not None and not one.cut and not two.cut:
                    both += 1
                    if not lie_over(one, two):
                        apart.append(name)
            if most(len(apart), both):
                told.add(lies)
                words = f"over “{called(other)}”"
                remark = remark_on(column, kinds.OVERLAPS, take, seen, (words, "beside it"), apart, seen.box.clipped(other.box))
                yield replace(remark, over=other.key)


@rule
def _reach(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A control of which less than half is on the screen, and nothing scrolls to it; elsewhere all of it is."""
    screen = Box(0.0, 0.0, view.width, view.height)
    for key, seen in view.by_key.items():
        if not seen.tappable or seen.scrolls or seen.box.empty or seen.box.clipped(screen).area >= 0.5 * seen.box.area:
            continue
        others = column.others(take, key)
        if len(others) >= FEWEST:
            yield remark_on(column, kinds.REACH, take, seen, ("beyond the edge", "on the screen"), [name for name, _ in others])


@rule
def _small(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A target below the least size of WCAG 2.2 here, and at least of it on most others."""
    for key, seen in view.by_key.items():
        least = min(seen.box.width, seen.box.height)
        if not seen.tappable or seen.cut or least >= TARGET_DP - 0.5:
            continue
        others = column.others(take, key)
        large = [name for name, other in others if min(other.box.width, other.box.height) >= TARGET_DP - 0.5]
        if most(len(large), len(others)):
            usual = median(min(other.box.width, other.box.height) for _, other in others)
            yield remark_on(column, kinds.SMALL, take, seen, (f"{least:.0f} dp", f"{usual:.0f} dp"), large)


@rule
def _focus(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """The focus comes to something earlier or later than it is read here, and as it is read on most others. Once for a page."""
    for key, seen in view.by_key.items():
        if not seen.jump or seen.cut:
            continue
        others = [(name, other) for name, other in column.others(take, key) if other.jump is not None]
        fine = [name for name, other in others if not other.jump]
        if most(len(fine), len(others)):
            yield remark_on(column, kinds.FOCUS, take, seen, (seen.jump, "as it is read"), fine)
            return


# how it looks


@rule
def _picture(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A picture that is another than on most, who show the same one; silent in the dark among the light, and where each shows its own."""
    for key, seen in view.by_key.items():
        if not seen.fingerprint or seen.cut:
            continue
        others = [(n, o) for n, o in column.others(take, key) if o.fingerprint and column.views[n].dark == view.dark]
        unlike = [(name, other) for name, other in others if is_another(seen.fingerprint, other.fingerprint)]
        if not most(len(unlike), len(others)):
            continue
        camp = [name for name, other in unlike if not is_another(other.fingerprint, unlike[0][1].fingerprint)]
        if most(len(camp), len(others)):
            yield remark_on(column, kinds.PICTURE, take, seen, ("another picture", "the same on most devices"), camp)


@rule
def _contrast(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Text with less contrast than WCAG 2.2 asks for, and enough of it on most others. Silent where most of the page is: it fades in."""
    weak = {key: seen for key, seen in view.by_key.items() if seen.is_weak and not seen.cut and seen.enabled}
    if len(weak) > max(MANY_WEAK, sum(seen.contrast > 0 for seen in view.by_key.values()) / 2):
        return
    for key, seen in weak.items():
        others = [(n, o) for n, o in column.others(take, key) if o.contrast and o.enabled == seen.enabled]
        fine = [name for name, other in others if other.contrast >= seen.least_contrast and seen.contrast < WEAKER * other.contrast]
        if most(len(fine), len(others)):
            usual = median(other.contrast for _, other in others)
            yield remark_on(column, kinds.CONTRAST, take, seen, (f"{seen.contrast:.1f} to 1", f"{usual:.1f} to 1"), fine)


@rule
def _state(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """On here and off on most, or the other way round; since a turn of the device it was lost by that."""
    for key, seen in view.by_key.items():
        if not seen.state:
            continue
        others = [(name, other) for name, other in column.others(take, key) if other.state]
        usual, many = Counter(other.state for _, other in others).most_common(1)[0] if others else ("", 0)
        if many and usual != seen.state and most(many, len(others)):
            fine = [name for name, other in others if other.state == usual]
            kind = kinds.LOST if view.turned else kinds.STATE
            yield remark_on(column, kind, take, seen, (seen.state, usual), fine)


@rule
def _value(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """A stepper, a slider or a choice that says another value than on most; since a turn of the device it was lost by that."""
    for key, seen in view.by_key.items():
        if not seen.value or seen.cut:
            continue
        others = [(name, other) for name, other in column.others(take, key) if other.value]
        said = Counter(other.value for _, other in others)
        usual, many = said.most_common(1)[0] if said else ("", 0)
        if usual == seen.value or not most(many, len(others)) or as_much(seen.value, usual):
            continue
        if view.language not in {column.views[name].language for name, _ in others} and not translates(usual, view):
            continue
        fine = [name for name, other in others if other.value == usual]
        kind = kinds.LOST if view.turned else kinds.VALUE
        yield remark_on(column, kind, take, seen, (f"“{seen.value}”", f"“{usual}”"), fine)


@rule
def _disabled(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """What can be touched on most, and is disabled here, or the other way round."""
    for key, seen in view.by_key.items():
        others = column.others(take, key) if seen.tappable and not seen.cut else []
        fine = [name for name, other in others if other.enabled != seen.enabled and other.tappable]
        if most(len(fine), len(others)):
            so = ("enabled", "disabled") if seen.enabled else ("disabled", "enabled")
            yield remark_on(column, kinds.DISABLED, take, seen, so, fine)


@rule
def _order(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Tabs, options and buttons of one line that stand in another order than on most that show the same ones. Once for each line."""
    for line in _lines(view):
        keys = [seen.key for seen in line]
        there = {name: [key for key in column.views[name].order if key in keys] for name in column.peers[take]}
        whole = {name: order for name, order in there.items() if len(order) == len(keys)}
        usual, many = Counter(map(tuple, whole.values())).most_common(1)[0] if whole else ((), 0)
        if list(usual) != keys and most(many, len(whole)):
            fine = [name for name, order in whole.items() if order == list(usual)]
            said = {seen.key: called(seen) for seen in line}
            so = ", ".join(said[key] for key in keys), ", ".join(said[key] for key in usual)
            yield remark_on(column, kinds.ORDER, take, line[0], so, fine)


@rule
def _sorted(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Rows of a list, or texts of one column, in another order than on most devices of the same language that show the same ones. Texts
    are compared only within the same kind of layout. Once for each list or column."""
    lists: dict[tuple[object, ...], list[SeenElement]] = {}
    for seen in view.elements:
        if seen.alone and not seen.cut and seen.role == "listitem":
            lists.setdefault((seen.pane, seen.part), []).append(seen)
        elif seen.alone and not seen.cut and seen.role in WRITTEN and seen.leaf and not seen.tappable:
            lists.setdefault((seen.pane, seen.part, round(seen.box.left), round(seen.box.height)), []).append(seen)
    spoken = [name for name in column.peers[take] if column.views[name].language == view.language]
    for rows in lists.values():
        if len(rows) < ROWS:
            continue
        alike = [name for name in spoken if rows[0].role == "listitem" or column.views[name].wide == view.wide]
        there = {name: [r for r in rows if r.key in column.views[name].order] for name in alike}
        can_tell = [name for name, shared in there.items() if len(shared) >= ROWS and _stand_alike(column.views[name], shared)]
        other = [name for name in can_tell if not _in_order([column.views[name].order[r.key] for r in there[name]])]
        if not most(len(other), len(can_tell)):
            continue
        order, shared = column.views[other[0]].order, there[other[0]]
        fine = [name for name in other if _in_order([column.views[name].order[r.key] for r in _by(order, there[name])])]
        if most(len(fine), len(can_tell)):
            here, elsewhere = (", ".join(called(r) for r in some[:ROWS]) for some in (shared, _by(order, shared)))
            yield remark_on(column, kinds.ORDER, take, shared[0], (here, elsewhere), fine)


def _stand_alike(view: View, rows: Sequence[SeenElement]) -> bool:
    """Are they rows of a list, or one column on this screen too?"""
    return rows[0].role == "listitem" or len({round(view.by_key[row.key].box.left) for row in rows if row.key in view.by_key}) == 1


def _by(order: Mapping[str, int], rows: Iterable[SeenElement]) -> list[SeenElement]:
    return sorted((row for row in rows if row.key in order), key=lambda row: order[row.key])


def _in_order(places: Sequence[int]) -> bool:
    return all(one < other for one, other in pairwise(places))


def _lines(view: View) -> Iterable[list[SeenElement]]:
    """Controls of one kind that stand on one line of one part of the page, in reading order."""
    found: list[list[SeenElement]] = []
    for seen in view.elements:
        if seen.alone and not seen.cut and seen.role in ORDERED and seen.tappable:
            line = next((line for line in found if _beside(line[0], seen)), None)
            if line is None:
                found.append(line := [])
            line.append(seen)
    return (line for line in found if len(line) > 1)


def _beside(one: SeenElement, other: SeenElement) -> bool:
    level = one.box.top < (other.box.top + other.box.bottom) / 2 < one.box.bottom
    return level and (one.role, one.pane, one.part) == (other.role, other.pane, other.part)


@rule
def _colour(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """Words on a ground of another colour than on most, who have the same one. Silent in the dark among the light, of what is chosen or
    has the focus, and where weak contrast is remarked on already. See `once_for_each_ground`.
    """
    if view.platform == "web":  # a page's style sheet may colour by width, and what lies behind words is not measured well enough there
        return
    for key, seen in view.by_key.items():
        if not seen.ground or seen.cut or seen.is_weak:
            continue
        others = [(n, o) for n, o in column.others(take, key) if o.ground and column.views[n].dark == view.dark and _in_one_state(o, seen)]
        own = [(n, o) for n, o in others if column.views[n].platform == view.platform]  # each platform has its own bars
        others = own if len(own) >= FEWEST else others
        fine = [(name, other) for name, other in others if _apart(seen.ground, other.ground) >= COLOUR_APART]
        camp = [name for name, other in fine if _apart(other.ground, fine[0][1].ground) < COLOUR_APART]
        if most(len(camp), len(others)):
            yield remark_on(column, kinds.COLOUR, take, seen, (colour_words(seen.ground), colour_words(fine[0][1].ground)), camp)


def _in_one_state(one: SeenElement, other: SeenElement) -> bool:
    return (one.lit, one.enabled, one.state) == (other.lit, other.enabled, other.state)


@dataclass(frozen=True)
class Coloured:
    """A remark on a colour, with the one that is here and the usual one, rrggbb."""

    remark: Remark
    here: str
    usual: str


def once_for_each_ground(found: Iterable[Coloured], grounds: Mapping[tuple[TakeName, str], Collection[str]]) -> Iterator[Remark]:
    """The first remark of each device on each colour, of those elements that have had the usual one.

    `grounds` are the colours behind each element in all that a take showed. Several elements stand on one bar, and some of them on no
    other page.
    """
    told = set()
    for each in found:
        remark = each.remark
        code = remark.take, *(part // COLOUR_APART for part in bytes.fromhex(each.here))
        if code not in told and had_ground(each.here, each.usual, grounds.get((remark.take, remark.key), ())):
            told.add(code)
            yield remark


def had_ground(here: str, usual: str, grounds: Iterable[str]) -> bool:
    """Did what stands on one colour here (rrggbb), and usually on another, have the usual one on another page of the device?

    Else the colour is a look of the device's own.
    """
    return any(_apart(ground, usual) < min(COLOUR_APART, _apart(ground, here)) for ground in grounds)


def colour_words(ground: str) -> str:
    """A colour in hex digits, as near as two pictures of it are."""
    return "#" + "".join(f"{min(255, round(part / 8) * 8):02x}" for part in bytes.fromhex(ground))


def _apart(one: str, other: str) -> int:
    """How far two colours are apart, 0..255: in the channel where they are most so."""
    return max(abs(a - b) for a, b in zip(bytes.fromhex(one), bytes.fromhex(other), strict=True))


# what was done on it


@rule
def _aimed(column: ViewColumn, take: TakeName, view: View) -> Iterable[Remark]:
    """The step's target was covered until something went by itself, or did not show while it was typed into; elsewhere not.

    What the others showed at a step before, and show no more, has only gone there in time: they were slower.
    """
    aim = view.aim
    if aim is None or not (aim.covered or aim.hidden):
        return
    others = [(n, o) for n in column.peers[take] if (o := column.views[n].aim) is not None and o.key == aim.key]
    free = [(name, other) for name, other in others if not other.covered]
    gone = [name for name, _ in free if column.earlier(name, aim.covered) and aim.covered not in column.views[name].spoken]
    if aim.covered and most(len(free), len(others)) and 2 * len(gone) < len(free):
        yield _on_aim(column, kinds.OVERLAPS, take, aim, (f"under “{aim.covered}” for a while", "free"), free)
    typed = [(name, other) for name, other in others if other.hidden is not None]
    shown = [(name, other) for name, other in typed if not other.hidden]
    if aim.hidden and most(len(shown), len(typed)):
        yield _on_aim(column, kinds.HIDDEN, take, aim, ("out of sight while one types", "in sight"), shown)


def _on_aim(
    column: ViewColumn, kind: RemarkKind, take: TakeName, aim: Aim, so: tuple[str, str], fine: Sequence[tuple[TakeName, Aim]]
) -> Remark:
    name, other = fine[0]
    shots = column.views[take].shot, column.views[name].shot
    fine_takes = tuple(name for name, _ in fine)
    return Remark(
        kind, aim.key, aim.name, *so, take, column.address, aim.box, shots[0], fine_takes, example_box=other.box, example_shot=shots[1]
    )
