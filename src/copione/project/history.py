"""What became of each step over all runs: a SQLite index beside the folder of the runs, made of it and at any time made again."""

from __future__ import annotations

import contextlib
import itertools
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from ..files.places import Place
from ..model.errors import FileTrouble
from ..model.outcome import Outcome
from .archive import RunEnd, RunRecord, heads_by_time, read_run, run_head, runs_in

FILE = "runs.sqlite"
BUSY_S = 3.0  # that another program may hold the index
_VERSION = 2
_TABLES = """
create table run (folder text primary key, script text, started real, ending text);
create table outcome (
    folder text references run, device text, row integer, which integer, build text, address text, step text, outcome text, seconds real
);
create index by_step on outcome (step, device);
"""


@dataclass(frozen=True)
class Held:
    """What became of a step in one run on one device: the worst of its takes and turns. `started` is seconds since the epoch."""

    run: str
    started: float
    build: str
    outcome: Outcome


@dataclass(frozen=True)
class History:
    """A step on one device over the runs, the oldest first."""

    device: str
    step: str
    entries: tuple[Held, ...] = ()

    @property
    def unsteady(self) -> bool:
        """Does it hold and fail by turns on one and the same build, so that nothing that is known tells why?"""
        for build in {entry.build for entry in self.entries}:
            good = [entry.outcome.good for entry in self.entries if entry.build == build]
            turns = sum(one != other for one, other in itertools.pairwise(good))
            if turns >= 2:
                return True
        return False

    @property
    def words(self) -> str:
        """For people: how often it held, since when it does not."""
        if not self.entries:
            return ""
        good = sum(entry.outcome.good for entry in self.entries)
        if self.unsteady:
            return f"unsteady: held in {good} of {len(self.entries)} runs, by turns on one build"
        if good == len(self.entries):
            return f"held in all of {len(self.entries)} runs"
        last = next((i for i in range(len(self.entries) - 1, -1, -1) if self.entries[i].outcome.good), -1)
        if last == len(self.entries) - 1:
            return f"held in {good} of {len(self.entries)} runs, and in the last"
        bad = self.entries[last + 1]
        if last < 0:
            return f"held in none of {len(self.entries)} runs"
        builds = bad.build and bad.build != self.entries[last].build
        since = f"{bad.outcome.value} since {bad.build}" if builds else f"{bad.outcome.value} since"
        until = f"held until build {self.entries[last].build}" if builds else f"held in {good} of {len(self.entries)} runs"
        return f"{until}, {since}"


class RunIndex:
    """The index of a project's runs. Raises FileTrouble; `rebuild` mends one that is damaged."""

    def __init__(self, runs: Path) -> None:
        self.runs, self.path = runs, runs.parent / FILE

    @contextmanager
    def _open(self) -> Iterator[sqlite3.Connection]:
        try:
            self.runs.mkdir(parents=True, exist_ok=True)
            if self.path.exists() and not self.path.is_file():
                raise FileTrouble(f"{self.path} is not a file: move it away, then run `copione reindex`.", path=self.runs)
            base = sqlite3.connect(self.path, timeout=BUSY_S)
        except (OSError, sqlite3.Error) as error:
            raise FileTrouble(f"{self.path} could not be used: {error}.", path=self.runs) from error
        try:
            with base:
                if base.execute("pragma user_version").fetchone()[0] != _VERSION:
                    base.executescript(f"drop table if exists outcome; drop table if exists run; {_TABLES} pragma user_version={_VERSION};")
                yield base
        except sqlite3.Error as error:
            raise FileTrouble(f"{self.path} cannot be used: {error}. Rebuild it with `copione reindex`.", path=self.runs) from error
        finally:
            base.close()

    def add(self, record: RunRecord) -> None:
        """Take a run in; what was known of it before is replaced."""
        with self._open() as base:
            _add(base, record)

    def missing(self) -> list[Place]:
        """Runs that are not in the index."""
        with self._open() as base:
            known = {folder for (folder,) in base.execute("select folder from run where ending != ?", (RunEnd.CUT.value,))}
        return [folder for folder in runs_in(self.runs) if folder.name not in known]

    def complete(self) -> int:
        """Take in the runs that are not there yet, and forget those whose folders are gone; how many were taken in."""
        found = 0
        for folder in self.missing():
            with contextlib.suppress(FileTrouble):
                self.add(read_run(folder))
                found += 1
        there = {folder.name for folder in runs_in(self.runs)}
        with self._open() as base:
            gone = [folder for (folder,) in base.execute("select folder from run") if folder not in there]
            for folder in gone:
                _forget(base, folder)
        return found

    def rebuild(self) -> int:
        """Make it anew from the folders; how many runs it holds then."""
        with contextlib.suppress(OSError):
            self.path.unlink(missing_ok=True)
        return self.complete()

    def of_steps(self, script: str, pairs: Iterable[tuple[str, str]]) -> list[History]:
        """The histories of steps (their words) on devices, in the order asked for."""
        with self._open() as base:
            return [History(device, step, _entries(base, script, device, step)) for device, step in pairs]


def _add(base: sqlite3.Connection, record: RunRecord) -> None:
    folder = record.folder.name
    _forget(base, folder)
    base.execute("insert into run values (?, ?, ?, ?)", (folder, record.script, record.started, record.end.value))
    rows = (
        (folder, t.device.name, t.name.row, t.name.which, t.build, str(r.address), r.step, r.outcome.value, r.seconds)
        for t in record.takes
        for r in t.results
    )
    base.executemany("insert into outcome values (?, ?, ?, ?, ?, ?, ?, ?, ?)", rows)


def _forget(base: sqlite3.Connection, folder: str) -> None:
    base.execute("delete from outcome where folder = ?", (folder,))
    base.execute("delete from run where folder = ?", (folder,))


_BADNESS = (Outcome.STUCK, Outcome.DIFFERS, Outcome.ADAPTED, Outcome.HELD)


def _entries(base: sqlite3.Connection, script: str, device: str, step: str) -> tuple[Held, ...]:
    """By run, the worst that became of the step; where it was not come to the run says nothing."""
    asked = (
        "select run.folder, run.started, outcome.build, outcome.outcome from outcome join run using (folder) "
        "where run.script = ? and outcome.device = ? and outcome.step = ? and run.ending = ? order by run.started, run.folder"
    )
    found: dict[str, Held] = {}
    for folder, started, build, outcome in base.execute(asked, (script, device, step, RunEnd.COMPLETE.value)):
        became = Outcome(outcome)
        if became not in _BADNESS:
            continue
        known = found.get(folder)
        if known is None or _BADNESS.index(became) < _BADNESS.index(known.outcome):
            found[folder] = Held(folder, started, build, became)
    return tuple(found.values())


def before(runs: Place, script: str, folder: Place) -> Place | None:
    """The newest complete run of the same script before a run: what it is compared with when nothing else is said. Raises FileTrouble."""
    started = run_head(folder).started
    for head in heads_by_time([each for each in runs_in(runs) if each.name != folder.name]):
        if head.started <= started and head.script == script and head.end is RunEnd.COMPLETE:
            return head.folder
    return None
