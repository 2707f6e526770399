"""What was recorded about the targets of a script, as one device would have it."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from ..comparison.traits import parts_of
from ..files.naming import inside
from ..files.reading import FileKind, read_bytes
from ..model.errors import FileTrouble
from ..model.portrait import Portrait
from ..model.target import Target
from ..recognition.evidence import fold
from ..recognition.phrases import Interpreter
from ..recognition.pictures import Picture, decode

FRAMES = 2  # decoded at the same time


@dataclass(frozen=True)
class WantedTarget:
    """A target to look for (filled in, in the device's language) with its portraits and those of what the script says it stands in.

    `instead` will do where it is not there: a part of it, of whose whole a tree may tell nothing. `near`: only where what is near it
    is there too.
    """

    target: Target
    portraits: tuple[Portrait, ...] = ()
    holders: tuple[Portrait, ...] = ()
    instead: WantedTarget | None = None
    near: bool = False


@dataclass(frozen=True)
class Here:
    """The device that looks for a target: its name, the app's build on it, its language."""

    device: str = ""
    build: str = ""
    locale: str = ""


def _words_in(target: Target, portraits: Sequence[Portrait]) -> WantedTarget | None:
    """The words in a row, by which it is called: to be looked for where a tree tells of no rows."""
    found = []
    for portrait in portraits:
        row = portrait.element
        said = next((e for e in row.descendants() if e.text and e.text == row.name), None) if row.role == "listitem" else None
        if said is not None and fold(said.text) == fold(target.name):
            found.append(replace(portrait, row=said.row))
    return WantedTarget(Target("text", target.name), tuple(found), near=True) if found else None


class RecordedEvidence:
    """The portraits of a take, translated, and the recorded pictures. Used by one thread."""

    def __init__(
        self, portraits: Mapping[str, tuple[Portrait, ...]], interpreter: Interpreter, frames: Path | None, here: Here | None = None
    ) -> None:
        self.interpreter, self.here = interpreter, here or Here()
        self._portraits, self._folder = portraits, frames
        self._frames: OrderedDict[str, Picture | None] = OrderedDict()

    def of(self, target: Target | None, scene: str) -> tuple[Portrait, ...]:
        """Portraits under a target's words as the script has them, those recorded in this scene first."""
        found = self._portraits.get(target.words(), ()) if target is not None else ()
        ranked = sorted(found, key=lambda p: (self._elsewhere(p), p.scene != scene))
        return tuple(self.interpreter.portrait(p) for p in ranked if not p.grip)

    def _elsewhere(self, portrait: Portrait) -> int:
        """How far from here a portrait was found: what was learned on this very device comes first, on another one last.

        What was taken over from a build holds from that build on.
        """
        here = self.here
        if not portrait.device:
            if not portrait.build:
                return 2
            return 1 if parts_of(here.build) >= parts_of(portrait.build) else 3
        if (portrait.device, portrait.build) == (here.device, here.build):
            return 0
        return 1 if portrait.build == here.build and portrait.locale == here.locale else 3

    def grip_of(self, target: Target, scene: str) -> Portrait | None:
        """The recorded part by which a target was carried."""
        found = [p for p in self._portraits.get(target.words(), ()) if p.grip]
        return min(found, key=lambda p: p.scene != scene, default=None)

    def wanted(self, target: Target, asked: Target, scene: str) -> WantedTarget:
        """`target` with what is kept under `asked`, the same target as the script's text has it."""
        portraits = self.of(asked, scene)
        return WantedTarget(target, portraits, self.of(asked.inside, scene), _words_in(target, portraits))

    def frame(self, portrait: Portrait) -> Picture | None:
        """The recorded picture of a portrait; None where there is none."""
        name = portrait.picture
        if self._folder is None or not name:
            return None
        if name not in self._frames:
            try:
                self._frames[name] = decode(read_bytes(inside(self._folder, name), FileKind.PICTURE), portrait.screen.width)
            except FileTrouble:
                self._frames[name] = None
            if len(self._frames) > FRAMES:
                self._frames.popitem(last=False)
        else:
            self._frames.move_to_end(name)
        return self._frames[name]
