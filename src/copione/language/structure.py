"""What is wrong with the blocks of a scene: one that does not end, an end without a beginning."""

from __future__ import annotations

from collections.abc import Iterator

from ..model.action import End, Opening, Otherwise
from ..model.blocks import MOST_DEEP
from ..model.step import Scene, Step
from .problems import Problem


def block_problems(scene: Scene) -> Iterator[Problem]:
    """Problems of a scene's blocks, each where it stands."""
    open_blocks: list[tuple[Step, bool]] = []  # its head, and whether its `otherwise` has come
    for step in scene.steps:
        if isinstance(step.action, Opening):
            open_blocks.append((step, False))
            if len(open_blocks) == MOST_DEEP + 1:
                yield problem_at(step, f"Blocks stand within one another more than {MOST_DEEP} deep: make scenes of the inner ones.")
        elif isinstance(step.action, Otherwise):
            head, been = open_blocks.pop() if open_blocks else (None, False)
            if head is None:
                yield problem_at(step, "This `otherwise` has no `when` above it.")
                continue
            if not (isinstance(head.action, Opening) and head.action.branches):
                yield problem_at(step, f"Only a `when` can have an `otherwise`; the block that is open here starts in line {head.line}.")
            elif been:
                yield problem_at(step, f"The `when` in line {head.line} already has an `otherwise`.")
            open_blocks.append((head, True))
        elif isinstance(step.action, End):
            if open_blocks:
                open_blocks.pop()
            else:
                yield problem_at(step, "No block is open that could end here.")
    for head, _ in open_blocks:
        yield problem_at(head, f"This {head.verb} has no end in its scene.")


def problem_at(step: Step, message: str, words: str = "", *, hint: bool = False, near: str = "") -> Problem:
    """A problem of a step's line, at some words in it, else at its verb."""
    text = step.source or ""
    column = text.find(words) if words else -1
    if column < 0:
        words, column = step.verb, max(0, text.find(step.verb))
    return Problem(step.line, column + 1, message, text, max(1, len(words)), near=near, hint=hint)
