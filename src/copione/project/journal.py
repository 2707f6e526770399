"""The journal of a recording: written from the first gesture, so that killing the program loses at most the gesture in progress.

A folder: journal.jsonl (a line a change: the order of the steps, and those that are new), and for each moment NNNN.png and NNNN.json.
"""

from __future__ import annotations

import json
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol
from weakref import WeakKeyDictionary

import msgspec

from ..files.naming import claimed, inside
from ..files.reading import DAMAGED, FileKind, read_bytes, read_lines, trouble
from ..files.writing import write_whole
from ..language.parser import parse_line
from ..language.printer import step_words
from ..model.doubt import Doubt
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.portrait import Portrait
from ..model.screen import Moment, Screen
from ..model.secrecy import Redactor
from ..model.step import Step
from ..model.target import Naming, Target
from .cleaning import clean_file
from .portraits import portrait_from, screen_from, screen_record
from .redaction import Blanks

JOURNAL = "journal.jsonl"
NOT_DONE = ""  # of a recording that was thrown away, and brought back


class Journalled(Protocol):
    """What a journal keeps of a recorded step."""

    @property
    def uid(self) -> int:
        """Its number in the recording."""
        ...

    @property
    def scene(self) -> str:
        """The scene it belongs to."""
        ...

    @property
    def step(self) -> Step:
        """What the script will say."""
        ...

    @property
    def portraits(self) -> tuple[tuple[Target, Portrait], ...]:
        """The targets it names, each with what is kept about it."""
        ...

    @property
    def shot(self) -> str:
        """The stem of the moment it was read against."""
        ...

    @property
    def mark(self) -> tuple[tuple[float, float], ...]:
        """The gesture's points, dp."""
        ...

    @property
    def scrolled(self) -> bool:
        """Did it only move what a container shows?"""
        ...

    @property
    def bars(self) -> int:
        """How easy its target is to find again, 1 to 3; 0 without one."""
        ...

    @property
    def doubt(self) -> Doubt | None:
        """Why it may need a second look."""
        ...

    @property
    def others(self) -> Sequence[Journalled]:
        """What it may have been instead."""
        ...


def _target_record(target: Target) -> dict[str, Any]:
    """A target as plain values; what it does not say is left out."""
    record: dict[str, Any] = {"role": target.role, "name": target.name, "under": target.under, "naming": target.naming.value}
    record |= {"part": list(target.part)} if target.part is not None else {}
    record |= {"inside": _target_record(target.inside)} if target.inside is not None else {}
    return {name: value for name, value in record.items() if value != ""}


def _target_from(record: Mapping[str, Any]) -> Target:
    """From what `_target_record` gives."""
    part = Box(*map(float, record["part"])) if "part" in record else None
    holder = _target_from(record["inside"]) if "inside" in record else None
    naming = Naming(record.get("naming", ""))
    return Target(str(record.get("role", "")), str(record.get("name", "")), holder, str(record.get("under", "")), naming, part)


@dataclass(frozen=True)
class JournalStep:
    """One step as it was journalled."""

    uid: int
    scene: str
    step: Step
    portraits: tuple[tuple[Target, Portrait], ...]
    shot: str
    mark: tuple[tuple[float, float], ...]
    scrolled: bool
    bars: int
    doubt: Doubt | None = None
    others: tuple[JournalStep, ...] = ()


@dataclass(frozen=True)
class Unfinished:
    """A recording that was neither saved nor thrown away."""

    folder: Path
    app: str
    started: float
    scene: str
    steps: tuple[JournalStep, ...]
    values: Mapping[str, str] = field(default_factory=dict)
    into: Mapping[str, Any] | None = None  # where in a script it goes


