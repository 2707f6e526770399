"""The archive of a run: run.json, and for each take steps.jsonl (a line a step, flushed as it happens), shots/, trees/, device.log."""

from __future__ import annotations

import dataclasses
import json
import threading
import time
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from ..model.device import DeviceProfile
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.outcome import Outcome, Result
from ..model.screen import Moment
from .files import read_text, slug, trouble, write_whole
from .secrets import blanked


@dataclass(frozen=True)
class TakeRecord:
    """One take as archived. `row` is 1-based; `results` one a step in order; `build` the version of the app."""

    folder: Path
    device: DeviceProfile
    row: int
    values: dict[str, str]
    build: str = ""
    results: tuple[Result, ...] = ()

    def picture(self, name: str) -> Path:
        return self.folder / "shots" / name


@dataclass(frozen=True)
class RunRecord:
    """One run as archived. `lead` names the device whose take stands first."""

    folder: Path
    script: str
    text: str
    app: str
    started: float
    seconds: float
    lead: str
    takes: tuple[TakeRecord, ...]
    complete: bool


class TakeWriter:
    """Writes one take as it happens. Raises FileTrouble when the disk does not take it."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._count = 0
        try:
            (folder / "shots").mkdir(parents=True)
            (folder / "trees").mkdir()
            self._steps = (folder / "steps.jsonl").open("a", encoding="utf-8")
        except OSError as error:
            raise trouble(error, folder) from error

    def moment(self, moment: Moment) -> str:
        """Keep a moment; its number as text, the stem of its files."""
        moment = blanked(moment)
        self._count += 1
        stem = f"{self._count:04d}"
        try:
            (self.folder / "shots" / f"{stem}.png").write_bytes(moment.png)
            if moment.tree:
                (self.folder / "trees" / f"{stem}.xml").write_bytes(moment.tree)
        except OSError as error:
            raise trouble(error, self.folder) from error
        return stem

    def step(self, result: Result) -> None:
        try:
            self._steps.write(json.dumps(result_record(result), ensure_ascii=False) + "\n")
            self._steps.flush()
        except OSError as error:
            raise trouble(error, self.folder) from error

    def log(self, words: str) -> None:
        write_whole(self.folder / "device.log", words.encode())

    def close(self) -> None:
        self._steps.close()


class RunWriter:
    """A run's folder. Takes are announced before they start, so that a run that is killed can be read."""

    def __init__(self, runs: Path, script: str, text: str, app: str, devices: Sequence[str]) -> None:
        lead = devices[0] if devices else ""
        stamp = time.strftime("%Y-%m-%d-%H%M%S")
        base = runs / f"{stamp}-{slug(script)}"
        self.folder, number = base, 2
        while self.folder.exists():
            self.folder, number = base.with_name(f"{base.name}-{number}"), number + 1
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

    def take(self, device: DeviceProfile, row: int, values: Mapping[str, str], build: str) -> TakeWriter:
        with self._lock:
            names = {entry["folder"] for entry in self._record["takes"]}
            stem = take_folder(device.name, row)
            name = next(n for n in (stem, *(f"{stem}-{i}" for i in range(2, 1000))) if n not in names)
            self._record["takes"].append({"folder": name, "device": asdict(device), "row": row, "values": dict(values), "build": build})
            self._save()
        return TakeWriter(self.folder / "takes" / name)

    def finish(self, seconds: float) -> None:
        with self._lock:
            self._record["seconds"] = round(seconds, 3)
            self._save()

    def _save(self) -> None:
        write_whole(self.folder / "run.json", json.dumps(self._record, ensure_ascii=False, indent=1).encode())


def take_folder(device: str, row: int) -> str:
    """The folder of a take below `takes`; a second device of the same name gets a number behind it."""
    return f"{slug(device)}-row{row}"


def result_record(result: Result) -> dict[str, Any]:
    """A result as plain values; empty ones left out."""
    record: dict[str, Any] = {"number": result.number, "line": result.line, "outcome": result.outcome.value}
    for field in dataclasses.fields(result):
        value = getattr(result, field.name)
        if field.name in record or not value:
            continue
        record[field.name] = [round(v, 2) for v in value] if field.name == "box" else round(value, 4) if isinstance(value, float) else value
    return record


def result_from(record: Mapping[str, Any]) -> Result:
    facts = dict(record)
    facts["outcome"] = Outcome(facts["outcome"])
    if facts.get("box"):
        facts["box"] = Box(*facts["box"])
    facts["mark"] = tuple((float(x), float(y)) for x, y in facts.get("mark", ()))
    for name in ("scene", "step", "verb", "target"):
        facts.setdefault(name, "")
    return Result(**facts)


def read_run(folder: Path) -> RunRecord:
    """A run, whole or cut short: every line of steps.jsonl that was written whole. Raises FileTrouble."""
    try:
        record = json.loads(read_text(folder / "run.json"))
        takes = []
        for entry in record["takes"]:
            place = folder / "takes" / entry["folder"]
            takes.append(
                TakeRecord(place, DeviceProfile(**entry["device"]), entry["row"], entry["values"], entry.get("build", ""), _results(place))
            )
        order = {name: place for place, name in enumerate(record.get("devices", ()))}
        return RunRecord(
            folder,
            record["script"],
            record["text"],
            record["app"],
            record["started"],
            record.get("seconds", 0.0),
            record["lead"],
            tuple(sorted(takes, key=lambda t: (order.get(t.device.name, len(order)), t.row))),
            "seconds" in record,
        )
    except (KeyError, ValueError, TypeError) as error:
        raise FileTrouble(f"{folder / 'run.json'} is damaged ({error}).", path=folder) from error


def _results(place: Path) -> tuple[Result, ...]:
    path = place / "steps.jsonl"
    found = []
    for line in path.read_bytes().split(b"\n") if path.exists() else []:
        try:
            found.append(result_from(json.loads(line)))
        except (ValueError, KeyError, TypeError):
            continue
    return tuple(found)


def runs_in(folder: Path) -> list[Path]:
    """Run folders, newest first."""
    return sorted((p.parent for p in folder.glob("*/run.json")), key=lambda p: p.name, reverse=True)
