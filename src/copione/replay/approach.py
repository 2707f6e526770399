"""Bringing one device to a line of a script: its steps up to there replayed, so that what comes next can be recorded."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from ..links.holding import held
from ..links.limits import hurried
from ..links.link import Link
from ..model.action import Check
from ..model.clock import Clock
from ..model.errors import CopioneError
from ..model.outcome import Outcome, Result
from ..model.step import Script
from ..project.archive import TakeWriter
from ..project.loaded import Loaded
from ..project.project import Project
from .plan import TakePlan, TakePorts
from .take import Take


class NotThere(CopioneError):
    """The device could not be brought to the line."""


def up_to(script: Script, line: int) -> Script:
    """The steps of a script that stand on that line or above it."""
    scenes = tuple(replace(scene, steps=tuple(s for s in scene.steps if s.line <= line)) for scene in script.scenes)
    return replace(script, scenes=tuple(scene for scene in scenes if scene.steps))


def replay_up_to(
    link: Link,
    project: Project,
    loaded: Loaded,
    line: int,
    clock: Clock,
    done: Callable[[int, int], None] = lambda number, total: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> None:
    """Replay a script up to a line with its first data row. `done` hears of each step, and of how many there are.

    Raises NotThere where one is stuck, ScriptBroken when the script has problems.
    """
    loaded.teach(project.redactor)
    script = up_to(loaded.document.sound(), line)
    total = sum(1 for _ in script.steps())
    profile = link.profile()
    package = project.package(script.app, profile.platform) if script.app else ""
    plan = TakePlan.of(project, loaded, profile, loaded.takes[0], package)
    plan = replace(plan, library=replace(loaded.library, stretch=tuple(s for s in script.scenes if not s.values)))
    with tempfile.TemporaryDirectory(prefix="copione-way-") as scratch:
        ports = TakePorts(TakeWriter(Path(scratch) / "take", project.redactor), lambda result: done(result.number, total), cancelled)
        with held(link, f"on the way to a line of {script.name}"), hurried(link, script.patience):
            stuck = next((r for r in Take(plan, link, clock, ports).run() if _ends(r)), None)
    if stuck is not None:
        raise NotThere(f"{stuck.step} was stuck on the way: {stuck.reason} Nothing is recorded.".replace("..", "."))


def _ends(result: Result) -> bool:
    return result.outcome is Outcome.STUCK and not isinstance(result.action, Check)
