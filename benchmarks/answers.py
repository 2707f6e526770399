"""What a seeded fault should come out as, and worlds of models and faults that nobody wrote by hand."""

from __future__ import annotations

import json
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from copione.comparison.finding import Finding
from copione.comparison.findings import fold_case
from copione.comparison.lanes import Lanes
from copione.model.outcome import Outcome
from copione_lab.model import Fault, Model, load_models

#: The pages that the demo script comes to, and from which to which of its lines it is on them.
PAGES = {"home": (8, 8), "hives": (9, 10), "hive": (11, 14), "form": (15, 20), "saved": (21, 30)}
#: The kinds of causes and remarks that a kind of fault may come out as.
COMES_OUT: Mapping[str, frozenset[str]] = {
    kind: frozenset(abouts)
    for kind, abouts in {
        "gone": ("missing", "out of reach"),
        "added": ("new",),
        "clipped": ("text cut", "reads otherwise"),
        "tiny": ("small target",),
        "squeezed": ("spills over",),
        "over": ("overlaps", "cover", "out of reach"),
        "off": ("missing", "edge", "out of reach"),
        "figures": ("other format", "reads otherwise"),
        "another-picture": ("other picture", "looks otherwise"),
        "pale": ("weak contrast",),
        "reworded": ("other words", "reads otherwise", "missing"),
        "flipped": ("other state",),
        "english": ("untranslated", "reads otherwise"),
        "rows-swapped": ("other words",),
        "rows-shifted": ("other words",),
        "capitals": ("other words", "reads otherwise"),
        "misspelt": ("other words", "reads otherwise"),
        "doubled": ("other words", "reads otherwise"),
        "emptied": ("missing", "reads otherwise"),
        "disabled": ("disabled", "weak contrast"),
        "counted-on": ("other value",),
        "cut-off": ("other words", "reads otherwise"),
        "other-choice": ("other value",),
        "turned-round": ("other order",),
        "another-ground": ("other colour",),
        "slow-page": ("slow",),
        "late-page": ("slow",),
        "message-over": ("overlaps",),
        "dialog-page": ("dialog",),
        "crash-page": ("gone",),
        "keyboard-covers": ("keyboard", "typed out of sight"),
        "overlap": ("cover", "overlaps"),
        "pushed-off": ("missing", "edge", "out of reach"),
        "small-target": ("small target",),
        "text-cut": ("text cut",),
        "off-by-one": ("reads otherwise", "other words"),
        "wrong-text": ("reads otherwise", "other words"),
        "untranslated": ("reads otherwise", "untranslated"),
        "date-format": ("reads otherwise", "other format"),
        "slow": ("slow",),
        "crash": ("gone",),
        "dialog": ("dialog",),
        "missing": ("missing",),
        "extra": ("ambiguous",),
        "wrong-picture": ("looks otherwise", "other picture"),
    }.items()
}
#: What a fault brings about besides: a switch that shows another state is switched the wrong way, and so saved.
BESIDES = {
    "flipped": ("other words", "not taken", "other state"),
    "added": ("missing", "cover", "edge"),
    "squeezed": ("overlaps",),
    "over": ("reads otherwise",),
}
#: Where Hive Diary's own faults are: the page, and the element.
OWN_PLACES = {
    "keyboard-covers": ("form", "save_inspection"),
    "overlap": ("form", "save_inspection"),
    "pushed-off": ("form", "save_inspection"),
    "small-target": ("form", "save_inspection"),
    "text-cut": ("hive", "new_inspection"),
    "off-by-one": ("saved", "brood_frames"),
    "wrong-text": ("saved", "last_seen"),
    "untranslated": ("saved", "last_seen"),
    "date-format": ("saved", "last_seen"),
    "slow": ("hive", ""),
    "crash": ("saved", ""),
    "dialog": ("hive", ""),
    "missing": ("form", "queen_seen"),
    "extra": ("hives", "hive_name"),
    "wrong-picture": ("hive", "comb_picture"),
}
#: What elements are called, where a finding names them so.
CALLED = {
    "last_seen": "Last seen",
    "brood_frames": "Brood frames",
    "temper": "Temper",
    "queen": "Queen seen",
    "queen_seen": "Queen seen",
    "comb_picture": "Comb picture",
    "new_inspection": "New inspection",
    "open_sketch": "Comb sketch",
    "save_inspection": "Save inspection",
    "open_hives": "Hives",
    "open_map": "Apiary map",
    "temper_calm": "Calm",
    "hive_name": "Hive 17",
    "frames_value": "Brood frames",
}
#: A check of the rounds that build 2.5 does not pass on purpose: its hives stand in another order.
ANOTHER_ORDER = 'check list "Hives" is in order'
STOPPING = frozenset({("dialog-page", ""), ("crash-page", ""), ("gone", "comb_picture"), ("off", "new_inspection")})  # they end a take


