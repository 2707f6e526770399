"""A script with those whose scenes it performs."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from .action import ClearData, Install, Launch, Perform, Start, Uninstall
from .step import Scene, Script, Step

OWN = ""  # the file of the script itself


@dataclass(frozen=True)
class ScenePlace:
    """A scene, and the file in which it stands."""

    file: str
    scene: Scene


@dataclass(frozen=True)
class Library:
    """Scripts by file name as `uses` gives it; the script itself under `OWN`. One that could not be read is not there.

    `stretch`: what of the script is gone through, where it is not all of it.
    """

    scripts: Mapping[str, Script]
    stretch: tuple[Scene, ...] | None = None

    @property
    def script(self) -> Script:
        """The script itself."""
        return self.scripts[OWN]

    def named(self, file: str, name: str) -> list[ScenePlace]:
        """Scenes of that name as a script in `file` means them: its own, else those of the first script it uses that has some."""
        here = self.scripts.get(file)
        for each in (file, *(here.uses if here is not None else ())):
            found = self._by_name.get((each, name))
            if found:
                return found
        return []

    @cached_property
    def _by_name(self) -> Mapping[tuple[str, str], list[ScenePlace]]:
        found: dict[tuple[str, str], list[ScenePlace]] = {}
        for file, script in self.scripts.items():
            for scene in script.scenes:
                found.setdefault((file, scene.name), []).append(ScenePlace(file, scene))
        return found

    def scene(self, file: str, name: str) -> ScenePlace | None:
        """The one scene of that name; None where there is none, or several."""
        found = self.named(file, name)
        return found[0] if len(found) == 1 else None

    def run(self) -> Iterator[Scene]:
        """The script's own scenes that are gone through one after the other: those that ask for no values."""
        if self.stretch is not None:
            return iter(self.stretch)
        return (scene for scene in self.script.scenes if not scene.values)

    def used(self) -> list[ScenePlace]:
        """Every scene that is gone through or performed, each once."""
        found = {(OWN, scene.line): ScenePlace(OWN, scene) for scene in self.run()}
        waiting = list(found.values())
        while waiting:
            here = waiting.pop()
            for step in here.scene.steps:
                there = self.scene(here.file, step.action.scene) if isinstance(step.action, Perform) else None
                if there is not None and (there.file, there.scene.line) not in found:
                    found[there.file, there.scene.line] = there
                    waiting.append(there)
        return list(found.values())

    def on_lines(self, first: int, last: int) -> Library:
        """The same gone through on those lines of the script alone, from the first to the last."""
        chosen = ((scene, tuple(s for s in scene.steps if first <= s.line <= last)) for scene in self.script.scenes)
        return replace(self, stretch=tuple(replace(scene, steps=steps) for scene, steps in chosen if steps))

    @property
    def cleared(self) -> tuple[str, ...]:
        """The apps, by their words in its head, whose stored data it deletes; an empty word for the one under test of a script without."""
        actions = [step.action for _, step in self.steps()]
        clearing = (a for a in actions if isinstance(a, Uninstall | ClearData) or (isinstance(a, Launch) and a.start is Start.AFRESH))
        return tuple(dict.fromkeys(action.named_app or self.script.app for action in clearing))

    @property
    def installs(self) -> bool:
        """Does it install an app itself?"""
        return any(isinstance(step.action, Install) for _, step in self.steps())

    def steps(self) -> Iterator[tuple[ScenePlace, Step]]:
        """Every step of every scene that is gone through or performed, in no order."""
        for place in self.used():
            for step in place.scene.steps:
                if not step.is_structure:
                    yield place, step
