"""The composition root of the window."""

from __future__ import annotations

import contextlib
import signal
import socket
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING

from platformdirs import user_config_path, user_documents_path, user_state_path
from PySide6.QtCore import QObject, QSettings, QSocketNotifier, Qt, Signal
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication

from ..model.errors import CopioneError
from ..model.secrecy import Redactor
from . import theme
from .window import MainWindow, PageSlot

if TYPE_CHECKING:  # the frame is on the screen before anything that reads screens is loaded
    from ..comparison.finding import Finding
    from ..links.bench import Bench
    from ..project.project import Project

APPLICATION = "app.copione.copione"  # by which the desktop knows it
TITLES = ("Stage", "Script", "Lanes", "Findings", "Elements")


@dataclass(frozen=True)
class HostServices:
    """What the window is given by whoever starts it. Each is called on another thread than Qt's."""

    open_bench: Callable[[], Bench]
    join_stand_ins: Callable[[Bench], object]  # the stand-in phones on that bench, until the window is closed
    make_demo: Callable[[], Path]  # the demo project, made if it is not there


def run(outside: HostServices, folder: Path | None, redactor: Redactor) -> int:
    """Open the window on a project: the one given, the last one, or one that is made among the user's documents once it is needed.

    The frame is shown at once; everything else is loaded on another thread. `redactor` is the session's.
    """
    app = QApplication.instance() or QApplication(["copione"])
    assert isinstance(app, QApplication)
    app.setApplicationName("copione")
    app.setApplicationDisplayName("Copione")
    app.setDesktopFileName(APPLICATION)
    theme.apply(app)
    app.setWindowIcon(QIcon(str(files("copione") / "desktop" / f"{APPLICATION}.svg")))
    state = user_state_path("copione") / "window.ini"
    _take_over(user_config_path("copione") / "window.ini", state)
    settings = QSettings(str(state), QSettings.Format.IniFormat)
    window = MainWindow(settings, TITLES)
    opening = _Opening(outside, folder, str(settings.value("project") or ""), redactor, window)
    window.show()
    heeding = _heed_signals(window)
    opening.start()
    code = int(app.exec())
    opening.join()
    if window.workspace is not None:
        window.workspace.wait_closed()
    heeding()
    return code


def _heed_signals(window: MainWindow) -> Callable[[], object]:
    """Let SIGTERM, SIGHUP and Ctrl+C close the window as its user does, so that nothing is lost; the way back is returned."""
    here, there = socket.socketpair()
    here.setblocking(False)
    there.setblocking(False)
    signal.set_wakeup_fd(there.fileno(), warn_on_full_buffer=False)
    before = {number: signal.signal(number, lambda _number, _frame: None) for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)}
    notifier = QSocketNotifier(here.fileno(), QSocketNotifier.Type.Read, window)

    def heard() -> None:
        here.recv(64)
        QApplication.closeAllWindows()

    notifier.activated.connect(heard)

    def back() -> None:
        signal.set_wakeup_fd(-1)
        for number, handler in before.items():
            signal.signal(number, handler if handler is not None else signal.SIG_DFL)
        here.close()
        there.close()

    return back


def _take_over(old: Path, new: Path) -> None:
    """The window's state was kept among the settings once."""
    with contextlib.suppress(OSError):
        if old.exists() and not new.exists():
            new.parent.mkdir(parents=True, exist_ok=True)
            old.replace(new)


class _Opening(QObject):
    """Loads what the window is filled with, beside Qt's thread."""

    _opened = Signal(object, object)
    _failed = Signal(str)

    def __init__(self, outside: HostServices, folder: Path | None, last: str, redactor: Redactor, window: MainWindow) -> None:
        super().__init__(window)
        self._redactor = redactor
        self._outside, self._folder, self._last, self._window = outside, folder, last, window
        self._thread = Thread(target=self._load, name="opening")
        self._over = False
        self._opened.connect(self._fill, Qt.ConnectionType.QueuedConnection)
        self._failed.connect(window.tell, Qt.ConnectionType.QueuedConnection)
        window.closed.connect(self._closed)

    def start(self) -> None:
        self._thread.start()

    def join(self) -> None:
        self._thread.join()

    def _closed(self) -> None:
        self._over = True

    def _load(self) -> None:
        try:
            from ..project.project import MARK, Project
            from .stage import page  # noqa: F401

            last = Path(self._last)
            known = last if self._last and (last / MARK).exists() else user_documents_path() / "Copione"
            project = Project(self._folder or known, self._redactor)
            bench = self._outside.open_bench()
        except CopioneError as error:
            self._failed.emit(error.sentence)
        else:
            self._opened.emit(bench, project)

    def _fill(self, bench: Bench, project: Project) -> None:
        if self._over:
            bench.close()
            return
        fill(self._window, bench, project, self._outside)
        assert self._window.workspace is not None
        self._window.workspace.begin()


