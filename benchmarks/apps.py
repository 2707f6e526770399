"""Made-up apps as tree dumps, and the same page as another device has it: the truth is known, so finding and erring can be counted."""

from __future__ import annotations

import random
from dataclasses import dataclass, field, replace
from xml.sax.saxutils import quoteattr

WORDS = """
amber anchor barley basil birch bramble brook candle cedar chalk cherry cinder clover copper coral cotton crane dawn
drift ember fennel fern flint garnet ginger hazel heron ivory jasper juniper kettle lantern larch lilac linen maple
marble meadow mint moss nettle oak ochre olive onyx orchid otter pebble pepper pine plum poppy quartz quill raven reed
ridge river rowan rust saffron sage sandal shell slate sorrel spruce stone sugar tallow thistle timber topaz tulip
velvet violet walnut willow wren yarrow
""".split()  # noqa: SIM905
KINDS = ("Button", "TextView", "EditText", "Switch", "ImageView", "CheckBox", "SeekBar")


@dataclass
class Part:
    """One element: `uid` is its identity across variants."""

    uid: int
    kind: str
    text: str = ""
    desc: str = ""
    id: str = ""
    clickable: bool = False
    children: list[Part] = field(default_factory=list)


@dataclass
class Page:
    parts: list[Part]
    width: int
    height: int
    dpi: int


def phrase(chance: random.Random, least: int = 2, most: int = 3) -> str:
    return " ".join(chance.choice(WORDS) for _ in range(chance.randint(least, most))).capitalize()


def page(chance: random.Random, size: int = 40) -> Page:
    """A page of about so many elements: rows of controls with captions, a list of items, pairs of lookalikes."""
    parts: list[Part] = []
    uid = iter(range(1, 1_000_000))
    while sum(_count(p) for p in parts) < size * 0.6:
        form = chance.choice(("button", "captioned", "switch", "icon", "text", "lookalikes"))
        if form == "button":
            parts.append(Part(next(uid), "Button", phrase(chance), id=_id(chance), clickable=True))
        elif form == "captioned":
            words = phrase(chance)
            parts.append(Part(next(uid), "TextView", words))
            parts.append(Part(next(uid), chance.choice(("EditText", "SeekBar")), id=_id(chance), clickable=True))
        elif form == "switch":
            row = [Part(next(uid), "TextView", phrase(chance)), Part(next(uid), "Switch", id=_id(chance), clickable=True)]
            parts.append(Part(next(uid), "LinearLayout", children=row))
        elif form == "icon":
            parts.append(Part(next(uid), "ImageView", desc=phrase(chance), id=_id(chance), clickable=True))
        elif form == "lookalikes":
            same, shared = phrase(chance, 1, 1), _id(chance)
            for _ in range(2):
                row = [Part(next(uid), "TextView", phrase(chance)), Part(next(uid), "Button", same, id=shared, clickable=True)]
                parts.append(Part(next(uid), "LinearLayout", children=row))
        else:
            parts.append(Part(next(uid), "TextView", phrase(chance, 2, 6), id=_id(chance)))
    items = []
    while sum(_count(p) for p in parts) + sum(map(_count, items)) < size:
        words = [Part(next(uid), "TextView", phrase(chance), id="title"), Part(next(uid), "TextView", phrase(chance, 2, 4), id="subtitle")]
        items.append(Part(next(uid), "LinearLayout", id="row", clickable=True, children=words))
    parts.append(Part(next(uid), "RecyclerView", id="list", children=items))
    return Page(parts, 1080, 2340, 420)


def _id(chance: random.Random) -> str:
    return "_".join(chance.choice(WORDS) for _ in range(2)) if chance.random() < 0.8 else ""


def _count(part: Part) -> int:
    return 1 + sum(_count(child) for child in part.children)


def walk(parts: list[Part]):
    for part in parts:
        yield part
        yield from walk(part.children)


