"""`NAME.portraits.json`: the evidence beside a script, keyed by the target's words, with the recorded trees it stood in."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from ..files.changing import change_file
from ..files.reading import DAMAGED, FileKind, read_bytes
from ..files.writing import NO_FILE, FileVersion, write_whole
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.portrait import Portrait
from ..model.screen import Screen
from ..model.secrecy import Redactor

FORMAT = 1
MOST_FLAGS = (1 << 30) - 1
LEARNED = ("device", "build", "locale")  # where a portrait was found that was learned in a trial
Portraits = dict[str, tuple[Portrait, ...]]


def screen_record(screen: Screen) -> dict[str, Any]:
    """A screen as plain values: lengths in dp, one list an element."""
    elements = [
        [int(p), r, i, t, lab, n, [round(float(v), 1) for v in b], int(f)]
        for p, r, i, t, lab, n, b, f in zip(
            screen.parents, screen.roles, screen.ids, screen.texts, screen.labels, screen.names, screen.boxes, screen.flags, strict=True
        )
    ]
    return {
        "size": [round(screen.width, 1), round(screen.height, 1)],
        "app": screen.app,
        "activity": screen.activity,
        "keyboard": [round(v, 1) for v in screen.keyboard] if screen.keyboard else None,
        "elements": elements,
    } | ({"read": True} if screen.read else {})


_Place = tuple[float, float, float, float]


@dataclass(frozen=True)
class _ScreenRecord:
    """What `screen_record` gives. An element: parent, role, id, text, label, name, box, flags."""

    size: tuple[float, float]
    app: str
    activity: str
    elements: list[tuple[int, str, str, str, str, str, _Place, int]]
    keyboard: _Place | None = None
    read: bool = False


def screen_from(record: Mapping[str, Any]) -> Screen:
    """Raises one of `files.DAMAGED` on a record that is not one."""
    told = msgspec.convert(record, _ScreenRecord)
    parents, roles, ids, texts, labels, names, boxes, flags = zip(*told.elements, strict=True)
    if any(not -1 <= parent < row for row, parent in enumerate(parents)) or min(told.size) <= 0 or max(flags) > MOST_FLAGS:
        raise ValueError("elements")
    return Screen(
        width=told.size[0],
        height=told.size[1],
        app=told.app,
        activity=told.activity,
        keyboard=Box(*told.keyboard) if told.keyboard else None,
        roles=tuple(roles),
        names=tuple(names),
        texts=tuple(texts),
        labels=tuple(labels),
        ids=tuple(ids),
        boxes=np.array(boxes, np.float64).reshape(len(roles), 4),
        parents=np.array(parents, np.int32),
        flags=np.array(flags, np.int32),
        read=told.read,
    )


def dump_portraits(portraits: Mapping[str, Iterable[Portrait]]) -> str:
    """The file's text: each distinct screen once."""
    screens: dict[str, dict[str, Any]] = {}
    names: dict[object, str] = {}
    targets: dict[str, list[dict[str, Any]]] = {}
    for key, several in sorted(portraits.items()):
        for portrait in several:
            sign = portrait.screen.signature
            if sign not in names:
                names[sign] = f"screen {len(names) + 1}"
                screens[names[sign]] = screen_record(portrait.screen)
            entry: dict[str, Any] = {"screen": names[sign], "row": portrait.row, "scene": portrait.scene}
            if portrait.picture:
                entry["picture"] = portrait.picture
            if portrait.value or portrait.share >= 0:
                entry |= {"value": portrait.value, "share": round(portrait.share, 3)}
            entry |= {mark: True for mark in ("grip", "scrolled") if getattr(portrait, mark)}
            entry |= {name: getattr(portrait, name) for name in LEARNED if getattr(portrait, name)}
            if portrait.part is not None:
                entry["part"] = [round(v, 4) for v in portrait.part]
            targets.setdefault(key, []).append(entry)
    lines = [f"{json.dumps(name)}: {json.dumps(record, ensure_ascii=False)}" for name, record in screens.items()]
    return (
        f'{{"format": {FORMAT},\n"targets": '
        + json.dumps(targets, indent=1, ensure_ascii=False)
        + ',\n"screens": {\n'
        + ",\n".join(lines)
        + "\n}}\n"
    )


@dataclass(frozen=True)
class _PortraitRecord:
    """What is kept of one portrait, beside its screen."""

    row: int
    scene: str = ""
    picture: str = ""
    value: str = ""
    share: float = -1.0
    part: _Place | None = None
    grip: bool = False
    device: str = ""
    build: str = ""
    locale: str = ""
    scrolled: bool = False


def portrait_from(screen: Screen, record: Mapping[str, Any]) -> Portrait:
    """Raises one of `files.DAMAGED` on a record that is not one of that screen."""
    told = msgspec.convert(record, _PortraitRecord)
    if not 0 <= told.row < len(screen):
        raise ValueError("row")
    part = Box(*told.part) if told.part is not None else None
    found = told.device, told.build, told.locale
    return Portrait(screen, told.row, told.scene, told.picture, told.value, told.share, part, told.grip, *found, told.scrolled)


def load_portraits(path: Path) -> Portraits:
    """All portraits of a file; none when there is no file. Raises FileTrouble when it is damaged."""
    return read_portraits(path)[0]


def read_portraits(path: Path) -> tuple[Portraits, FileVersion]:
    """The same, and which version of the file they are from."""
    if not path.exists():
        return {}, NO_FILE
    data = read_bytes(path, FileKind.PORTRAITS)
    return portraits_in(data, path), FileVersion.of(data)


def portraits_in(data: bytes, path: Path) -> Portraits:
    """What a file of portraits holds; `path` is for the sentence. Raises FileTrouble when it is damaged."""
    try:
        record = msgspec.json.decode(data)
        if record["format"] != FORMAT:
            raise FileTrouble(f"{path.name} is of format {record['format']}; this Copione reads format {FORMAT}.")
        screens = {name: screen_from(screen) for name, screen in record["screens"].items()}
        found: Portraits = {}
        for key, entries in record["targets"].items():
            found[key] = tuple(portrait_from(screens[entry["screen"]], entry) for entry in entries)
        return found
    except DAMAGED as error:
        raise FileTrouble(
            f"{path.name} is damaged and was left alone: targets are found by role and name only.", error=str(error)
        ) from error


def save_portraits(
    path: Path, portraits: Mapping[str, Iterable[Portrait]], redactor: Redactor | None = None, replaces: FileVersion | None = None
) -> FileVersion:
    """Replace the file, without the redactor's secrets; see `write_whole` for `replaces`. Raises FileTrouble."""
    return write_whole(path, _as_bytes(portraits, redactor), replaces)


def change_portraits(path: Path, change: Callable[[Portraits], Portraits], redactor: Redactor | None = None) -> bool:
    """Change a file of portraits, or make it; once more where another program wrote it meanwhile. Was it changed? Raises FileTrouble."""
    changed = False

    def apply(data: bytes | None) -> bytes | None:
        nonlocal changed
        before = portraits_in(data, path) if data is not None else {}
        after = change(before)
        changed = after != before
        return _as_bytes(after, redactor) if changed else None

    change_file(path, FileKind.PORTRAITS, apply)
    return changed


def _as_bytes(portraits: Mapping[str, Iterable[Portrait]], redactor: Redactor | None) -> bytes:
    words = dump_portraits(portraits)
    return (redactor.words(words) if redactor is not None else words).encode("utf-8", "replace")
