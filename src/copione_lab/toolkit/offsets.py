"""How far what scrolls has been scrolled, and what still glides."""

from __future__ import annotations

from dataclasses import dataclass

GLIDE_S = 0.6  # a fling that runs out, at real pace


@dataclass
class _Glide:
    begin: float
    end: float
    since: float


class Offsets:
    """By the key of what scrolls, dp."""

    def __init__(self) -> None:
        self.here: dict[str, float] = {}
        self._glides: dict[str, _Glide] = {}

    @property
    def gliding(self) -> bool:
        """Does anything still move?"""
        return bool(self._glides)

    def clear(self) -> None:
        """Everything is at its beginning."""
        self.here.clear()

    def move(self, key: str, reach: float, distance: float, glide: float, now: float | None) -> bool:
        """Scroll by a distance, and on by `glide`: from `now` on, or at once where there is none. Does it glide now?"""
        self._glides.pop(key, None)
        there = min(reach, max(0.0, self.here.get(key, 0.0) + distance))
        end = min(reach, max(0.0, there + glide))
        if not glide or now is None:
            self.here[key] = end if glide else there
            return False
        self.here[key] = there
        self._glides[key] = _Glide(there, end, now)
        return True

    def glide_on(self, now: float) -> None:
        """What glides is where it is by now."""
        for key, glide in list(self._glides.items()):
            share = min(1.0, (now - glide.since) / GLIDE_S)
            self.here[key] = glide.begin + (glide.end - glide.begin) * (1 - (1 - share) ** 3)
            if share >= 1.0:
                del self._glides[key]
