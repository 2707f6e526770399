"""`python -m benchmarks.heights [EVERY]`: pages in windows of 300 heights, 8 widths and 3 sizes of text, scrolled anywhere, the keyboard up
now and then: whatever is found for a target is what the recorded one is. Told by what the touch would reach. `EVERY` 10 takes each
tenth height.
"""

from __future__ import annotations

import multiprocessing
import random
import sys
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

from rich.console import Console
from rich.table import Table

from copione.model.portrait import Portrait, Sighting
from copione.model.roles import roles_of
from copione.model.screen import Flag, Screen
from copione.model.target import Target
from copione.recognition.evidence import visible
from copione.recognition.reach import clear_area, reach
from copione.recognition.sighting import sight
from copione.replay.displacement import containers
from copione.replay.scrolling import clear_start
from copione.screens.android import read_android
from copione_lab.model import Model, load_models
from copione_lab.phone import Phone
from copione_lab.toolkit.fingers import hit
from copione_lab.toolkit.node import Node

APP = "org.example.hive_diary"
PAGES = ("home", "hives", "hive", "form", "settings", "tasks", "rounds")
KINDS = ("views", "flat", "merged", "page")
WIDTHS, TEXTS = (280, 320, 360, 412, 480, 600, 800, 1280), (1.0, 1.3, 2.0)
HEIGHTS = range(420, 420 + 4 * 300, 4)
TAKING = frozenset({"wheel", "slider", "canvas", "switch"})  # what takes a stroke for itself
TALL = 3000  # dp of the window in which the targets are recorded: all of a page is on it


@dataclass(frozen=True)
class Meant:
    """A recorded target: its portrait, and what a touch on it reaches."""

    portrait: Portrait
    reached: str


def opened(place: str, model: Model) -> Phone:
    """A phone of that model on one of the app's pages."""
    phone = Phone(model)
    phone.launch(APP)
    app = phone._app(APP)
    app.hive = next(hive for hive in app.hives if hive.name == "Hive 7")
    app.go(place)
    phone._changed()
    return phone


def seen(phone: Phone) -> Screen:
    model = phone.model
    return read_android(phone.dump(), model.width_px, model.height_px, model.dpi)


def reached(phone: Phone, x: float, y: float) -> str:
    """What a touch there reaches: the words of the widget and of the row that it is in; empty for nothing."""
    node = hit(phone.frame().page, x, y)[0]
    if phone.frame().keys is not None and y >= phone.frame().keys.box.top:
        return "the keyboard"
    return "" if node is None else f"{node.id or node.desc or node.text} of {_row(phone.frame().page, node)}"


def _row(page: Node, node: Node) -> str:
    """The key or the words of what repeats around a widget."""
    way = _way(page, node)
    row = next((each for each in way if each.key), node)
    return row.key if row is not node and row.kind not in ("scroll", "list") else ""


def _way(page: Node, node: Node) -> list[Node]:
    for child in page.children:
        if child is node:
            return [node]
        found = _way(child, node)
        if found:
            return [*found, child]
    return []


def recorded(place: str, model: Model) -> list[Meant]:
    """All that takes touches on a page, as it is recorded in a window that shows it whole."""
    phone = opened(place, replace(model, height_px=TALL * 2))
    screen = seen(phone)
    found = []
    for element in screen:
        if element.has(Flag.CLICKABLE) and element.name and (there := reached(phone, *element.box.centre)):
            found.append(Meant(Portrait(screen, element.row), there))
    return found


def windows(place: str, kind: str, model: Model, every: int, chance: random.Random) -> Iterator[Phone]:
    """The page in one window after the other."""
    for width in WIDTHS:
        for text in TEXTS:
            for height in HEIGHTS[chance.randrange(every) :: every]:
                phone = opened(place, replace(model, toolkit=kind, width_px=2 * width, height_px=2 * height, text_scale=text))
                for node in phone.frame().page.walk():
                    if node.on_text and chance.random() < 0.3:
                        phone.focus(node.key)
                        break
                for node in list(phone.frame().page.walk()):
                    if node.reach > 0 and chance.random() < 0.7:
                        phone._offsets.here[node.key] = chance.uniform(0.0, node.reach)
                phone._changed()
                yield phone


def wrong(place: str, kind: str, model: Model, every: int, seed: int) -> tuple[Counter[str], Counter[str]]:
    """How all look-ups of a kind ended, and the wrong ones in words."""
    meant, chance = recorded(place, model), random.Random(f"{seed} {kind} {place}")
    counts, told = Counter[str](), Counter[str]()
    for phone in windows(place, kind, model, every, chance):
        screen = seen(phone)
        for each in meant:
            known = each.portrait.element
            found = sight(screen, Target(known.role, known.name), roles_of(known.role), (each.portrait,))
            point = reach(found.element).point if isinstance(found, Sighting) else None
            if not isinstance(found, Sighting) or point is None:
                counts["not found" if not isinstance(found, Sighting) else "out of reach"] += 1
                continue
            there = reached(phone, *point)
            counts["right" if there == each.reached else "wrong"] += 1
            if there != each.reached:
                told[f"{place}, {kind}: {known.called} -> {there}, by {found.by[0].value} {found.weaker}"] += 1
    return counts, told


def strokes(model: Model, every: int, chance: random.Random) -> tuple[Counter[str], Counter[str]]:
    """Where strokes begin that scroll each container of the form, with wheels on it, either way: what would take them."""
    counts, told = Counter[str](), Counter[str]()
    for phone in windows("form", "views", replace(model, choice="wheel", date="wheels"), every, chance):
        screen = seen(phone)
        for holder in containers(screen):
            area = visible(holder).clipped(clear_area(screen))
            for share in (-0.55, -0.2, 0.2, 0.55):
                start = clear_start(holder, area, share * area.height)
                if start is None:
                    counts["no place"] += 1
                    continue
                node = hit(phone.frame().page, *start)[0]
                takes = node is not None and node.kind in TAKING
                counts["wrong" if takes else "right"] += 1
                if takes and node is not None:
                    told[f"a stroke on {node.kind} {node.id}"] += 1
    return counts, told


def main(every: int = 1) -> int:
    """The table; not 0 where anything wrong was found. A page of a kind at a time on each processor."""
    seed = random.SystemRandom().randrange(10**6)
    model = next(model for model in load_models() if model.name == "Alder 5")
    table = Table("", "right", "not found", "out of reach", "wrong", title="Look-ups", header_style="bold")
    total, console = Counter[str](), Console(width=160)
    with ProcessPoolExecutor(mp_context=multiprocessing.get_context("spawn")) as pool:
        on_strokes = pool.submit(strokes, model, every, random.Random(f"{seed} strokes"))
        looked_up = {kind: [pool.submit(wrong, place, kind, model, every, seed) for place in PAGES] for kind in KINDS}
        for kind, jobs in looked_up.items():
            counts = Counter[str]()
            for found, told in (job.result() for job in jobs):
                counts += found
                for words, many in told.most_common(20):
                    console.print(f"{many} times {words}", markup=False)
            table.add_row(kind, *(str(counts[fate]) for fate in ("right", "not found", "out of reach", "wrong")))
            console.print(f"{kind}: {dict(counts)}", markup=False)
            total += counts
        counts, told = on_strokes.result()
    total["wrong"] += counts["wrong"]
    console.print(table)
    console.print(f"seed {seed}; strokes: {dict(counts)} {dict(told)}", markup=False)
    return int(total["wrong"] > 0)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:2])))
