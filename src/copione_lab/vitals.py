"""What an app costs a stand-in phone: figures that go up and down as a phone's do."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Set

from .model import Model

BASE_KB, KB_A_PIXEL = 62_000, 0.016
WOBBLE, PAGES_KB = 0.04, 9_000  # share by which memory differs from one look to the next; what caches come to
LEAK_KB, HEAVY = 4_000, 2.4  # of each touch that is never given back; times of what is usual
FRAME_S, LATE = 0.012, 0.03  # processor time of a frame, and the share of those that come late
TOUCHES_TO_FILL = 12  # until caches are full


class Vitals:
    """`faults`: `leak` and `heavy` among them."""

    def __init__(self, model: Model, faults: Set[str]) -> None:
        self.model, self.faults = model, faults
        self._chance = random.Random(model.serial)
        self._pids: dict[str, int] = {}
        self._frames: Counter[str] = Counter()
        self._touches: Counter[str] = Counter()
        self._bytes = [0, 0]

    def painted(self, package: str) -> None:
        self._frames[package] += 1

    def touched(self, package: str) -> None:
        self._touches[package] += 1
        self._bytes = [self._bytes[0] + 5_000, self._bytes[1] + 900]

    def started(self, package: str) -> None:
        self._pids.setdefault(package, 4000 + len(self._pids) + self._chance.randrange(20_000))

    def stopped(self, package: str) -> None:
        self._pids.pop(package, None)
        self._frames[package] = self._touches[package] = 0

    def pid(self, package: str) -> int | None:
        return self._pids.get(package)

    def package(self, pid: int) -> str:
        """Of a process; empty for none."""
        return next((package for package, each in self._pids.items() if each == pid), "")

    def memory_kb(self, package: str) -> int:
        own = BASE_KB + KB_A_PIXEL * self.model.width_px * self.model.height_px
        own *= HEAVY if "heavy" in self.faults else 1.0
        touches = self._touches[package]
        own += PAGES_KB * min(1.0, touches / TOUCHES_TO_FILL) + (LEAK_KB * touches if "leak" in self.faults else 0)
        return round(own * (1 + self._chance.uniform(-WOBBLE, WOBBLE)))

    def ticks(self, package: str) -> int:
        """Hundredths of a second of processor time."""
        return round(100 * FRAME_S * self._frames[package] * (HEAVY if "heavy" in self.faults else 1.0))

    def frames(self, package: str) -> tuple[int, int]:
        """Those that were drawn, and those that came late."""
        frames = self._frames[package] * 4
        return frames, round(frames * LATE * (5 if "heavy" in self.faults else 1))

    def network(self) -> tuple[int, int]:
        """Bytes in and out."""
        return self._bytes[0], self._bytes[1]

    def warmth(self) -> int:
        """Tenths of a degree."""
        return 290 + min(80, sum(self._frames.values()) // 40)
