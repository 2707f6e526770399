"""`python -m benchmarks.pages [--pages N] [--seed S] [--engine WORD]`: pages made at random of what CSS can do; is read what is painted?

Parts stand in one another: placed, fixed, sticky, moved, clipped, faint, in shadow roots, slots, frames, dialogs, popovers, rows and
grids. Each leaf has a name and a colour of its own, so the picture tells what is painted on top, and the page itself what a finger hits.
Every leaf that is painted has to be read once, by its name; over every colour the topmost element has to be its leaf; and a
leaf that is said to be in reach has to be hit.
"""

from __future__ import annotations

import argparse
import io
import random
import sys
import tempfile
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from PIL import Image

from copione.links.browser.engines import ENGINES, installed
from copione.links.browser.kept import BrowserSpec
from copione.links.browser.link import BrowserLink
from copione.model.errors import CopioneError
from copione.model.screen import Screen
from copione.recognition.reach import reach
from copione_lab.kiln_book.serving import Served

BAR = 0.999
SIZE = (412, 800)
DEEPEST = 4
SEEN_PX = 120  # of a leaf's colour, from which on it counts as painted
NEAR = 6  # of 255: how far a colour may be off in the picture
HOLDERS = frozenset({"dialog", "list", "listitem"})  # are called by what they hold
EDGE_PX = 2  # so near to a point another colour says that it lies at an edge
GRID = 14  # points each way at which what is on top is asked
_HIT = """const view = window.visualViewport;
let root = document, found = null, x = arguments[0] / view.scale + view.offsetLeft, y = arguments[1] / view.scale + view.offsetTop;
for (let i = 0; i < 16; i++) {
  const next = root.elementFromPoint(x, y);
  if (!next || next === found) break;
  found = next;
  if (found.shadowRoot) root = found.shadowRoot;
  else if (found.tagName === "IFRAME") {
    const r = found.getBoundingClientRect();
    x -= r.left + found.clientLeft; y -= r.top + found.clientTop; root = found.contentDocument;
  }
  else break;
}
for (let here = found; here; here = here.parentNode || here.host) if (here.dataset && here.dataset.n) return here.dataset.n;
return "";"""


