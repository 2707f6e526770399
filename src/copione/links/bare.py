"""What a look at a device takes by itself: time that is neither the app's nor the user's."""

from __future__ import annotations

AMONG = 9  # looks: what takes longer as a device or a computer gets busy is soon known, and soon forgotten


class ObservationOverhead:
    """Seconds that the last looks took at which nothing new was shown."""

    def __init__(self) -> None:
        self._seconds: list[float] = []

    def add(self, seconds: float) -> None:
        """Take in a look that showed nothing new, or came when nothing had been done."""
        self._seconds = [*self._seconds[1 - AMONG :], seconds]

    @property
    def longest(self) -> float:
        """Seconds that a look takes now; 0 before that is known.

        The longest of the last ones: what a busy computer adds, it adds to some looks and not to others.
        """
        return max(self._seconds, default=0.0)

    def own(self, since: float, there: float, acted: float) -> float:
        """Seconds that the app itself took to show what was done at `acted`, by a look from `since` that had it `there` (one clock)."""
        return max(0.0, there - acted - (self.longest or (there - since)))
