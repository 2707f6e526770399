"""The run that is shown: going on, or from the archive, as lanes that fill in."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ..comparison.lanes import Lanes
from ..files.places import Place
from ..links.claims import Busy
from ..model.address import Address
from ..model.clock import SystemClock
from ..model.errors import CopioneError, DeviceTaken
from ..model.remark import Remark
from ..model.take import TakeName
from .courier import Courier
from .follower import Follower, News

if TYPE_CHECKING:
    from ..engine.replaying import Replay
    from ..links.bench import Device
    from ..project.loaded import Loaded
    from ..project.project import Project


class ShownRun(QObject):
    """`news` is that of the run that is shown. `changed` comes with each news, `state_changed` when a run begins, ends or is opened."""

    changed = Signal()
    state_changed = Signal()
    troubled = Signal(str)

    def __init__(self, courier: Courier, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.courier = courier
        self.news = News()
        self.folder: Place | None = None
        self.title = ""
        self.when = ""
        self._run: Replay | None = None
        self._remarks: tuple[object, dict[TakeName, dict[Address, tuple[Remark, ...]]]] | None = None
        self._starting = self._unwanted = False
        self.ask_busy: Callable[[str], Busy | None] = lambda sentence: None

    @property
    def lanes(self) -> Lanes:
        """The takes side by side."""
        return self.news.lanes

    @property
    def remarks(self) -> dict[TakeName, dict[Address, tuple[Remark, ...]]]:
        """What was noticed, by take and step."""
        found = self.news.findings
        if self._remarks is None or self._remarks[0] is not found:
            by_take: dict[TakeName, dict[Address, tuple[Remark, ...]]] = {}
            for remark in (remark for finding in found for remark in finding.remarks):
                own = by_take.setdefault(remark.take, {})
                own[remark.address] = (*own.get(remark.address, ()), remark)
            self._remarks = found, by_take
        return self._remarks[1]

    @property
    def running(self) -> bool:
        """Does it go on?"""
        return self._starting or self._run is not None

    @property
    def progress(self) -> tuple[int, int]:
        """Steps done, and steps in all."""
        return self.lanes.done, max(1, len(self.lanes.columns) * len(self.lanes.lanes))

    def forget(self) -> None:
        """Show no run."""
        if not self.running:
            self.folder, self.title, self.when = None, "", ""
            self._show(News())

    def show_newest(self, project: Project) -> None:
        """The newest run of the archive, if any."""

        def newest() -> Place | None:
            from ..project.archive import heads_by_time, runs_in

            return next((head.folder for head in heads_by_time(runs_in(project.runs_folder))), None)

        self.courier.read(newest, lambda folder: self.show_run(folder) if folder is not None else None, self._failed)

    def show_run(self, folder: Place) -> None:
        """Open a run of the archive."""

        def read() -> tuple[str, float, News]:
            from ..comparison.findings import findings
            from ..engine.judging import lanes_of
            from ..project.archive import read_run

            record = read_run(folder)
            lanes = lanes_of(record)
            return record.script, record.started, News(lanes, findings(lanes, record.remarks))

        def done(found: tuple[str, float, News]) -> None:
            if not self.running:
                self.folder, (self.title, started, news) = folder, found
                self.when = _said(started)
                self._show(news)
                self.state_changed.emit()

        self.courier.read(read, done, self._failed)

    def _failed(self, error: CopioneError) -> None:
        self.troubled.emit(error.sentence)

    def _show(self, news: News) -> None:
        self.news = news
        self.changed.emit()

    def start(self, project: Project, loaded: Loaded, devices: Sequence[Device], busy: Busy = Busy.TELL) -> None:
        """Replay a script on devices. What keeps it from beginning is told; about devices that another Copione has is asked."""

        if self.running or not devices:
            return
        self._starting, self._unwanted = True, False

        def prepared() -> tuple[Replay, Lanes]:
            from ..engine.replaying import Replay, ReplayOptions, lanes_before, must_be_free

            if busy is Busy.TELL:
                must_be_free(devices)
            lanes = lanes_before(loaded, devices)
            return Replay(project, loaded, devices, self.follower(lanes), SystemClock(), ReplayOptions(busy=busy)), lanes

        def begin(made: tuple[Replay, Lanes]) -> None:
            self._starting = False
            self._run, lanes = made
            self.folder, self.title, self.when = self._run.folder, loaded.script.name, _said(time.time())
            self._show(News(lanes))
            if self._unwanted:
                self._run.cancel()
            self._run.start()
            self.state_changed.emit()

        def failed(error: CopioneError) -> None:
            self._starting = False
            choice = self.ask_busy(error.sentence) if isinstance(error, DeviceTaken) else None
            if choice is not None:
                self.start(project, loaded, devices, choice)
                return
            self._failed(error)
            self.state_changed.emit()

        self.courier.with_files(prepared, begin, failed)
        self.state_changed.emit()

    def follower(self, lanes: Lanes) -> Follower:
        """A listener of a run that begins with these lanes, and is shown here from then on."""
        return Follower(lanes, self._brought, SystemClock())

    def cancel(self) -> None:
        """Stop the run at the next look of each take; one that is about to begin stops at its first."""
        self._unwanted = self._starting
        if self._run is not None:
            self._run.cancel()

    def _brought(self, news: News) -> None:
        self.courier.bring(lambda: self._arrived(news))

    def _arrived(self, news: News) -> None:
        for trouble in news.troubles:
            self.troubled.emit(trouble)
        if news.ended:
            self._run = None
        self._show(news)
        if news.ended:
            self.state_changed.emit()


def _said(started: float) -> str:
    return time.strftime("%d %b, %H:%M", time.localtime(started))
