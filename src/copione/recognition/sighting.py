"""Finding a target on a screen: all candidates scored at once, one accepted or none.

The best candidate is taken only when it passes an absolute bar, leads the runner-up by a margin, and, looked up backwards in the recorded
screen, leads back to the recorded element with the same margin. Otherwise the answer is why not.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from ..model.outcome import Cause, Evidence, Reason
from ..model.portrait import NOT_HERE, NotFound, Portrait, Sighting
from ..model.relation import like as fits_pattern
from ..model.roles import VALUED, role_word
from ..model.screen import Element, Flag, Screen, of_element, of_screen
from ..model.target import PAGE, Naming, Target
from .captioned import by_caption
from .evidence import fold, lasting_id, neighbours, same_id, stable_ids, undecorated, words_of_id
from .gate import passed
from .index import index
from .placing import fitting, section, titles
from .rows import RowChoice, as_made, choose, choose_within, in_item, like, same_else, same_place
from .scoring import ACTS, BESIDE, KIN, MARGIN, NAME_LIKE, best_rows, kinship, overlap, runner_up, score
from .written import written

BAR = 0.45  # of the evidence's weight that must agree
ITEMS = frozenset({"listitem", "option"})
ANY_WORDS = "text"  # the role word for whatever shows those words
NAME_SURE = 0.9  # similarity of names from which nothing else need say so: one word for another is not a typing error


def sight(
    screen: Screen, target: Target, roles: Sequence[str], portraits: Sequence[Portrait] = (), inside: Element | None = None
) -> Sighting | NotFound:
    """Look for `target` (its variables filled in). `roles`: what its role word stands for, empty for any.

    `inside` limits the search to an element's descendants. With portraits all evidence is weighed; without, role and name decide.
    """
    return passed(_sight(screen, target, roles, portraits, inside), portraits, target.name)


def _sight(
    screen: Screen, target: Target, roles: Sequence[str], portraits: Sequence[Portrait], inside: Element | None
) -> Sighting | NotFound:
    there = index(screen)
    allowed = np.array([not roles or any(kinship(wanted, role) for wanted in roles) for role in there.roles], bool)[there.role_of]
    if target.role == ANY_WORDS:
        allowed |= np.array(_leaves_saying(screen, target.name), bool)
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
            return NotFound(Reason(Cause.AMBIGUOUS if several else Cause.NOT_HERE, under, target.under))
        allowed &= under
    if not allowed.any() and not portraits:
        return NotFound(NOT_HERE)
    if target.under or target.naming is not Naming.CALLED:
        placed = _by_place(screen, target, roles, allowed)
        if placed is not None:
            return placed
        target = replace(target, name="") if target.naming is not Naming.CALLED else target
    item = inside is not None and inside.role in ITEMS
    tried = [_by_portrait(screen, target, portrait, allowed, item) for portrait in portraits]
    seen = [found for found in tried if isinstance(found, Sighting)]
    if seen:
        return _weighed(seen)
    last: NotFound | None = None
    for found in tried:
        if isinstance(found, NotFound):
            last = found if last is None or found.ambiguous else last
    if last is not None and last.ambiguous:
        return last
    if last is not None:
        for portrait in portraits:
            captioned = by_caption(screen, portrait, target.name or portrait.element.name)
            if captioned is not None and (inside is None or captioned.element.within(inside)):
                return captioned
        if not target.name:
            return last
    return _by_words(screen, target, roles, allowed, last)


def _leaves_saying(screen: Screen, name: str) -> list[bool]:
    """Which elements that hold no others show those words, whatever they are."""
    wanted = fold(name)
    shown = (t if role not in VALUED else "" for t, role in zip(screen.texts, screen.roles, strict=True))
    return [bool(wanted) and fold(t) == wanted and screen.ends[row] == row + 1 for row, t in enumerate(shown)]


def called_so(screen: Screen, target: Target, roles: Sequence[str], inside: Element | None = None) -> list[Element]:
    """Every element that is what a target's words say to the letter: its role, its name, the heading it stands under, what it is in.

    Nothing for a page or where it cannot be told which heading is meant.
    """
    if target.role == PAGE:
        return []
    allowed = fitting(screen, target) if target.naming is not Naming.CALLED else _called_so(screen, target)
    if inside is not None:
        rows = np.arange(len(screen))
        allowed = allowed & (rows > inside.row) & (rows < screen.ends[inside.row])
    if target.under:
        under = section(screen, target.under, allowed)
        if isinstance(under, str):
            return []
        allowed = allowed & under
    found = (screen.element(row) for row in np.flatnonzero(allowed).tolist() if row or screen.roles[0] != "generic")
    return _outermost([e for e in found if not roles or e.role in roles])


def _weighed(seen: list[Sighting]) -> Sighting | NotFound:
    """One of what several portraits lead to: what was found as it was recorded, else the surest; none where two are as sure."""
    best = max(seen, key=lambda found: (not found.weaker, found.score))
    for other in seen:
        if other.element == best.element or bool(other.weaker) != bool(best.weaker):
            continue
        if other.score > best.score - MARGIN:
            words = f"two could be it, by what was recorded at different times: {_called(best.element)} and {_called(other.element)}"
            return NotFound(Reason(Cause.AMBIGUOUS, words), best.score, best.score - other.score, other.element)
    return best


def _called_so(screen: Screen, target: Target) -> npt.NDArray[np.bool_]:
    said = fold(target.name)
    if target.naming is not Naming.CALLED or not said:
        return np.ones(len(screen), bool)
    return np.array([said in (fold(n), fold(t)) for n, t in zip(screen.names, screen.texts, strict=True)], bool)


def _by_place(screen: Screen, target: Target, roles: Sequence[str], allowed: npt.NDArray[np.bool_]) -> Sighting | NotFound | None:
    """The only one of those that are left; None where several are, and portraits may tell them apart."""
    allowed = allowed & _called_so(screen, target)
    found = _outermost([screen.element(row) for row in np.flatnonzero(allowed).tolist() if not roles or screen.roles[row] in roles])
    if len(found) == 1:
        return Sighting(found[0], (Evidence.ROLE_AND_NAME,), 1.0, 1.0)
    return None


def _by_title(screen: Screen, target: Target) -> Sighting | NotFound:
    """The page by what names it."""
    shown = titles(screen)
    said = fold(target.name)
    fits = [e for e in shown if (fits_pattern(said, fold(e.text)) if target.naming is Naming.LIKE else said == fold(e.text))]
    if target.naming is Naming.WITH:
        fits = [e for e in shown if said in fold(e.text)]
    if fits:
        return Sighting(fits[0], (Evidence.TEXT,), 1.0, 1.0)
    instead = " and ".join(f"“{e.text}”" for e in shown[:2])
    return NotFound(Reason(Cause.NOT_HERE, f"this is the page {instead}" if instead else "this page has no title", instead))


def _by_words(
    screen: Screen, target: Target, roles: Sequence[str], allowed: npt.NDArray[np.bool_], last: NotFound | None
) -> Sighting | NotFound:
    """By role and name alone: the only element of that role and name, or nothing."""
    named = _named(screen, target, allowed)
    exact = _outermost([e for e in named if not roles or e.role in roles])
    if not exact and target.role == ANY_WORDS:
        leaves = _leaves_saying(screen, target.name)
        exact = [e for e in named if leaves[e.row]]
    if len(exact) == 1:
        weaker = "none of what else was recorded about it fits" if last else ""
        return Sighting(exact[0], (Evidence.ROLE_AND_NAME,), 1.0, 1.0, weaker)
    if len(exact) > 1:
        which = f"{_called(exact[0])} and {_called(exact[1])}"
        return NotFound(Reason(Cause.AMBIGUOUS, f"{len(exact)} elements are {target.words()} and nothing tells them apart: {which}"))
    kin = _outermost([e for e in named if any(set(roles) & family and e.role in family for family in KIN) and _acts(e, roles)])
    if len(kin) == 1:
        return Sighting(kin[0], (Evidence.NAME,), 0.7, 1.0, f"it is {role_word(kin[0].role)} here")
    if len(kin) > 1:
        return NotFound(Reason(Cause.AMBIGUOUS, f"two could be it: {_called(kin[0])} and {_called(kin[1])}"), second=kin[1])
    return last or NotFound(NOT_HERE)


def _named(screen: Screen, target: Target, allowed: npt.NDArray[np.bool_]) -> list[Element]:
    """What is called so: by its name; else by anything else that a person may call it; else but for the marks that forms put to names;
    what has no name by the words of its id.
    """
    if target.naming is not Naming.CALLED:
        return [e for e in screen if allowed[e.row]]
    wanted, bare = fold(target.name), undecorated(target.name)
    told = [e for e in screen if allowed[e.row]]
    return (
        [e for e in told if fold(e.name) == wanted]
        or [e for e in told if wanted and any(fold(words) == wanted for words in e.also)]
        or [e for e in told if bare and any(undecorated(words) == bare for words in (e.name, *e.also))]
        or [e for e in told if wanted and not e.name and fold(words_of_id(e.id)) == wanted]
    )


def _acts(element: Element, roles: Sequence[str]) -> bool:
    return element.has(Flag.CLICKABLE) or "text" in roles or "list" in roles


def _outermost(found: list[Element]) -> list[Element]:
    """Without those that stand inside another of them."""
    return [e for e in found if not any(o != e and e.within(o) for o in found)]


def _by_portrait(screen: Screen, target: Target, portrait: Portrait, allowed: npt.NDArray[np.bool_], item: bool) -> Sighting | NotFound:
    """`item`: the script itself says in which row it stands."""
    known = portrait.element
    if not (screen.read or known.screen.read):
        return _judged(screen, target, portrait, allowed, item)
    shown = written(known.screen).element(known.row)  # a picture shows what is written and no labels: so it is compared
    target = replace(target, name=shown.name) if fold(target.name) == fold(known.name) else target
    return _on(screen, _judged(written(screen), target, replace(portrait, screen=shown.screen), allowed, item))


def _judged(screen: Screen, target: Target, portrait: Portrait, allowed: npt.NDArray[np.bool_], item: bool) -> Sighting | NotFound:
    known = portrait.element
    varied = bool(target.name) and fold(target.name) not in (fold(known.name), "" if known.name else fold(words_of_id(known.id)))
    if not varied and allowed[min(known.row, len(allowed) - 1)] and _same_page(known.screen, screen):
        pick = screen.element(known.row)
        return Sighting(pick, _by(known, pick, 1.0), 1.0, 1.0)
    name = target.name if varied else known.name
    scores, names = score(screen, known, name)
    must_name = varied or known.role == "listitem"
    scores = np.where(allowed & (names >= 1.0) if must_name and (allowed & (names >= 1.0)).any() else allowed, scores, -1.0)
    best = int(scores.argmax())
    group = tuple(row for row in like(screen.element(best)) if scores[row] >= 0.0)
    alone = len(group) == 1 and (item or (len(like(known)) == 1 and not in_item(known) and bool(known.name or lasting_id(known))))
    if not alone and scores[best] >= BAR and not varied:
        choice = choose_within(known, group) if item else choose(known, screen, group)
        if choice.row < 0:
            return _not_told_apart(screen, choice, best, float(scores[best]))
        best = choice.row
    pick = screen.element(best)
    rival, margin = runner_up(screen, scores, best, () if alone or varied else group)
    sure = float(max(0.0, scores[best])), float(margin)
    if scores[best] < BAR or not _identified(known, pick, float(names[best]), group, alone or varied):
        return NotFound(NOT_HERE, *sure, rival)
    if must_name and names[best] < 1.0 and (varied or names[best] < NAME_SURE or not same_else(known, pick)):
        return NotFound(NOT_HERE, *sure, rival)
    told = names[best] >= 1.0 and not varied and _told_by_name(known, pick)
    if margin < MARGIN and rival is not None and not (told and names[rival.row] < 1.0 and _was_beside(known, rival)):
        return NotFound(Reason(Cause.AMBIGUOUS, f"two could be it: {_called(pick)} and {_called(rival)}"), *sure, rival)
    if not varied and not told and not _leads_back(pick, known):
        words = f"{_called(pick)} resembles it, but resembles something else that was recorded as much"
        return NotFound(Reason(Cause.AMBIGUOUS, words), *sure, rival)
    return Sighting(pick, _by(known, pick, names[best]), *sure, _weaker(known, name, pick, names[best]), rival)


def _told_by_name(known: Element, pick: Element) -> bool:
    """Is each the only one of its role and name on its screen, and does no id say that the pick is another thing?"""
    alone = all(sum(e.role == one.role and fold(e.name) == fold(one.name) for e in one.screen) == 1 for one in (known, pick))
    return alone and bool(known.name) and known.role == pick.role and not any(same_id(e, pick) for e in known.screen if e != known)


def _was_beside(known: Element, other: Element) -> bool:
    """Was something of that role and name recorded as another thing on the same screen?"""
    said = fold(other.name)
    return bool(said) and any(e.role == other.role and e != known and fold(e.name) == said for e in known.screen)


def _on(screen: Screen, found: Sighting | NotFound) -> Sighting | NotFound:
    """What was found on a copy of a screen, on the screen itself."""
    second = screen.element(found.second.row) if found.second is not None else None
    if isinstance(found, NotFound):
        return replace(found, second=second)
    return replace(found, element=screen.element(found.element.row), second=second)


def _not_told_apart(screen: Screen, choice: RowChoice, best: int, score: float) -> NotFound:
    """None of several that are made alike: it is not here, or two and more say the same."""
    if not choice.left:
        return NotFound(Reason(Cause.NOT_HERE, f"it is not on this screen: {choice.why}"), score, 0.0, screen.element(best))
    left = [screen.element(row) for row in choice.left]
    words = f"{'two' if len(left) == 2 else len(left)} could be it: {_called(left[0])} and {_called(left[1])}, and {choice.why}"
    return NotFound(Reason(Cause.AMBIGUOUS, words), score, 0.0, left[1])


def _same_page(home: Screen, there: Screen) -> bool:
    """Do both say the same throughout, in the same order? Then each element is the one in its row."""
    if home is there:
        return True
    columns = ("roles", "names", "texts", "labels")
    if any(getattr(home, column) != getattr(there, column) for column in columns) or stable_ids(home) != stable_ids(there):
        return False
    return bool(np.array_equal(home.parents, there.parents))


def _identified(known: Element, pick: Element, likeness: float, group: tuple[int, ...], alone: bool) -> bool:
    """Does its id, its name or its row say that it is the one? What has neither id nor name is known by its row or its surroundings."""
    id = stable_ids(known.screen)[known.row]
    if same_id(known, pick) and index(known.screen).id_counts[id] == 1:
        return True
    if known.name:
        beside = not alone or same_id(known, pick) or overlap(neighbours(known), neighbours(pick)) >= BESIDE
        return likeness >= (NAME_LIKE if beside else NAME_SURE)
    if id and not same_id(known, pick) and alone:
        return False
    return as_made(known, pick) and (alone or same_place(known, pick, group))


def likely(
    screen: Screen, target: Target, roles: Sequence[str], portraits: Sequence[Portrait], count: int
) -> tuple[tuple[Element, float], ...]:
    """The elements that come nearest to a target, the likeliest first, each with its score 0..1: for a person to choose from."""
    found: dict[int, float] = {}
    for portrait in portraits[:3]:
        name = target.name or portrait.element.name
        scores, _ = score(screen, portrait.element, name)
        for row in best_rows(scores, count * 2).tolist():
            found[row] = max(found.get(row, 0.0), float(scores[row]))
    if not portraits:
        likeness = index(screen).likeness(target.name, 0.0) if target.name else np.zeros(len(screen))
        kin = np.array([not roles or any(kinship(wanted, role) for wanted in roles) for role in screen.roles], float)
        scores = 0.6 * likeness + 0.3 * kin
        found = {row: float(scores[row]) for row in best_rows(scores, count * 2).tolist() if scores[row] > 0.3}
    ranked = sorted(found.items(), key=lambda pair: -pair[1])
    ranked = [(row, value) for row, value in ranked if row > 0 or screen.roles[0] != "generic"]
    return tuple((screen.element(row), value) for row, value in ranked[:count])


@of_element
def _alone(known: Element) -> bool:
    """Whether an element leads back to itself on its own screen, but for what says the same."""
    return _back(known, known)


def _back(pick: Element, known: Element) -> bool:
    """Does the pick, looked up in the recorded screen, lead to the recorded element, or to what says the same?"""
    scores, _ = score(known.screen, pick, pick.name)
    if known.name:
        scores = np.where(_grounds(known.screen), -1.0, scores)
    best = int(scores.argmax())
    top, group = known.screen.element(best), like(known)
    if best not in group and not (top.within(known) or known.within(top)):
        return False
    return runner_up(known.screen, scores, best, group)[1] >= MARGIN


@of_screen
def _grounds(screen: Screen) -> npt.NDArray[np.bool_]:
    """Which elements only hold others: without a name, and nothing that a finger does anything to."""
    there = index(screen)
    generic = np.array([role == "generic" for role in there.roles], bool)[there.role_of]
    found: npt.NDArray[np.bool_] = generic & (there.name_of == there.nameless) & ((screen.flags & ACTS) == 0)
    return found


def _leads_back(pick: Element, known: Element) -> bool:
    if (pick.role, pick.id, pick.name, pick.text, pick.label) == (known.role, known.id, known.name, known.text, known.label):
        return _alone(known)  # what says the same is asked once
    return _back(pick, known)


def _by(known: Element, pick: Element, name: float) -> tuple[Evidence, ...]:
    found = []
    if same_id(known, pick):
        found.append(Evidence.ID)
    if name >= NAME_LIKE and pick.name:
        found.append(Evidence.LABEL if pick.label else Evidence.TEXT if pick.text == pick.name else Evidence.NAME)
    if len(found) < 2 and neighbours(known) and overlap(neighbours(known), neighbours(pick)) >= 0.5:
        found.append(Evidence.NEAR)
    return tuple(found) or (Evidence.ROLE_AND_PLACE,)


def _weaker(known: Element, name: str, pick: Element, likeness: float) -> str:
    notes = []
    if lasting_id(known) and not same_id(known, pick):
        notes.append(f"its id is now {pick.id}" if lasting_id(pick) else "its id is gone")
    if name and likeness < 1.0:
        notes.append(f"it reads “{pick.name}”" if pick.name else "its name is gone")
    if known.role != pick.role:
        notes.append(f"it is {role_word(pick.role)} here")
    return ", ".join(notes)


def _called(element: Element) -> str:
    x, y = element.box.centre
    return f"{element.called} at {x / element.screen.width:.0%}, {y / element.screen.height:.0%}"
