"""Remarks found while a run goes on: the screens of a step are compared once every take is past it. Pure."""

from __future__ import annotations

import logging
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from statistics import median

from ..model import remark_kinds as kinds
from ..model.address import Address
from ..model.likeness import is_another
from ..model.remark import Remark, RemarkKind
from ..model.take import TakeName
from .appearance import Coloured, once_for_each_ground
from .remarks import remarks
from .transient import SAME_PLACE, Passing, may_pass, same_page, seen_of
from .views import View, like_pages

LOG = logging.getLogger(__name__)
Held = tuple[str, bool]  # a device, and is it held across?
MOST_WORDS = 2000  # of a take that are remembered: the newest


def safely(job: Callable[[], None]) -> None:
    """Do something; log an error, so that one screen does not end what is done for the others."""
    try:
        job()
    except Exception:
        LOG.exception("a screen could not be compared with the others")


@dataclass
class _Step:
    """What has been seen at one step with one data row, and which takes are past it."""

    views: dict[TakeName, View] = field(default_factory=dict)
    before: dict[TakeName, View] = field(default_factory=dict)  # what each of them showed at the step before
    after: dict[TakeName, View] = field(default_factory=dict)  # and at the one behind it
    past: set[TakeName] = field(default_factory=set)
    number: dict[TakeName, int] = field(default_factory=dict)  # how many screens each of them had shown before


class RunRemarks:
    """Finds remarks while a run goes on, and passes each to `told` once.

    Screens are kept only until every take of their data row is past the step. Not safe for several threads at once.
    """

    def __init__(self, takes: Iterable[TakeName], told: Callable[[Sequence[Remark]], None]) -> None:
        self._takes, self._told = set(takes), told
        self._steps: dict[tuple[int, Address], _Step] = {}
        self._ended: set[TakeName] = set()
        self._known: set[tuple[TakeName, RemarkKind, str, int]] = set()
        self._pages: list[dict[Held, View]] = []  # of each page how it was seen last
        self._newest = 0  # the place of the one that was seen last
        self._last: dict[TakeName, View] = {}
        self._first: dict[TakeName, dict[str, int]] = defaultdict(dict)  # at which of its screens each take first showed these words
        self._count: Counter[TakeName] = Counter()
        self._passing = Passing()
        self._unproven: list[Remark] = []  # what the rest of the run may show to be only a message
        self._coloured: list[Coloured] = []  # until it is known that this is not the look of the device itself
        self._grounds: dict[tuple[TakeName, str], set[str]] = defaultdict(set)  # the colours behind each element
        self._at: dict[TakeName, _Step] = {}  # the step that it belongs to
        self._doubted: dict[TakeName, list[tuple[Remark, _Step]]] = {}  # until its take shows more: it may only be late
        self._turns: dict[TakeName, int] = {}  # how often each take had turned its device

    def see(self, take: TakeName, address: Address, view: View | None) -> None:
        """A take has done a step. `view`: its screen, None where it says nothing."""
        step = self._steps.setdefault((take.row, address), _Step())
        step.past.add(take)
        if view is not None:
            step.views[take], step.number[take] = view, self._count[take]
            self._remember(take, view)
            for each in view.elements:
                if each.ground:
                    self._grounds[take, each.key].add(each.ground)
            if take in self._last:
                self._passing.shown(take, address, self._last[take], view)
                step.before[take], self._at[take].after[take] = self._last[take], view
            self._last[take], self._at[take] = view, step
            self._settle(take)
        self._when_complete(take.row, address)

    def _remember(self, take: TakeName, view: View) -> None:
        first = self._first[take]
        for words in view.spoken:
            first.setdefault(words, self._count[take])
        for oldest in list(first)[: max(0, len(first) - MOST_WORDS)]:
            del first[oldest]
        self._count[take] += 1

    def end(self, take: TakeName) -> None:
        """A take is over."""
        self._ended.add(take)
        self._settle(take)
        for row, address in [place for place in self._steps if place[0] == take.row]:
            self._when_complete(row, address)

    def finish(self) -> None:
        """Every take is over: judge what is left by what is known."""
        for row, address in list(self._steps):
            safely(partial(self._judge, row, address))
        for take in list(self._doubted):
            safely(partial(self._settle, take))
        left = [remark for remark in self._unproven if not self._passing.passes(remark)]
        left += once_for_each_ground(self._coloured, self._grounds)
        if left:
            safely(lambda: self._told(left))

    def _when_complete(self, row: int, address: Address) -> None:
        step = self._steps.get((row, address))
        if step is not None and all(t in step.past or t in self._ended for t in self._takes if t.row == row):
            self._judge(row, address)

    def _judge(self, row: int, address: Address) -> None:
        step = self._steps.pop((row, address))
        found = []
        page = self._page(step.views)

        def earlier(take: TakeName, words: str) -> bool:
            return self._first[take].get(words, step.number[take]) < step.number[take]

        for remark in remarks(address, step.views, step.before, earlier):
            told = replace(remark, page=page if remark.kind != kinds.COLOUR else 0)  # a bar is one thing on all of its pages
            if _about(told, step) not in self._known:
                self._known.add(_about(told, step))
                found.append(told)
        for remark in found:
            self._doubted.setdefault(remark.take, []).append((remark, step))
        for take in {remark.take for remark in found if remark.take in step.after or remark.take in self._ended}:
            self._settle(take)

    def _settle(self, take: TakeName) -> None:
        """Its take shows another screen, or has ended: drop what was only late, and report the rest."""
        found = []
        for remark, step in self._doubted.pop(take, ()):
            if take in step.after and _was_late(remark, step):
                self._known.discard(_about(remark, step))
            elif remark.kind == kinds.COLOUR:
                here, usual = (step.views[name].by_key[remark.key].ground for name in (take, remark.fine[0]))
                self._coloured.append(Coloured(remark, here, usual))
            elif may_pass(remark, step.views):
                self._unproven.append(remark)
            else:
                found.append(remark)
        if found:
            self._told(found)

    def _page(self, seen: Mapping[TakeName, View]) -> int:
        """Number of the run's page that is most like it: each device's screen is compared with what that device showed there.

        A page that has just been turned is the one before, whatever of it shows now.
        """
        turned = sum(view.turned != self._turns.get(take, 0) for take, view in seen.items())
        self._turns |= {take: view.turned for take, view in seen.items()}
        shown = {(take.device, each.width > each.height): each for take, each in seen.items()}
        if not self._pages or 2 * turned <= len(seen):
            self._newest = self._most_like(shown)
        self._pages[self._newest].update(shown)
        return self._newest + 1

    def _most_like(self, views: Mapping[Held, View]) -> int:
        """The place of the page that is most like it; of a new one where none is."""
        scores = []
        for number, known in enumerate(self._pages):
            shared = [like_pages(view, known[held]) for held, view in views.items() if held in known]
            scores.append((median(shared) if shared else 0.0, -number))
        score, number = max(scores, default=(0.0, 0))
        if score >= SAME_PLACE:
            return -number
        self._pages.append({})
        return len(self._pages) - 1


