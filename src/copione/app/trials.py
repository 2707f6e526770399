"""A trial of some lines on one device, as the interface sees it."""

from __future__ import annotations

import threading
import zlib
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QObject, Signal

from ..engine.memory import collect
from ..model.clock import SystemClock
from ..model.outcome import Cause, Outcome

if TYPE_CHECKING:
    from ..links.bench import Device
    from ..links.link import Link
    from ..model.screen import Element, Moment
    from ..project.loaded import Loaded
    from ..replay.trial import Trial, TrialRequest, TrialStop, Tried
    from .workspace import Workspace

KEPT = 400  # results of the newest trial


class _Ear:
    """Hears a trial on its thread, and tells of it on Qt's."""

    def __init__(self, trials: Trials, show: Callable[[Moment], None]) -> None:
        self._trials, self._bring, self._show = trials, trials.workspace.courier.bring, show

    def waits(self, standing: TrialStop) -> None:
        self._bring(lambda: self._trials.stands(standing))

    def goes_on(self, standing: TrialStop) -> None:
        self._bring(lambda: self._trials.does(standing))

    def tried(self, tried: Tried) -> None:
        if tried.moment is not None:
            self._show(tried.moment)  # its picture is decoded here
        self._bring(lambda: self._trials.has(tried))

    def ended(self, values: Mapping[str, str], trouble: str) -> None:
        self._bring(lambda: self._trials.over(values, trouble))