def build(bench: Bench, project: Project, settings: QSettings, outside: HostServices | None = None) -> MainWindow:
    """The window with everything it works with, not yet shown and looking at nothing."""
    window = MainWindow(settings, TITLES)
    fill(window, bench, project, outside)
    return window


def fill(window: MainWindow, bench: Bench, project: Project, outside: HostServices | None = None) -> None:
    """Give the window its workspace and its pages, and let the pages lead to one another."""
    from ..engine.memory import collect, use_sparingly
    from .offer import Offer
    from .page import WindowPage
    from .pictures import PictureCache
    from .reaching import Reaching
    from .shelf import Shelf
    from .stage.page import StagePage
    from .workspace import Workspace

    use_sparingly(seldom=True)
    workspace = Workspace(bench, project, window.settings)
    reaching = Reaching(workspace, *((outside.join_stand_ins, outside.make_demo) if outside is not None else ()))
    shelf = Shelf(workspace)
    pictures = PictureCache(window)
    window.closed.connect(pictures.close)

    def other_run() -> None:
        """Pictures of the runs before are not seen any more; what else the run had is found and freed."""
        pictures.drop(workspace.project.runs_folder, but=workspace.runs.folder)
        if not workspace.runs.running:
            workspace.courier.think(collect, lambda _done: None)

    workspace.runs.state_changed.connect(other_run)
    workspace.recorder.thrown.connect(lambda _folder: workspace.courier.think(collect, lambda _done: None))
    workspace.recorder.saved.connect(lambda _path, _line: workspace.courier.think(collect, lambda _done: None))
    stage, script, lanes, findings, elements = range(len(TITLES))

    def stage_page() -> WindowPage:
        return StagePage(workspace, reaching, pictures)

    def script_page() -> WindowPage:
        from .script.page import ScriptPage

        return ScriptPage(workspace, shelf, pictures)

    def lanes_page() -> WindowPage:
        from .lanes.page import LanesPage

        return LanesPage(workspace, shelf, pictures)

    def findings_page() -> WindowPage:
        from .findings.page import FindingsPage

        page = FindingsPage(workspace, shelf, pictures)
        page.open_asked.connect(open_in_lanes)
        return page

    def elements_page() -> WindowPage:
        from .elements.page import ElementsPage

        page = ElementsPage(workspace, pictures)
        page.use_asked.connect(open_use)
        return page

    def open_use(path: Path, line: int) -> None:
        window.show_page(script)
        workspace.open_script(path, line)

    def open_in_lanes(finding: Finding) -> None:
        from .lanes.page import LanesPage

        window.show_page(lanes)
        page = window.page(lanes)
        assert isinstance(page, LanesPage)
        page.open_finding(finding)

    offer = Offer(workspace)
    slots = (
        PageSlot(TITLES[stage], stage_page, at_once=True),
        PageSlot(TITLES[script], script_page),
        PageSlot(TITLES[lanes], lanes_page),
        PageSlot(TITLES[findings], findings_page, badge=lambda: _counted(workspace.runs.news.findings)),
        PageSlot(TITLES[elements], elements_page),
    )
    window.fill(workspace, slots, offer)
    offer.taken.connect(lambda: window.show_page(stage))
    workspace.recording_began.connect(lambda: window.show_page(stage))
    workspace.replay_began.connect(lambda: window.show_page(lanes))
    workspace.recorder.saved.connect(lambda _path, _line: window.show_page(script))


def _counted(found: Sequence[Finding]) -> str:
    """How many differ, and how many were noticed besides; empty for none."""
    noticed = sum(bool(finding.remarks) for finding in found)
    causes = len(found) - noticed
    return f"{causes} · {noticed}" if noticed else str(causes or "")
