"""A screen's columns made ready for looking things up, once for each screen."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..model.screen import Screen, of_screen
from ..model.sentences import pieces_of
from .evidence import fold, stable_ids
from .wording import alike, is_cut, without_one

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class ElementIndex:
    """Distinct folded names with the distinct one of each element, codes of roles and ids, and how often each occurs.

    `nameless` is the code of having no name, -1 where everything has one. `firsts` are the first pieces of the names, by which merged
    sentences are known; `called` and `with_more` lead to names by such a piece, and by what it is without one of its words, `cut` are those
    that the tree cuts short.
    Shapes: `name_of`, `role_of`, `id_of` are int32 (n,). `centres` float64 (2, n) as shares of the screen, `sizes` (2, n) in dp.
    """

    names: list[str]
    nameless: int
    firsts: list[str]
    called: dict[str, list[int]]
    with_more: dict[str, list[int]]
    cut: list[int]
    name_of: npt.NDArray[np.int32]
    roles: list[str]
    role_of: npt.NDArray[np.int32]
    ids: dict[str, int]
    id_of: npt.NDArray[np.int32]
    name_counts: Counter[str]
    id_counts: Counter[str]
    centres: Floats
    sizes: Floats

    def likeness(self, name: str, least: float) -> Floats:
        """Similarity 0..1 of every element's name, shape (n,), as `wording.alike` has it; 0 below `least`."""
        from rapidfuzz import fuzz, process

        wanted = fold(name)
        first = pieces_of(wanted)[0]
        near = set(np.flatnonzero(process.cdist([first], self.firsts, scorer=fuzz.ratio, score_cutoff=least * 100)[0]).tolist())
        near.update(range(len(self.firsts)) if is_cut(first) else self.cut)
        near.update(self.with_more.get(first, ()), *(self.called.get(less, ()) for less in without_one(first)))
        ratios = np.zeros(len(self.names))
        for i in near:
            ratio = alike(wanted, self.names[i])
            ratios[i] = ratio if ratio >= least else 0.0
        result: Floats = ratios[self.name_of].astype(np.float64)
        return result

    def same_id(self, id: str) -> Floats:
        """1 where the id is that one (of `stable_ids`), shape (n,)."""
        same: Floats = np.equal(self.id_of, self.ids.get(id, -1)).astype(np.float64)
        return same


@of_screen
def index(screen: Screen) -> ElementIndex:
    """The index of a screen, made once."""
    names = {words: i for i, words in enumerate(dict.fromkeys(map(fold, screen.names)))}
    roles = {role: i for i, role in enumerate(dict.fromkeys(screen.roles))}
    plain = stable_ids(screen)
    firsts = [pieces_of(words)[0] for words in names]
    called: dict[str, list[int]] = {}
    with_more: dict[str, list[int]] = {}
    for i, words in enumerate(firsts):
        called.setdefault(words, []).append(i)
        for less in without_one(words):
            with_more.setdefault(less, []).append(i)
    ids = {id: i for i, id in enumerate(dict.fromkeys(plain))}
    boxes = screen.boxes
    return ElementIndex(
        names=list(names),
        nameless=names.get("", -1),
        firsts=firsts,
        called=called,
        with_more=with_more,
        cut=[i for i, words in enumerate(firsts) if is_cut(words)],
        name_of=np.array([names[fold(words)] for words in screen.names], np.int32),
        roles=list(roles),
        role_of=np.array([roles[role] for role in screen.roles], np.int32),
        ids=ids,
        id_of=np.array([ids[id] for id in plain], np.int32),
        name_counts=Counter(screen.names),
        id_counts=Counter(plain),
        centres=np.ascontiguousarray(((boxes[:, :2] + boxes[:, 2:]) / 2 / (screen.width, screen.height)).T),
        sizes=np.ascontiguousarray(np.maximum(boxes[:, 2:] - boxes[:, :2], 1.0).T),
    )
