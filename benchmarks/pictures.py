"""Pictures alone: what is drawn on Hive Diary's pages on one phone, looked for on all others; the app knows where it really is."""

from __future__ import annotations

import random
import statistics
import sys
import time
from collections import Counter

import numpy as np
from rich.console import Console

from copione.model.geometry import Box
from copione.recognition.pictures import Picture, look_for, worth_a_look
from copione_lab.model import load_models
from copione_lab.phone import Phone

APP = "org.example.hive_diary"
PAGES = ("home", "hives", "hive", "form", "settings", "tasks", "rounds")
Shown = tuple[Picture, list[tuple[str, Box]]]


def pages(name: str) -> dict[str, Shown]:
    """Each page's picture, and what stands where in it: kind and words, and the box."""
    phone = Phone(next(m for m in load_models() if m.name == name))
    phone.launch(APP)
    app = phone._app(APP)
    app.hive = app.hives[2]
    found = {}
    for place in PAGES:
        app.go(place)
        phone._changed()
        frame = phone.frame()
        said = [(f"{n.kind} {n.desc or n.text}", Box(*n.seen)) for n in frame.page.walk() if (n.desc or n.text) and not n.seen.empty]
        found[place] = Picture(np.asarray(phone.picture())[:, :, ::-1].copy(), phone.model.density), said
    return found


def main() -> int:
    console = Console()
    home = pages("Alder 5")
    total: Counter[str] = Counter()
    times = []
    for name in (m.name for m in load_models()):
        there = pages(name)
        for place in PAGES:
            (picture, said), (other, heard) = home[place], there[place]
            for words, box in random.sample(said, min(12, len(said))):
                if not worth_a_look(box, *picture.size):
                    continue
                patch = picture.cut(box).inked()
                since = time.perf_counter()
                match = look_for(patch, other)
                times.append((time.perf_counter() - since) * 1000)
                if match is None or not match.sure:
                    total["not found"] += 1
                    continue
                places = [b for each, b in heard if each == words]
                right = any(b.contains(*match.box.centre) for b in places)
                kin = [b for each, b in heard if each.split()[0] == words.split()[0]]
                foreign = not places and any(b.contains(*match.box.centre) for b in kin)  # the same thing in another language
                total["found" if right or foreign else "wrong"] += 1
    console.print(f"Pictures on other models: {dict(total)}; {statistics.median(times):.0f} ms each, at most {max(times):.0f}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
