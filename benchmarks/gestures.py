"""Made-up hands with a fresh seed each run: how many gestures are read as they were meant, and how fast."""

from __future__ import annotations

import random
import sys
import time
from collections import Counter

from rich.console import Console
from rich.table import Table
from tests.touch.hands import KINDS, Finger, made, noisy, printed

from copione.touch.panel import parse_events, tracks
from copione.touch.reading import read_tracks

COUNT = 5000
RATES, DENSITIES = (60, 90, 120, 240), (2.0, 2.625, 3.0, 3.5)


def confusion(seed: int) -> Counter[tuple[str, str]]:
    """How often each kind was read as which; panels of several rates and densities, jitter of 0.4-1.6 dp, samples lost."""
    chance = random.Random(seed)
    found: Counter[tuple[str, str]] = Counter()
    for i in range(COUNT):
        kind, density = KINDS[i % len(KINDS)], chance.choice(DENSITIES)
        fingers = noisy(made(kind, chance, 100.0), chance, chance.choice(RATES), chance.uniform(0.4, 1.6), chance.uniform(0.0, 0.15))
        read = read_tracks(tracks(parse_events(printed(fingers, density).encode()), 1 / density, 1 / density))
        found[kind, " and ".join(g.kind for g in read) or "nothing"] += 1
    return found


def stream_speed(chance: random.Random) -> tuple[float, float]:
    """Times real time at which ten fingers at 240 Hz are decoded and classified; and gestures a second out of one log of many."""
    seconds = 10.0
    ten = [
        Finger([(9 + j / 240, 30 + i * 35 + chance.random(), 400 + i * 10 + 20 * ((j + i) % 7)) for j in range(2400)], 19.1)
        for i in range(10)
    ]
    fingers, at, count = [], 100.0, 600
    for i in range(count):
        more = noisy(made(KINDS[i % len(KINDS)], chance, at), chance, 120)
        fingers += more
        at = max(f.lift for f in more) + 0.6
    return seconds / _best(printed(ten, 2.0).encode()), count / _best(printed(fingers, 2.0).encode())


def _best(log: bytes) -> float:
    times = []
    for _ in range(5):
        since = time.perf_counter()
        read_tracks(tracks(parse_events(log), 0.5, 0.5))
        times.append(time.perf_counter() - since)
    return min(times)


def main() -> int:
    console = Console()
    seed = random.randrange(1 << 30)
    found = confusion(seed)
    right = sum(n for (kind, read), n in found.items() if kind == read)
    table = Table("meant", "right", "read as something else", title=f"{right / COUNT:.2%} of {COUNT} gestures right (seed {seed})")
    for kind in KINDS:
        total = sum(n for (meant, _), n in found.items() if meant == kind)
        others = ", ".join(f"{n} {read}" for (meant, read), n in found.most_common() if meant == kind and read != kind)
        table.add_row(kind, f"{found[kind, kind]} of {total}", others)
    console.print(table)
    ten, many = stream_speed(random.Random(seed))
    console.print(f"Ten fingers at 240 Hz: {ten:.0f} times real time (bar 200). {many:.0f} gestures a second out of one log (bar 3,000).")
    return 0


if __name__ == "__main__":
    sys.exit(main())
