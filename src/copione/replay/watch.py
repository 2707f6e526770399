"""Looking at one device: the newest moment, and the one loop that looks again until something holds."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TypeVar

from ..links.bare import ObservationOverhead
from ..links.drawn import DrawnPages
from ..links.link import HasKeys, Link
from ..model.clock import Clock, ComputerShare
from ..model.errors import Cancelled
from ..model.gesture import Contact
from ..model.key import Key
from ..model.outcome import Cause
from ..model.screen import Element, Moment, Screen
from ..recognition.reach import reach
from ..recognition.text import Readings
from .displacement import Displacement
from .presence import FRESH_S, Presence, place_again

POLL_S = 0.15
GRACE_S, LOOKS_AT_LEAST = 2.0, 3  # what each part of a step may take where the step's own time is over; or so many looks
STROKE_DP = 12.0  # a finger that moves less taps
LOOKS = 2  # right before a touch: what passes is looked at again where the look itself took long
ANSWERS = 4  # dialogs answered one after the other, at most

IN_THE_WAY = frozenset({Cause.COVERED, Cause.UNDER_KEYBOARD})

T = TypeVar("T")


class ScreenWatch:
    """`keep` is told of every new moment and says under which stem it is kept; `cancelled` is asked before every look.

    `answer` may act on a moment (a standing answer to a dialog); when it did, the device is looked at again.
    """

    def __init__(self, link: Link, clock: Clock, keep: Callable[[Moment], str], cancelled: Callable[[], bool]) -> None:
        self.link, self.clock = link, clock
        self.stem = ""  # of the newest moment; empty before the first look
        self.answer: Callable[[Moment], bool] = lambda moment: False
        self._keep, self._cancelled = keep, cancelled
        self._moment: Moment | None = None
        self.presence, self.displacement, self.drawn = Presence(), Displacement(), DrawnPages()
        self.readings = Readings()  # of what is written on its pictures
        self._bare, self._share = ObservationOverhead(), ComputerShare()
        self._acted: tuple[float, object] | None = None  # when a finger was last lifted, and what was shown then; None once it has come
        self._held_up = 0.0  # seconds that the device had waited for this computer then
        self.took = 0.0  # seconds the app took at most to show what an act since `begin` caused, beyond what a bare look takes
        self.looks, self.strokes = 0, 0  # how often the device was looked at, and touched
        self._stroke = 0.0  # how far down a finger went since the newest look
        self._skipped = False  # back was pressed, or skipped, since something was last touched
        self.made_room = False  # the keyboard was closed for this step
        self.hindered = ""  # why the newest stroke was not made
        self.deadline = self._end = math.inf  # of the attempt under way, and of the step: nothing is searched past them
        self._allowed = 0.0  # seconds added to both so far
        self.mistakes: list[str] = []  # what strokes of this step changed besides what they scrolled, in words

    @property
    def moment(self) -> Moment:
        """The newest moment; the first look is taken when it is first asked for."""
        return self._moment if self._moment is not None else self.look()

    def look(self) -> Moment:
        """A fresh moment. Raises Cancelled when the user stopped the take, LinkError when the device gives none."""
        moment = self._look()
        for _ in range(ANSWERS - 1):
            if not self.answer(moment):
                break
            moment = self._look()
        return moment

    def _look(self) -> Moment:
        if self._cancelled():
            raise Cancelled
        since = self.clock.now()
        self.looks += 1
        taken = self.link.moment()
        there = self.clock.now() - taken.lag  # a large picture of a new page takes its time, which is not the app's
        with self._share.working():
            self._moment = self.drawn.told(taken)
            self._timed(since, there, self._moment)
            self._seen(self._moment.screen, max(since, there - self.bare))
        self.allow(self._share.lost())
        self.stem = self._keep(self._moment)
        return self._moment

    def _seen(self, screen: Screen | None, at: float) -> None:
        """A tree that was made at `at` or later."""
        before = self.presence.screen
        if screen is None or before is None or before.signature != screen.signature:
            self.displacement.seen(screen, self._stroke)
        self.presence.seen(screen, at)
        self._stroke = 0.0

    def touch(self, contacts: Sequence[Contact]) -> None:
        """Put fingers on the glass. Whatever a take touches goes through here; see `sure`."""
        self._stroke += sum(c.end[1] - c.begin[1] for c in contacts[:1])
        self.link.touch(contacts)
        self.strokes, self._skipped = self.strokes + 1, False
        if all(abs(c.end[0] - c.begin[0]) + abs(c.end[1] - c.begin[1]) < STROKE_DP for c in contacts):
            self.acted()

    def begin(self, patience: float) -> None:
        """Another step begins, for which there are so many seconds: what it takes is counted anew."""
        self.link.step_begins()
        self._end = self.clock.now() + patience
        self._share.lost()  # what was lost before this step does not count
        self.took, self._acted, self.hindered, self.mistakes, self.made_room = 0.0, None, "", [], False

    def acted(self) -> None:
        """Something has just been done, and is answered by the first look that shows something new. A stroke is not: it takes its time."""
        self._acted = (self.clock.now(), self._shown())
        self._held_up = self.link.held_up()

    @property
    def bare(self) -> float:
        """Seconds that a look takes on this device now, while nothing happens; 0 before that is known."""
        return self._bare.longest

    def _shown(self) -> object:
        screen = self._moment.screen if self._moment is not None else None
        return screen.signature if screen is not None else None

    def _timed(self, since: float, now: float, moment: Moment) -> None:
        """How long the app took, by a look that began at `since` and had its tree by `now`: until the first that shows something new."""
        changed = moment.screen is None or self._acted is None or moment.screen.signature != self._acted[1]
        if self._acted is None:
            self._bare.add(now - since)
        elif changed:
            waited = max(0.0, self.link.held_up() - self._held_up)
            self.took = max(self.took, self._bare.own(since, now, self._acted[0]) - waited)
            self._acted = None

    def sure(self, element: Element) -> bool:
        """Is an element of the newest moment still there to be touched? It is looked at once more where that is not certain.

        When it has gone, moved or changed, a fresh moment is taken.
        """
        if self.confirmed(element):
            return True
        self.look()
        return False

    def confirmed(self, element: Element) -> bool:
        """As `sure`, but no fresh moment is taken. What is known by its picture alone is taken as it was seen."""
        if self._moment is None or element.screen is not self._moment.screen or not self.presence.doubtful(element, self.clock.now()):
            return True
        for _ in range(LOOKS):
            if self._cancelled():
                raise Cancelled
            since = self.clock.now()
            fresh = self.drawn.told(self.link.moment()).screen if element.screen.read else self.link.glimpse().screen
            again = place_again(element, fresh) if fresh is not None else None
            if again is None or _came_between(element, again):
                return False
            self._seen(fresh, since)
            if self.clock.now() - since <= FRESH_S or not self.presence.passing(again):
                return True
        return True

    def close_keyboard(self) -> bool:
        """Close the keyboard by going back, if one is up and going back closes it here. Otherwise that would leave the page."""
        closes = self._moment is not None and self._shows_keyboard(self._moment.screen) and self.link.able(HasKeys).back_closes_keyboard
        if not closes or not self._shows_keyboard(self.link.glimpse().screen):
            return False
        self.link.able(HasKeys).press(Key.BACK)
        self.made_room = True
        return not self._shows_keyboard(self.look().screen)

    def skip_back(self) -> bool:
        """Skip this press of back? Once, while a keyboard is up that other devices would close with it; the next one counts."""
        skipped, self._skipped = self._skipped, True
        return not skipped and self._shows_keyboard(self.moment.screen) and not self.link.able(HasKeys).back_closes_keyboard

    @staticmethod
    def _shows_keyboard(screen: Screen | None) -> bool:
        return screen is not None and screen.keyboard is not None

    def pause(self) -> None:
        """Wait a little. Raises Cancelled."""
        if self._cancelled():
            raise Cancelled
        self.clock.sleep(POLL_S)

    def until(self, patience: float, attempt: Callable[[bool], T | None]) -> T:
        """Try on the newest moment, and again on every fresh one, until something is given, or patience (seconds) or the step ends.

        `attempt` is told whether it is the last time; then it has to give something.
        """
        outer, allowed, now = self.deadline, self._allowed, self.clock.now()
        self.deadline = min(now + patience, max(self._end, now + max(GRACE_S, LOOKS_AT_LEAST * self.bare)))
        try:
            while True:
                last = self.late
                found = attempt(last)
                if found is not None:
                    return found
                if last:
                    raise AssertionError("the last attempt has to give something")
                self.pause()
                self.look()
        finally:
            self.deadline = outer + self._allowed - allowed

    @property
    def late(self) -> bool:
        """Is the time of the attempt under way over?"""
        return self.clock.now() >= self.deadline

    @property
    def left(self) -> float:
        """Seconds that the step has left, at most a minute."""
        return min(60.0, max(0.0, self._end - self.clock.now()))

    def allow(self, seconds: float) -> None:
        """Something took time that is neither the app's nor the search's."""
        self.deadline, self._end, self._allowed = self.deadline + seconds, self._end + seconds, self._allowed + seconds

    @contextmanager
    def counting_at_most(self, seconds: float) -> Iterator[None]:
        """Of what is done inside, so many seconds count against the attempt and the step."""
        since, allowed = self.clock.now(), self._allowed
        yield
        self.allow(max(0.0, self.clock.now() - since - (self._allowed - allowed) - seconds))

    def signature(self) -> object:
        """Equal for two moments that show the same; None without a tree."""
        screen = self.moment.screen
        return screen.signature if screen is not None else None


def _came_between(then: Element, now: Element) -> bool:
    """Does something keep a finger from it now? What already lay over it was waited for."""
    before, there = reach(then), reach(now)
    return there.why is not None and there.why.cause in IN_THE_WAY and (there.point is None or there.why != before.why)