class Journal:
    """Writes one recording. Raises FileTrouble when the disk does not take it."""

    def __init__(
        self,
        recordings: Path,
        app: str,
        folder: Path | None = None,
        into: Mapping[str, Any] | None = None,
        redactor: Redactor | None = None,
    ) -> None:
        self._redactor = redactor or Redactor()
        self._blanks = Blanks(self._redactor)
        again = folder is not None
        self.folder = folder or claimed(recordings, time.strftime("%Y-%m-%d-%H%M%S"))
        kept = {path.stem for path in self.folder.iterdir() if path.stem.isascii() and path.stem.isdigit()} if again else set()
        self._moments = max(map(int, kept), default=0)
        self._stems: WeakKeyDictionary[Screen, str] = WeakKeyDictionary()  # of the screens that somebody still holds
        self._trees = len(list(self.folder.glob("*.json"))) if again else 0
        self._written: dict[int, Journalled] = {}
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            self._open()
        except OSError as error:
            raise trouble(error, self.folder) from error
        if not again:
            self._line({"app": app, "started": time.time(), "into": into})

    def _open(self) -> None:
        self._file = (self.folder / JOURNAL).open("a", encoding="utf-8")

    def clean(self) -> None:
        """Take what is known to be secret by now out of what was written before: steps, trees, pictures. Raises FileTrouble."""
        self._file.close()
        try:
            clean_file(self.folder / JOURNAL, self._redactor)
            for path in sorted(self.folder.glob("*.json")):
                self._clean_screen(path)
        finally:
            self._open()

    def _clean_screen(self, path: Path) -> None:
        data = read_bytes(path, FileKind.TREE)
        if not self._redactor.seems_in(data):
            return
        picture = path.with_suffix(".png")
        if picture.exists():
            try:
                screen = screen_from(msgspec.json.decode(data))
            except DAMAGED:
                screen = None
            shown = Moment(0.0, read_bytes(picture, FileKind.PICTURE), screen)
            write_whole(picture, self._blanks.over(shown).png, sync=False)
        clean_file(path, self._redactor)

    def moment(self, moment: Moment) -> str:
        """Keep a moment; the stem of its files."""
        kept = self._blanks.over(moment)
        self._moments += 1
        stem = f"{self._moments:04d}"
        try:
            if kept.png:
                (self.folder / f"{stem}.png").write_bytes(kept.png)
        except OSError as error:
            raise trouble(error, self.folder) from error
        if moment.screen is not None:
            self._tree(stem, moment.screen)
            self._stems[moment.screen] = stem
        return stem

    def secret_typed(self) -> None:
        """A secret has been typed: the pictures that follow are read too."""
        self._blanks.reading = True

    def steps(self, steps: Sequence[Journalled], scene: str, values: Mapping[str, str] | None = None) -> None:
        """The recording as it is now."""
        new = [self._record(s) for s in steps if self._written.get(s.uid) is not s]
        self._written = {s.uid: s for s in steps}
        self._line({"order": [s.uid for s in steps], "scene": scene, "values": dict(values or {}), "new": new})

    def _record(self, recorded: Journalled) -> dict[str, Any]:
        portraits = []
        for target, p in recorded.portraits:
            stem = self._stems.get(p.screen)
            if stem is None:
                self._trees += 1
                stem = f"{recorded.uid:04d}-{self._trees}"
                self._tree(stem, p.screen)
                self._stems[p.screen] = stem
            portraits.append([_target_record(target), stem, p.row, p.value, p.share, p.picture, p.part, p.grip])
        return {
            "uid": recorded.uid,
            "scene": recorded.scene,
            "step": step_words(recorded.step),
            "portraits": portraits,
            "shot": recorded.shot,
            "mark": recorded.mark,
            "scrolled": recorded.scrolled,
            "bars": recorded.bars,
            "doubt": recorded.doubt.name.lower() if recorded.doubt is not None else "",
            "others": [self._record(other) for other in recorded.others],
        }

    def _tree(self, stem: str, screen: Screen) -> None:
        words = self._redactor.words(json.dumps(screen_record(screen), ensure_ascii=False))
        write_whole(self.folder / f"{stem}.json", words.encode("utf-8", "replace"))

    def done(self, how: str) -> None:
        """The recording was saved or thrown away: it need not be offered again."""
        self._line({"done": how})
        self.close()

    def close(self) -> None:
        """No more comes; what was written stays and is offered again."""
        self._file.close()

    def _line(self, record: dict[str, Any]) -> None:
        try:
            self._file.write(self._redactor.words(json.dumps(record, ensure_ascii=False)) + "\n")
            self._file.flush()
        except OSError as error:
            raise trouble(error, self.folder) from error


