"""A run: takes on several devices at once, a worker each, rows one after the other on each device."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from concurrent.futures import Future
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Protocol

from ..links.bench import Device
from ..links.link import Link
from ..model.clock import Clock
from ..model.device import DeviceProfile
from ..model.errors import CopioneError
from ..model.outcome import Outcome, Result
from ..project.archive import RunWriter, TakeWriter
from ..project.project import Loaded, Project, frames_folder
from .pace import Pace
from .take import Take, planned


@dataclass(frozen=True)
class TakeName:
    """Which take: the device's name and the data row, 1-based."""

    device: str
    row: int


class RunListener(Protocol):
    """Told of everything as it happens, from the devices' threads."""

    def take_started(self, take: TakeName, profile: DeviceProfile) -> None: ...

    def step_done(self, take: TakeName, result: Result) -> None: ...

    def take_ended(self, take: TakeName, trouble: str) -> None: ...


class Run:
    """Start with `start`, wait with `wait`; `cancel` ends every take at its next look."""

    def __init__(
        self, project: Project, loaded: Loaded, devices: Sequence[Device], listener: RunListener, clock: Clock, runs: Path | None = None
    ) -> None:
        self.project, self.loaded, self.devices, self.listener, self.clock = project, loaded, list(devices), listener, clock
        script = loaded.document.sound()
        self.script = script
        self.writer = RunWriter(runs or project.runs_folder, script.name, loaded.document.text, script.app, [d.name for d in self.devices])
        self._cancel = threading.Event()
        self._futures: list[Future[None]] = []
        self._began = threading.Event()
        self._pace = Pace()

    @property
    def folder(self) -> Path:
        return self.writer.folder

    @property
    def none_began(self) -> bool:
        """No take got as far as its first step."""
        return not self._began.is_set()

    def cancel(self) -> None:
        self._cancel.set()

    def start(self) -> None:
        self._since = self.clock.now()
        for device in self.devices:
            assert device.worker is not None and device.profile is not None
            profile = device.profile
            self._futures.append(device.worker.submit(lambda link, profile=profile: self._device(link, profile)))  # type: ignore[misc]

    def wait(self) -> None:
        """Until every take has ended. Raises FileTrouble when the archive could not be written."""
        for future in self._futures:
            future.result()
        self.writer.finish(self.clock.now() - self._since)

    def _device(self, link: Link, profile: DeviceProfile) -> None:
        for row, values in enumerate(self.loaded.rows, 1):
            name = TakeName(profile.name, row)
            self.listener.take_started(name, profile)
            trouble = ""
            try:
                trouble = self._take(link, profile, name, values)
            except CopioneError as error:
                trouble = error.sentence
                raise
            finally:
                self.listener.take_ended(name, trouble)

    def _take(self, link: Link, profile: DeviceProfile, name: TakeName, values: dict[str, str]) -> str:
        package, build, trouble = "", "", ""
        try:
            package = self.project.package(self.script.app, profile.platform) if self.script.app else ""
            build = link.version(package) if package else ""
        except CopioneError as error:
            trouble = error.sentence
        archive = self.writer.take(profile, name.row, values, build)
        if trouble:
            self._could_not(archive, name, trouble)
            return trouble
        take = Take(
            link,
            self.script,
            values,
            self.loaded.portraits,
            package,
            self.clock,
            archive,
            lambda result: self.listener.step_done(name, result),
            self._cancel.is_set,
            self.project.phrases(profile.locale),
            self._pace,
            self.loaded.secrets,
            frames_folder(self.loaded.path),
        )
        self._began.set()
        take.run()
        return ""

    def _could_not(self, archive: TakeWriter, name: TakeName, trouble: str) -> None:
        """A take that cannot begin: its first step is stuck with the reason, the rest unreached."""
        for result in planned(self.script):
            first = result.number == 1
            result = replace(result, outcome=Outcome.STUCK if first else Outcome.UNREACHED, reason=trouble if first else "")
            archive.step(result)
            self.listener.step_done(name, result)
        archive.close()