def _about(remark: Remark, step: _Step) -> tuple[TakeName, RemarkKind, str, int]:
    """What a remark is about, so that all rows of a list, and all replaced texts of a column, make one remark."""
    seen = seen_of(remark, step.views)
    if seen is not None and _is_replaced(remark, step):
        return remark.take, remark.kind, f"{seen.role} {seen.box.left:.0f} {seen.box.height:.0f}", remark.page
    return remark.take, remark.kind, seen.template if seen is not None else remark.key, remark.page


def _is_replaced(remark: Remark, step: _Step) -> bool:
    """Is it about a text that stands in another's place, and that the others do not show?"""
    return remark.kind in (kinds.WORDS, kinds.FORMAT, kinds.CUT) and remark.key not in step.views[remark.fine[0]].keys


def _was_late(remark: Remark, step: _Step) -> bool:
    """Is it as elsewhere at the next step already, on the same page and between the same two things? Then it came, or went, late."""
    here, after = step.views[remark.take], step.after[remark.take]
    if remark.kind in (kinds.CONTRAST, kinds.PICTURE):
        return _looked_otherwise(remark, here, after, step)
    if _is_replaced(remark, step):
        return same_page(here, after) and remark.key not in after.keys
    if remark.kind not in (kinds.MISSING, kinds.NEW) or not same_page(here, after):
        return False
    there = step.views[remark.fine[0]] if remark.kind == kinds.MISSING else here
    place = there.order[remark.key]
    shown = [(there.order[e.key], after.order[e.key]) for e in there.elements if e.leaf and e.key in after.order and e.key in here.order]
    before = max((pair for pair in shown if pair[0] < place), default=None)
    behind = min((pair for pair in shown if pair[0] > place), default=None)
    if remark.kind == kinds.NEW:
        return remark.key not in after.keys and before is not None and behind is not None
    if remark.key not in after.order:
        return False
    return (before is None or before[1] < after.order[remark.key]) and (behind is None or after.order[remark.key] < behind[1])


def _looked_otherwise(remark: Remark, here: View, after: View, step: _Step) -> bool:
    """Does the same thing, on the same page or at the same place, look as elsewhere now?"""
    then, now = here.by_key.get(remark.key), after.by_key.get(remark.key)
    if then is None or now is None or now.cut or not (same_page(here, after) or now.box == then.box):
        return False
    if remark.kind == kinds.CONTRAST:
        return now.contrast > 0 and not now.is_weak
    there = step.views[remark.fine[0]].by_key[remark.key]
    return bool(now.fingerprint) and not is_another(now.fingerprint, there.fingerprint)
