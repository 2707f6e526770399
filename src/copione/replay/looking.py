"""Finding a step's target on the device, with patience: look, wait, scroll, look again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..language.words import roles_of
from ..links.link import Link
from ..model.clock import Clock
from ..model.errors import Cancelled
from ..model.geometry import Box
from ..model.portrait import Portrait, Sighting, Unseen
from ..model.screen import Element, Flag, Moment, Screen
from ..model.step import Target
from ..recognition.evidence import visible
from ..recognition.reach import Reach, clear_area, reach, scroller_of
from ..recognition.sighting import sight
from ..touch.making import drag

POLL_S = 0.15
CALM_S = 0.6  # a screen without the target must stay the same so long before it is scrolled in search of it
STROKE = 0.55  # share of a container's height that one scroll moves: overlap, so that nothing is passed over
MOST_STROKES = 60
DRAGGED = frozenset({"slider", "canvas", "combobox"})  # a stroke that begins there is theirs
WHEEL_TALL = 72.0  # dp: a choice that high is a wheel
ANSWERS = 4  # dialogs answered one after the other, at most
EDGE, INWARDS = 1.3, 0.3  # of an item's height from the edge that is near; share of the container it is brought in by


@dataclass(frozen=True)
class Found:
    """A target that can be touched: its sighting, the point in dp, and the route to it in words (empty when it was just there)."""

    sighting: Sighting
    point: tuple[float, float]
    route: str = ""

    @property
    def element(self) -> Element:
        return self.sighting.element


@dataclass(frozen=True)
class Lost:
    """Why a target cannot be acted on. `element` is set when it was seen but not reachable."""

    reason: str
    element: Element | None = None


class Eye:
    """Looks at one device. `moment` is always the newest; `seen` is told of every new one."""

    def __init__(self, link: Link, clock: Clock, seen: Callable[[Moment], None], cancelled: Callable[[], bool]) -> None:
        self.link, self.clock = link, clock
        self._seen, self._cancelled = seen, cancelled
        self._moment: Moment | None = None
        self.unaided: Callable[[Target, Sequence[Portrait], bool], Found | None] = lambda target, portraits, read: None  # by the picture
        self.answer: Callable[[Moment], bool] = lambda moment: False  # standing answers: did one act?

    @property
    def moment(self) -> Moment:
        return self._moment if self._moment is not None else self.look()

    def look(self) -> Moment:
        """A fresh moment. Raises Cancelled when the user stopped the take."""
        if self._cancelled():
            raise Cancelled
        for _ in range(ANSWERS):
            self._moment = self.link.moment()
            self._seen(self._moment)
            if not self.answer(self._moment):
                break
        assert self._moment is not None
        return self._moment

    def pause(self) -> None:
        if self._cancelled():
            raise Cancelled
        self.clock.sleep(POLL_S)

    # finding

    def sight_now(self, target: Target, portraits: Sequence[Portrait], inside_portraits: Sequence[Portrait] = ()) -> Sighting | Unseen:
        """One look at the newest moment."""
        screen = self.moment.screen
        if screen is None:
            return Unseen(self.moment.trouble)
        return self.sight_in(screen, target, portraits, inside_portraits)

    @staticmethod
    def sight_in(
        screen: Screen, target: Target, portraits: Sequence[Portrait], inside_portraits: Sequence[Portrait] = ()
    ) -> Sighting | Unseen:
        inside: Element | None = None
        if target.inside is not None:
            holder = sight(screen, target.inside, roles_of(target.inside.role), inside_portraits)
            if isinstance(holder, Unseen):
                return Unseen(f"{target.inside.words()}: {holder.reason}", holder.ambiguous)
            inside = holder.element
        return sight(screen, target, roles_of(target.role), portraits, inside)

    def find(
        self,
        target: Target,
        portraits: Sequence[Portrait],
        patience: float,
        *,
        inside_portraits: Sequence[Portrait] = (),
        eager: bool = False,
        reachable: Callable[[Element], Reach] = reach,
    ) -> Found | Lost:
        """Look until the target can be touched or patience (seconds) ends. `eager`: scroll at once, for a step that says to.

        A target that is out of reach is scrolled to where its container scrolls; one that is not there is searched in its container.
        """
        deadline = self.clock.now() + patience
        calm_since, signature = self.clock.now(), self._signature()
        route = ""
        searched = False
        strokes = 0
        while True:
            found = self.sight_now(target, portraits, inside_portraits)
            lost: Lost
            if isinstance(found, Sighting):
                there = reachable(found.element)
                if there.point is not None:
                    return Found(found, there.point, route)
                lost = Lost(there.reason, found.element)
                if there.scroller is not None and strokes < MOST_STROKES:
                    strokes += 1
                    if self._scroll_towards(found.element, there.scroller):
                        route = "scrolled to it"
                        continue
            else:
                lost = Lost(found.reason)
                calm = self.clock.now() - calm_since >= CALM_S
                if not found.ambiguous and not searched and (eager or calm):
                    searched = True
                    seen = self.unaided(target, portraits, False)
                    if seen is not None:
                        return seen
                    holder = self._holder(target, portraits, inside_portraits)
                    if holder is not None and self._search(target, portraits, inside_portraits, holder):
                        route = "scrolled to it"
                        self._settle_in(target, portraits, inside_portraits)
                        continue
            if self.clock.now() >= deadline:
                unsure = isinstance(found, Sighting) or found.ambiguous
                return (None if unsure else self.unaided(target, portraits, True)) or lost
            self.pause()
            self.look()
            if self._signature() != signature:
                calm_since, signature, searched = self.clock.now(), self._signature(), False

    def _signature(self) -> object:
        screen = self.moment.screen
        return screen.signature if screen is not None else None

    # scrolling

    def scroll(self, scroller: Element, down: bool, share: float = STROKE) -> bool:
        """One stroke within the container's clear part; did anything move? `down` brings up what is below."""
        area = visible(scroller).clipped(clear_area(scroller.screen))
        length = area.height * share * (-1 if down else 1)
        x, y = _clear_start(scroller.screen, area, length)
        before = self._signature()
        self.link.touch([drag(x, y, x, y + length)])
        self.look()
        return self._signature() != before

    def _scroll_towards(self, element: Element, scroller: Element) -> bool:
        area = visible(scroller).clipped(clear_area(scroller.screen))
        box = element.box
        below = (box.top + box.bottom) / 2 > (area.top + area.bottom) / 2
        away = box.bottom - area.bottom if below else area.top - box.top
        share = min(STROKE, max(0.12, (away + box.height + 24) / max(1.0, area.height)))
        return self.scroll(scroller, below, share)

    def _search(self, target: Target, portraits: Sequence[Portrait], inside_portraits: Sequence[Portrait], holder: Element) -> bool:
        """Scroll a container to its end and then to its beginning until the target is in sight."""
        for down in (True, False):
            for _ in range(MOST_STROKES):
                screen = self.moment.screen
                current = self._same(holder, screen.element(holder.row) if screen and holder.row < len(screen) else None)
                if current is None or not self.scroll(current, down):
                    break
                if isinstance(self.sight_now(target, portraits, inside_portraits), Sighting):
                    return True
        return False

    def _settle_in(self, target: Target, portraits: Sequence[Portrait], inside_portraits: Sequence[Portrait]) -> None:
        """Bring what was found at the edge of its container further in: what stands next to it, perhaps its twin, is to be seen too."""
        found = self.sight_now(target, portraits, inside_portraits)
        scroller = scroller_of(found.element) if isinstance(found, Sighting) else None
        if isinstance(found, Sighting) and scroller is not None:
            area, box = visible(scroller).clipped(clear_area(scroller.screen)), found.element.box
            if area.bottom - box.bottom < box.height * EDGE:
                self.scroll(scroller, True, INWARDS)
            elif box.top - area.top < box.height * EDGE:
                self.scroll(scroller, False, INWARDS)

    @staticmethod
    def _same(holder: Element, now: Element | None) -> Element | None:
        return now if now is not None and now.role == holder.role and now.id == holder.id and now.has(Flag.SCROLLABLE) else None

    def _holder(self, target: Target, portraits: Sequence[Portrait], inside_portraits: Sequence[Portrait]) -> Element | None:
        """The container to search: the one the script names, the one it was recorded in, the only one that scrolls."""
        screen = self.moment.screen
        if screen is None:
            return None
        if target.inside is not None:
            holder = sight(screen, target.inside, roles_of(target.inside.role), inside_portraits)
            return holder.element if isinstance(holder, Sighting) and holder.element.has(Flag.SCROLLABLE) else None
        scrolling = [e for e in screen if e.has(Flag.SCROLLABLE)]
        for portrait in portraits:
            recorded = scroller_of(portrait.element)
            like = [e for e in scrolling if recorded is not None and (e.role, e.id) == (recorded.role, recorded.id)]
            if len(like) == 1:
                return like[0]
        return scrolling[0] if len(scrolling) == 1 else None


def _clear_start(screen: Screen, area: Box, length: float) -> tuple[float, float]:
    """Where a stroke of that length down may begin so that the container takes it: not on what is itself dragged."""
    room = max(0.0, area.height - abs(length))
    low = area.top + max(0.0, -length)
    across = (0.5, 0.3, 0.7, 0.15, 0.85)
    for share in (0.5, 0.35, 0.65, 0.2, 0.8, 0.05, 0.95):
        for place in across:
            x, y = area.left + place * area.width, low + share * room
            if not any(e.role in DRAGGED and (e.role != "combobox" or e.box.height >= WHEEL_TALL) for e in screen.at(x, y)):
                return x, y
    return area.centre[0], low + room / 2
