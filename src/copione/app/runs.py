"""The run that is shown: going on, or from the archive, as lanes that fill in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ..comparison.findings import Finding, findings
from ..comparison.lanes import Lane, Lanes, lay
from ..links.bench import Device
from ..model.clock import SystemClock
from ..model.device import DeviceProfile
from ..model.errors import CopioneError
from ..model.outcome import Result
from ..project.archive import TakeRecord, read_run, runs_in, take_folder
from ..project.project import Loaded, Project
from ..report.lanes_of import lanes_of
from .courier import Courier

if TYPE_CHECKING:
    from ..replay.run import Run, TakeName


class Runs(QObject):
    """`lanes` and `findings` are always those of the run that is shown."""

    changed = Signal()
    state_changed = Signal()
    troubled = Signal(str)

    def __init__(self, courier: Courier, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.courier = courier
        self.lanes = Lanes((), ())
        self.findings: list[Finding] = []
        self.folder: Path | None = None
        self.title = ""
        self.lead = ""
        self._run: Run | None = None
        self._live: dict[TakeName, Lane] = {}
        self._open = 0

    @property
    def running(self) -> bool:
        return self._run is not None

    @property
    def progress(self) -> tuple[int, int]:
        """Steps done, and steps in all."""
        done = sum(len(lane.results) for lane in self.lanes.lanes)
        return done, max(1, len(self.lanes.columns) * len(self.lanes.lanes))

    def show_newest(self, project: Project) -> None:
        """The newest run of the archive, if any."""
        for folder in runs_in(project.runs_folder)[:1]:
            self.show_run(folder)

    def show_run(self, folder: Path) -> None:
        try:
            record = read_run(folder)
        except CopioneError as error:
            self.troubled.emit(error.sentence)
            return
        self.folder, self.title, self.lead = folder, record.script, record.lead
        self._settle(lanes_of(record))

    def _settle(self, lanes: Lanes) -> None:
        self.lanes = lanes
        self.findings = findings(lanes)
        self.changed.emit()

    def start(self, project: Project, loaded: Loaded, devices: Sequence[Device]) -> None:
        """Raises CopioneError when the run cannot begin."""
        from ..replay.run import Run, TakeName
        from ..replay.take import planned

        run = Run(project, loaded, devices, self, SystemClock())
        self._run, self.folder, self.title, self.lead = run, run.folder, loaded.script.name, devices[0].name
        self._columns = lay([Lane(devices[0].profile or _NOBODY, 1, tuple(planned(loaded.script)))], "").columns
        self._live = {TakeName(d.name, row): Lane(d.profile or _NOBODY, row, ()) for d in devices for row in range(1, len(loaded.rows) + 1)}
        self._open = len(self._live)
        run.start()
        self._refresh()
        self.state_changed.emit()

    def cancel(self) -> None:
        if self._run is not None:
            self._run.cancel()

    # told by the run, on the devices' threads

    def take_started(self, take: TakeName, profile: DeviceProfile) -> None:
        self.courier.bring(lambda: self._started(take))

    def step_done(self, take: TakeName, result: Result) -> None:
        self.courier.bring(lambda: self._done(take, result))

    def take_ended(self, take: TakeName, trouble: str) -> None:
        self.courier.bring(lambda: self._ended(trouble))

    # on Qt's thread

    def _started(self, take: TakeName) -> None:
        if self.folder is None:
            return
        lane = self._live[take]
        self._live[take] = replace(
            lane, place=TakeRecord(self.folder / "takes" / take_folder(take.device, take.row), lane.device, take.row, {})
        )

    def _done(self, take: TakeName, result: Result) -> None:
        lane = self._live[take]
        self._live[take] = replace(lane, results=(*lane.results, result))
        self._refresh()

    def _refresh(self) -> None:
        lanes = lay(self._live.values(), self.lead)
        self._settle(Lanes(self._columns, lanes.lanes))

    def _ended(self, trouble: str) -> None:
        if trouble:
            self.troubled.emit(trouble)
        self._open -= 1
        if self._open == 0 and self._run is not None:
            run, self._run = self._run, None
            try:
                run.wait()
            except CopioneError as error:
                self.troubled.emit(error.sentence)
            self.show_run(run.folder)
            self.state_changed.emit()


_NOBODY = DeviceProfile("", "", "", 1, 1, 160)
