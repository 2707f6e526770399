"""What the window works on: project, script, bench, lead, recording, run. Views receive it and subscribe."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSettings, Signal

from ..comparison.lanes import Lanes
from ..files.places import Place
from ..model.errors import CopioneError
from .clearing import Clearing
from .courier import Courier
from .editing import Editing
from .given import Given
from .lead import Lead
from .message import Notice
from .opening import open_file
from .recorder import Recorder
from .runs import ShownRun
from .saving import Saving
from .unfinished import UnfinishedRecordings

if TYPE_CHECKING:
    from ..engine.recording import AppStart
    from ..links.bench import Bench, Device
    from ..links.link import Link
    from ..model.choices import TraitChoice
    from ..model.library import Library
    from ..model.portrait import Portrait
    from ..model.step import Script, Step
    from ..project.loaded import Loaded
    from ..project.project import Project


class Workspace(QObject):
    """Holds the models; computes nothing, and reads and writes nothing on Qt's thread."""

    devices_changed = Signal()
    script_changed = Signal()
    script_opened = Signal()  # another one, or none
    line_changed = Signal(int)
    chosen_changed = Signal()
    told = Signal(str)
    offered = Signal(object)  # Told: words with what can be done about them
    replay_began = Signal()
    recording_began = Signal()  # it was asked for: the stage is to be looked at
    project_opened = Signal()

    def __init__(self, bench: Bench, project: Project, settings: QSettings | None = None) -> None:
        super().__init__()
        self._settings = settings
        self.courier = Courier(self)
        self.project = project
        self.given = Given(self, settings)
        self.server_trouble = ""
        self.devices: list[Device] = []
        self.left_out: dict[str, str] = {}  # addresses of devices that replays leave out, and why
        self.bench = bench
        self.bench.changed = lambda devices, trouble: self.courier.bring(lambda: self._listed(devices, trouble))
        self.lead = Lead(self.courier, self)
        self.recorder = Recorder(self.lead, self)
        self.runs = ShownRun(self.courier, self)
        self.loaded: Loaded | None = None
        self.saving = Saving(self, self.courier, self)
        self.editing = Editing(self, self.courier, self)
        self.saving.take_in, self.saving.put = self.editing.take_in, self.editing.put
        self.saving.complete = self.editing.complete
        self.script_changed.connect(self.saving.watch)
        self.editing.told.connect(self.told)
        self.library: dict[str, Script] = {}  # every script of the project by file name, as it was when one was opened last
        self.line = 0
        self._closing: Thread | None = None
        self.closing: list[Callable[[], object]] = []  # what else ends with the window
        self.clearing = Clearing()
        self.lead.troubled.connect(self.told)
        self.lead.told.connect(self.told)
        self.runs.troubled.connect(self.told)
        self.runs.state_changed.connect(self.given.forget_secrets)
        self.recorder.saved.connect(self._saved)
        self.unfinished = UnfinishedRecordings(self.recorder, self.courier, lambda: self.project, self)
        self.unfinished.gone_on.connect(self.recording_began)
        self.unfinished.told.connect(self.offered)
        self.unfinished.troubled.connect(self.failed)

    # beginning and end

    def begin(self) -> None:
        """Look for devices, open the newest script and run."""
        self.bench.watch()
        self._open_newest()

    def close(self) -> None:
        """Let go of everything, beside Qt's thread; see `wait_closed`."""
        self.editing.end_typing()
        self.saving.close()
        for end in self.closing:
            end()
        self.runs.cancel()
        self.lead.close()
        self._closing = Thread(target=self._close, name="closing")
        self._closing.start()

    def _leave(self) -> None:
        """The script that is open is left: what is being typed in it belongs to it."""
        self.editing.end_typing()
        self.saving.keep()

    def _close(self) -> None:
        self.bench.close()
        self.recorder.close()
        self.courier.close()

    def wait_closed(self) -> None:
        """Until every device is let go of and every file is written; some seconds at most."""
        if self._closing is not None:
            self._closing.join()

    def words_of_apps(self) -> dict[str, str]:
        """What the project calls each app, by its package on the lead's platform."""
        profile = self.lead.device.profile if self.lead.device is not None else None
        platform = profile.platform if profile is not None else ""
        return {app.packages[platform]: word for word, app in self.project.apps.items() if platform in app.packages}

    def failed(self, error: CopioneError) -> None:
        """Tell what went wrong."""
        self.told.emit(error.sentence)

    # bench

    def _listed(self, devices: list[Device], trouble: str) -> None:
        self.devices, self.server_trouble = devices, trouble
        lead = self.lead.device
        current = next((d for d in devices if lead is not None and d.listed.address == lead.listed.address), None)
        if lead is not None and (current is None or not current.ready):
            if self.recorder.active:
                self.told.emit(f"{lead.name} went away. The recording so far is kept and will be offered again.")
            else:
                self.lead.set_device(None)
        if self.lead.device is None:
            self.lead.set_device(next((d for d in devices if d.ready), None))
        self.devices_changed.emit()

    def chosen(self) -> list[Device]:
        """The devices a replay goes to: every ready one that is not left out, the lead first."""
        lead = self.lead.device
        ready = [d for d in self.devices if d.ready and d.listed.address not in self.left_out]
        return sorted(ready, key=lambda d: lead is None or d.listed.address != lead.listed.address)

    def everywhere(self, act: Callable[[Link], object], devices: Sequence[Device] | None = None) -> None:
        """Something of every device that takes part, or of those; what was refused is told."""
        devices = self.chosen() if devices is None else devices
        left = {d.listed.address for d in devices}
        refused: list[str] = []

        def ended(device: Device, error: CopioneError | None = None) -> None:
            left.discard(device.listed.address)
            if error is not None:
                refused.append(f"{device.name}: {error.sentence}")
            if not left:
                self.told.emit("; ".join(refused) or f"Done on {len(devices)} devices.")

        def claimed(link: Link) -> object:
            from ..links.holding import held

            with held(link, "used by hand"):
                return act(link)

        def ask(device: Device) -> None:
            if device.worker is not None:
                self.courier.deliver(device.worker.submit(claimed), lambda _result: ended(device), lambda error: ended(device, error))

        for device in devices:
            ask(device)

    def take_part(self, device: Device, part: bool) -> None:
        """Does a device take part in replays?"""
        if part:
            self.left_out.pop(device.listed.address, None)
        else:
            self.left_out[device.listed.address] = "left out by you"
        self.chosen_changed.emit()

    def choose(self, choice: TraitChoice | None) -> None:
        """Replay on the devices with that trait alone, or on every one."""
        self.left_out = {
            d.listed.address: f"not {choice.words}"
            for d in self.devices
            if choice is not None and d.profile is not None and not choice.fits(d.profile)
        }
        self.chosen_changed.emit()

    # project

    def open_project(self, folder: Path) -> None:
        """Another project; one is made where there is none."""

        def opened() -> Project:
            from ..project.project import Project

            return Project.create(folder, folder.name, self.project.redactor)

        def done(project: Project) -> None:
            self._leave()
            self.project, self.loaded = project, None
            self.project_opened.emit()
            self.script_changed.emit()
            self.runs.forget()
            self._open_newest()
            self.devices_changed.emit()

        self.courier.with_files(opened, done, self.failed)

    def _open_newest(self) -> None:
        project = self.project

        def newest() -> Path | None:
            from ..project.shelf import scripts_of

            return max(scripts_of(project), key=lambda entry: entry.changed).path if project.scripts() else None

        self.courier.with_files(newest, lambda path: self.open_script(path) if path is not None else None, self.failed)
        self.runs.show_newest(project)
        self.unfinished.look()

    def record(self, begin: AppStart) -> None:
        """Record an app on the lead."""
        self.recording_began.emit()
        self.recorder.start(self.project, begin)

    # script

    def open_script(self, path: Path, line: int = 0) -> None:
        """A script of the project, at a line or its first step."""
        self.editing.end_typing()
        project, before = self.project, self.loaded

        def done(loaded: Loaded) -> None:
            if project is not self.project:
                return
            self._leave()
            now = self.loaded
            same = now is not None and self.saving.files.place(now.path) == loaded.path
            known = {loaded.document.text, before.document.text if before is not None else ""}
            if same and now is not None and now.document.text not in known:  # typed, or written by another program, since it was read
                self.open_script(loaded.path, line)
                return
            self.loaded = loaded
            self.courier.with_files(lambda: self.saving.files.read_anew(loaded.path))
            for note in loaded.notes:
                self.told.emit(note)
            self.line = line or next((step.line for _, step in loaded.script.steps()), 1)
            self.script_opened.emit()
            self.script_changed.emit()
            self.line_changed.emit(self.line)
            self.courier.think_newest("the project's scripts", project.every_script, self._know)

        self.courier.with_files(lambda: project.load(path), done, self.failed)

    def _know(self, scripts: dict[str, Script]) -> None:
        self.library = scripts

    def renamed(self, path: Path, to: Path) -> None:
        """A script has another file, and another name in it, than it had: the open one goes on being edited there."""
        if self.loaded is not None and self.loaded.path == path:
            self.editing.end_typing()
            self.loaded = replace(self.loaded, path=to)
            self.saving.look()
            self.script_changed.emit()

    def close_script(self) -> None:
        """Show none."""
        self._leave()
        self.loaded = None
        self.script_opened.emit()
        self.script_changed.emit()

    def _saved(self, path: Path, line: int) -> None:
        self.open_script(path, line)
        many = len(self.chosen())
        ways = ((f"Replay on {many}", self.replay),) if many else ()
        self.offered.emit(Notice(f"Saved as {path.name} in {path.parent}", ways))

    def record_from_here(self) -> None:
        """Replay the script up to the current line on the lead, and record what goes in behind it."""
        self.editing.end_typing()
        step = self.step_at(self.line)
        device = self.lead.device
        if device is None or self.recorder.active:
            self.told.emit("A phone is needed that is not being recorded yet.")
        elif self.loaded is None or step is None:
            self.told.emit("Put the caret on the step after which to record.")
        elif self.loaded.document.problems:
            self.told.emit("The script has problems: put them right first, it is replayed up to here.")
        else:
            line = step[1].line

            def record(loaded: Loaded) -> None:
                if device is self.lead.device and self.may_clear(loaded, loaded.library.on_lines(0, line), [device]):
                    self.recording_began.emit()
                    self.recorder.start(self.project, loaded=loaded, line=line)

            self.with_values(record)

    def may_clear(self, loaded: Loaded, done: Library, devices: Sequence[Device]) -> bool:
        """Does what is `done` of the script leave the devices' data alone, or is it nobody's, or does the user agree?"""

        def app_on(device: Device, word: str) -> str:
            app, platform = self.project.apps.get(word), device.profile.platform if device.profile is not None else ""
            return app.packages.get(platform, app.word) if app is not None else word

        return self.clearing.may(devices, lambda device: [app_on(device, word) for word in done.cleared])

    def go_to(self, line: int) -> None:
        """Make a line the current one in every view."""
        if line != self.line:
            self.line = line
            self.line_changed.emit(line)

    def step_at(self, line: int) -> tuple[str, Step] | None:
        """The scene's name and the step on a line, or on the nearest line above."""
        for scene in reversed(self.loaded.script.scenes) if self.loaded is not None else ():
            step = next((s for s in reversed(scene.steps) if s.line <= line and not s.is_structure), None) if scene.line <= line else None
            if step is not None:
                return scene.name, step
        return None

    def portrait_of(self, scene: str, step: Step) -> Portrait | None:
        """The portrait shown for a step: the one recorded in its scene, else any."""
        from .script.stills import portrait_in

        return portrait_in(self.loaded.portraits, scene, step) if self.loaded is not None else None

    def frame_of(self, portrait: Portrait | None) -> Path | None:
        """Where the picture is in which a portrait was recorded."""
        if self.loaded is None or portrait is None or not portrait.picture:
            return None
        from ..project.naming import frames_folder

        return frames_folder(self.loaded.path) / portrait.picture

    @property
    def lanes(self) -> Lanes:
        """The run that is shown, where it is one of the open script; else nothing is known of its steps."""
        same = self.loaded is not None and self.loaded.script.name == self.runs.title
        return self.runs.lanes if same else Lanes()

    # work

    def replay(self) -> None:
        """The script that is open on the chosen devices; values that nothing gives are asked for."""
        if self.runs.running or not self.chosen():
            return

        def start(loaded: Loaded) -> None:
            devices = self.chosen()
            if devices and not self.runs.running and self.may_clear(loaded, loaded.library, devices):
                self.runs.start(self.project, loaded, devices)
                self.replay_began.emit()

        self.with_values(start)

    def with_values(self, go: Callable[[Loaded], object]) -> None:
        """`go` with the script that is open and what it needs: see `Given`."""
        self.editing.end_typing()
        if self.loaded is not None:
            self.given.complete(self.loaded, go)

    def write_report(self) -> None:
        """The run that is shown as an HTML page in its folder."""
        folder = self.runs.folder
        if folder is None:
            return

        def write() -> Place:
            from ..engine.reporting import write_report

            return write_report(folder, project=project, progress=told)

        project, last = self.project.folder, [-1]

        def told(share: float) -> None:
            part = int(share * 10)
            if part > last[0]:
                last[0] = part
                self.courier.bring(lambda: self.told.emit(f"The report is being written: {10 * part} %."))

        self.told.emit("The report is being written.")

        def written(path: Place) -> None:
            opened = isinstance(path, Path) and open_file(path)
            again = (("Open it again", lambda: open_file(Path(str(path)))),) if opened else ()
            self.offered.emit(Notice(f"The report is in {path}" + ("" if opened else ". Nothing here opens such files."), again))

        self.courier.think(write, written, self.failed)
