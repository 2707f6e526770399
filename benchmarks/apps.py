"""Made-up pages and what becomes of them on another device, in another build: the truth is known, so finding and erring can be counted."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

WORDS = """
amber anchor barley basil birch bramble brook candle cedar chalk cherry cinder clover copper coral cotton crane dawn
drift ember fennel fern flint garnet ginger hazel heron ivory jasper juniper kettle lantern larch lilac linen maple
marble meadow mint moss nettle oak ochre olive onyx orchid otter pebble pepper pine plum poppy quartz quill raven reed
ridge river rowan rust saffron sage sandal shell slate sorrel spruce stone sugar tallow thistle timber topaz tulip
velvet violet walnut willow wren yarrow
""".split()  # noqa: SIM905
#: What a finger acts on.
ACTING = frozenset({"button", "icon", "field", "switch", "slider", "row", "action", "more", "thumb"})


@dataclass(frozen=True)
class Part:
    """One thing on a page: `uid` is its identity across variants, `words` what it says or is labelled or captioned with."""

    uid: int
    kind: str
    words: str = ""
    id: str = ""
    children: tuple[Part, ...] = ()


@dataclass(frozen=True)
class Page:
    """A page for a screen of so many dp. `doubted` are the uids of what a person would hesitate about, `copies` of what is a copy."""

    parts: tuple[Part, ...]
    width: int = 412
    height: int = 892
    doubted: frozenset[int] = frozenset()
    copies: frozenset[int] = frozenset()

    def flat(self) -> Iterator[Part]:
        """The parts of the page as they stand on it: sections are told by their headings alone."""
        for part in self.parts:
            yield from part.children if part.kind == "section" else (part,)


@dataclass
class Maker:
    """Makes parts with uids, and words that no other part has unless they are to be the same."""

    chance: random.Random
    uid: int = 0
    said: set[str] = field(default_factory=set)
    less: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.less.update(*map(_less, self.said))

    def part(self, kind: str, words: str = "", id: str = "", *children: Part) -> Part:
        self.uid += 1
        return Part(self.uid, kind, words, id, children)

    def phrase(self, least: int = 2, most: int = 3) -> str:
        """Words that nothing else says: `least` to `most` of them, more where all of those are taken."""
        while True:
            words = " ".join(self.chance.choice(WORDS) for _ in range(self.chance.randint(least, most))).capitalize()
            if words not in self.said and not self._nearly(words):
                self.said.add(words)
                self.less |= _less(words)
                return words
            most += len(self.said) > len(WORDS) // 2

    def _nearly(self, words: str) -> bool:
        """Is it what something else says and a word more, or less? Nobody could tell that from the same thing reworded."""
        return words in self.less or bool(_less(words) & self.said)

    def id(self, share: float = 0.8) -> str:
        return "_".join(self.chance.sample(WORDS, 2)) if self.chance.random() < share else ""


def _less(words: str) -> set[str]:
    """What is left of them without one of several."""
    each = words.lower().split()
    return {" ".join(each[:i] + each[i + 1 :]).capitalize() for i in range(len(each))} if len(each) > 1 else set()


def page(chance: random.Random, size: int = 40) -> Page:
    """A page of about so many parts: controls with captions, sections with the same button, a list of rows that look alike."""
    make = Maker(chance)
    parts: list[Part] = [make.part("heading", make.phrase(1, 2), "title")]
    forms = ("button", "field", "switch", "slider", "icon", "text", "section", "pair")
    while make.uid < size * 0.5:
        parts += _form(make, chance.choice(forms))
    parts.append(make.part("heading", make.phrase(1, 2)))
    state = [make.phrase(1, 2) for _ in range(3)]
    label, shape = make.phrase(1, 1), chance.choice(("full", "plain", "icons"))
    rows: list[Part] = []
    while make.uid < size:
        rows.append(_row(make, shape, label, state))
    parts.append(make.part("list", "", "list", *rows))
    return Page(tuple(parts))


def _form(make: Maker, form: str) -> list[Part]:
    if form == "section":  # several headings, under each a button of the same name
        same, id = make.phrase(1, 1), make.id()
        said = [
            (make.part("heading", make.phrase()), make.part("text", make.phrase(2, 5)), make.part("button", same, id)) for _ in range(2)
        ]
        return [make.part("section", "", "", *parts) for parts in said]
    if form == "pair":  # captions with the same button beside each
        same, id = make.phrase(1, 1), make.id()
        return [make.part("pair", "", "", make.part("text", make.phrase()), make.part("action", same, id)) for _ in range(2)]
    words = make.phrase(2, 6) if form == "text" else make.phrase()
    return [make.part(form, words, make.id())]


def _row(make: Maker, shape: str, label: str, state: list[str]) -> Part:
    said = [make.part("title", make.phrase(), "title"), make.part("subtitle", make.chance.choice(state), "subtitle")]
    said.append(make.part("meta", f"{make.phrase(1, 1)} {make.chance.randint(1, 99)}", "meta"))
    ends = [make.part("action", label, "act")] if shape == "full" else [make.part("more", "", "more")] if shape == "icons" else []
    return make.part("row", "", "row", make.part("thumb", "", "thumb"), *said, *ends)


def walk(parts: tuple[Part, ...] | list[Part]) -> Iterator[Part]:
    for part in parts:
        yield part
        yield from walk(part.children)


def mapped(parts: tuple[Part, ...], change: Callable[[Part], Part | None]) -> tuple[Part, ...]:
    """Every part changed, the innermost first; those that become None are gone with all that is in them."""
    found = (change(replace(part, children=mapped(part.children, change))) for part in parts)
    return tuple(part for part in found if part is not None)


# what becomes of a page, each a change of its kind

Change = Callable[[Page, random.Random], Page]
SIZES = ((360, 640), (384, 854), (412, 892), (480, 1040), (800, 1280), (1280, 800))


def same(home: Page, chance: random.Random) -> Page:
    return home


def other_size(home: Page, chance: random.Random) -> Page:
    width, height = chance.choice(SIZES)
    return replace(home, width=width, height=height)


def words_a_little(home: Page, chance: random.Random) -> Page:
    """A word more, or capitals; the words that many share change alike."""
    told: dict[str, str] = {}

    def change(part: Part) -> Part:
        if not part.words or any(c.isdigit() for c in part.words):
            return part
        if part.words not in told:
            draw = chance.random()
            more = f"{part.words} {chance.choice(WORDS)}"
            told[part.words] = part.words.upper() if draw < 0.15 else more if draw < 0.3 and " " in part.words else part.words
        return replace(part, words=told[part.words])

    return replace(home, parts=mapped(home.parts, change))


def ids_gone(home: Page, chance: random.Random) -> Page:
    return replace(home, parts=mapped(home.parts, lambda part: replace(part, id="")))


def ids_renamed(home: Page, chance: random.Random) -> Page:
    style = chance.choice((lambda id: f"v2_{id}", lambda id: f"{id}_new", lambda id: "_".join(reversed(id.split("_")))))
    return replace(home, parts=mapped(home.parts, lambda part: replace(part, id=style(part.id) if part.id else "")))


def _in_lists(home: Page, change: Callable[[list[Part]], None]) -> Page:
    def changed(part: Part) -> Part:
        if part.kind != "list":
            return part
        rows = list(part.children)
        change(rows)
        return replace(part, children=tuple(rows))

    return replace(home, parts=mapped(home.parts, changed))


def _new(make: Maker, home: Page, part: Part) -> Part:
    """A part like another, with words of its own where its like have their own."""
    shared = {p.words for p in walk(home.parts) if sum(q.words == p.words for q in walk(home.parts)) > 1}
    children = tuple(_new(make, home, child) for child in part.children)
    words = (
        part.words
        if part.words in shared
        else make.phrase()
        if part.kind != "meta"
        else f"{make.phrase(1, 1)} {make.chance.randint(1, 99)}"
    )
    return replace(make.part(part.kind, words if part.words else "", part.id), children=children)


def _maker(home: Page, chance: random.Random) -> Maker:
    return Maker(chance, 100_000, {p.words for p in walk(home.parts)})


def rows_added(home: Page, chance: random.Random) -> Page:
    make = _maker(home, chance)

    def change(rows: list[Part]) -> None:
        for _ in range(chance.randint(1, 3)):
            if rows:
                rows.insert(chance.randint(0, len(rows)), _new(make, home, rows[0]))

    return _in_lists(home, change)


def rows_moved(home: Page, chance: random.Random) -> Page:
    return _in_lists(home, chance.shuffle)


def row_reworded(home: Page, chance: random.Random) -> Page:
    """One text of three in every row is another; whose title changed is doubted."""
    make, doubted = _maker(home, chance), set(home.doubted)

    def change(part: Part) -> Part:
        if part.kind != "row":
            return part
        which = chance.choice(("title", "subtitle", "subtitle", "meta", "meta"))
        if which == "title":
            doubted.update(p.uid for p in walk((part,)))
        doubted.update(p.uid for p in part.children if p.kind == which)
        children = (replace(p, words=make.phrase(2, 3)) if p.kind == which else p for p in part.children)
        return replace(part, children=tuple(children))

    return replace(home, parts=mapped(home.parts, change), doubted=frozenset(doubted))


def row_copied(home: Page, chance: random.Random) -> Page:
    """A row is there twice, word for word, and the rows stand in another order."""
    doubted, copies = set(home.doubted), set(home.copies)

    def change(rows: list[Part]) -> None:
        if rows:
            row = chance.choice(rows)
            copy = mapped((row,), lambda part: replace(part, uid=part.uid + 500_000))[0]
            doubted.update(p.uid for p in walk((row,)))
            copies.update(p.uid for p in walk((copy,)))
            rows.append(copy)
            chance.shuffle(rows)

    found = _in_lists(home, change)
    return replace(found, doubted=frozenset(doubted), copies=frozenset(copies))


def some_gone(home: Page, chance: random.Random) -> Page:
    """Whole rows, sections and single parts are not there any more; what is captioned goes with its caption."""
    kept = frozenset({"list", "title"})

    def change(part: Part, inside: str = "") -> Part | None:
        captions = {"section": {"heading", "text"}, "pair": {"text"}}.get(inside, set())
        if part.kind not in kept | captions and chance.random() < 0.15:
            return None
        return replace(part, children=tuple(p for child in part.children if (p := change(child, part.kind)) is not None))

    return replace(home, parts=tuple(p for part in home.parts if (p := change(part)) is not None))


def cut_off(home: Page, chance: random.Random) -> Page:
    """A list scrolled on: rows are gone at its beginning, and of the first and the last one shown only a part is there."""
    doubted = set(home.doubted)

    def change(rows: list[Part]) -> None:
        if len(rows) < 4:
            return
        del rows[: chance.randint(0, len(rows) - 4)]
        first, last = rows[0].children, rows[-1].children
        rows[0] = replace(rows[0], children=first[chance.randint(1, len(first) - 1) :])
        rows[-1] = replace(rows[-1], children=last[: chance.randint(2, len(last))])
        doubted.update(p.uid for row in (rows[0], rows[-1]) for p in walk((row,)))

    return replace(_in_lists(home, change), doubted=frozenset(doubted))


def mixed(home: Page, chance: random.Random) -> Page:
    """Several of these at once, as another build on another device has it."""
    for change in chance.sample((words_a_little, ids_renamed, rows_added, rows_moved, row_reworded, some_gone, cut_off), 3):
        home = change(home, chance)
    return other_size(home, chance)


CHANGES: dict[str, Change] = {
    "the same page": same,
    "another size": other_size,
    "words a little": words_a_little,
    "ids gone": ids_gone,
    "ids renamed": ids_renamed,
    "rows added": rows_added,
    "rows moved": rows_moved,
    "a row reworded": row_reworded,
    "a row copied": row_copied,
    "some gone": some_gone,
    "cut off": cut_off,
    "several at once": mixed,
}
