"""Comparing what a check expects with what is there."""

from __future__ import annotations

from ..model.screen import Element
from ..model.step import Step
from ..screens.reading import number_words, reads, value_of_caption


def reading(step: Step, element: Element) -> str:
    """What the target of a check says: a label's value is what stands beside it, anything else speaks for itself."""
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
    if step.relation in {"is on", "is off"}:
        return found == step.relation.removeprefix("is ")
    return True
