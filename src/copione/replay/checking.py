"""Comparing what a check expects with what is there."""

from __future__ import annotations

import re

from ..model.screen import Element, Flag
from ..model.step import Step
from ..screens.reading import number_words, reads, value_of_caption

REACH_DP, COLOUR = 1.5, 0.15  # a letter is drawn a little elsewhere on a screen of another density


def reading(step: Step, element: Element) -> str:
    """What the target of a check says: a label's value is what stands beside it, anything else speaks for itself."""
    if step.relation == "has items":
        return str(sum(e.role in {"listitem", "option"} and e.parent == element for e in element.screen))
    if step.relation in {"is enabled", "is disabled"}:
        return "enabled" if element.has(Flag.ENABLED) else "disabled"
    if step.relation in {"is selected", "is not selected"}:
        return "selected" if element.has(Flag.SELECTED) or element.has(Flag.CHECKED) else "not selected"
    if step.target is not None and step.target.role == "label":
        return value_of_caption(element) or element.text or element.name
    return reads(element)


def plain(words: str) -> str:
    """White space folded, 6.0 as 6."""
    return number_words(" ".join(words.split()))


def satisfied(step: Step, read: str) -> bool:
    """Does the reading fit the check's relation? Only for relations that read something."""
    found, wanted = plain(read), plain(step.value)
    if step.relation == "reads":
        return found == wanted
    if step.relation == "contains":
        return wanted in found
    if step.relation == "matches":
        return re.search(step.value, read) is not None
    if step.relation == "is between":
        low, _, high = step.value.partition(" and ")
        number = re.search(r"-?\d+(?:[.,]\d+)?", read)
        return number is not None and float(low) <= float(number.group().replace(",", ".")) <= float(high)
    if step.relation == "has items":
        return read == step.value
    if step.relation.removeprefix("is ") in {"on", "off", "enabled", "disabled", "selected", "not selected"}:
        return found == step.relation.removeprefix("is ")
    return True


def tolerances(step: Step) -> tuple[float, float]:
    """How far a picture's edges may lie off (dp) and its colours (share of full colour), by a step's words or as usual."""
    numbers = re.findall(r"\d+(?:\.\d+)?", step.value)
    return (float(numbers[0]), float(numbers[1]) / 100) if len(numbers) == 2 else (REACH_DP, COLOUR)
