"""The evidence for what sets devices apart: each trait that does as dots on a line, failing and passing. Pure."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from .finding import Finding
from .traits import BY_KEY, Scale, TraitSubject, Value

MOST = 4  # traits that are shown


@dataclass(frozen=True)
class Dot:
    """One value, where it lies on the line (0..1), in words, how many devices have it, and whether they fail.

    `version` is what is left of a release's words behind another one of the same `platform`.
    """

    place: float
    words: str
    many: int
    failing: bool
    platform: str = ""
    version: str = ""


@dataclass(frozen=True)
class Dots:
    """A trait as dots. `gap` is where on the line (0..1) the threshold may lie; None for words."""

    title: str
    dots: tuple[Dot, ...]
    gap: tuple[float, float] | None = None

    def said(self, failing: bool) -> str:
        """The values of one side, in words."""
        own = [dot for dot in self.dots if dot.failing is failing]
        if self.gap is not None and len(own) > 1:
            return f"{own[0].words} to {own[-1].words}"
        before = ["", *(dot.platform for dot in own)]
        return ", ".join(
            dot.version if dot.platform and dot.platform == last else dot.words for dot, last in zip(own, before, strict=False)
        )


def dots_of(finding: Finding) -> tuple[Dots, ...]:
    """The traits that set its devices apart, the plainest first."""
    traits = list(dict.fromkeys(test.trait for rule in finding.sides.apart.rules for test in rule.tests))
    failing, passing, _ = finding.sides.subjects
    found = (_line(key, failing, passing) for key in traits[:MOST])
    return tuple(each for each in found if each is not None)


def _line(key: str, failing: tuple[TraitSubject, ...], passing: tuple[TraitSubject, ...]) -> Dots | None:
    trait = BY_KEY[key]
    sides = [(s.facts[key], bad) for side, bad in ((passing, False), (failing, True)) for s in side if key in s.facts]
    count = Counter(sides)
    values: list[Any] = sorted({value for value, _ in sides})  # a trait's are all of one kind
    if not values:
        return None

    def place(value: Any) -> float:
        if trait.scale is Scale.NUMBER and len(values) > 1:
            return float((value - values[0]) / (values[-1] - values[0]))
        return (values.index(value) + 0.5) / len(values)

    dots = tuple(
        Dot(place(value), trait.said(value), count[value, bad], bad, *_release(value))
        for value in values
        for bad in (False, True)
        if count[value, bad]
    )
    gap = None
    if trait.scale is not Scale.WORD:
        bad = [dot.place for dot in dots if dot.failing]
        good = [dot.place for dot in dots if not dot.failing]
        for left, right in ((bad, good), (good, bad)):
            if left and right and max(left) < min(right):
                gap = (max(left), min(right))
    return Dots(trait.title, dots, gap)


def _release(value: Value) -> tuple[str, str]:
    return (value[0], ".".join(map(str, value[1]))) if isinstance(value, tuple) else ("", "")
