"""What the window works on: project, script, bench, lead, run. Views receive it and subscribe."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ..language.document import Document, parse
from ..links.bench import Bench, Device
from ..links.link import Link
from ..model.errors import CopioneError, FileTrouble
from ..model.portrait import Portrait
from ..model.step import Step
from ..project.files import write_whole
from ..project.journal import Unfinished, unfinished
from ..project.portraits import save_portraits
from ..project.project import Loaded, Project, frames_folder, portraits_path
from .courier import Courier
from .lead import Lead
from .runs import Runs


class Workspace(QObject):
    """Holds the models; computes nothing."""

    devices_changed = Signal()
    script_changed = Signal()
    line_changed = Signal(int)
    chosen_changed = Signal()
    told = Signal(str)

    def __init__(self, bench: Bench, project: Project) -> None:
        super().__init__()
        self.courier = Courier(self)
        self.project = project
        self.server_trouble = ""
        self.devices: list[Device] = []
        self.left_out: set[str] = set()
        self.bench = bench
        self.bench.changed = lambda devices, trouble: self.courier.bring(lambda: self._listed(devices, trouble))
        self.lead = Lead(self.courier, self)
        self.runs = Runs(self.courier, self)
        self.loaded: Loaded | None = None
        self.line = 0
        self._secrets: dict[str, str] = {}  # what was asked for, as long as the window is open; never written
        self.ask_secret: Callable[[str], str | None] = lambda name: None
        self.lead.troubled.connect(self.told)
        self.lead.told.connect(self.told)
        self.runs.troubled.connect(self.told)
        self.lead.saved.connect(self._saved)

    # bench

    def begin(self) -> None:
        """Look for devices, open the newest script and run."""
        self.bench.watch()
        self._open_newest()

    def close(self) -> None:
        self.runs.cancel()
        self.bench.close()
        self.lead.close()
        self.courier.close()

    def _listed(self, devices: list[Device], trouble: str) -> None:
        self.devices, self.server_trouble = devices, trouble
        lead = self.lead.device
        current = next((d for d in devices if lead is not None and d.listed.address == lead.listed.address), None)
        if lead is not None and (current is None or not current.ready):
            if self.lead.recording:
                self.told.emit(f"{lead.name} went away. The recording so far is kept and will be offered again.")
            else:
                self.lead.follow(None)
        if self.lead.device is None:
            self.lead.follow(next((d for d in devices if d.ready), None))
        self.devices_changed.emit()

    def chosen(self) -> list[Device]:
        """The devices a replay goes to: every ready one that is not left out, the lead first."""
        lead = self.lead.device
        ready = [d for d in self.devices if d.ready and d.listed.address not in self.left_out]
        return sorted(ready, key=lambda d: lead is None or d.listed.address != lead.listed.address)

    def everywhere(self, act: Callable[[Link], object]) -> None:
        """Something of every device that takes part; what was refused is told."""
        devices = self.chosen()
        left = {d.name for d in devices}
        refused: list[str] = []

        def ended(name: str, error: CopioneError | None = None) -> None:
            left.discard(name)
            if error is not None:
                refused.append(f"{name}: {error.sentence}")
            if not left:
                self.told.emit("; ".join(refused) or f"Done on {len(devices)} devices.")

        for device in devices:
            if device.worker is not None:
                name = device.name
                self.courier.follow(device.worker.submit(act), lambda _r, name=name: ended(name), lambda e, name=name: ended(name, e))

    def take_part(self, device: Device, part: bool) -> None:
        address = device.listed.address
        self.left_out = self.left_out - {address} if part else self.left_out | {address}
        self.chosen_changed.emit()

    def open_project(self, folder: Path) -> None:
        """Raises CopioneError."""
        self.project = Project.create(folder, folder.name)
        self.loaded = None
        self.script_changed.emit()
        self._open_newest()
        self.devices_changed.emit()

    def _open_newest(self) -> None:
        scripts = self.project.scripts()
        if scripts:
            self.open_script(max(scripts, key=lambda p: p.stat().st_mtime))
        self.runs.show_newest(self.project)

    # script

    def open_script(self, path: Path) -> None:
        try:
            self.loaded = self.project.load(path)
        except CopioneError as error:
            self.told.emit(error.sentence)
            return
        for note in self.loaded.notes:
            self.told.emit(note)
        first = next((step.line for _, step in self.loaded.script.steps()), 1)
        self.line = first
        self.script_changed.emit()
        self.line_changed.emit(first)

    def _saved(self, path: Path, line: int) -> None:
        self.open_script(path)
        if line:
            self.go_to(line)

    def record_from_here(self) -> None:
        """Replay the script up to the current line on the lead, and record what goes in behind it."""
        step = self.step_at(self.line)
        if self.loaded is None or step is None:
            self.told.emit("Put the caret on the step after which to record.")
        elif not self._has_values(self.loaded):
            return
        elif self.loaded.document.problems:
            self.told.emit("The script has problems: put them right first, it is replayed up to here.")
        else:
            self.lead.start(self.project, None, self.loaded, step[1].line)

    def edit(self, text: str) -> None:
        """The editor's text as the script; kept on disk at once."""
        if self.loaded is None or text == self.loaded.document.text:
            return
        self._put(parse(text))

    def _put(self, document: Document, portraits: dict[str, tuple[Portrait, ...]] | None = None) -> None:
        assert self.loaded is not None
        rows = self.loaded.rows
        try:
            write_whole(self.loaded.path, document.text.encode())
            if portraits is not None:
                save_portraits(portraits_path(self.loaded.path), portraits)
        except FileTrouble as error:
            self.told.emit(error.sentence)
        kept = portraits if portraits is not None else self.loaded.portraits
        self.loaded = Loaded(self.loaded.path, document, kept, rows, self.loaded.notes)
        self.script_changed.emit()

    def go_to(self, line: int) -> None:
        """Make a line the current one in every view."""
        if line != self.line:
            self.line = line
            self.line_changed.emit(line)

    def step_at(self, line: int) -> tuple[str, Step] | None:
        """The scene's name and the step on a line, or on the nearest line above."""
        found = None
        for scene, step in self.loaded.script.steps() if self.loaded else ():
            if step.line <= line:
                found = scene.name, step
        return found

    def portrait_of(self, scene: str, step: Step) -> Portrait | None:
        """The portrait shown for a step: the one recorded in its scene, else any."""
        several = self.loaded.portraits.get(step.key(), ()) if self.loaded else ()
        return next((p for p in several if p.scene == scene), several[0] if several else None)

    def frame_of(self, portrait: Portrait | None) -> Path | None:
        if self.loaded is None or portrait is None or not portrait.picture:
            return None
        return frames_folder(self.loaded.path) / portrait.picture

    def point_at(self, step: Step, changed: Step, portrait: Portrait) -> None:
        """Point a step at another element: its line, and the portrait under the new words."""
        if self.loaded is None:
            return
        portraits = dict(self.loaded.portraits)
        portraits[changed.key()] = (portrait, *(p for p in portraits.get(changed.key(), ()) if p.screen is not portrait.screen))
        self._put(self.loaded.document.with_step(step.line, changed), portraits)

    def add_after(self, step: Step, added: Step, portrait: Portrait | None) -> None:
        if self.loaded is None:
            return
        portraits = dict(self.loaded.portraits)
        if portrait is not None and added.key() not in portraits:
            portraits[added.key()] = (portrait,)
        self._put(self.loaded.document.with_step_after(step.line, added), portraits)
        self.go_to(step.line + 1)

    # work

    def replay(self) -> None:
        if self.loaded is None or self.runs.running or not self._has_values(self.loaded):
            return
        try:
            self.runs.start(self.project, self.loaded, self.chosen())
        except CopioneError as error:
            self.told.emit(error.sentence)

    def _has_values(self, loaded: Loaded) -> bool:
        """Asks for what neither the data nor the environment gives; False where nothing was given."""
        loaded.secrets.update({name: value for name, value in self._secrets.items() if name in loaded.wanting})
        for name in loaded.wanting:
            value = self.ask_secret(name)
            if value is None:
                return False
            loaded.secrets[name] = self._secrets[name] = value
        return True

    def recovered(self) -> list[Unfinished]:
        return unfinished(self.project.recordings_folder)
