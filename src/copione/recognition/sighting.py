"""Finding a target on a screen: all candidates scored at once, one accepted or none.

The best candidate is taken only when it passes an absolute bar, leads the runner-up by a margin, and, looked up backwards in the recorded
screen, leads back to the recorded element with the same margin. Otherwise the answer is why not.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from ..model.outcome import Cause, Evidence, Reason
from ..model.portrait import NOT_HERE, Portrait, Sighting, Unseen
from ..model.relation import like
from ..model.roles import role_word
from ..model.screen import Element, Flag, Screen, of_element
from ..model.target import PAGE, Naming, Target
from .evidence import chain, fold, headings, neighbours, plain_id, preceding, rarity, same_id
from .index import Floats, index
from .placing import fitting, section, titles

BAR = 0.45  # of the evidence's weight that must agree
MARGIN = 0.08  # lead over the runner-up; below 0.05 lookalikes slip through
NAME_LIKE = 0.8  # similarity from which two wordings may be the same name, where the id or what is beside says so too
NAME_SURE = 0.9  # and where nothing else does: one word for another is not a typing error
SHORTLIST = 12
#: Where another element says the same, only what is around tells them apart: it weighs so much more, and so much of it must be there.
TWINS, BESIDE = 3.0, 0.55
#: Weight of each piece before its rarity. Ids and names identify; the rest only tells candidates apart.
WEIGHTS = {"id": 3.0, "name": 3.0, "role": 1.6, "near": 1.5, "chain": 0.8, "place": 0.4, "size": 0.3}
#: What the nearest words around an element count, nearest first.
NEARNESS = (1.0, 0.5, 0.3, 0.2)
#: Roles that platforms and toolkits use for the same control.
KIN = (
    frozenset({"button", "link", "img", "generic", "text", "tab"}),
    frozenset({"switch", "checkbox"}),
    frozenset({"text", "heading"}),
    frozenset({"text", "spinbutton"}),
    frozenset({"listitem", "option", "generic"}),
    frozenset({"list", "region"}),
)


@dataclass(frozen=True)
class _Wanted:
    """What is looked for: an element of some screen, perhaps under another name."""

    element: Element
    name: str


def sight(
    screen: Screen, target: Target, roles: Sequence[str], portraits: Sequence[Portrait] = (), inside: Element | None = None
) -> Sighting | Unseen:
    """Look for `target` (its variables filled in). `roles`: what its role word stands for, empty for any.

    `inside` limits the search to an element's descendants. With portraits all evidence is weighed; without, role and name decide.
    """
    there = index(screen)
    allowed = np.array([not roles or any(_kinship(wanted, role) for wanted in roles) for role in there.roles], bool)[there.role_of]
    if len(screen) and screen.roles[0] == "generic":
        allowed[0] = False  # the whole screen is no target
    if inside is not None:
        rows = np.arange(len(screen))
        allowed &= (rows > inside.row) & (rows < screen.ends[inside.row])
    if target.role == PAGE:
        return _by_title(screen, target)
    if target.naming is not Naming.CALLED:
        allowed &= fitting(screen, target)
    if target.under:
        under = section(screen, target.under, allowed & _called_so(screen, target))
        if isinstance(under, str):
            several = under[0].isdigit()
            return Unseen(Reason(Cause.AMBIGUOUS if several else Cause.NOT_HERE, under, target.under))
        allowed &= under
    if not allowed.any():
        return Unseen(NOT_HERE)
    if target.under or target.naming is not Naming.CALLED:
        placed = _by_place(screen, target, roles, allowed)
        if placed is not None:
            return placed
        target = replace(target, name="") if target.naming is not Naming.CALLED else target
    last: Unseen | None = None
    weaker: Sighting | None = None
    for portrait in portraits:  # the first that fits as it was recorded, else the first that fits at all
        found = _by_portrait(screen, target, portrait, allowed)
        if isinstance(found, Sighting):
            if not found.weaker:
                return found
            weaker = weaker or found
        else:
            last = found if last is None or found.ambiguous else last
    if weaker is not None:
        return weaker
    if last is not None and last.ambiguous:
        return last
    return last if portraits and last is not None and not target.name else _by_words(screen, target, roles, allowed, last)


def _called_so(screen: Screen, target: Target) -> npt.NDArray[np.bool_]:
    said = fold(target.name)
    if target.naming is not Naming.CALLED or not said:
        return np.ones(len(screen), bool)
    return np.array([said in (fold(n), fold(t)) for n, t in zip(screen.names, screen.texts, strict=True)], bool)


def _by_place(screen: Screen, target: Target, roles: Sequence[str], allowed: npt.NDArray[np.bool_]) -> Sighting | Unseen | None:
    """The only one of those that are left; None where several are, and portraits may tell them apart."""
    allowed = allowed & _called_so(screen, target)
    found = _outermost([screen.element(row) for row in np.flatnonzero(allowed).tolist() if not roles or screen.roles[row] in roles])
    if len(found) == 1:
        return Sighting(found[0], (Evidence.ROLE_AND_NAME,), 1.0, 1.0)
    return None


def _by_title(screen: Screen, target: Target) -> Sighting | Unseen:
    """The page by what names it."""
    shown = titles(screen)
    said = fold(target.name)
    fits = [e for e in shown if (like(said, fold(e.text)) if target.naming is Naming.LIKE else said == fold(e.text))]
    if target.naming is Naming.WITH:
        fits = [e for e in shown if said in fold(e.text)]
    if fits:
        return Sighting(fits[0], (Evidence.TEXT,), 1.0, 1.0)
    instead = " and ".join(f"“{e.text}”" for e in shown[:2])
    return Unseen(Reason(Cause.NOT_HERE, f"this is the page {instead}" if instead else "this page has no title", instead))


def _by_words(
    screen: Screen, target: Target, roles: Sequence[str], allowed: npt.NDArray[np.bool_], last: Unseen | None
) -> Sighting | Unseen:
    """By role and name alone: the only element of that role and name, or nothing."""
    wanted = fold(target.name)
    named = [e for e in screen if allowed[e.row] and (fold(e.name) == wanted or target.naming is not Naming.CALLED)]
    exact = _outermost([e for e in named if not roles or e.role in roles])
    if len(exact) == 1:
        weaker = "none of what else was recorded about it fits" if last else ""
        return Sighting(exact[0], (Evidence.ROLE_AND_NAME,), 1.0, 1.0, weaker)
    if len(exact) > 1:
        return Unseen(Reason(Cause.AMBIGUOUS, f"{len(exact)} elements are {target.words()} and nothing tells them apart"))
    kin = _outermost([e for e in named if any(set(roles) & family and e.role in family for family in KIN) and _acts(e, roles)])
    if len(kin) == 1:
        return Sighting(kin[0], (Evidence.NAME,), 0.7, 1.0, f"it is {role_word(kin[0].role)} here")
    return last or Unseen(NOT_HERE)


def _acts(element: Element, roles: Sequence[str]) -> bool:
    return element.has(Flag.CLICKABLE) or "text" in roles or "list" in roles


def _outermost(found: list[Element]) -> list[Element]:
    """Without those that stand inside another of them."""
    return [e for e in found if not any(o != e and e.within(o) for o in found)]


def _by_portrait(screen: Screen, target: Target, portrait: Portrait, allowed: npt.NDArray[np.bool_]) -> Sighting | Unseen:
    known = portrait.element
    varied = bool(target.name) and fold(target.name) != fold(known.name)
    wanted = _Wanted(known, target.name if varied else known.name)
    scores, names = score(screen, wanted.element, wanted.name)
    must_name = varied or known.role == "listitem"
    scores = np.where(allowed & (names >= 1.0) if must_name and (allowed & (names >= 1.0)).any() else allowed, scores, -1.0)
    best = int(scores.argmax())
    pick = screen.element(best)
    by_id = same_id(known, pick) and index(known.screen).id_counts[plain_id(known.id)] == 1
    beside_agrees = same_id(known, pick) or _overlap(neighbours(known), neighbours(pick)) >= BESIDE
    same_name = names[best] >= (NAME_LIKE if beside_agrees else NAME_SURE)
    rival, margin = _runner_up(screen, scores, best)
    sure = float(max(0.0, scores[best])), float(margin)
    if scores[best] < BAR or not (by_id or same_name or not (known.id or known.name)):
        return Unseen(NOT_HERE, *sure, rival)
    if must_name and names[best] < 1.0:
        return Unseen(NOT_HERE, *sure, rival)
    if margin < MARGIN and rival is not None:
        return Unseen(Reason(Cause.AMBIGUOUS, f"two could be it: {_called(pick)} and {_called(rival)}"), *sure, rival)
    if _twin_rows(known) and not varied and _beside(known, pick) < BESIDE:
        words = f"{_called(pick)} says the same, but what was beside it is not there"
        return Unseen(Reason(Cause.AMBIGUOUS, words), *sure, rival)
    if not varied and not _leads_back(pick, portrait):
        words = f"{_called(pick)} resembles it, but resembles something else that was recorded as much"
        return Unseen(Reason(Cause.AMBIGUOUS, words), *sure, rival)
    return Sighting(pick, _by(known, pick, names[best]), *sure, _weaker(known, wanted.name, pick, names[best]), rival)


def likely(
    screen: Screen, target: Target, roles: Sequence[str], portraits: Sequence[Portrait], count: int
) -> tuple[tuple[Element, float], ...]:
    """The elements that come nearest to a target, the likeliest first, each with its score 0..1: for a person to choose from."""
    found: dict[int, float] = {}
    for portrait in portraits[:3]:
        name = target.name or portrait.element.name
        scores, _ = score(screen, portrait.element, name)
        for row in _best(scores, count * 2).tolist():
            found[row] = max(found.get(row, 0.0), float(scores[row]))
    if not portraits:
        likeness = index(screen).likeness(target.name, 0.0) if target.name else np.zeros(len(screen))
        kin = np.array([not roles or any(_kinship(wanted, role) for wanted in roles) for role in screen.roles], float)
        scores = 0.6 * likeness + 0.3 * kin
        found = {row: float(scores[row]) for row in _best(scores, count * 2).tolist() if scores[row] > 0.3}
    ranked = sorted(found.items(), key=lambda pair: -pair[1])
    ranked = [(row, value) for row, value in ranked if row > 0 or screen.roles[0] != "generic"]
    return tuple((screen.element(row), value) for row, value in ranked[:count])


def score(screen: Screen, known: Element, name: str) -> tuple[Floats, Floats]:
    """Agreement 0..1 of every element of `screen` with `known`, called `name`; and of the names alone. Both shape (n,).

    Neighbourhood and ancestors are weighed for the best few only; for the others they count as not agreeing.
    """
    home, there = index(known.screen), index(screen)
    total, n = len(known.screen), len(screen)
    names = there.likeness(name, NAME_LIKE) if name else np.zeros(n)
    near, above = neighbours(known), chain(known)
    weights = {
        "id": WEIGHTS["id"] * rarity(home.id_counts[plain_id(known.id)], total) if known.id else 0.0,
        "name": WEIGHTS["name"] * max(0.5, rarity(home.name_counts[known.name], total)) if name else 0.0,
        "role": WEIGHTS["role"],
        "near": WEIGHTS["near"] * (TWINS if _twin_rows(known) else 1.0) if near else 0.0,
        "chain": WEIGHTS["chain"],
        "place": WEIGHTS["place"],
        "size": WEIGHTS["size"],
    }
    roles = np.array([_kinship(known.role, role) for role in there.roles])[there.role_of]
    box = known.box
    x, y = box.centre
    away = np.hypot(there.centres[0] - x / known.screen.width, there.centres[1] - y / known.screen.height)
    wide, tall = there.sizes[0] / max(box.width, 1.0), there.sizes[1] / max(box.height, 1.0)
    size = np.minimum(wide, 1.0 / wide) * np.minimum(tall, 1.0 / tall)
    sums = weights["name"] * names + weights["role"] * roles + weights["place"] * np.maximum(0.0, 1 - away) + weights["size"] * size
    if known.id:
        sums += weights["id"] * there.same_id(known.id)
    total_weight = sum(weights.values())
    around, top = weights["near"] + weights["chain"], 0.0
    for row in _best(sums, SHORTLIST).tolist():
        if sums[row] + around < top - MARGIN * total_weight:
            break  # whatever is around it, it can neither be the best nor be mistaken for it
        element = screen.element(row)
        sums[row] += weights["near"] * _beside(known, element) + weights["chain"] * _jaccard(above, chain(element))
        top = max(top, float(sums[row]))
    return sums / total_weight, names


def _best(values: Floats, count: int) -> npt.NDArray[np.intp]:
    """Rows of the greatest values, greatest first; the earlier row first among equals."""
    if len(values) > count:
        least = np.partition(values, len(values) - count)[len(values) - count]
        rows = np.flatnonzero(values >= least)
    else:
        rows = np.arange(len(values))
    order: npt.NDArray[np.intp] = rows[np.argsort(-values[rows], kind="stable")][:count]
    return order


def _kinship(known: str, role: str) -> float:
    if known == role:
        return 1.0
    return 0.35 if any(known in family and role in family for family in KIN) else 0.0


@of_element
def _twin_rows(element: Element) -> tuple[int, ...]:
    here = index(element.screen)
    same = (here.role_of == here.role_of[element.row]) & (here.id_of == here.id_of[element.row])
    rows = np.flatnonzero(same & (here.name_of == here.name_of[element.row])).tolist()
    return tuple(row for row in rows if row != element.row)


def twins(element: Element) -> tuple[Element, ...]:
    """The other elements of its screen with the same role, id and name."""
    return tuple(element.screen.element(row) for row in _twin_rows(element))


@of_element
def _headings(element: Element) -> tuple[str, frozenset[str]]:
    """What tells an element from its twins by what stands before it, and the like of each twin."""
    found = headings((element, *twins(element)))
    return found[0], frozenset(found) - {""}


def _beside(known: Element, element: Element) -> float:
    """How well an element's surroundings fit those of the known one, 0..1; where there are twins, its heading counts too."""
    overlap = _overlap(neighbours(known), neighbours(element))
    if not _twin_rows(known):
        return overlap
    own, every = _headings(known)
    if not own:
        return overlap
    nearest = next((word for word in preceding(element) if word in every), "")
    return 0.5 * overlap + 0.5 if nearest == own else 0.5 * overlap * (not nearest)


