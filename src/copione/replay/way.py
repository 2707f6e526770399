"""The way to a line of a script: its steps up to there, replayed on one device so that what comes next can be recorded."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from ..links.link import Link
from ..model.clock import Clock
from ..model.errors import CopioneError
from ..model.outcome import Outcome, Result
from ..model.step import Script
from ..project.archive import TakeWriter
from ..project.project import Loaded, Project, frames_folder
from .take import Take


class NotThere(CopioneError):
    """The device could not be brought to the line."""


def up_to(script: Script, line: int) -> Script:
    """The steps of a script that stand on that line or above it."""
    scenes = tuple(replace(scene, steps=tuple(s for s in scene.steps if s.line <= line)) for scene in script.scenes)
    return replace(script, scenes=tuple(scene for scene in scenes if scene.steps))


def walk(
    link: Link,
    project: Project,
    loaded: Loaded,
    line: int,
    clock: Clock,
    done: Callable[[int, int], None] = lambda number, total: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> None:
    """Replay a script up to a line with its first data row. `done` hears of each step. Raises NotThere where one is stuck."""
    script = up_to(loaded.document.sound(), line)
    total = sum(1 for _ in script.steps())
    profile = link.profile()
    package = project.package(script.app, profile.platform) if script.app else ""
    with tempfile.TemporaryDirectory(prefix="copione-way-") as scratch:
        take = Take(
            link,
            script,
            loaded.rows[0],
            loaded.portraits,
            package,
            clock,
            TakeWriter(Path(scratch) / "take"),
            lambda result: done(result.number, total),
            cancelled,
            project.phrases(profile.locale),
            secrets=loaded.secrets,
            frames=frames_folder(loaded.path),
        )
        stuck = next((r for r in take.run() if _ends(r)), None)
    if stuck is not None:
        raise NotThere(f"{stuck.step} was stuck on the way: {stuck.reason} Nothing is recorded.".replace("..", "."))


def _ends(result: Result) -> bool:
    return result.outcome is Outcome.STUCK and result.verb != "check"
