"""Made-up apps with a fresh seed each run: targets found on other devices and builds, wrong picks, and what a sighting costs."""

from __future__ import annotations

import random
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable

from rich.console import Console

from copione.cli.explain import element_at
from copione.model.portrait import Portrait, Sighting
from copione.model.screen import Screen
from copione.model.target import Target
from copione.recognition.index import index
from copione.recognition.sighting import sight
from copione.screens.android import read_android

from .apps import Page, dump, elsewhere, page, walk

PAGES = 60


def read(shown: Page) -> tuple[Screen, dict[int, tuple[int, int, int, int]]]:
    data, bounds = dump(shown)
    return read_android(data, shown.width, shown.height, shown.dpi), bounds


def counts(seed: int, ids: bool) -> Counter[str]:
    """found, missed, wrong and rightly unseen over pages whose parts are looked up on a changed copy; without `ids` neither has any."""
    chance = random.Random(seed)
    total: Counter[str] = Counter()
    for _ in range(PAGES):
        home = page(chance, chance.choice((15, 40, 90)))
        kept = elsewhere(home, random.Random(1), ids=ids, strength=0)
        recorded, bounds = read(Page(kept.parts, home.width, home.height, home.dpi))
        shown = elsewhere(home, chance, ids=ids)
        there, places = read(shown)
        for part in walk(home.parts):
            if not part.clickable:
                continue
            left, top, right, bottom = (v / (home.dpi / 160) for v in bounds[part.uid])
            element = element_at(recorded, (left + right) / 2, (top + bottom) / 2)
            assert element is not None
            found = sight(there, Target("", ""), (), (Portrait(recorded, element.row),))
            if isinstance(found, Sighting):
                box = tuple(round(v * shown.dpi / 160) for v in found.element.box)
                total["found" if places.get(part.uid) == box else "wrong"] += 1
            else:
                total["missed" if part.uid in places else "rightly unseen"] += 1
    return total


def cost(size: int, seed: int) -> dict[str, float]:
    """Milliseconds of each part on a screen of about `size` elements: parsing the dump, the screen's index, one sighting."""
    chance = random.Random(seed)
    home = page(chance, size)
    data, bounds = dump(home)
    since = time.perf_counter()
    recorded = read_android(data, home.width, home.height, home.dpi)
    parsed = time.perf_counter() - since
    there, _ = read(elsewhere(home, chance, strength=0.3))
    since = time.perf_counter()
    index(recorded), index(there)
    indexed = time.perf_counter() - since
    parts = [p for p in walk(home.parts) if p.clickable]
    times = []
    for part in chance.sample(parts, 40):
        left, top, right, bottom = (v / (home.dpi / 160) for v in bounds[part.uid])
        element = element_at(recorded, (left + right) / 2, (top + bottom) / 2)
        assert element is not None
        portrait = Portrait(recorded, element.row)
        times.append(_once(lambda portrait=portrait: sight(there, Target("", ""), (), (portrait,))))
    return {"elements": len(there), "parse": parsed * 1000, "index": indexed * 500, "sighting": statistics.median(times) * 1000}


def _once(act: Callable[[], object]) -> float:
    since = time.perf_counter()
    act()
    return time.perf_counter() - since


def main() -> int:
    console = Console()
    seed = random.randrange(1 << 30)
    for ids in (True, False):
        total = counts(seed, ids)
        share = total["found"] / max(1, total["found"] + total["missed"])
        console.print(
            f"{'With' if ids else 'Without'} ids (seed {seed}): {share:.1%} found, {total['wrong']} wrong of {total.total()}: {dict(total)}"
        )
    for size in (2000, 10_000):
        facts = cost(size, seed)
        console.print(
            f"{facts['elements']:.0f} elements: parse {facts['parse']:.0f} ms, index once a screen {facts['index']:.1f} ms, "
            f"a sighting {facts['sighting']:.2f} ms"
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
