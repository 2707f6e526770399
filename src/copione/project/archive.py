"""The archive of a run: run.json, and for each take steps.jsonl (a line a step, flushed as it happens), shots/, trees/,
device.log, costs.jsonl."""

from __future__ import annotations

import contextlib
import json
import threading
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import asdict, dataclass, field
from enum import Enum
from pathlib import Path
from typing import Any

import msgspec

from ..files.naming import claimed, inside, slug
from ..files.places import Place
from ..files.reading import DAMAGED, FileKind, read_bytes, read_lines, trouble
from ..files.writing import write_whole
from ..model.cost import Cost
from ..model.device import DeviceProfile
from ..model.errors import FileTrouble
from ..model.outcome import Result
from ..model.remark import Remark
from ..model.screen import Moment
from ..model.secrecy import Redactor
from ..model.take import TakeName
from .cleaning import clean_file, clean_folder, clean_trees
from .redaction import Blanks
from .remarks import KEPT, read_remarks
from .results import ResultReader, result_record

COSTS = "costs.jsonl"  # of a take: what the app cost its device
LATEST = 32_503_680_000.0  # seconds since the epoch: the year 3000
ZONES_S = 26 * 3600.0  # between the earliest and the latest of all time zones, and an hour of summer time


class RunEnd(Enum):
    """How a run ended. Only a complete one says what the app does: baselines and histories leave the others out."""

    COMPLETE = "complete"
    STOPPED = "stopped"  # by the user, or by a signal, before all of it was done
    NOT_RUN = "not run"  # no take came to its first step
    CUT = "cut short"  # the program was killed, or the disk was full


@dataclass(frozen=True)
class TakeRecord:
    """One take as archived. `results` one a step in order; `build` the version of the app; `configured` by which of the user's
    configurations its device was reached."""

    folder: Place
    name: TakeName
    device: DeviceProfile
    values: Mapping[str, str]
    build: str = ""
    results: tuple[Result, ...] = ()
    costs: tuple[Cost, ...] = ()
    configured: str = ""

    def picture(self, name: str) -> Place:
        """Where a picture of a result is."""
        return picture_path(self.folder, name)


def picture_path(take: Place, name: str) -> Place:
    """Where a picture of a take's result is, given the take's folder; whatever an archive calls it, it is one of that take's."""
    return take / "shots" / Path(name).name


@dataclass(frozen=True)
class RunRecord:
    """One run as archived. `lead` names the device whose take stands first."""

    folder: Place
    script: str
    text: str
    app: str
    started: float
    seconds: float
    lead: str
    takes: tuple[TakeRecord, ...]
    end: RunEnd = RunEnd.COMPLETE
    remarks: tuple[Remark, ...] = ()

    @property
    def complete(self) -> bool:
        """Was all of it done?"""
        return self.end is RunEnd.COMPLETE


class MomentNames:
    """The stems of the files of a take's moments, in the order in which they come."""

    def __init__(self) -> None:
        self._count = 0
        self._without: set[str] = set()  # moments of which there is no sound picture

    def add(self, moment: Moment) -> str:
        """The stem of the next moment's files: its number as text."""
        self._count += 1
        stem = f"{self._count:04d}"
        if not moment.png:
            self._without.add(stem)
        return stem

    def picture(self, stem: str) -> str:
        """The file of a moment's picture; empty where there is none."""
        return f"{stem}.png" if stem and stem not in self._without else ""


