"""How much two wordings are alike: a letter, a capital, a word more, the rest of a sentence."""

from __future__ import annotations

import re
from functools import lru_cache

from ..model.sentences import pieces_of

NUMBERS = re.compile(r"\d+")
WORD_MORE, ONE_MORE = 0.92, 0.85  # of two words and more with another put to them; of a single one
BEGINS = 0.93  # the same title, and other things said behind it
TITLE_LIKE = 0.9
CUT = 0.92  # what is written in full on one device, and cut short on the other
LEAST = 8  # letters that are left of it


@lru_cache(maxsize=16384)
def alike(one: str, other: str) -> float:
    """Similarity 0..1 of two folded wordings: the normalised indel ratio, or what a word more makes of it.

    0 where the numbers in them differ: "Hive 7" and "Hive 8" are nearly the same letters and never the same thing. Of two sentences
    merged out of several texts the beginnings must be alike, and say most.
    """
    from rapidfuzz import fuzz

    if one == other:
        return 1.0
    if not one or not other:
        return 0.0
    first, second = pieces_of(one), pieces_of(other)
    if len(first) > 1 or len(second) > 1:
        if alike(first[0], second[0]) < TITLE_LIKE:
            return 0.0
        if len(first) == 1 or len(second) == 1:
            return BEGINS
        shared = len(set(first) & set(second)) / max(len(first), len(second))
        return BEGINS + (1.0 - BEGINS) * shared
    if is_cut(one) or is_cut(other):
        return CUT if _begins(one, other) else 0.0
    if NUMBERS.findall(one) != NUMBERS.findall(other):
        return 0.0
    return max(float(fuzz.ratio(one, other)) / 100.0, _more(one, other))


def is_cut(words: str) -> bool:
    """Does the tree say only how they begin?"""
    return words.endswith(("…", "..."))


def _begins(one: str, other: str) -> bool:
    """Is the shorter one cut, and how the longer one begins? By so much of it that it says something."""
    few, many = sorted(((words.rstrip("….").rstrip(), is_cut(words)) for words in (one, other)), key=lambda pair: len(pair[0]))
    return few[1] and len(few[0]) >= LEAST and many[0].startswith(few[0])


def _more(one: str, other: str) -> float:
    """The same words in the same order with a single one put to them."""
    few, many = sorted((one, other), key=len)
    if few not in without_one(many):
        return 0.0
    return WORD_MORE if " " in few else ONE_MORE


def without_one(words: str) -> set[str]:
    """What is left of folded words without one of them; nothing where there is but one."""
    each = words.split()
    return {" ".join(each[:i] + each[i + 1 :]) for i in range(len(each))} if len(each) > 1 else set()
