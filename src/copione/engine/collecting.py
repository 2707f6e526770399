"""A run as it was heard: what a front end tells of it does not depend on the disk."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass, field

from ..files.places import Place
from ..model.cost import Cost
from ..model.device import DeviceProfile
from ..model.outcome import Result
from ..model.remark import Remark
from ..model.secrecy import Redactor
from ..model.take import TakeName
from ..project.archive import RunEnd, RunRecord, TakeRecord
from ..project.secrets import without_secrets
from ..replay.listening import RunListener, TakeBegun
from ..replay.run import Run


@dataclass
class _Heard:
    folder: Place
    device: DeviceProfile
    build: str
    configured: str = ""
    results: list[Result] = field(default_factory=list)


class Collector:
    """Listens to a run, and hands everything on to another listener."""

    def __init__(self, listener: RunListener) -> None:
        self._listener = listener
        self._takes: dict[TakeName, _Heard] = {}
        self._remarks: list[Remark] = []
        self._lock = threading.Lock()

    def take_started(self, take: TakeName, begun: TakeBegun) -> None:
        """See `RunListener`."""
        with self._lock:
            self._takes[take] = _Heard(begun.folder, begun.profile, begun.build, begun.configured)
        self._listener.take_started(take, begun)

    def step_done(self, take: TakeName, result: Result) -> None:
        """See `RunListener`."""
        with self._lock:
            if take in self._takes:
                self._takes[take].results.append(result)
        self._listener.step_done(take, result)

    def take_ended(self, take: TakeName, trouble: str) -> None:
        """See `RunListener`."""
        self._listener.take_ended(take, trouble)

    def noticed(self, remarks: tuple[Remark, ...]) -> None:
        """See `RunListener`."""
        with self._lock:
            self._remarks += remarks
        self._listener.noticed(remarks)

    def run_ended(self, trouble: str) -> None:
        """See `RunListener`."""
        self._listener.run_ended(trouble)

    def record(self, run: Run, started: float, end: RunEnd) -> RunRecord:
        """The run as far as it was heard, its takes in the order of its devices. `started` is seconds since the epoch."""
        with self._lock:
            order = {name: place for place, name in enumerate(run.devices)}
            names = sorted(self._takes, key=lambda t: (order.get(t.device, len(order)), t.row, t.which))
            clean = run.project.redactor  # it may know more by now than when a result was told
            takes = tuple(_take(name, self._takes[name], run.loaded.takes, clean, run.costs(name)) for name in names)
            remarks = tuple(self._remarks)
        lead, seconds = run.devices[0] if run.devices else "", sum(r.seconds for take in takes[:1] for r in take.results)
        script, text = run.script, clean.words(run.loaded.document.text)
        return RunRecord(run.folder, script.name, text, script.app, started, seconds, lead, takes, end, remarks)


def _take(name: TakeName, heard: _Heard, values: tuple[Mapping[str, str], ...], redactor: Redactor, costs: tuple[Cost, ...]) -> TakeRecord:
    clean = {key: redactor.words(value) for key, value in values[name.row - 1].items()}
    results = tuple(without_secrets(r, redactor) for r in heard.results)
    return TakeRecord(heard.folder, name, heard.device, clean, heard.build, results, costs, heard.configured)