class TakeWriter:
    """Writes one take as it happens, without the redactor's secrets. Raises FileTrouble when the disk does not take it.

    Pictures and trees are written on a thread of its own, while the device is waited for; a result is written once they are there.
    """

    def __init__(self, folder: Place, redactor: Redactor | None = None, cleaned: Callable[[], object] = lambda: None) -> None:
        """`cleaned` is called where something was learned to be secret that may have been written already."""
        self.folder = folder
        self._redactor = redactor or Redactor()
        self._blanks, self._known, self._cleaned = Blanks(self._redactor), self._redactor.version, cleaned
        self._names = MomentNames()
        self._pending: list[Future[None]] = []
        try:
            (folder / "shots").mkdir(parents=True)  # the folder itself may be there
            (folder / "trees").mkdir()
            self._open()
        except OSError as error:
            raise trouble(error, folder) from error
        self._writing = ThreadPoolExecutor(1, "archive")

    def _open(self) -> None:
        self._steps = (self.folder / "steps.jsonl").open("a", encoding="utf-8")

    def _clean(self) -> None:
        """Take what is known to be secret by now out of what was written before."""
        self._known = self._redactor.version
        self._steps.close()
        try:
            clean_file(self.folder / "steps.jsonl", self._redactor)
            clean_trees(self.folder / "trees", self.folder / "shots", self._redactor)
        finally:
            self._open()
        self._cleaned()

    def moment(self, moment: Moment) -> str:
        """Keep a moment; its number as text, the stem of its files."""
        stem = self._names.add(moment)
        self._pending.append(self._writing.submit(self._write, moment, stem))
        return stem

    def picture_name(self, stem: str) -> str:
        """The file of a moment's picture; empty where there is none."""
        return self._names.picture(stem)

    def secret_typed(self) -> None:
        """A secret has been typed: the pictures that follow are read too, since it may come back on them where no tree tells of it."""
        self._blanks.reading = True

    def _write(self, moment: Moment, stem: str) -> None:
        moment = self._blanks.over(moment)
        if moment.png:
            (self.folder / "shots" / f"{stem}.png").write_bytes(moment.png)
        if moment.tree:
            (self.folder / "trees" / f"{stem}.xml").write_bytes(moment.tree)

    def _written(self) -> None:
        pending, self._pending = self._pending, []
        for future in pending:
            future.result()

    def step(self, result: Result) -> None:
        """Keep a result: it and its pictures are on the disk when this returns."""
        try:
            self._written()
            if self._known != self._redactor.version:
                self._clean()
            self._steps.write(self._redactor.words(json.dumps(result_record(result), ensure_ascii=False)) + "\n")
            self._steps.flush()
        except OSError as error:
            raise trouble(error, self.folder) from error

    def cost(self, cost: Cost) -> None:
        """Keep what the app cost by then. Called from a thread of its own; nothing in it comes from a screen. Raises FileTrouble."""
        try:
            with (self.folder / COSTS).open("a", encoding="utf-8") as kept:
                kept.write(msgspec.json.encode(cost).decode() + "\n")
        except OSError as error:
            raise trouble(error, self.folder) from error

    def log(self, words: str) -> None:
        """Keep what the device logged."""
        write_whole(self.folder / "device.log", self._redactor.words(words).encode("utf-8", "replace"))

    def close(self) -> None:
        """No more comes. A disk that is full by now has been told of before."""
        self._writing.shutdown()
        with contextlib.suppress(OSError):
            self._steps.close()


class RunWriter:
    """A run's folder. Takes are announced before they start, so that a run that is killed can be read."""

    def __init__(self, runs: Place, script: str, text: str, app: str, devices: Sequence[str], redactor: Redactor | None = None) -> None:
        self._redactor = redactor or Redactor()
        self._known = self._redactor.version
        lead = devices[0] if devices else ""
        self.folder = claimed(runs, f"{time.strftime('%Y-%m-%d-%H%M%S')}-{slug(script)}")
        self._lock = threading.Lock()
        self._record: dict[str, Any] = {
            "script": script,
            "app": app,
            "lead": lead,
            "devices": list(devices),
            "started": time.time(),
            "takes": [],
            "text": text,
        }
        self._save()

    def take(self, device: DeviceProfile, name: TakeName, values: Mapping[str, str], build: str, configured: str = "") -> TakeWriter:
        """Announce a take and begin its folder. `configured`: by which configuration the device is reached."""
        folder = claimed(self.folder / "takes", take_folder(name)).name  # names that differ in signs alone would share one
        entry = {"folder": folder, "device": asdict(device), "row": name.row, "which": name.which, "values": dict(values), "build": build}
        entry |= {"configured": configured} if configured else {}
        with self._lock:
            self._record["takes"].append(entry)
            self._save()
        return TakeWriter(self.folder / "takes" / folder, self._redactor, self._clean)

    def _clean(self) -> None:
        with self._lock:
            self._save()

    def remarks(self, lines: str) -> None:
        """Keep what was noticed, lines of JSON. Raises FileTrouble."""
        try:
            with self._lock, (self.folder / KEPT).open("a", encoding="utf-8") as kept:
                kept.write(self._redactor.words(lines))
        except OSError as error:
            raise trouble(error, self.folder) from error

    def finish(self, seconds: float, end: RunEnd = RunEnd.COMPLETE) -> None:
        """The run is over."""
        with self._lock:
            self._record |= {"seconds": round(seconds, 3), "end": end.value}
            self._save()
            if self._known != self._redactor.version:  # one take may have written what another one found out to be secret
                for take in (self.folder / "takes").iterdir() if (self.folder / "takes").exists() else ():
                    clean_trees(take / "trees", take / "shots", self._redactor)
                clean_folder(self.folder, self._redactor)

    def _save(self) -> None:
        words = self._redactor.words(json.dumps(self._record, ensure_ascii=False, indent=1))
        write_whole(self.folder / "run.json", words.encode("utf-8", "replace"))


