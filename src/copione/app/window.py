"""The window: a header, four pages, one main action."""

from __future__ import annotations

import time
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QSettings, QSize, Qt, QTimer
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QMainWindow,
    QPushButton,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..model.errors import CopioneError
from ..project.files import write_whole
from . import theme
from .actions import Entry, install
from .connect import ConnectDialog
from .offer import Offer
from .palette import Palette
from .pictures import Pictures
from .stage.page import StagePage
from .workspace import Workspace

if TYPE_CHECKING:
    from .findings.page import FindingsPage
    from .lanes.page import LanesPage
    from .script.page import ScriptPage

P = TypeVar("P", bound=QWidget)
PAGES = ("Stage", "Script", "Lanes", "Findings")
TOLD_MS = 9000


class MainWindow(QMainWindow):
    """Receives the workspace; owns pages, header and actions. `settings` keeps size, splitters and page."""

    def __init__(self, workspace: Workspace, settings: QSettings) -> None:
        super().__init__()
        self.workspace = workspace
        self.settings = settings
        self.pictures = Pictures(self)
        self.setWindowTitle("Copione")
        self.setMinimumSize(1024, 640)
        self.resize(1280, 800)
        self.stage = StagePage(workspace, self.pictures)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.stage)
        for _ in PAGES[1:]:
            self.pages.addWidget(QWidget())
        self.banner = QLabel(objectName="banner")
        self.banner.setWordWrap(True)
        self.banner.hide()
        self._banner_timer = QTimer(self, singleShot=True, interval=TOLD_MS)
        self._banner_timer.timeout.connect(self.banner.hide)
        self.offer = Offer(workspace)
        self.offer.taken.connect(lambda: self.show_page(0))
        holder = QWidget(objectName="page")
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        for widget in (self._header(), self.offer, self.banner):
            layout.addWidget(widget)
        layout.addWidget(self.pages, 1)
        self.setCentralWidget(holder)
        self.entries = self._entries()
        install(self, self.entries)
        self._clock = QTimer(self, interval=1000)
        self._clock.timeout.connect(self._refresh)
        w = workspace
        w.told.connect(self.tell)
        w.ask_secret = self._ask_secret
        for signal in (
            w.devices_changed,
            w.chosen_changed,
            w.script_changed,
            w.lead.recording_changed,
            w.lead.device_changed,
            w.runs.state_changed,
            w.runs.changed,
        ):
            signal.connect(self._refresh)
        w.lead.recording_changed.connect(self._recording)
        w.lead.saved.connect(lambda _path, _line: self.show_page(1))
        self.stage.connect_asked.connect(lambda: ConnectDialog(w, self).open())
        self._restore()
        self._refresh()

    # pages; all but the stage are made when they are first looked at, so that the window is up sooner

    @cached_property
    def script(self) -> ScriptPage:
        from .script.page import ScriptPage

        page = ScriptPage(self.workspace, self.pictures)
        self._bring_back("script", page.splitter)
        page.record_asked.connect(self.record_from_here)
        return self._put(1, page)

    @cached_property
    def lanes(self) -> LanesPage:
        from .lanes.page import LanesPage

        return self._put(2, LanesPage(self.workspace, self.pictures))

    @cached_property
    def findings(self) -> FindingsPage:
        from .findings.page import FindingsPage

        page = FindingsPage(self.workspace.runs, self.pictures)
        page.open_asked.connect(self._open_finding)
        return self._put(3, page)

    def _put(self, index: int, page: P) -> P:
        """A page in its place among the pages."""
        current = self.pages.currentIndex()
        before = self.pages.widget(index)
        self.pages.removeWidget(before)
        before.deleteLater()
        self.pages.insertWidget(index, page)
        self.pages.setCurrentIndex(current)
        return page

    # header

    def _header(self) -> QWidget:
        header = QWidget(objectName="header")
        header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        header.setFixedHeight(46)
        name = QLabel(f'cop<span style="color:{theme.TOUCH.name()}">i</span>one')
        name.setFont(theme.font(theme.TITLE, 700))
        row = QHBoxLayout(header)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(4)
        row.addWidget(name)
        row.addSpacing(22)
        self.tabs = QButtonGroup(self)
        for i, words in enumerate(PAGES):
            tab = QPushButton(words, objectName="tab", checkable=True)
            tab.setToolTip(f"Ctrl+{i + 1}")
            self.tabs.addButton(tab, i)
            row.addWidget(tab)
        self.tabs.button(0).setChecked(True)
        self.tabs.idClicked.connect(self.show_page)
        row.addStretch(1)
        self.about = QLabel(objectName="muted")
        row.addWidget(self.about)
        row.addSpacing(10)
        self.second = QPushButton()
        self.second.clicked.connect(self._second)
        row.addWidget(self.second)
        row.addSpacing(4)
        self.main = QPushButton(objectName="main")
        self.main.clicked.connect(self.main_action)
        row.addWidget(self.main)
        return header

    def _entries(self) -> list[Entry]:
        w = self.workspace
        idle = lambda: w.lead.device is not None and not w.lead.recording  # noqa: E731
        going = lambda: w.lead.recording  # noqa: E731
        return [
            Entry("Project", "Open a project folder", "Ctrl+O", self._open_project),
            Entry("Project", "Open a script", "Ctrl+Shift+O", self._open_script),
            Entry("Project", "Find an action", "Ctrl+K", self.open_palette),
            Entry("Project", "Quit", "Ctrl+Q", self.close),
            Entry("Record", "Record", "Ctrl+R", self.record, idle),
            Entry(
                "Record",
                "Record from here: replay up to this step, then go on by hand",
                "Ctrl+H",
                self.record_from_here,
                lambda: idle() and w.loaded is not None and not w.runs.running,
            ),
            Entry("Record", "Stop recording and save", "Ctrl+Shift+R", self.stop, going),
            Entry("Record", "Throw the recording away", "", self.throw_away, going),
            Entry("Record", "Take the last step back", "Ctrl+Backspace", self.stage.take_back, going),
            Entry(
                "Record", "Write down plain gestures, or what they mean again", "Ctrl+G", lambda: w.lead.be_plain(not w.lead.plainly), going
            ),
            Entry("Record", "Check something from a list of everything on the screen", "Ctrl+Shift+C", self.stage.check_anything, going),
            Entry("Record", "Note something", "Ctrl+N", self.stage.note, going),
            Entry("Record", "Keep a picture of this moment", "Ctrl+P", self.stage.snap, going),
            Entry("Record", "Write up a defect", "Ctrl+D", self.stage.steps.write_up, lambda: going() and bool(w.lead.steps)),
            Entry("Record", "Undo", "Ctrl+Z", self._undo),
            Entry("Record", "Redo", "Ctrl+Shift+Z", self._redo),
            Entry("Record", "Open an app on the lead", "Ctrl+L", self.stage.open_app, lambda: w.lead.device is not None),
            Entry("Replay", "Replay on the chosen devices", "F5", self.replay, lambda: not w.runs.running),
            Entry("Replay", "Stop the run", "Shift+F5", w.runs.cancel, lambda: w.runs.running),
            Entry("Replay", "Write the report of this run", "Ctrl+E", self.report, lambda: w.runs.folder is not None),
            Entry("View", "Stage", "Ctrl+1", lambda: self.show_page(0)),
            Entry("View", "Script", "Ctrl+2", lambda: self.show_page(1)),
            Entry("View", "Lanes", "Ctrl+3", lambda: self.show_page(2)),
            Entry("View", "Findings", "Ctrl+4", lambda: self.show_page(3)),
            Entry("View", "Larger", "Ctrl++", lambda: self._zoom(1)),
            Entry("View", "Smaller", "Ctrl+-", lambda: self._zoom(-1)),
            Entry("View", "Connect a device", "", lambda: ConnectDialog(w, self).open()),
        ]

    # state

    def _refresh(self) -> None:
        w = self.workspace
        page = self.pages.currentIndex()
        recording = w.lead.recording
        if page == 0:
            seconds = int(time.monotonic() - w.lead.since) if recording else 0
            self.main.setText(f"Stop recording   {seconds // 60}:{seconds % 60:02d}" if recording else "Record")
            if w.lead.way is not None:
                self.main.setText("Stop   step {} of {}".format(*w.lead.way))
            self.main.setEnabled(w.lead.device is not None)
        else:
            count = len(w.chosen())
            if w.runs.running:
                done, total = w.runs.progress
                self.main.setText(f"Stop the run   {100 * done // total} %")
            else:
                self.main.setText(f"Replay on {count}" if count else "Replay")
            self.main.setEnabled(w.runs.running or (count > 0 and w.loaded is not None))
        warm = recording and page == 0
        if self.main.property("recording") != warm:
            self.main.setProperty("recording", warm)
            self.main.style().polish(self.main)
        self.second.setVisible(page in (0, 2, 3) and (page != 0 or recording))
        self.second.setText("Throw away" if page == 0 else "Write report")
        self.second.setEnabled(page == 0 or w.runs.folder is not None)
        self.about.setText(self._about(page))
        count = len(w.runs.findings)
        self.tabs.button(3).setText(f"Findings  {count}" if count else "Findings")

    def _about(self, page: int) -> str:
        w = self.workspace
        if page == 0:
            return w.project.name
        builds = {lane.build for lane in w.runs.lanes.lanes if lane.build}
        build = f"build {next(iter(builds))}" if len(builds) == 1 else ""
        if page == 1:
            return " · ".join(
                x for x in (w.loaded.script.name if w.loaded else w.project.name, w.loaded.script.app if w.loaded else "", build) if x
            )
        when = (
            time.strftime("%d %b, %H:%M", time.localtime(w.runs.folder.stat().st_mtime)) if w.runs.folder and w.runs.folder.exists() else ""
        )
        return " · ".join(x for x in (w.runs.title, build, f"run of {when}" if when else "") if x)

    def _recording(self) -> None:
        if self.workspace.lead.recording:
            self._clock.start()
            into = self.workspace.lead.into
            self.stage.name.setText(f"into {into.path.stem}, behind line {into.line}" if into else self._free_name())
            self.stage.name.setEnabled(into is None)
            self.stage.mirror.setFocus()
        else:
            self._clock.stop()

    def _free_name(self) -> str:
        project = self.workspace.project
        number = 1
        while project.script_path(f"Script {number}").exists():
            number += 1
        return f"Script {number}"

    def show_page(self, index: int) -> None:
        looks_at = (lambda: self.stage.mirror, lambda: self.script.editor, lambda: self.lanes.view, lambda: self.findings)[index]()
        self.pages.setCurrentIndex(index)
        self.tabs.button(index).setChecked(True)
        self._refresh()
        looks_at.setFocus()

    def tell(self, words: str) -> None:
        """Say what happened, in the window, for a while."""
        self.banner.setText(words)
        self.banner.show()
        self._banner_timer.start()

    # actions

    def main_action(self) -> None:
        w = self.workspace
        if self.pages.currentIndex() == 0:
            (self.stop if w.lead.recording else w.lead.give_up if w.lead.way is not None else self.record)()
        elif w.runs.running:
            w.runs.cancel()
        else:
            self.replay()

    def _second(self) -> None:
        (self.throw_away if self.pages.currentIndex() == 0 else self.report)()

    def throw_away(self) -> None:
        kept = self.workspace.lead.shots
        self.workspace.lead.throw_away()
        self.tell(f"The recording was thrown away. Its pictures and journal stay in {kept} until you delete them.")

    def record(self) -> None:
        self.show_page(0)
        self.workspace.lead.start(self.workspace.project)

    def record_from_here(self) -> None:
        self.script.editor.send()
        if self.workspace.lead.device is None or self.workspace.lead.recording:
            self.tell("A phone is needed that is not being recorded yet.")
            return
        self.show_page(0)
        self.workspace.record_from_here()

    def stop(self) -> None:
        name = self.stage.name.text().strip() or self._free_name()
        project = self.workspace.project
        free, number = name, 2
        while project.script_path(free).exists():
            free, number = f"{name} {number}", number + 1
        self.stage.mirror.flush()
        self.workspace.lead.stop(free)

    def replay(self) -> None:
        if "script" in self.__dict__:
            self.script.editor.send()
        self.workspace.replay()
        if self.workspace.runs.running:
            self.show_page(2)

    def _ask_secret(self, name: str) -> str | None:
        """A value that the data does not give; it is kept in memory only."""
        words = f"{{{name}}} is in no data and not in the environment. Its value for now; it is written nowhere."
        value, given = QInputDialog.getText(self, f"A value for {name}", words, QLineEdit.EchoMode.Password)
        return value if given and value else None

    def report(self) -> None:
        from ..project.archive import read_run
        from ..report.page import page

        folder = self.workspace.runs.folder
        if folder is None:
            return
        try:
            path = folder / "report.html"
            write_whole(path, page(read_run(folder)).encode())
        except CopioneError as error:
            self.tell(error.sentence)
        else:
            self.tell(f"The report is in {path}")

    def open_palette(self) -> None:
        palette = Palette(self.entries, self)
        palette.move(self.mapToGlobal(self.rect().center()).x() - palette.width() // 2, self.mapToGlobal(self.rect().topLeft()).y() + 70)
        palette.show()

    def _undo(self) -> None:
        if self.pages.currentIndex() == 0:
            self.workspace.lead.change(lambda recording: recording.undo())
        else:
            self.script.editor.undo()
            self.script.editor.send()

    def _redo(self) -> None:
        if self.pages.currentIndex() == 0:
            self.workspace.lead.change(lambda recording: recording.redo())
        else:
            self.script.editor.redo()
            self.script.editor.send()

    def _zoom(self, direction: int) -> None:
        if self.pages.currentIndex() == 0:
            self.stage.mirror.set_zoom(self.stage.mirror.zoom * (1.15 if direction > 0 else 1 / 1.15))
        elif self.pages.currentIndex() == 2:
            self.lanes.view.set_zoom(self.lanes.view.zoom + direction)

    def _open_finding(self, number: int) -> None:
        self.show_page(2)
        finding = next((f for f in self.workspace.runs.findings if f.number == number), None)
        lanes = list(self.workspace.runs.lanes.lanes)
        self.lanes.view.choose(lanes.index(finding.lanes[0]) if finding is not None else 0, number - 1)

    def _open_script(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Open a script", str(self.workspace.project.scripts_folder), "Scripts (*.copione)")
        if path:
            self.workspace.open_script(Path(path))
            self.show_page(1)

    def _open_project(self) -> None:
        path = QFileDialog.getExistingDirectory(self, "Open a project folder", str(self.workspace.project.folder))
        if path:
            try:
                self.workspace.open_project(Path(path))
            except CopioneError as error:
                self.tell(error.sentence)

    # coming back

    def _restore(self) -> None:
        size = self.settings.value("size")
        if isinstance(size, QSize):
            self.resize(size)
        if self.settings.value("full", "false") == "true":
            self.setWindowState(Qt.WindowState.WindowMaximized)
        self._bring_back("stage", self.stage.splitter)

    def _bring_back(self, name: str, splitter: QSplitter) -> None:
        state = self.settings.value(f"splitter/{name}")
        if state is not None:
            splitter.restoreState(state)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.settings.setValue("full", "true" if self.isMaximized() else "false")
        if not self.isMaximized():
            self.settings.setValue("size", self.size())
        self.settings.setValue("splitter/stage", self.stage.splitter.saveState())
        if "script" in self.__dict__:
            self.settings.setValue("splitter/script", self.script.splitter.saveState())
        self.settings.setValue("project", str(self.workspace.project.folder))
        self._clock.stop()
        self.workspace.close()
        self.pictures.close()
        event.accept()
