"""What a project holds: its scripts and its runs, listed quickly; renamed, copied, put aside and brought back."""

from __future__ import annotations

import shutil
import time
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path

from ..files.naming import claimed, free_path, slug
from ..files.places import Place
from ..files.reading import FileKind, read_bytes, read_text, trouble
from ..files.writing import write_whole
from ..language.quoting import quoted
from ..model.errors import FileTrouble
from ..model.outcome import Outcome
from .archive import RunEnd, RunRecord, read_run, runs_in
from .naming import name_in, parts_of_script, with_name
from .project import Project

ASIDE = "put-aside"  # of a project: what was deleted


@dataclass(frozen=True)
class ScriptEntry:
    """A script by the name that it gives itself; `changed` in seconds since the epoch."""

    path: Path
    name: str
    changed: float


@dataclass(frozen=True)
class RunEntry:
    """A run: what was run, when, on which builds and devices, and how many results ended how."""

    folder: Place
    script: str
    started: float
    builds: tuple[str, ...]
    devices: tuple[str, ...]
    counts: Mapping[Outcome, int] = field(default_factory=dict)
    end: RunEnd = RunEnd.COMPLETE


@dataclass(frozen=True)
class PutAside:
    """Something that was deleted: what it is called, and where each of its files was and is now."""

    name: str
    moved: tuple[tuple[Path, Path], ...]


# scripts


def scripts_of(project: Project) -> tuple[ScriptEntry, ...]:
    """Every script, by its name. One that cannot be read is listed by its file."""
    found = []
    for path in project.scripts():
        try:
            head = read_text(path, FileKind.SCRIPT)
            changed = path.stat().st_mtime
        except (FileTrouble, OSError):
            head, changed = "", 0.0
        found.append(ScriptEntry(path, name_in(head) or path.stem, changed))
    return tuple(sorted(found, key=lambda each: each.name.casefold()))


def new_script(project: Project, name: str, app: str) -> Path:
    """An empty script of that name, or the next free one. Raises FileTrouble."""
    name = project.free_name(name)
    path = project.free_script_path(name)
    lines = [f"script {quoted(name)}", *([f"app {app}"] if app else []), "", 'scene "Scene 1"', ""]
    write_whole(path, "\n".join(lines).encode())
    return path


def rename_script(project: Project, path: Path, name: str) -> Path:
    """Call a script otherwise: in its text, and its files. Raises FileTrouble where another one has the name."""
    if name.casefold() in project.names(besides=path):
        raise FileTrouble(f"There is a script called {name} already. Choose another name.", path=path)
    same = slug(name_in(read_text(path, FileKind.SCRIPT))) == slug(name)
    to = path if same or project.script_path(name) == path else project.free_script_path(name)
    _write_renamed(path, to, name)
    if to != path:
        _move([(old, new) for old, new in zip(parts_of_script(path), parts_of_script(to), strict=True) if old != path])
        path.unlink(missing_ok=True)
    return to


def duplicate_script(project: Project, path: Path) -> Path:
    """The same once more under the next free name, portraits and frames too. Raises FileTrouble."""
    name = project.free_name(name_in(read_text(path, FileKind.SCRIPT)) or path.stem)
    to = project.free_script_path(name)
    _write_renamed(path, to, name)
    try:
        for old, new in zip(parts_of_script(path)[1:], parts_of_script(to)[1:], strict=True):
            if old.is_dir():
                shutil.copytree(old, new)
            elif old.exists():
                write_whole(new, read_bytes(old, FileKind.PORTRAITS))
    except OSError as error:
        raise trouble(error, to) from error
    return to


def _write_renamed(path: Path, to: Path, name: str) -> None:
    write_whole(to, with_name(read_text(path, FileKind.SCRIPT), quoted(name)).encode())


# runs


def runs_of(
    project: Project, known: Mapping[Place, RunEntry], counted: Callable[[RunRecord], Mapping[Outcome, int]]
) -> tuple[RunEntry, ...]:
    """Every run, newest first; what is `known` to be whole is not read again, what cannot be read is left out.

    `counted`: how many results ended how, all devices held against each other.
    """
    found = []
    for folder in runs_in(project.runs_folder):
        entry = known.get(folder)
        try:
            found.append(entry if entry is not None and entry.end is not RunEnd.CUT else _run_entry(read_run(folder), counted))
        except FileTrouble:
            continue
    return tuple(sorted(found, key=lambda each: -each.started))


def _run_entry(run: RunRecord, counted: Callable[[RunRecord], Mapping[Outcome, int]]) -> RunEntry:
    builds = tuple(dict.fromkeys(take.build for take in run.takes if take.build))
    devices = tuple(dict.fromkeys(take.device.name for take in run.takes))
    return RunEntry(run.folder, run.script, run.started, builds, devices, dict(counted(run)), run.end)


# putting aside


def put_script_aside(project: Project, entry: ScriptEntry) -> PutAside:
    """Delete a script, so that it can come back. Raises FileTrouble."""
    return _put_aside(project, entry.name, parts_of_script(entry.path))


def put_run_aside(project: Project, entry: RunEntry) -> PutAside:
    """Delete a run, so that it can come back. Raises FileTrouble."""
    if not isinstance(entry.folder, Path):
        raise FileTrouble(f"The run of {entry.script} is in no folder of this computer: it is deleted where it is kept.")
    return _put_aside(project, f"The run of {entry.script}", (entry.folder,))


def _put_aside(project: Project, name: str, files: Iterable[Path]) -> PutAside:
    place = _aside(project)
    moves = [(path, place / path.name) for path in files if path.exists()]
    _move(moves)
    return PutAside(name, tuple(moves))


def put_text_aside(project: Project, name: str, data: bytes) -> Path:
    """Keep what would be written over; returns the file. Raises FileTrouble."""
    path = _aside(project) / name
    write_whole(path, data)
    return path


def _aside(project: Project) -> Path:
    return claimed(project.folder / ASIDE, time.strftime("%Y-%m-%d-%H%M%S"))


def bring_back(aside: PutAside) -> PutAside:
    """Where it was; beside what has taken its place meanwhile. Raises FileTrouble."""
    moves = [(now, free_path(was)) for was, now in aside.moved]
    _move(moves)
    return replace(aside, moved=tuple((to, now) for now, to in moves))


def _move(moves: Iterable[tuple[Path, Path]]) -> None:
    for old, new in moves:
        try:
            if old.exists():
                new.parent.mkdir(parents=True, exist_ok=True)
                old.replace(new)
        except OSError as error:
            raise trouble(error, old) from error
