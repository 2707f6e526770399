"""What the items of a list say of what the list is sorted by."""

from __future__ import annotations

from decimal import Decimal

from ..model.number import numbers_in
from ..model.reading import SortKey
from ..model.relation import IsInOrder
from ..model.screen import Element
from ..recognition.evidence import fold, visible
from ..recognition.reach import in_sight
from ..screens.numbers import signs_of
from ..screens.reading import value_of_caption

NOUGHT = Decimal(0)
CUT = 1.0  # dp: what comes so near to the edge of its list may go on behind it
ITEMS = frozenset({"listitem", "option"})


def sorting(holder: Element, by: str) -> list[tuple[Element, str]]:
    """The items that are wholly in sight, from the top down, each with what it says beside the caption `by` (its name without one)."""
    shown = visible(holder)
    items = [e for e in holder.descendants() if e.role in ITEMS and in_sight(e).point is not None]
    items = [e for e in items if e.box.top > shown.top + CUT and e.box.bottom < shown.bottom - CUT] or items
    items.sort(key=lambda e: (round(e.box.top), e.box.left))
    return [(item, _value(item, by) if by else item.name) for item in items]


def unsortable(holder: Element, relation: IsInOrder) -> str:
    """Why it cannot be told whether the items are in order; empty where it can."""
    found = sorting(holder, relation.by)
    if len(found) < 2:
        return f"{len(found) or 'no'} item{'' if len(found) == 1 else 's'} of it can be seen"
    silent = next((item for item, words in found if not words), None)
    if silent is not None:
        return f"“{silent.name}” says nothing of “{relation.by}”" if relation.by else "an item has no name"
    numbered = {words[0].isdigit() for _, words in found}
    if len(numbered) > 1:
        first = next(words for _, words in found if words[0].isdigit())
        other = next(words for _, words in found if not words[0].isdigit())
        return f"“{first}” and “{other}” cannot be put in order"
    return ""


def sort_key(words: str, locale: str) -> SortKey:
    """What words are sorted by: numbers by their value in a locale, the rest by its letters, whatever their case."""
    said, parts, place = words.casefold().strip(), [], 0
    for number in numbers_in(said, signs_of(locale)):
        digits = said[number.begin : number.end]
        parts += [(1, NOUGHT, said[place : number.begin].strip())] if said[place : number.begin].strip() else []
        parts.append((0, number.value, "") if number.value is not None else (1, NOUGHT, digits))
        place = number.end
    return (*parts, *([(1, NOUGHT, said[place:].strip())] if said[place:].strip() else []))


def _value(item: Element, by: str) -> str:
    said = fold(by)
    for each in item.descendants():
        words = " ".join(each.text.split())
        if fold(words) == said:
            return value_of_caption(each)
        if fold(words).startswith(said):
            return words[len(by) :].strip(" :·–-")
    return ""