def offer_again(folder: Path) -> None:
    """A recording that was thrown away is none any more. Raises FileTrouble."""
    try:
        with (folder / JOURNAL).open("a", encoding="utf-8") as file:
            file.write(json.dumps({"done": NOT_DONE}) + "\n")
    except OSError as error:
        raise trouble(error, folder) from error


def unfinished(recordings: Path) -> list[Unfinished]:
    """Recordings that ended without being saved or thrown away, newest first; a line cut short is passed over."""
    found = []
    for path in sorted(recordings.glob(f"*/{JOURNAL}"), reverse=True):
        kept = _read(path)
        if kept is not None and kept.steps:
            found.append(kept)
    return found


@dataclass(frozen=True)
class _Begun:
    """The journal's first line."""

    app: str
    started: float
    into: dict[str, Any] | None = None


@dataclass(frozen=True)
class _Order:
    """The recording after a change."""

    order: list[int]
    scene: str
    new: list[dict[str, Any]]
    values: dict[str, str] = field(default_factory=dict)


def _read(path: Path) -> Unfinished | None:
    begun, last = _Begun("", 0.0), _Order([], "", [])
    records: dict[int, dict[str, Any]] = {}
    done = False
    try:
        for line in read_lines(path, FileKind.JOURNAL):
            try:
                record = msgspec.json.decode(line, type=dict[str, Any])
                if "done" in record:
                    done = record["done"] != NOT_DONE
                elif "order" in record:
                    last = msgspec.convert(record, _Order)
                    records |= {int(r["uid"]): r for r in last.new}
                else:
                    begun = msgspec.convert(record, _Begun)
            except DAMAGED:
                continue
    except FileTrouble:
        return None
    if done:
        return None
    screens: dict[str, Screen] = {}
    steps = []
    for uid in last.order:
        try:
            kept = _kept(records[uid], path.parent, screens)
        except DAMAGED:
            continue
        if kept is not None:
            steps.append(kept)
    return Unfinished(path.parent, begun.app, begun.started, last.scene, tuple(steps), last.values, begun.into)


def _kept(record: dict[str, Any], folder: Path, screens: dict[str, Screen]) -> JournalStep | None:
    """Raises one of `files.DAMAGED` on a record that is not one; a portrait whose screen is damaged is left out."""
    item, _ = parse_line(str(record["step"]), 0)
    if not isinstance(item, Step):
        return None
    portraits: list[tuple[Target, Portrait]] = []
    for key, stem, row, value, share, picture, part, grip in record["portraits"]:
        told = {"row": row, "scene": record["scene"], "picture": picture, "value": value, "share": share, "part": part, "grip": bool(grip)}
        try:
            if stem not in screens:
                screens[stem] = screen_from(msgspec.json.decode(read_bytes(inside(folder, f"{stem}.json"), FileKind.TREE)))
            target, portrait = _target_from(key), portrait_from(screens[stem], told)
        except (FileTrouble, *DAMAGED):
            continue
        portraits.append((target, portrait))
    mark = tuple((float(x), float(y)) for x, y in record["mark"])
    others = [_kept(other, folder, screens) for other in record.get("others", [])]
    doubt = str(record.get("doubt", ""))
    known = next((each for each in Doubt if doubt == each.name.lower()), None)
    rest = str(record["shot"]), mark, bool(record["scrolled"]), int(record["bars"]), known, tuple(o for o in others if o is not None)
    return JournalStep(int(record["uid"]), str(record["scene"]), item, tuple(portraits), *rest)


def throw_away(unfinished: Unfinished) -> None:
    """Do not offer a recovered recording again; its files stay."""
    journal = Journal(unfinished.folder.parent, unfinished.app, unfinished.folder)
    journal.done("thrown away")