def elsewhere(home: Page, chance: random.Random, *, ids: bool = True, strength: float = 1.0, gone: int = 0) -> Page:
    """The same page on another device, in another build: its size, some words, some ids, the order of the list, parts more or less.

    Without `ids` none is left. The part whose uid is `gone` is not there any more.
    """

    def likely(share: float) -> bool:
        return chance.random() < share * strength

    def changed(part: Part) -> Part | None:
        if part.uid == gone or (likely(0.04) and not part.clickable):
            return None
        words = part.text
        if words and likely(0.08):
            words = f"{words} {chance.choice(WORDS)}" if likely(0.5) else phrase(chance)
        kept = part.id if ids else ""
        if kept and likely(0.08):
            kept = _id(chance)
        children = [c for c in map(changed, part.children) if c is not None]
        if part.kind == "RecyclerView" and likely(0.6):
            chance.shuffle(children)
        return replace(part, text=words, id=kept, children=children)

    parts = [p for p in map(changed, home.parts) if p is not None]
    if likely(0.5):
        at = chance.randrange(len(parts))
        parts.insert(at, Part(-1, "Button", phrase(chance), id=_id(chance) if ids else "", clickable=True))
    if likely(0.3) and len(parts) > 3:
        parts.insert(chance.randrange(len(parts) - 1), parts.pop(chance.randrange(len(parts) - 1)))
    width, height, dpi = chance.choice(((720, 1480, 320), (1080, 2340, 420), (1440, 3120, 560), (1600, 2560, 320)))
    return Page(parts, width, height, dpi)


def dump(shown: Page) -> tuple[bytes, dict[int, tuple[int, int, int, int]]]:
    """The page as `uiautomator dump` prints it, and the bounds of each part by its uid."""
    bounds: dict[int, tuple[int, int, int, int]] = {}
    k = shown.dpi / 160
    lines = ['<?xml version="1.0" encoding="UTF-8"?><hierarchy rotation="0">']
    lines.append(_open("FrameLayout", "", "", "", False, (0, 0, shown.width, shown.height)))

    def place(part: Part, left: int, top: int, right: int) -> int:
        start = len(lines)
        lines.append("")
        y = top
        if part.kind == "LinearLayout" and not part.clickable:
            middle = left + (right - left) * 2 // 3
            ends = [place(c, left if i == 0 else middle, top, middle if i == 0 else right) for i, c in enumerate(part.children)]
            y = max(ends, default=top)
        else:
            for child in part.children:
                y = place(child, left + round(8 * k), y, right - round(8 * k))
        tall = {"TextView": 20, "Button": 48, "ImageView": 48, "EditText": 48}.get(part.kind, 40)
        bottom = max(y, top + round(tall * k)) + (round(8 * k) if part.children else 0)
        bounds[part.uid] = (left, top, right, bottom)
        lines[start] = _open(part.kind, part.text, part.desc, part.id, part.clickable, bounds[part.uid])
        lines.append("</node>")
        return bottom + round(4 * k)

    y = round(80 * k)
    for part in shown.parts:
        y = place(part, round(16 * k), y, shown.width - round(16 * k))
    lines.append("</node></hierarchy>")
    return "".join(lines).encode(), bounds


def _open(kind: str, text: str, desc: str, id: str, clickable: bool, box: tuple[int, int, int, int]) -> str:
    package = "androidx.recyclerview.widget." if kind == "RecyclerView" else "android.widget."
    left, top, right, bottom = box
    tap = str(clickable).lower()
    resource = f"org.example.made_up:id/{id}" if id else ""
    checks = str(kind in {"Switch", "CheckBox"}).lower()
    return (
        f'<node index="0" text={quoteattr(text)} resource-id="{resource}" class="{package}{kind}" package="org.example.made_up" '
        f'content-desc={quoteattr(desc)} checkable="{checks}" checked="false" clickable="{tap}" enabled="true" '
        f'focusable="{tap}" focused="false" scrollable="{str(kind == "RecyclerView").lower()}" '
        f'long-clickable="false" password="false" selected="false" '
        f'bounds="[{left},{top}][{right},{bottom}]">'
    )
