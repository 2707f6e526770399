"""A recording written as a script, with its portraits, its frames and its data."""

from __future__ import annotations

import shutil
from collections.abc import Collection
from dataclasses import replace
from pathlib import Path

from ..files.naming import free_path
from ..files.reading import trouble
from ..files.writing import copied, write_whole
from ..language.printer import script_text
from ..project.data import save_rows
from ..project.naming import frames_folder, portraits_path
from ..project.portraits import save_portraits
from ..project.project import Project
from .recording import Recording


def write_script(
    project: Project, recording: Recording, name: str, shots: Path, uids: Collection[int] | None = None, path: Path | None = None
) -> Path:
    """Write all of a recording, or the steps `uids`, as a script of that name; its file. `shots` holds the pictures. Raises FileTrouble."""
    place = path or project.free_script_path(name)
    script = recording.script(name, uids)
    row = recording.row(script)
    if row:
        script = replace(script, data=free_path(project.data_path(f"{place.stem}.csv")).name)
        save_rows(project.data_path(script.data), [row], project.redactor)
    write_whole(place, project.redactor.words(script_text(script)).encode())
    save_portraits(portraits_path(place), recording.portraits(), project.redactor)
    frames = frames_folder(place)
    try:
        if frames.exists():
            shutil.rmtree(frames)
        frames.mkdir(parents=True)
        for stem in sorted({s.shot for s in recording.stretch(uids) if s.shot}):
            copied(shots / f"{stem}.png", frames / f"{stem}.png")
    except OSError as error:
        raise trouble(error, frames) from error
    return place
