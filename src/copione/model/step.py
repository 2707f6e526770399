"""Scripts, scenes and steps as values; a step is one line of a script."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, fields, replace

from .action import Action, Check, Keep
from .target import Target
from .words import Change, Meaningless, filler


@dataclass(frozen=True)
class Step:
    """One line that does or checks something.

    `within`: seconds it may take, None for the script's patience. `place` allows the recorded place where nothing else finds the target.
    `line` is 1-based, 0 for a step that is in no text yet; `source` the line's text. Raises Meaningless for a time below nought.
    """

    action: Action
    within: float | None = None
    comment: str = ""
    place: bool = False
    line: int = field(default=0, compare=False)
    source: str | None = field(default=None, compare=False, repr=False)

    def __post_init__(self) -> None:
        if self.within is not None and self.within < 0:
            raise Meaningless("Nothing can be done before it is begun.", f"{self.within:g}", "0 s or more")

    @property
    def verb(self) -> str:
        """The word its line begins with."""
        return self.action.verb

    @property
    def is_check(self) -> bool:
        """Is it a check?"""
        return isinstance(self.action, Check)

    @property
    def target(self) -> Target | None:
        """The target it acts on."""
        return next(iter(self.action.targets()), None)

    def key(self) -> str:
        """The words under which its target's portraits are kept; empty without a target."""
        return self.target.words() if self.target else ""

    def on(self, target: Target) -> Step:
        """The same done to another target; a step without one stays as it is."""
        name = next((each.name for each in fields(self.action) if isinstance(getattr(self.action, each.name), Target)), None)
        return self if name is None else replace(self, action=replace(self.action, **{name: target}))

    def map_text(self, change: Change) -> Step:
        """The same step with every text changed; see `Worded.map_text`."""
        action = self.action.map_text(change)
        return self if action is self.action else replace(self, action=action)

    def filled(self, row: Mapping[str, str]) -> Step:
        """The step with the data row's values. Raises UnknownVariable, or Meaningless where a value does not fit."""
        return self.map_text(filler(row))


@dataclass(frozen=True)
class Scene:
    """A named group of steps."""

    name: str
    steps: tuple[Step, ...]
    line: int = field(default=0, compare=False)


@dataclass(frozen=True)
class Script:
    """A whole script. `patience` in seconds. `source` is the text it was parsed from."""

    name: str
    app: str = ""
    patience: float = 8.0
    data: str = ""
    scenes: tuple[Scene, ...] = ()
    source: str = field(default="", compare=False, repr=False)

    def steps(self) -> Iterator[tuple[Scene, Step]]:
        """Every step with its scene, in order."""
        for scene in self.scenes:
            for step in scene.steps:
                yield scene, step

    def variables(self) -> set[str]:
        """Every variable that some step uses and none keeps: its value has to be given."""
        used: set[str] = set()
        kept: set[str] = set()
        for _, step in self.steps():
            used |= step.action.variables()
            if isinstance(step.action, Keep):
                kept.add(step.action.variable)
        return used - kept
