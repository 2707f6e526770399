"""Which lines of a script belong together: scenes, and blocks within them."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.action import End, Opening
from .document import Document


@dataclass(frozen=True)
class FoldRange:
    """Lines from a head (1-based) to the last that belongs to it."""

    head: int
    last: int


def stretches(document: Document) -> list[FoldRange]:
    """Every scene and every block that ends, by their heads; those of one line only are none."""
    found: list[FoldRange] = []
    scenes = document.script.scenes
    for number, scene in enumerate(scenes, 1):
        last = scenes[number].line - 1 if number < len(scenes) else len(document.lines)
        while last > scene.line and not document.lines[last - 1].text.strip():
            last -= 1
        found.append(FoldRange(scene.line, last))
        heads: list[int] = []
        for step in scene.steps:
            if isinstance(step.action, Opening):
                heads.append(step.line)
            elif isinstance(step.action, End) and heads:
                found.append(FoldRange(heads.pop(), step.line))
    return sorted((each for each in found if each.last > each.head), key=lambda each: (each.head, -each.last))
