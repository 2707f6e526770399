"""A script as it is gone through, without a device: every step once, loops at their first turn, scenes where they are performed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..language.performing import DEEPEST
from ..language.printer import step_words
from ..model.action import Opening, Perform
from ..model.address import Address
from ..model.blocks import Block, Node, nested
from ..model.library import OWN, Library
from ..model.outcome import Outcome, Reason, Result
from ..model.step import Scene, Step

MOST = 50_000  # steps that are listed


START = Address()


@dataclass(frozen=True)
class Position:
    """A place on the way: the scene, the file it stands in, and the address of what leads there."""

    scene: Scene
    file: str = OWN
    above: Address = START
    depth: int = 0
    own: int = 0  # the line of the script itself that performs another one's scene; 0 where none does

    def address(self, step: Step, turn: int = 0) -> Address:
        """Of a step of this scene here."""
        return self.above.then(step.line, turn)

    def turn(self, head: Step, turn: int) -> Position:
        """Within a turn of a loop (0 where the block is none)."""
        return replace(self, above=self.address(head, turn))

    def performing(self, step: Step, library: Library, name: str) -> Position | None:
        """Within a scene that a step performs; None where it cannot be told, or they perform one another without end."""
        there = library.scene(self.file, name)
        if there is None or self.depth >= DEEPEST:
            return None
        own = self.own or (step.line if there.file != OWN else 0)
        return Position(there.scene, there.file, self.address(step), self.depth + 1, own)


def listed(library: Library, nodes: tuple[Node, ...], where: Position) -> Iterator[tuple[Position, Step]]:
    """Every step under those nodes once, in the order of its address."""
    for node in nodes:
        step = node.head if isinstance(node, Block) else node
        yield where, step
        if isinstance(node, Block):
            inner = where.turn(node.head, 1 if is_loop(node.head) else 0)
            yield from listed(library, node.body, inner)
            yield from listed(library, node.instead, inner)
        elif isinstance(node.action, Perform):
            there = where.performing(node, library, node.action.scene)
            if there is not None:
                yield from listed(library, nested(there.scene.steps), there)


def is_loop(head: Step) -> bool:
    """Does the block that it opens go through turns?"""
    return isinstance(head.action, Opening) and head.action.loops


def not_done(number: int, where: Position, step: Step, outcome: Outcome, why: Reason | None = None) -> Result:
    """The result of a step that was not come to."""
    words, key = step_words(step), step.key()
    return Result(number, where.address(step), where.scene.name, words, key, outcome, step.action, why=why, file=where.file, own=where.own)


def planned(library: Library) -> Iterator[Result]:
    """Every step as unreached: what a take shows before it starts."""
    number = 0
    for scene in library.run():
        for where, step in listed(library, nested(scene.steps), Position(scene)):
            number += 1
            if number > MOST:
                return
            yield not_done(number, where, step, Outcome.UNREACHED)


def following(library: Library) -> dict[tuple[str, int], tuple[Scene, Step]]:
    """For each step by file and line, the one that stands behind it in the text."""
    found: dict[tuple[str, int], tuple[Scene, Step]] = {}
    for file, script in library.scripts.items():
        before: Step | None = None
        for scene, step in script.steps():
            if before is not None:
                found[file, before.line] = scene, step
            before = None if isinstance(step.action, Opening) else step
    return found