def _overlap(wanted: tuple[str, ...], found: tuple[str, ...]) -> float:
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


def _runner_up(screen: Screen, scores: Floats, best: int) -> tuple[Element | None, float]:
    """The next best that is another thing: what stands inside the pick, or around it, is touched by the same tap."""
    pick = screen.element(best)
    for row in _best(scores, SHORTLIST * 2):
        other = screen.element(int(row))
        if other == pick or scores[row] < 0:
            continue
        nested = other.within(pick) or pick.within(other)
        if not (nested and not (other.has(Flag.CLICKABLE) and pick.has(Flag.CLICKABLE))):
            return other, float(scores[best] - scores[row])
    return None, float(scores[best])


def _leads_back(pick: Element, portrait: Portrait) -> bool:
    """Does the pick, looked up in the recorded screen, lead to the recorded element? What says the same is asked once."""
    known = portrait.element
    if (pick.role, pick.id, pick.name, pick.text, pick.label) == (known.role, known.id, known.name, known.text, known.label):
        alone = _stands_alone(known)
        if alone is not None:
            return alone
    return _back(pick, known)


@of_element
def _stands_alone(known: Element) -> bool | None:
    """Whether an element leads back to itself; None where another says the same, and only what is around tells them apart."""
    return None if _twin_rows(known) else _back(known, known)


