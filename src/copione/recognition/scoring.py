"""How well each element of a screen agrees with a known one: all at once, every piece of evidence by its weight."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from ..model.screen import Element, Flag, Screen
from .evidence import chain, neighbours, rarity, stable_ids
from .index import Floats, index

NAME_LIKE = 0.8  # similarity from which two wordings may be the same name, where the id or what is beside says so too
MARGIN = 0.08  # lead over the runner-up; below 0.05 lookalikes slip through
SHORTLIST = 12
BESIDE = 0.55  # of what stands around an element that must be there to speak for it
#: Weight of each piece before its rarity. Ids and names identify; the rest only tells candidates apart.
WEIGHTS = {"id": 3.0, "name": 3.0, "role": 1.6, "near": 1.5, "chain": 0.8, "acts": 0.5, "place": 0.4, "size": 0.3}
#: What is left of these where a screen was read from its picture, which shows no ids, and roles only by their looks.
SHOWN = {"id": 0.0, "role": 0.5, "chain": 0.0, "acts": 0.0, "size": 0.0}
NAMELESS = 1.0  # what having no name counts for what had none

ACTS = int(Flag.CLICKABLE | Flag.CHECKABLE | Flag.SCROLLABLE)
#: What the nearest words around an element count, nearest first.
NEARNESS = (1.0, 0.5, 0.3, 0.2)
#: Roles that platforms and toolkits use for the same control.
KIN = (
    frozenset({"button", "link", "img", "generic", "text", "tab"}),
    frozenset({"switch", "checkbox", "radio"}),
    frozenset({"text", "heading"}),
    frozenset({"text", "spinbutton"}),
    frozenset({"listitem", "option", "generic"}),
    frozenset({"list", "region"}),
)


def score(screen: Screen, known: Element, name: str) -> tuple[Floats, Floats]:
    """Agreement 0..1 of every element of `screen` with `known`, called `name`; and of the names alone. Both shape (n,).

    Neighbourhood and ancestors are weighed for the best few only; for the others they count as not agreeing.
    """
    home, there = index(known.screen), index(screen)
    total = len(known.screen)
    names = there.likeness(name, NAME_LIKE) if name else np.equal(there.name_of, there.nameless).astype(np.float64)
    near, above, id = neighbours(known), chain(known), stable_ids(known.screen)[known.row]
    weights = {
        "id": WEIGHTS["id"] * rarity(home.id_counts[id], total) if id else 0.0,
        "name": WEIGHTS["name"] * max(0.5, rarity(home.name_counts[known.name], total)) if name else NAMELESS,
        "role": WEIGHTS["role"],
        "near": WEIGHTS["near"] if near else 0.0,
        "chain": WEIGHTS["chain"],
        "acts": WEIGHTS["acts"],
        "place": WEIGHTS["place"],
        "size": WEIGHTS["size"],
    }
    if screen.read or known.screen.read:
        weights = {kind: weight * SHOWN.get(kind, 1.0) for kind, weight in weights.items()}
    roles = np.array([kinship(known.role, role) for role in there.roles])[there.role_of]
    box = known.box
    x, y = box.centre
    away = np.hypot(there.centres[0] - x / known.screen.width, there.centres[1] - y / known.screen.height)
    wide, tall = there.sizes[0] / max(box.width, 1.0), there.sizes[1] / max(box.height, 1.0)
    size = np.minimum(wide, 1.0 / wide) * np.minimum(tall, 1.0 / tall)
    acts = np.equal(screen.flags & ACTS, known.screen.flags[known.row] & ACTS)
    sums = (
        weights["acts"] * acts
        + weights["name"] * names
        + weights["role"] * roles
        + weights["place"] * np.maximum(0.0, 1 - away)
        + weights["size"] * size
    )
    if id:
        sums += weights["id"] * there.same_id(id)
    total_weight = sum(weights.values())
    around, top = weights["near"] + weights["chain"], 0.0
    for row in best_rows(sums, SHORTLIST).tolist():
        if sums[row] + around < top - MARGIN * total_weight:
            break  # whatever is around it, it can neither be the best nor be mistaken for it
        element = screen.element(row)
        sums[row] += weights["near"] * overlap(near, neighbours(element)) + weights["chain"] * _jaccard(above, chain(element))
        top = max(top, float(sums[row]))
    return sums / total_weight, names


def best_rows(values: Floats, count: int) -> npt.NDArray[np.intp]:
    """Rows of the greatest values, greatest first; the earlier row first among equals."""
    if len(values) > count:
        least = np.partition(values, len(values) - count)[len(values) - count]
        rows = np.flatnonzero(values >= least)
    else:
        rows = np.arange(len(values))
    order: npt.NDArray[np.intp] = rows[np.argsort(-values[rows], kind="stable")][:count]
    return order


def kinship(known: str, role: str) -> float:
    """How much two roles are the same, 0..1: platforms have several for one control."""
    if known == role:
        return 1.0
    return 0.35 if any(known in family and role in family for family in KIN) else 0.0


def overlap(wanted: tuple[str, ...], found: tuple[str, ...]) -> float:
    """How much of the wanted neighbourhood is there, 0..1: the nearest words count most, and count as near as they are on both sides."""
    if not wanted:
        return 0.0
    (ours, total), (theirs, _) = _weighed(wanted), _weighed(found)
    shared = 0.0
    for words, weight in ours.items():
        shared += min(weight, theirs.get(words, 0.0))
    return shared / total


@lru_cache(maxsize=1024)
def _weighed(words: tuple[str, ...]) -> tuple[dict[str, float], float]:
    """What each of the words near an element counts, and all of them."""
    weights = dict(zip(words, NEARNESS, strict=False))
    return weights, sum(weights.values())


def _jaccard(a: frozenset[str], b: frozenset[str]) -> float:
    return len(a & b) / len(a | b) if a | b else 1.0


def runner_up(screen: Screen, scores: Floats, best: int, group: tuple[int, ...] = ()) -> tuple[Element | None, float]:
    """The next best that is another thing and none of `group`: what stands inside the pick, or around it, is touched by the same tap."""
    pick = screen.element(best)
    others = scores.copy()
    others[[best, *group]] = -1.0
    for row in best_rows(others, SHORTLIST * 2).tolist():
        other = screen.element(row)
        if others[row] < 0:
            break
        nested = other.within(pick) or pick.within(other)
        if not (nested and not (other.has(Flag.CLICKABLE) and pick.has(Flag.CLICKABLE))):
            return other, float(scores[best] - scores[row])
    return None, float(scores[best])
