"""Words that a page says for a while: messages that no platform and no id calls so are known by how they come and go."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from ..model import remark_kinds as kinds
from ..model.address import Address
from ..model.remark import Remark
from ..model.take import TakeName
from .views import SeenElement, View, like_pages

SAME_PLACE = 0.5  # share of what two screens of one device show that is the same, where they are one page


class Passing:
    """What comes while its page stays, and then goes while it stays or is carried over to another page; or goes here sooner than there."""

    def __init__(self) -> None:
        self._came: dict[TakeName, set[str]] = defaultdict(set)
        self._went: dict[str, dict[TakeName, Address]] = defaultdict(dict)  # at which step first, while its page stayed
        self._keys: set[str] = set()  # of what is known to pass

    def shown(self, take: TakeName, address: Address, before: View, now: View) -> None:
        """A take's screens at two steps, one after the other."""
        then, there, came = _said(before), _said(now), self._came[take]
        gone, stays = then - now.keys, same_page(before, now)
        if stays:
            came |= there - before.keys
            for key in gone:
                self._went[key].setdefault(take, address)
        self._keys |= (gone if stays else then & there) & came
        self._keys |= {key for key in gone if len(set(self._went[key].values())) > 1}

    def passes(self, remark: Remark) -> bool:
        """Is it about the presence of something that is known to pass by now?"""
        return remark.kind.presence and not self._keys.isdisjoint((remark.key, remark.over))


def may_pass(remark: Remark, views: Mapping[TakeName, View]) -> bool:
    """May it be about a message that passes, so that only the rest of the run tells?"""
    if remark.kind == kinds.OVERLAPS:
        return True
    seen = seen_of(remark, views)
    return remark.kind.presence and seen is not None and _speaks(seen)


def same_page(one: View, other: View) -> bool:
    """Are two screens of one device, held the same way, of one page?"""
    return one.turned == other.turned and like_pages(one, other) >= SAME_PLACE


def seen_of(remark: Remark, views: Mapping[TakeName, View]) -> SeenElement | None:
    """What it is about, on its own device or on one that has it."""
    return next((e for take in (remark.take, *remark.fine) if (e := views[take].by_key.get(remark.key)) is not None), None)


def _said(view: View) -> set[str]:
    return {seen.key for seen in view.elements if _speaks(seen)}


def _speaks(seen: SeenElement) -> bool:
    """Does it only say something, and is not scrolled?"""
    return bool(seen.text) and seen.leaf and not seen.tappable and not seen.scrolls and not seen.repeated
