"""Values that a script wants and nothing in it gives: what has to come from the data, or from whoever starts it."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace

from .action import Keep, Perform
from .blocks import Block, Node, nested
from .library import OWN, Library
from .step import Step


@dataclass(frozen=True)
class Want:
    """A variable that nothing gives a value, and the step that uses it. `by`: where that stands in another script, the line of the
    script itself that performs its scene."""

    name: str
    step: Step
    by: Step | None = None

    @property
    def line(self) -> Step:
        """The step of the script itself at which it is wanted."""
        return self.by or self.step


@dataclass(frozen=True)
class _Here:
    """Where the walk is: the file, what has a value there, and who performs it."""

    file: str
    known: frozenset[str]
    by: Step | None = None


def kept(library: Library) -> set[str]:
    """Variables that some step keeps from the screen."""
    return {s.action.variable for script in library.scripts.values() for _, s in script.steps() if isinstance(s.action, Keep)}


def wants(library: Library, known: Collection[str], columns: Mapping[str, Collection[str]]) -> Iterator[Want]:
    """Each variable that has no value where it is used, at each line of the script once. `known` have one everywhere; `columns` are
    those of the tables that loops go through. Scenes that nothing performs are read as if they were given what they ask for.
    """
    walk = _Walk(library, columns)
    start = frozenset(known) | kept(library)
    performed = {s.action.scene for _, s in library.script.steps() if isinstance(s.action, Perform)}
    for scene in library.script.scenes:
        if not scene.values or scene.name not in performed:
            yield from walk.nodes(nested(scene.steps), _Here(OWN, start | set(scene.values)), 0)


class _Walk:
    def __init__(self, library: Library, columns: Mapping[str, Collection[str]]) -> None:
        self.library, self.columns = library, columns
        self.told: set[tuple[int, str]] = set()
        self.been: set[tuple[str, int, frozenset[str]]] = set()

    def nodes(self, nodes: tuple[Node, ...], here: _Here, depth: int) -> Iterator[Want]:
        for node in nodes:
            step = node.head if isinstance(node, Block) else node
            for name in sorted(step.used - here.known):
                want = Want(name, step, here.by)
                if (want.line.line, name) not in self.told:
                    self.told.add((want.line.line, name))
                    yield want
            if isinstance(node, Block):
                columns = {column for table in node.head.action.tables for column in self.columns.get(table, ())}
                yield from self.nodes(node.body, replace(here, known=here.known | columns) if columns else here, depth)
                yield from self.nodes(node.instead, here, depth)
            elif isinstance(node.action, Perform):
                yield from self._performed(node, node.action, here, depth)

    def _performed(self, step: Step, action: Perform, here: _Here, depth: int) -> Iterator[Want]:
        there = self.library.scene(here.file, action.scene)
        if there is None or depth > 100:
            return
        known = here.known | set(there.scene.values)
        if (there.file, there.scene.line, known) in self.been:
            return
        self.been.add((there.file, there.scene.line, known))
        by = None if there.file == OWN else here.by or step
        yield from self.nodes(nested(there.scene.steps), _Here(there.file, known, by), depth + 1)
