"""Whether a target is shown: something that is called so is seen, nothing of it is, or it cannot be told. Nothing is touched."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.outcome import Cause, Evidence, Reason
from ..model.portrait import Sighting
from ..model.screen import Element
from ..recognition.reach import can_be_seen
from .by_picture import look_by_picture
from .evidence import WantedTarget
from .finder import TargetFinder
from .found import named_on


@dataclass(frozen=True)
class Visibility:
    """`element` is one that is seen, found `by` that evidence; `unclear` is why it cannot be told. With neither, it is not shown."""

    element: Element | None = None
    by: tuple[Evidence, ...] = ()
    unclear: Reason | None = None


def visibility(finder: TargetFinder, wanted: WantedTarget) -> Visibility:
    """Whether a target is shown on the newest moment, by the tree and, where the tree does not know it, by the picture.

    Where several things are called so, it is shown if any of them is seen: which of them is meant makes no difference.
    """
    found = finder.now(wanted)
    if isinstance(found, Sighting) and can_be_seen(found.element):
        return Visibility(found.element, found.by)
    screen = finder.watch.moment.screen
    several = [e for e in named_on(screen, wanted.target) if can_be_seen(e)] if screen is not None else []
    if several:
        return Visibility(several[0], (Evidence.ROLE_AND_NAME,))
    if isinstance(found, Sighting):
        return Visibility()
    if found.why.cause in (Cause.NOT_HERE, Cause.NO_TREE):
        seen = look_by_picture(finder.watch, finder.recorded, wanted, read=True)
        if seen is not None:
            return Visibility(seen.element, seen.sighting.by)
    return Visibility(unclear=None if found.why.cause is Cause.NOT_HERE else found.why)
