"""One finger that is put down on a device's glass, moved while a person moves it, and lifted when that person lifts theirs."""

from __future__ import annotations

from collections.abc import Sequence

from ..model.clock import Clock, SystemClock
from ..model.gesture import Contact
from ..touch.reading import read_contacts
from .link import HoldsFinger, Link

STEPS, STEP_S = 4, 0.02  # what was done before it was put down is made up for in so many moves
MOST = 6  # points of a way that are sent for one look
REST_S = 0.12  # between the last move and the lift, so that a slow release is one on the device too


class HeldFinger:
    """Used on the device's thread. Raises LinkError where the device does not take a finger in parts."""

    def __init__(self, link: Link, clock: Clock | None = None) -> None:
        self.link, self.clock = link, clock or SystemClock()
        self.is_down = False
        self._at = (0.0, 0.0)
        self._since = self._moved = 0.0

    def down(self, path: Sequence[tuple[float, float]]) -> None:
        """Where it began and went so far, dp."""
        self._at, self.is_down = path[0], False
        self.link.able(HoldsFinger).finger("down", *path[0])
        self.is_down = True
        self._since = self._moved = self.clock.now()
        for number in range(1, STEPS + 1):
            place = path[(len(path) - 1) * number // STEPS]
            if place != self._at:
                self.clock.sleep(STEP_S)
                self.move([place])

    def move(self, path: Sequence[tuple[float, float]]) -> None:
        """On this way, dp; some of its points do."""
        for number in range(min(MOST, len(path)), 0, -1):
            self._at = path[len(path) - 1 - (number - 1) * len(path) // MOST if len(path) > MOST else len(path) - number]
            self.link.able(HoldsFinger).finger("move", *self._at)
        self._moved = self.clock.now()

    def up(self, contact: Contact) -> None:
        """As the hand lifted: down for as long as its finger was, and no faster."""
        self.is_down = False
        if contact.end != self._at:
            self.move([contact.end])
        now = self.clock.now()
        slow = read_contacts([contact]).kind != "fling"
        self.clock.sleep(max(0.0, self._since + contact.seconds - now, self._moved + REST_S - now if slow else 0.0))
        self.link.able(HoldsFinger).finger("up", *contact.end)