class Trials(QObject):
    """One trial at a time, on a thread of its own: the device can be looked at meanwhile, and touched while it waits."""

    changed = Signal()
    told = Signal(str)

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(workspace)
        self.workspace = workspace
        self.standing: TrialStop | None = None  # where it waits
        self.doing: TrialStop | None = None  # what is done now
        self.tried: list[Tried] = []
        self.values: Mapping[str, str] = {}  # what an earlier trial kept
        self.values_now: Mapping[str, str] = {}  # what stands in the variables
        self.stops: set[int] = set()  # lines to stop before
        self.device: Device | None = None  # where the newest trial is, or was
        self.row = 1
        self._trial: Trial | None = None
        workspace.script_opened.connect(self._forget)

    def _forget(self) -> None:
        self.stop()
        self.tried, self.values, self.standing, self.doing = [], {}, None, None
        self.stops.clear()
        self.changed.emit()

    @property
    def running(self) -> bool:
        """Does one go on, or wait?"""
        return self._trial is not None

    @property
    def stuck(self) -> Tried | None:
        """What the newest trial ended with, if it is stuck."""
        last = self.tried[-1] if self.tried and not self.running else None
        if last is None or last.result.outcome is not Outcome.STUCK:
            return None
        return None if last.result.why is not None and last.result.why.cause is Cause.STOPPED else last

    def devices(self) -> list[Device]:
        """Where it can be tried: the lead first."""
        lead = self.workspace.lead.device
        ready = [d for d in self.workspace.devices if d.ready and d.worker is not None]
        return sorted(ready, key=lambda d: lead is None or d.listed.address != lead.listed.address)

    def turn_stop(self, line: int) -> None:
        """Stop before that line, or do not any more."""
        self.stops ^= {line}
        self.changed.emit()

    # going

    def start(self, first: int, last: int, device: Device | None = None, *, stepping: bool = False) -> None:
        """Try lines of the script that is open; what was kept by an earlier trial still stands."""
        from ..replay.trial import TrialRequest

        loaded = self.workspace.loaded
        place = device or next(iter(self.devices()), None)
        if loaded is None or self.running:
            return
        if place is None:
            self.told.emit("A phone is needed to try it on.")
            return
        wrong = next((p for p in loaded.problems(asking=True) if first <= p.line <= last), None)
        if wrong is not None:
            self.told.emit(f"Line {wrong.line}: {wrong.sentence}")
            return
        asked = TrialRequest(first, last, self.row, dict(self.values), frozenset(self.stops), stepping)
        scene = next((s for s in loaded.script.scenes if s.values and s.line < first and any(x.line == first for x in s.steps)), None)
        if scene is None:
            self.workspace.with_values(lambda full: self._begin(full, asked, place))
            return
        from ..model.step import Need
        from .given import value_key

        known = {name: self.workspace.given.remembered(value_key(loaded.path, name, scene.name)) for name in scene.values}

        def given(values: Mapping[str, str]) -> None:
            for name, value in values.items():
                self.workspace.given.remember(value_key(loaded.path, name, scene.name), value)
            ready = replace(asked, given={**asked.given, **values})
            self.workspace.with_values(lambda full: self._begin(full, ready, place))

        self.workspace.given.ask([Need(name) for name in scene.values], known, given)

    def _begin(self, loaded: Loaded, asked: TrialRequest, device: Device) -> None:
        from ..links.worker import Through
        from ..replay.trial import Trial

        done = loaded.library.on_lines(asked.first, asked.last)
        if device.worker is None or self.running or not self.workspace.may_clear(loaded, done, [device]):
            return
        self.device, self.tried, self.standing, self.doing = device, [], None, None
        lead = self.workspace.lead
        show = lead.shower() if device is lead.device else lambda moment: None
        self._trial = Trial(self.workspace.project, loaded, asked, _Ear(self, show), SystemClock())
        link = cast("Link", Through(device.worker))
        threading.Thread(target=self._trial.run, args=(link,), name="trial", daemon=True).start()
        self.changed.emit()

    def go_on(self) -> None:
        """To the next stop, or the end."""
        self._on(stepping=False)

    def step(self) -> None:
        """One step more."""
        self._on(stepping=True)

    def _on(self, *, stepping: bool) -> None:
        if self._trial is not None and self.standing is not None:
            self.standing = None
            self.changed.emit()
            if stepping:
                self._trial.step()
            else:
                self._trial.go_on()

    def stop(self) -> None:
        """End it at its next look."""
        if self._trial is not None:
            self._trial.stop()

    # what it tells

    def stands(self, standing: TrialStop) -> None:
        """It waits before a step."""
        self.standing, self.doing, self.values_now = standing, None, standing.values
        self.workspace.go_to(standing.line)
        self.changed.emit()

    def does(self, standing: TrialStop) -> None:
        """A step is about to be done."""
        self.standing, self.doing, self.values_now = None, standing, standing.values
        self.workspace.go_to(standing.line)
        self.changed.emit()

    def has(self, tried: Tried) -> None:
        """One step has its outcome."""
        self.tried = [*self.tried[-KEPT:], tried]
        self.changed.emit()

    def over(self, values: Mapping[str, str], trouble: str) -> None:
        """It is over."""
        row = self.workspace.loaded.takes[0] if self.workspace.loaded is not None else {}
        self.values = {name: value for name, value in values.items() if row.get(name) != value}
        self._trial, self.standing, self.doing = None, None, None
        self.workspace.courier.think(collect, lambda _done: None)
        if trouble:
            self.told.emit(trouble)
        self.changed.emit()

    # what is learned

    def point_at(self, tried: Tried, element: Element) -> None:
        """The stuck step is about that element: its target keeps what is there as evidence, and the step goes on."""
        self._keep(tried, element)

    def learn(self, tried: Tried) -> None:
        """What the target was found by is kept as evidence too."""
        self._keep(tried, None)

    def keep_frame(self, tried: Tried) -> str:
        """The screen it was judged by among the script's frames; its file's name, empty where there is no picture."""
        loaded = self.workspace.loaded
        png = tried.moment.png if tried.moment is not None else b""
        if loaded is None or not png:
            return ""
        from ..files.naming import slug
        from ..project.naming import frames_folder

        name = f"learned-{slug(tried.device or 'device')}-{zlib.crc32(png):08x}.png"
        path = frames_folder(loaded.path) / name

        def write() -> None:
            from ..files.writing import write_whole

            write_whole(path, png)

        self.workspace.courier.with_files(write, failed=self.workspace.failed)
        return name

    def _keep(self, tried: Tried, element: Element | None) -> None:
        if tried.result.file:
            self.told.emit("What is in another script is learned there: open it.")
            return
        portrait = tried.portrait(element, tried.result.scene, self.keep_frame(tried))
        if portrait is not None:
            self.workspace.editing.learn(tried.result.target, portrait)
