"""Portraits for a script that was written by hand, taken from a run in which its steps were done."""

from __future__ import annotations

from pathlib import Path

from ..files.places import Place
from ..files.reading import FileKind, read_bytes
from ..files.writing import copied
from ..model.device import DeviceProfile
from ..model.errors import FileTrouble, TreeUnreadable
from ..model.geometry import Box
from ..model.outcome import Result
from ..model.portrait import Portrait
from ..model.screen import Screen
from ..screens.remote import read_source
from .archive import RunRecord, TakeRecord
from .naming import frames_folder, portraits_path
from .portraits import change_portraits, load_portraits

CLOSE_DP = 1.5  # how far the sides of a target may lie from those of its element


def portray_from(run: RunRecord, script: Path, device: str = "") -> list[str]:
    """Keep portraits of the targets that have none, as they were found on one device; their words. Raises FileTrouble.

    `device` is the run's lead where none is named.
    """
    take = _take_of(run, device or run.lead)
    path = portraits_path(script)
    known = load_portraits(path)
    frames, made = frames_folder(script), {}
    for result in take.results:
        if not result.target or result.target in known or result.target in made or not result.outcome.good or result.turned:
            continue
        portrait = _portrait(take, result, frames)
        if portrait is not None:
            made[result.target] = (portrait,)
    if made:
        change_portraits(path, lambda there: {**made, **there})
    return list(made)


def _take_of(run: RunRecord, device: str) -> TakeRecord:
    found = next((t for t in run.takes if t.device.name.casefold() == device.casefold()), None)
    if found is None:
        raise FileTrouble(f"{run.folder.name} has no take on {device}. It has {', '.join(t.device.name for t in run.takes)}.")
    return found


def _portrait(take: TakeRecord, result: Result, frames: Path) -> Portrait | None:
    screen = screen_of(take.folder, take.device, result)
    if screen is None or result.box is None:
        return None
    row = row_at(screen, result.box)
    if row is None:
        return None
    picture = ""
    if result.before:
        name = f"run-{result.before}"
        try:
            frames.mkdir(parents=True, exist_ok=True)
            picture = name if copied(take.picture(result.before), frames / name) else ""
        except OSError:
            picture = ""
    device = take.device
    return Portrait(screen, row, result.scene, picture, device=device.name, build=take.build, locale=device.locale)


def screen_of(folder: Place, device: DeviceProfile, result: Result) -> Screen | None:
    """The screen on which a step was done, from the tree that a take keeps; None where there is none that can be read."""
    if not result.tree:
        return None
    try:
        data = read_bytes(folder / "trees" / Path(result.tree).name, FileKind.TREE)
        return read_source(data, device) if device.platform != "web" else None
    except (FileTrouble, TreeUnreadable):
        return None


def row_at(screen: Screen, box: Box) -> int | None:
    """The element whose visible part is the box; the innermost of several."""
    whole = Box(0.0, 0.0, screen.width, screen.height)
    fits = [e for e in screen if max(abs(a - b) for a, b in zip(e.box.clipped(whole), box, strict=True)) <= CLOSE_DP]
    named = [e for e in fits if e.id or e.name]
    return (named or fits)[-1].row if fits else None