@dataclass
class Maker:
    """Makes one page. `leaves`: the colour of each by its name."""

    chance: random.Random
    leaves: dict[str, tuple[int, int, int]] = field(default_factory=dict)
    frames: list[str] = field(default_factory=list)

    def page(self) -> str:
        body = "".join(self.part(0) for _ in range(self.chance.randint(2, 4)))
        if self.chance.random() < 0.15:
            body += f'<dialog id="d" style="width:200px;padding:6px">{self.leaf()}{self.leaf()}</dialog><script>d.showModal()</script>'
        elif self.chance.random() < 0.15:
            body += f'<div id="v" popover style="width:200px;padding:4px">{self.leaf()}</div>'
            body += "<script>v.showPopover && v.showPopover()</script>"
        return f"{HEAD}<style>{STYLE}</style>{SHADOW}{body}"

    def leaf(self) -> str:
        number = len(self.leaves) + 1
        name = f"Leaf {number}"
        colour = (8 * (number % 32), 8 * (number // 32 % 32), 8 * self.chance.randrange(8, 28))
        self.leaves[name] = colour
        style = f"background:rgb{colour};width:{self.chance.randint(50, 130)}px"
        tag = self.chance.choice(("button", "button", 'div role="button" tabindex="0"', "p"))
        return f'<{tag} class="l" data-n="{name}" style="{style}">{name}</{tag.split()[0]}>'

    def part(self, depth: int) -> str:
        if depth >= DEEPEST or self.chance.random() < 0.25:
            return self.leaf()
        inside = "".join(self.part(depth + 1) for _ in range(self.chance.randint(1, 3)))
        kind = self.chance.random()
        if kind < 0.08:
            return f"<x-part>{inside}</x-part>"
        if kind < 0.13 and depth < 2:
            within = f"<style>{STYLE}</style>{self.leaf()}{self.leaf()}".replace('"', "&quot;")
            size = f"width:{self.chance.randint(80, 200)}px;height:70px;border:2px solid #888"
            return f'<iframe srcdoc="{within}" style="{size}"></iframe>{inside}'
        return f'<div style="{self.style()}">{inside}</div>'

    def style(self) -> str:
        pick, some = self.chance.choice, self.chance.random
        said = []
        position = pick(("static", "static", "relative", "relative", "absolute", "fixed", "sticky"))
        if position != "static":
            said.append(f"position:{position}")
            if position != "sticky":
                said.append(f"left:{pick((0, 10, 40, 90))}px;top:{pick((0, 8, 20, 60, 160))}px")
            else:
                said.append("top:4px")
        if some() < 0.45:
            said.append(f"z-index:{pick((-1, 0, 0, 1, 2, 5))}")
        if some() < 0.2:
            said.append(pick(("transform:translate(6px,9px)", "transform:scale(1.1)", "will-change:transform", "translate:4px 4px")))
        if some() < 0.15:
            said.append(pick(("opacity:.999", "isolation:isolate", "filter:brightness(1)", "contain:layout")))
        if some() < 0.2 and position != "sticky":  # WebKit paints what is fixed in such a one cut off, and hits it whole
            said.append(f"overflow:{pick(('hidden', 'auto'))};height:{pick((40, 70, 120))}px;width:{pick((90, 160, 240))}px")
        if some() < 0.2:
            said.append(f"display:{pick(('flex', 'grid'))}")
        if some() < 0.06:
            said.append("writing-mode:vertical-rl")
        if some() < 0.2:
            said.append("margin-top:-14px")
        if some() < 0.1:
            said.append("background:#fff;padding:4px")
        return ";".join(said)


HEAD = '<!doctype html><meta charset="utf-8"><meta name="viewport" content="width=device-width">'
STYLE = "body{margin:6px;font:9px sans-serif} dialog::backdrop{background:transparent} "
STYLE += ".l{display:block;height:26px;margin:2px;padding:0;border:0;color:transparent}"
SHADOW = """<script>customElements.define("x-part", class extends HTMLElement { connectedCallback() {
  const inside = '<div style="position:relative;z-index:1"><slot></slot></div><slot name="no"></slot>';
  this.attachShadow({mode: "open"}).innerHTML = inside;
} });</script>"""


@dataclass
class Sheet:
    """What was asked, and what was answered wrongly, in words."""

    asked: Counter[str] = field(default_factory=Counter)
    wrong: Counter[str] = field(default_factory=Counter)
    told: list[str] = field(default_factory=list)

    def ask(self, what: str, right: bool, words: str) -> None:
        self.asked[what] += 1
        if not right:
            self.wrong[what] += 1
            self.told.append(f"{what}: {words}")


def top_leaf(screen: Screen, leaves: dict[str, tuple[int, int, int]], x: float, y: float) -> str:
    """The leaf that is on top at a point as it was read: what has no name may be seen through."""
    return next((e.name for e in screen.at(x, y) if e.name in leaves and e.role not in HOLDERS), "")


def judge(sheet: Sheet, link: BrowserLink, maker: Maker, where: str) -> None:
    moment = link.moment()
    screen = moment.screen
    if screen is None:
        sheet.ask("read", False, f"{where}: {moment.trouble}")
        return
    pixels = np.asarray(Image.open(io.BytesIO(moment.png)).convert("RGB")).astype(np.int16)
    ratio = pixels.shape[1] / screen.width
    names = Counter(e.name for e in screen if e.name in maker.leaves and e.role not in HOLDERS)
    colours = np.array(list(maker.leaves.values()), np.int16)
    which = list(maker.leaves)
    for name, colour in maker.leaves.items():
        count = int((np.abs(pixels - np.array(colour, np.int16)).max(axis=2) <= NEAR).sum() / ratio**2)
        if count >= SEEN_PX:
            sheet.ask("once", names[name] == 1, f"{where}: {name} is painted and read {names[name]} times")
        elif names[name] > 1:
            sheet.ask("once", False, f"{where}: {name} is read {names[name]} times")
    for i in range(GRID):
        for j in range(GRID):
            x, y = (i + 0.5) * screen.width / GRID, (j + 0.5) * screen.height / GRID
            row, column = int(y * ratio), int(x * ratio)
            around = pixels[max(0, row - EDGE_PX) : row + EDGE_PX + 1, max(0, column - EDGE_PX) : column + EDGE_PX + 1].reshape(-1, 3)
            off = np.abs(colours - around[len(around) // 2]).max(axis=1)
            if off.min() > NEAR or (np.abs(around - around[0]).max() > 0):
                continue  # what is no leaf, or lies at the edge of one
            name, read = which[int(off.argmin())], top_leaf(screen, maker.leaves, x, y)
            sheet.ask("on top", read == name, f"{where}: at {x:.0f},{y:.0f} {name} is painted, and “{read}” read on top")
    for element in screen:
        if element.name in maker.leaves and element.role == "button" and (there := reach(element)).point is not None:
            hit = link.tab.run(_HIT, *there.point)
            sheet.ask("hit", hit == element.name, f"{where}: {element.name} is in reach, and “{hit}” is hit")


def run(word: str, pages: int, seed: int) -> Sheet:
    sheet = Sheet()
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder))
        link = BrowserLink(BrowserSpec("Pages", word, *SIZE))
        try:
            for number in range(pages):
                maker = Maker(random.Random(seed + number))
                (Path(folder) / "index.html").write_text(maker.page(), "utf-8")
                try:
                    link.launch(served.url) if number == 0 else link.open(served.url)
                    judge(sheet, link, maker, f"{word} {seed + number}")
                except CopioneError as error:
                    sheet.ask("read", False, f"{word} {seed + number}: {error.sentence}")
        finally:
            link.close()
            served.close()
    return sheet


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--pages", type=int, default=2000)
    given.add_argument("--seed", type=int, default=random.SystemRandom().randrange(1 << 30))
    given.add_argument("--engine", choices=sorted(ENGINES))
    options = given.parse_args()
    print(f"seed {options.seed}", flush=True)
    good = True
    for word, engine in ENGINES.items():
        if installed(engine).missing or options.engine not in (None, word):
            continue
        sheet = run(word, options.pages, options.seed)
        for line in sheet.told:
            print(f"  {line}")
        asked, wrong = sum(sheet.asked.values()), sum(sheet.wrong.values())
        share = 1 - wrong / max(1, asked)
        counts = f"{dict(sheet.asked)} asked, {dict(sheet.wrong)} wrong"
        print(f"{word}: {options.pages} pages, {counts}: {share:.4%} right (bar {BAR:.1%})", flush=True)
        good = good and share >= BAR
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
