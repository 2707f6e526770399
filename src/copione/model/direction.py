"""In which direction a screen is laid out: by the device's locale, Unicode's bidirectional classes, and what is level."""

from __future__ import annotations

import unicodedata
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt

#: Languages that are written from right to left, by their first subtag (Unicode CLDR, `characterOrder`).
RIGHT_TO_LEFT = frozenset({"ar", "he", "fa", "ur", "ps", "sd", "ug", "yi", "dv", "ckb"})
LEVEL_DP = 2.0  # by which edges that are level may differ


def from_right(locale: str) -> bool:
    """Is a language written from right to left? BCP 47."""
    return locale.split("-")[0].casefold() in RIGHT_TO_LEFT


def leftwards(texts: Sequence[str], boxes: npt.NDArray[np.float64] | None = None, locale: str = "") -> bool:
    """Is a screen with these texts, one a row of `boxes` (n, 4), laid out from right to left?

    Where the script of its words (the bidirectional class of their first strong letters, Unicode annex 9) is read as the locale is, or
    no locale is known, so is the screen. An app that does not speak the device's language may be laid out either way: its lines tell,
    whose beginnings are level; and where they do not, the locale.
    """
    rows = [row for row, words in enumerate(texts) if words and _direction(words)]
    counts = Counter(_direction(texts[row]) for row in rows)
    written = counts["R"] > counts["L"]
    if not locale or (rows and written == from_right(locale)) or written:
        return written
    if not from_right(locale) or boxes is None:
        return from_right(locale)
    left, right = (_level(boxes[rows, side]) for side in (0, 2))
    return right >= left


def _level(edges: npt.NDArray[np.float64]) -> int:
    """How many edges are level with the most of them."""
    return max(Counter(round(edge / LEVEL_DP) for edge in edges.tolist()).values(), default=0)


@lru_cache(maxsize=16384)
def _direction(words: str) -> str:
    return next(({"L": "L", "R": "R", "AL": "R"}[kind] for c in words if (kind := unicodedata.bidirectional(c)) in {"L", "R", "AL"}), "")
