"""Replaying a script on devices: from the devices and values to the run in the archive, its findings and its JUnit XML."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from ..comparison.causes import FindingKind
from ..comparison.lanes import Lane, Lanes, lay
from ..comparison.standing import assess
from ..files.places import Place
from ..links.bench import Device
from ..links.claims import Busy
from ..model.clock import Clock, today
from ..model.errors import CopioneError
from ..model.outcome import Outcome
from ..model.take import TakeName
from ..project.allowances import read_allowances
from ..project.archive import read_run
from ..project.history import RunIndex
from ..project.loaded import Loaded
from ..project.project import Project
from ..replay.listening import RunListener
from ..replay.order import planned
from ..replay.run import Run, places_of
from .collecting import Collector
from .judging import JudgedRun, assessed, found_in, usual_baseline
from .reporting import write_junit

CAUSES = frozenset({FindingKind.STUCK, FindingKind.DIFFERS, FindingKind.LIMIT})  # the findings that explain why a step has a bad outcome


@dataclass(frozen=True)
class ReplayOptions:
    """`runs` keeps the run in that folder instead of the project's; `junit` is where JUnit XML is written; `baseline` an earlier run to
    compare with instead of the usual one; `busy` what to do about devices that another Copione uses.
    """

    runs: Place | None = None
    junit: Path | None = None
    baseline: Place | None = None
    busy: Busy = Busy.TELL


@dataclass(frozen=True)
class ReplayResult:
    """The result of a replay. `troubles` are sentences for people; `whole` says that everything asked for was archived and written."""

    run: JudgedRun
    troubles: tuple[str, ...]
    whole: bool

    def differs(self, strict: bool = False) -> bool:
        """Is anything different that nobody expects? `strict`: remarks and slow steps count too."""
        known, lanes = self.run.known, self.run.lanes
        if strict and known.open:
            return True
        causes = [each for each in known.standing if each.finding.kind in CAUSES]
        bad = any(lanes.counts.get(outcome) for outcome in Outcome if outcome.bad)
        return bad and not (causes and all(each.expected for each in causes))


class Replay:
    """One script on several devices at once. `start`, then `wait`; `cancel` at any time, from any thread.

    Before it touches a device, it raises ScriptBroken for a script with problems, and FileTrouble if the allowances or the baseline
    cannot be read or the archive cannot be created.
    """

    def __init__(
        self,
        project: Project,
        loaded: Loaded,
        devices: Sequence[Device],
        listener: RunListener,
        clock: Clock,
        options: ReplayOptions | None = None,
    ) -> None:
        self._project, self._loaded, self._clock = project, loaded, clock
        self.options = options or ReplayOptions()
        read_allowances(project.folder)
        if self.options.baseline is not None:
            read_run(self.options.baseline)
        self._collector = Collector(listener)
        self._run = Run(project, loaded, devices, self._collector, clock, self.options.runs, self.options.busy)
        self._started = clock.wall()

    @property
    def folder(self) -> Place:
        """Where the run is kept."""
        return self._run.folder

    def start(self) -> None:
        """Start the takes on every device. Returns at once; the listener hears of everything that happens."""
        self._started = self._clock.wall()
        self._run.start()

    def cancel(self) -> None:
        """Stop every take at its next look."""
        self._run.cancel()

    def wait(self) -> ReplayResult:
        """Wait for the run to end, judge it, write JUnit XML and add it to the index. If one of these fails, the others are still done;
        the result's `troubles` say what failed.
        """
        troubles: list[str] = []
        archived = _tried(troubles, "", self._run.wait)  # what was heard counts all the same
        record = self._collector.record(self._run, self._started, self._run.end)
        lanes, found = found_in(record)
        day, wanted, covers = today(self._clock), self.options.junit, self._loaded.script.covers
        judged = JudgedRun(record, lanes, assess(found, lanes, record.script, (), day))
        # written twice: the results are safe before other files are read
        written = wanted is None or _tried(troubles, "", lambda: write_junit(wanted, judged, covers))
        try:
            baseline = self.options.baseline or usual_baseline(record.folder, record.script)
            judged = JudgedRun(record, lanes, assessed(self._project.folder, record, lanes, found, baseline, day))
        except CopioneError as error:
            troubles.append(f"New and expected findings are not marked: {error.sentence}")
        else:
            if wanted is not None and written:
                written = _tried(troubles, "", lambda: write_junit(wanted, judged, covers))
        if self.options.runs is None:
            _tried(troubles, "The run is not in the index: ", lambda: RunIndex(self._project.runs_folder).add(record))
        return ReplayResult(judged, tuple(troubles), archived and written and not self._run.none_began)


def _tried(troubles: list[str], failed: str, do: Callable[[], object]) -> bool:
    """Do something; where it fails, note a sentence that begins with `failed`. Was it done?"""
    try:
        do()
    except CopioneError as error:
        troubles.append(f"{failed}{error.sentence}")
        return False
    return True


def lanes_before(loaded: Loaded, devices: Sequence[Device]) -> Lanes:
    """The lanes of a replay before its first step: every step planned, none done."""
    profiles = [device.profile for device in devices if device.profile is not None]
    firsts = list(zip(places_of(devices), profiles, strict=True))
    rows = range(1, len(loaded.takes) + 1)
    empty = [Lane(TakeName(name.device, row, name.which), profile) for name, profile in firsts for row in rows]
    return lay(empty, profiles[0].name, planned(loaded.library))


def must_be_free(devices: Iterable[Device]) -> None:
    """Raises DeviceTaken where another Copione uses one of them."""
    for device in devices:
        assert device.worker is not None
        device.worker.link.claim.must_be_free()
