"""A recording that goes into the middle of a script: its lines, portraits, frames and values put among those that are there."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

from ..files.changing import change_text
from ..files.reading import FileKind, trouble
from ..files.writing import copied
from ..language.document import Document, parse
from ..language.lines import Header
from ..language.printer import header_line, step_line
from ..model.step import Script, Step
from ..project.data import change_rows
from ..project.loaded import Loaded
from ..project.loading import read_document
from ..project.naming import frames_folder, portraits_path
from ..project.portraits import Portraits, change_portraits
from ..project.project import Project
from .recording import Recording


@dataclass(frozen=True)
class Insertion:
    """Behind which line (1-based) of a script: the line's text tells it again when others have moved. `scene` is the one it stands in."""

    path: Path
    line: int
    text: str
    scene: str

    @classmethod
    def behind(cls, loaded: Loaded, line: int) -> Insertion:
        """Behind that line of a script as it was loaded."""
        scene = next((s.name for s in reversed(loaded.script.scenes) if s.line <= line), "Scene 1")
        return cls(loaded.path, line, loaded.document.lines[line - 1].text, scene)

    def record(self) -> dict[str, Any]:
        """As plain values, for the journal."""
        return asdict(self) | {"path": str(self.path)}

    @classmethod
    def from_record(cls, record: dict[str, Any]) -> Insertion:
        """From what `record` gave."""
        return cls(Path(record["path"]), int(record["line"]), str(record["text"]), str(record["scene"]))


def insert(project: Project, into: Insertion, recording: Recording, shots: Path) -> int:
    """Write the recording into its script; `shots` holds its frames. The number of the first new line. Raises FileTrouble."""
    script, line = recording.script(""), 0
    read_document(into.path)  # what cannot be read is told before anything is written
    _keep_frames(into.path, recording, shots)
    new = recording.portraits()
    change_portraits(portraits_path(into.path), lambda known: _together(known, new, shots.name), project.redactor)

    def inserted(text: str) -> str:
        nonlocal line
        document = parse(text)
        line = _line(document, into)
        document = document.with_lines_after(line, _lines(document, line, script, into.scene))
        return project.redactor.words(_with_values(project, into.path, document, recording).text)

    change_text(into.path, FileKind.SCRIPT, inserted)
    return line + 1


def _line(document: Document, into: Insertion) -> int:
    """The line's number now: the nearest that says the same; the last one where none does."""
    same = [n for n, line in enumerate(document.lines, 1) if line.text == into.text]
    return min(same, key=lambda n: abs(n - into.line), default=len(document.lines))


def _lines(document: Document, line: int, script: Script, scene: str) -> list[str]:
    """The new steps as lines; a scene of their own begins with its header, and what follows goes on in its own."""
    lines: list[str] = []
    now, depth = scene, document.depth_behind(line)
    for each in script.scenes:
        if each.name != now:
            lines += ["", header_line(Header("scene", each.name))]
            now = each.name
        lines += [step_line(step, depth if now == scene else 0) for step in each.steps]
    rest = next((each.item for each in document.lines[line:] if each.item is not None), None)
    if now != scene and isinstance(rest, Step):
        lines += ["", header_line(Header("scene", scene))]
    return lines


def _together(kept: Portraits, new: Portraits, stamp: str) -> Portraits:
    """Both, the older first; of the same element in the same scene the newer."""
    found = dict(kept)
    for key, several in new.items():
        named = tuple(replace(p, picture=f"{stamp}-{p.picture}" if p.picture else "") for p in several)
        signs = {(p.scene, p.grip, p.screen.signature) for p in named}
        older = tuple(p for p in found.get(key, ()) if (p.scene, p.grip, p.screen.signature) not in signs)
        found[key] = (*older, *named)
    return found


def _keep_frames(path: Path, recording: Recording, shots: Path) -> None:
    frames = frames_folder(path)
    try:
        frames.mkdir(parents=True, exist_ok=True)
        for stem in sorted({s.shot for s in recording.steps if s.shot}):
            copied(shots / f"{stem}.png", frames / f"{shots.name}-{stem}.png")
    except OSError as error:
        raise trouble(error, frames) from error


def _with_values(project: Project, path: Path, document: Document, recording: Recording) -> Document:
    """New variables get a column in the script's data, the same value in each row; what was typed unseen is needed as a secret; apps that
    are new to it stand in its head."""
    script = recording.script("")
    for need in script.needs:
        if need.name not in {known.name for known in document.script.needs}:
            document = document.with_need(need)
    for word in script.apps[1:]:
        if word not in document.script.apps:
            document = document.with_header(Header("app", word))
    row = recording.row(script)
    if not row:
        return document
    name = document.script.data or f"{path.stem}.csv"
    change_rows(project.data_path(name), lambda rows: [{**row, **each} for each in rows], project.redactor)
    return document if document.script.data else document.with_header(Header("data", name))
