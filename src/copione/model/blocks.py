"""The lines of a scene as blocks within blocks."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from .action import End, Opening, Otherwise
from .step import Step


@dataclass(frozen=True)
class Block:
    """Its head, the lines in it, and those behind its `otherwise`."""

    head: Step
    body: tuple[Node, ...]
    instead: tuple[Node, ...] = ()


Node = Step | Block
MOST_DEEP = 40  # blocks within one another


def nested(steps: Sequence[Step]) -> tuple[Node, ...]:
    """The same as blocks. Never fails: a block that is not ended ends with the scene, an end without a beginning is left out."""
    nodes, _ = _until(list(steps), 0, 0)
    return nodes


def _until(steps: list[Step], place: int, depth: int) -> tuple[tuple[Node, ...], int]:
    """Lines up to the `otherwise` or `end` that closes them, and where that stands."""
    found: list[Node] = []
    while place < len(steps):
        step = steps[place]
        if isinstance(step.action, Otherwise | End):
            if depth:
                break
            place += 1
        elif isinstance(step.action, Opening) and depth < MOST_DEEP:
            body, place = _until(steps, place + 1, depth + 1)
            instead: tuple[Node, ...] = ()
            if place < len(steps) and isinstance(steps[place].action, Otherwise):
                instead, place = _until(steps, place + 1, depth + 1)
                while place < len(steps) and isinstance(steps[place].action, Otherwise):  # one too many: see the problems
                    more, place = _until(steps, place + 1, depth + 1)
                    instead += more
            found.append(Block(step, body, instead))
            place += 1
        else:
            found.append(step)
            place += 1
    return tuple(found), place


def depths(steps: Sequence[Step]) -> Iterator[int]:
    """How many blocks each line stands in; a block's own `otherwise` and `end` stand as far out as its head."""
    depth = 0
    for step in steps:
        if isinstance(step.action, End):
            depth = max(0, depth - 1)
        yield max(0, depth - 1) if isinstance(step.action, Otherwise) else depth
        if isinstance(step.action, Opening):
            depth += 1
