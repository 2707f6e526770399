"""Made-up pages as four kinds of trees, a fresh seed each run: targets found in changed copies, wrong picks, what a sighting costs."""

from __future__ import annotations

import argparse
import random
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable

from rich.console import Console
from rich.table import Table

from copione.model.portrait import Portrait, Sighting
from copione.model.screen import Element, Flag, Screen
from copione.model.target import Target
from copione.recognition.index import index
from copione.recognition.sighting import sight
from copione.screens.android import read_android

from .apps import ACTING, CHANGES, Page, Part, page, walk
from .trees import DPI, KINDS, dump

OTHERWISE = "built otherwise"


def read(shown: Page, kind: str, chance: random.Random) -> tuple[Screen, dict[int, int]]:
    data, rows = dump(shown, kind, chance)
    return read_android(data, shown.width * DPI // 160, shown.height * DPI // 160, DPI), rows


def counts(chance: random.Random, kind: str, change: str, tries: int, note: Callable[..., None] | None = None) -> Counter[str]:
    """found, missed, wrong, doubted, rightly unseen: of so many targets looked up on a changed copy of their page.

    For `OTHERWISE` the page was recorded as a tree of another kind, and any of the changes came over it.
    """
    total: Counter[str] = Counter()
    while total.total() < tries:
        home = page(chance, chance.choice((15, 40, 90)))
        recorded, at = read(home, chance.choice([k for k in KINDS if k != kind]) if change == OTHERWISE else kind, chance)
        shown = CHANGES[chance.choice(list(CHANGES)) if change == OTHERWISE else change](home, chance)
        there, places = read(shown, kind, chance)
        for part in walk(home.parts):
            if part.uid not in at or (part.kind not in ACTING and not part.words):
                continue
            found = sight(there, Target("", ""), (), (Portrait(recorded, at[part.uid]),))
            right = places.get(part.uid, -1)
            if isinstance(found, Sighting):
                fate = (
                    "found"
                    if found.element.row == right or (change == OTHERWISE and _same_touch(found.element, part, shown, places))
                    else "wrong"
                )
            else:
                fate = "rightly unseen" if right < 0 else "doubted" if part.uid in shown.doubted else "missed"
            total[fate] += 1
            if note is not None:
                note(fate, part, found, recorded.element(at[part.uid]), there.element(right) if right >= 0 else None)
    return total


def _same_touch(element: Element, part: Part, shown: Page, places: dict[int, int]) -> bool:
    """Does a touch there do what one on the part does? Words in a row of another kind of tree are the row, or the row its words."""
    if part.uid in places:
        return not element.has(Flag.CLICKABLE) and element.within(element.screen.element(places[part.uid]))
    row = next((row for row in walk(shown.parts) if row.kind == "row" and part.uid in {p.uid for p in row.children}), None)
    return row is not None and part.kind not in ACTING and places.get(row.uid) == element.row


def cost(size: int, seed: int) -> dict[str, float]:
    """Milliseconds of each part on a screen of about `size` elements: parsing the dump, the screen's index, one sighting."""
    chance = random.Random(seed)
    home = page(chance, size * 4 // 5)  # some parts are two elements
    data, rows = dump(home, "nested", chance)
    since = time.perf_counter()
    recorded = read_android(data, home.width * DPI // 160, home.height * DPI // 160, DPI)
    parsed = time.perf_counter() - since
    there, _ = read(CHANGES["rows moved"](CHANGES["words a little"](home, chance), chance), "nested", chance)
    since = time.perf_counter()
    index(recorded), index(there)
    indexed = time.perf_counter() - since
    parts = [p for p in walk(home.parts) if p.kind in ACTING]
    times = []
    for part in chance.sample(parts, 40):
        portrait = Portrait(recorded, rows[part.uid])
        times.append(_once(lambda portrait=portrait: sight(there, Target("", ""), (), (portrait,))))
    return {"elements": len(there), "parse": parsed * 1000, "index": indexed * 500, "sighting": statistics.median(times) * 1000}


def _once(act: Callable[[], object]) -> float:
    since = time.perf_counter()
    act()
    return time.perf_counter() - since


def main(tries: int = 200, seed: int | None = None) -> int:
    """The table by kind and by change; not 0 where anything was wrong."""
    console = Console()
    seed = random.randrange(1 << 30) if seed is None else seed
    chance = random.Random(seed)
    table = Table("", *KINDS, title=f"Found of what is there, and wrong ones (seed {seed})")
    whole: Counter[str] = Counter()
    for change in (*CHANGES, OTHERWISE):
        cells = []
        for kind in KINDS:
            total = counts(chance, kind, change, tries)
            whole += total
            share = total["found"] / max(1, total["found"] + total["missed"])
            cells.append(f"{share:.1%}, {total['wrong']} of {total.total()}")
        table.add_row(change, *cells)
    console.print(table)
    share = whole["found"] / max(1, whole["found"] + whole["missed"])
    console.print(f"{share:.1%} found, {whole['wrong']} wrong of {whole.total():,}: {dict(whole)}")
    for size in (2000, 10_000):
        facts = cost(size, seed)
        console.print(
            f"{facts['elements']:.0f} elements: parse {facts['parse']:.0f} ms, index once a screen {facts['index']:.1f} ms, "
            f"a sighting {facts['sighting']:.2f} ms"
        )
    return int(whole["wrong"] > 0)


if __name__ == "__main__":
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--tries", type=int, default=500, help="targets of each kind and change")
    asked.add_argument("--seed", type=int)
    sys.exit(main(**vars(asked.parse_args())))