def take_folder(name: TakeName) -> str:
    """The folder of a take below `takes`, where no other take has it yet."""
    return f"{slug(name.device)}-row{name.row}" + (f"-{name.which}" if name.which > 1 else "")


@dataclass(frozen=True)
class _TakeEntry:
    """A take as run.json tells of it."""

    folder: str
    device: DeviceProfile
    row: int
    values: dict[str, str]
    build: str = ""
    which: int = 1  # of several devices of that name
    configured: str = ""


@dataclass(frozen=True)
class _RunFile:
    """What run.json holds."""

    script: str
    text: str
    app: str
    lead: str
    started: float
    takes: list[_TakeEntry]
    devices: list[str] = field(default_factory=list)
    seconds: float | None = None
    end: str = RunEnd.COMPLETE.value

    @property
    def ended(self) -> RunEnd:
        """How it ended; without its seconds it was cut short. Raises ValueError."""
        return RunEnd(self.end) if self.seconds is not None else RunEnd.CUT


@dataclass(frozen=True)
class RunHead:
    """What is asked of a run without its results. `started` is seconds since the epoch."""

    folder: Place
    script: str
    started: float
    end: RunEnd


def read_run(folder: Place) -> RunRecord:
    """A run, whole or cut short: every line of steps.jsonl that was written whole. Raises FileTrouble."""
    try:
        told = msgspec.json.decode(read_bytes(folder / "run.json", FileKind.RECORD), type=_RunFile)
        reader, takes = ResultReader(), []
        if not 0 <= told.started < LATEST or not 0 <= (told.seconds or 0) < LATEST:
            raise ValueError("a time that is none")
        for entry in told.takes:
            device = entry.device
            if min(device.dpi, device.width_px, device.height_px) <= 0:
                raise ValueError("a screen without a size")
            name = TakeName(device.name, entry.row, entry.which)
            place = inside(folder / "takes", entry.folder)
            takes.append(
                TakeRecord(place, name, device, entry.values, entry.build, _results(place, reader), _costs(place), entry.configured)
            )
        order = {name: place for place, name in enumerate(told.devices)}
        takes.sort(key=lambda t: (order.get(t.device.name, len(order)), t.name.row, t.name.which))
        seconds, end, noticed = told.seconds or 0.0, told.ended, read_remarks(folder)
        return RunRecord(folder, told.script, told.text, told.app, told.started, seconds, told.lead, tuple(takes), end, noticed)
    except DAMAGED as error:
        raise FileTrouble(f"{folder / 'run.json'} is damaged ({error}).", path=folder) from error


def run_head(folder: Place) -> RunHead:
    """What was run, when, and how it ended, without reading its results. Raises FileTrouble."""
    try:
        told = msgspec.json.decode(read_bytes(folder / "run.json", FileKind.RECORD), type=_RunFile)
        return RunHead(folder, told.script, told.started, told.ended)
    except DAMAGED as error:
        raise FileTrouble(f"{folder / 'run.json'} is damaged ({error}).", path=folder) from error


def _costs(place: Place) -> tuple[Cost, ...]:
    """What was asked beside a take; lines that were not written whole are left out."""
    path, found = place / COSTS, []
    for line in read_lines(path, FileKind.LINES) if path.exists() else ():
        try:
            cost = msgspec.json.decode(line, type=Cost)
        except DAMAGED:
            continue
        if 0 <= cost.at < LATEST:
            found.append(cost)
    return tuple(found)


def _results(place: Place, reader: ResultReader) -> tuple[Result, ...]:
    path = place / "steps.jsonl"
    found = []
    for line in read_lines(path, FileKind.LINES) if path.exists() else ():
        try:
            found.append(reader.result(msgspec.json.decode(line, type=dict[str, Any])))
        except DAMAGED:
            continue
    return tuple(found)


def runs_in(folder: Place) -> list[Place]:
    """Run folders, newest first by their names: these are local times, so see `heads_by_time` where the order counts."""
    found = folder.iterdir() if folder.is_dir() else iter(())
    return sorted((each for each in found if (each / "run.json").is_file()), key=lambda each: each.name, reverse=True)


def heads_by_time(folders: Sequence[Place]) -> Iterator[RunHead]:
    """The heads of runs, newest first by when they were started; those that cannot be read are left out.

    `folders` are in the order of their names. Local times of names go back in autumn, and with a computer that travels, by less than
    `ZONES_S`: so no more heads are read ahead than started within that time.
    """
    waiting: list[RunHead] = []
    for folder in folders:
        with contextlib.suppress(FileTrouble):
            head = run_head(folder)
            waiting.append(head)
            waiting.sort(key=lambda each: (each.started, each.folder.name))
            while waiting[-1].started - head.started > ZONES_S:
                yield waiting.pop()
    yield from reversed(waiting)
