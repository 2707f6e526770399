"""Scripts, scenes and steps as values; a step is one line of a script."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, fields, replace
from functools import cached_property

from .action import STRUCTURE, Action, Check
from .target import Target
from .words import Change, DayWords, InvalidValue, filler, iso


@dataclass(frozen=True)
class Step:
    """One line that does or checks something.

    `within`: seconds it may take, None for the script's patience. `place` allows the recorded place where nothing else finds the target.
    `line` is 1-based, 0 for a step that is in no text yet; `source` the line's text. Raises InvalidValue for a time below nought.
    """

    action: Action
    within: float | None = None
    comment: str = ""
    place: bool = False
    line: int = field(default=0, compare=False)
    source: str | None = field(default=None, compare=False, repr=False)

    def __post_init__(self) -> None:
        if self.within is not None and self.within < 0:
            raise InvalidValue("A time limit cannot be negative.", f"{self.within:g}", "0 s or more")
        if self.is_structure and (self.within is not None or self.place):
            raise InvalidValue(
                "Only a step that waits or searches takes a time limit or a place.", "" if self.within is None else f"{self.within:g}"
            )

    def at(self, line: int) -> Step:
        """The same step on another line; what was found out about it stays."""
        moved = Step.__new__(Step)
        moved.__dict__.update(self.__dict__)
        moved.__dict__["line"] = line
        return moved

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
        return self._key

    @cached_property
    def _key(self) -> str:
        target = self.target
        return target.words() if target else ""

    def on(self, target: Target) -> Step:
        """The same done to another target; a step without one stays as it is."""
        name = next((each.name for each in fields(self.action) if isinstance(getattr(self.action, each.name), Target)), None)
        return self if name is None else replace(self, action=replace(self.action, **{name: target}))

    def map_text(self, change: Change) -> Step:
        """The same step with every text changed; see `Worded.map_text`."""
        action = self.action.map_text(change)
        return self if action is self.action else replace(self, action=action)

    def filled(self, row: Mapping[str, str], day_words: DayWords = iso) -> Step:
        """The step with the data row's values. Raises UnknownVariable, NoSum, or InvalidValue where a value does not fit."""
        return self.map_text(filler(row, day_words))

    @cached_property
    def used(self) -> frozenset[str]:
        """The variables in its texts."""
        if self.source is not None and "{" not in self.source:
            return frozenset()
        return frozenset(self.action.variables())

    @property
    def is_structure(self) -> bool:
        """Does it only say where a block goes on, or ends?"""
        return isinstance(self.action, STRUCTURE)


@dataclass(frozen=True)
class Scene:
    """A named group of steps, every line of its blocks among them. One with `values` of its own is only performed, never run by itself."""

    name: str
    steps: tuple[Step, ...]
    values: tuple[str, ...] = ()
    line: int = field(default=0, compare=False)


@dataclass(frozen=True)
class Need:
    """A value that is given at the start: its name, its default where it has one, and whether it is secret."""

    name: str
    default: str | None = None
    secret: bool = False


@dataclass(frozen=True)
class Script:
    """A whole script. `patience` in seconds; `uses` file names of scripts whose scenes it may perform; `covers` test cases elsewhere;
    `others` are apps besides the one under test.

    `source` is the text it was parsed from.
    """

    name: str
    app: str = ""
    patience: float = 8.0
    data: str = ""
    scenes: tuple[Scene, ...] = ()
    uses: tuple[str, ...] = ()
    covers: tuple[str, ...] = ()
    needs: tuple[Need, ...] = ()
    others: tuple[str, ...] = ()
    source: str = field(default="", compare=False, repr=False)

    @property
    def apps(self) -> tuple[str, ...]:
        """The words for its apps, the one under test first."""
        return (self.app, *self.others) if self.app else self.others

    def steps(self) -> Iterator[tuple[Scene, Step]]:
        """Every step with its scene, in the order of the text; heads of blocks too, not where they end."""
        for scene in self.scenes:
            for step in scene.steps:
                if not step.is_structure:
                    yield scene, step

    def scene(self, name: str) -> Scene | None:
        """The scene of that name."""
        return next((scene for scene in self.scenes if scene.name == name), None)