def place_of(fault: Fault) -> tuple[str, str]:
    """Its page and element."""
    return OWN_PLACES.get(fault.kind, (fault.page, fault.at))


def crossed_by_rounds(fault: Fault) -> bool:
    """Does the week of rounds come across it? It answers the dialog itself, and comes to no form."""
    return place_of(fault)[0] in ("hive", "hives") and fault.kind != "dialog"


def crossed(lanes: Lanes, device: str, fault: Fault) -> bool:
    """Did some take of the device come to the page, so that what is wrong there could be seen?"""
    first, last = PAGES.get(place_of(fault)[0], (0, -1))
    for lane in lanes.lanes:
        if lane.device.name != device:
            continue
        there = [r for r in lane.results() if first <= r.line <= last]
        if any(r.outcome.tried for r in there):
            return True
        came = [r for r in lane.results() if r.line == first - 1 and r.outcome is not Outcome.UNREACHED]
        if fault.kind in ("crash", "crash-page", "slow", "slow-page") and came:
            return True
    return False


def names(finding: Finding, fault: Fault) -> bool:
    """Is the finding about the element of the fault? Where the fault is of a whole page, any finding of its kind is."""
    page, at = place_of(fault)
    first, last = PAGES.get(page, (0, 0))
    if fault.page and not first - 1 <= finding.address.line <= last:
        return False
    if not at or fault.kind in ("added", "extra"):
        return True
    told = {fold_case(name) for name in finding.names} | {fold_case(finding.title)}
    wanted = {fold_case(at), fold_case(CALLED.get(at, at))}
    return any(word in each for word in wanted for each in told)


def matches(finding: Finding, fault: Fault) -> bool:
    """May the finding be what comes of the fault?"""
    return (finding.about in COMES_OUT.get(fault.kind, ()) and names(finding, fault)) or finding.about in BESIDES.get(fault.kind, ())


# made-up worlds


Drawn = dict[str, Any]  # a fault, as its file has it


@dataclass(frozen=True)
class World:
    """Models and faults in two folders."""

    models: Path
    faults: Path
    names: tuple[str, ...]


TARGETS = {
    "hive": ("comb_picture", "last_seen", "brood_frames", "temper", "new_inspection"),
    "form": ("frames_value", "temper_calm", "queen_seen"),
    "saved": ("last_seen", "brood_frames", "queen", "temper"),
}
TEXTS = {"last_seen", "brood_frames", "temper", "queen"}
KINDS = (
    "gone",
    "added",
    "clipped",
    "tiny",
    "squeezed",
    "over",
    "another-picture",
    "pale",
    "reworded",
    "english",
    "slow-page",
    "dialog-page",
    "crash-page",
    "off",
    "flipped",
)
SYLLABLES = ("mar", "tel", "os", "vin", "ka", "dor", "un", "pi", "lex", "ra", "shel", "by")


def make_world(folder: Path, chance: random.Random, models: int, faults: int) -> World:
    """Random models of both platforms, and random faults on some of them; each device has at most one that ends its take.

    What can be told is drawn: another device of the same platform and kind of layout has not got the fault, and comes to every page.
    """
    made = [_model(chance, n) for n in range(models)]
    (folder / "models").mkdir(parents=True)
    (folder / "faults").mkdir()
    for key, facts in made:
        _write(folder / "models" / f"{key}.toml", facts)
    known = [m for m in load_models(folder / "models") if m.key in dict(made)]
    drawn = _faults(chance, known, faults)
    while not _can_be_told(drawn, known):
        drawn = _faults(chance, known, faults)
    for number, fault in enumerate(drawn):
        _write(folder / "faults" / f"f{number:03d}.toml", fault)
    return World(folder / "models", folder / "faults", tuple(m.name for m in known))


def _faults(chance: random.Random, models: Sequence[Model], many: int) -> list[Drawn]:
    taken: set[tuple[str, str]] = set()
    blocked: set[str] = set()
    drawn: list[Drawn] = []
    while len(drawn) < many:
        fault = _fault(chance, models, taken, blocked)
        if fault is not None:
            drawn.append(fault)
    return drawn