def _back(pick: Element, known: Element) -> bool:
    scores, _ = score(known.screen, pick, pick.name)
    best = int(scores.argmax())
    top = known.screen.element(best)
    if top != known and not (top.within(known) or known.within(top)):
        return False
    return _runner_up(known.screen, scores, best)[1] >= MARGIN


def _by(known: Element, pick: Element, name: float) -> tuple[Evidence, ...]:
    found = []
    if same_id(known, pick):
        found.append(Evidence.ID)
    if name >= NAME_LIKE and pick.name:
        found.append(Evidence.LABEL if pick.label else Evidence.TEXT if pick.text == pick.name else Evidence.NAME)
    if len(found) < 2 and neighbours(known) and _overlap(neighbours(known), neighbours(pick)) >= 0.5:
        found.append(Evidence.NEAR)
    return tuple(found) or (Evidence.ROLE_AND_PLACE,)


def _weaker(known: Element, name: str, pick: Element, likeness: float) -> str:
    notes = []
    if known.id and not same_id(known, pick):
        notes.append("its id is gone" if not pick.id else f"its id is now {pick.id}")
    if name and likeness < 1.0:
        notes.append(f"it reads “{pick.name}”" if pick.name else "its name is gone")
    if known.role != pick.role:
        notes.append(f"it is {role_word(pick.role)} here")
    return ", ".join(notes)


def _called(element: Element) -> str:
    x, y = element.box.centre
    return f"{element.called} at {x / element.screen.width:.0%}, {y / element.screen.height:.0%}"
