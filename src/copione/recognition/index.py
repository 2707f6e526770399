"""A screen's columns made ready for looking things up, once for each screen."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..model.screen import Screen, of_screen
from .evidence import fold, plain_id

Floats = npt.NDArray[np.float64]
_NUMBERS = re.compile(r"\d+")


@dataclass(frozen=True, eq=False)
class Index:
    """Distinct folded names with the distinct one of each element, codes of roles and ids, and how often each occurs.

    Shapes: `name_of`, `role_of`, `id_of` are int32 (n,). `centres` float64 (2, n) as shares of the screen, `sizes` (2, n) in dp.
    """

    names: list[str]
    numbers: list[list[str]]
    name_of: npt.NDArray[np.int32]
    roles: list[str]
    role_of: npt.NDArray[np.int32]
    ids: dict[str, int]
    id_of: npt.NDArray[np.int32]
    name_counts: Counter[str]
    role_counts: Counter[str]
    id_counts: Counter[str]
    centres: Floats
    sizes: Floats

    def likeness(self, name: str, least: float) -> Floats:
        """Similarity 0..1 of every element's name, shape (n,): the normalised indel ratio, 0 below `least` and where the numbers differ.

        "Hive 7" and "Hive 8" are nearly the same letters and never the same thing.
        """
        from rapidfuzz import fuzz, process

        wanted = fold(name)
        ratios = process.cdist([wanted], self.names, scorer=fuzz.ratio, score_cutoff=least * 100)[0] / 100.0
        numbers = _NUMBERS.findall(wanted)
        for i in np.flatnonzero((ratios > 0) & (ratios < 1)).tolist():
            if self.numbers[i] != numbers:
                ratios[i] = 0.0
        result: Floats = ratios[self.name_of].astype(np.float64)
        return result

    def same_id(self, id: str) -> Floats:
        """1 where the id is that one, shape (n,)."""
        same: Floats = np.equal(self.id_of, self.ids.get(plain_id(id), -1)).astype(np.float64)
        return same


@of_screen
def index(screen: Screen) -> Index:
    """The index of a screen, made once."""
    names = {words: i for i, words in enumerate(dict.fromkeys(map(fold, screen.names)))}
    roles = {role: i for i, role in enumerate(dict.fromkeys(screen.roles))}
    plain = [plain_id(id) for id in screen.ids]
    ids = {id: i for i, id in enumerate(dict.fromkeys(plain))}
    boxes = screen.boxes
    return Index(
        names=list(names),
        numbers=[_NUMBERS.findall(words) for words in names],
        name_of=np.array([names[fold(words)] for words in screen.names], np.int32),
        roles=list(roles),
        role_of=np.array([roles[role] for role in screen.roles], np.int32),
        ids=ids,
        id_of=np.array([ids[id] for id in plain], np.int32),
        name_counts=Counter(screen.names),
        role_counts=Counter(screen.roles),
        id_counts=Counter(plain),
        centres=np.ascontiguousarray(((boxes[:, :2] + boxes[:, 2:]) / 2 / (screen.width, screen.height)).T),
        sizes=np.ascontiguousarray(np.maximum(boxes[:, 2:] - boxes[:, :2], 1.0).T),
    )