def _can_be_told(drawn: Sequence[Drawn], models: Sequence[Model]) -> bool:
    """Has every faulty device a healthy one of its kind? What all of a kind have in common is their convention."""
    stopped = {key for fault in drawn if (fault["kind"], fault.get("at", "")) in STOPPING for key in fault["models"]}
    by_key = {model.key: model for model in models}
    return all(
        any(_alike(by_key[key], other) and other.key not in fault["models"] and other.key not in stopped for other in models)
        for fault in drawn
        for key in fault["models"]
    )


def _write(path: Path, facts: Mapping[str, object]) -> None:
    lines = [f"{key} = {json.dumps(value, ensure_ascii=False)}" for key, value in facts.items()]
    path.write_text("\n".join(lines) + "\n", "utf-8")


def _model(chance: random.Random, number: int) -> tuple[str, dict[str, object]]:
    platform = chance.choice(("android", "android", "ios"))
    name = "".join(chance.sample(SYLLABLES, 3)).capitalize() + f" {number}"
    dpi = chance.choice((160, 240, 320))
    tablet = chance.random() < 0.2
    width = chance.choice((600, 640, 768, 800, 834)) if tablet else chance.choice((340, 360, 375, 384, 393, 400, 412, 428, 440))
    height = round(width * (chance.uniform(1.3, 1.6) if tablet else chance.uniform(1.8, 2.2)))
    release = str(chance.randint(9, 15)) if platform == "android" else str(chance.randint(15, 18))
    old = platform == "android" and int(release) < 10
    key = name.lower().replace(" ", "-")
    return key, {
        "order": number,
        "name": name,
        "serial": f"WORLD{number:03d}",
        "platform": platform,
        "release": release,
        "width_px": round(width * dpi / 160),
        "height_px": round(height * dpi / 160),
        "dpi": dpi,
        "width_mm": round(width * 25.4 / 160, 1),
        "height_mm": round(height * 25.4 / 160, 1),
        "text_scale": chance.choice((1.0, 1.0, 1.0, 1.0, 1.15, 1.3)),
        "locale": chance.choice(("en-GB", "en-GB", "en-US", "de-DE", "he-IL")),
        "look": "old" if old else "new",
    }


def _alike(one: Model, other: Model) -> bool:
    """Of one platform and one kind of layout?"""
    wide = [m.width_px / m.density >= 600 for m in (one, other)]
    return one.platform == other.platform and wide[0] == wide[1]


def _fault(chance: random.Random, models: Sequence[Model], taken: set[tuple[str, str]], blocked: set[str]) -> Drawn | None:
    kind = chance.choice(KINDS)
    page = chance.choice(("hive", "saved")) if kind in ("slow-page", "crash-page") else chance.choice(tuple(TARGETS))
    if kind == "dialog-page":
        page = "hive"
    at = "" if kind.endswith("-page") else chance.choice(TARGETS[page])
    stops = (kind, at) in STOPPING
    text = at in TEXTS
    fits = {
        "clipped": text and at == "temper",
        "english": text and at == "temper",
        "reworded": text,
        "squeezed": text or at == "frames_value",
        "pale": text or at in ("new_inspection", "temper_calm", "frames_value"),
        "tiny": at in ("new_inspection", "temper_calm"),
        "another-picture": at == "comb_picture",
        "over": at in ("last_seen", "temper"),
        "gone": at in ("temper", "comb_picture", "queen") and page != "form",
        "off": at == "new_inspection",
        "flipped": at == "queen_seen",
        "added": at in ("temper", "last_seen") and page != "form",
    }
    if not fits.get(kind, True):
        return None
    spot = kind if kind == "added" or not at else at  # what is added is the same wherever it stands
    able = [m for m in models if (page, m.key) not in taken and (f"{page} {spot}", "") not in taken and not (stops and m.key in blocked)]
    if kind == "english":
        able = [m for m in able if m.locale.split("-")[0] in ("de", "he")]
    many = chance.choice((1, 1, 1, 2, 2, 3))
    if len(able) < many:
        return None
    some = chance.sample(able, many)
    chosen = [m.key for m in some]
    taken.update((page, key) for key in chosen)
    taken.add((f"{page} {spot}", ""))  # what is wrong on many is what most show
    if stops:
        blocked.update(chosen)
    return {"kind": kind, "models": chosen, "page": page, **({"at": at} if at else {}), "words": f"{kind} {at} on {page}"}
