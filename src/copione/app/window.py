"""The window: a header, a list of pages, one main action. It knows nothing of any page but what all of them have."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QCloseEvent, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QMainWindow,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..links.claims import Busy
from ..model.wording import listed
from . import theme
from .actions import Actions, Entry
from .keys import TextFieldsFirst
from .message import Message, Notice
from .page import Button, WindowPage
from .parts import Label, OnceButton, checkable, named

if TYPE_CHECKING:
    from ..model.step import Need
    from .offer import Offer
    from .saving import Clash
    from .workspace import Workspace

TICK_MS = 1000
FRAME_ROOM = 12, 44  # pixels that window managers put beside, and over and under, a window


@dataclass(frozen=True)
class PageSlot:
    """A page by its name; it is made when it is first looked at, or when the window is filled (`at_once`).

    `badge` is what stands behind the name, so that something is seen of the page from the others.
    """

    title: str
    make: Callable[[], WindowPage]
    at_once: bool = False
    badge: Callable[[], str] = lambda: ""


class MainWindow(QMainWindow):
    """Shows its frame at once; `fill` gives it the workspace and its pages. `settings` keeps size, splitters and project."""

    shown_page = Signal(int)
    closed = Signal()

    def __init__(self, settings: QSettings, titles: Sequence[str]) -> None:
        super().__init__()
        self.settings = settings
        self.workspace: Workspace | None = None
        self._slots: tuple[PageSlot, ...] = ()
        self._pages: dict[int, WindowPage] = {}
        self._fields = TextFieldsFirst(self)
        self.setWindowTitle("Copione")
        self.setMinimumSize(1000, 600)
        self.resize(1280, 800)
        self.stack = QStackedWidget()
        for _ in titles:
            self.stack.addWidget(QWidget())
        self._holder = named(QWidget(), "page")
        self._layout = QVBoxLayout(self._holder)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self._layout.addWidget(self._header(titles))
        self._layout.addWidget(self.stack, 1)
        self.setCentralWidget(self._holder)
        self.message = Message(self.stack, self._holder)
        self.actions_ = Actions(self)
        self._clock = QTimer(self, interval=TICK_MS)
        self._clock.timeout.connect(self._refresh)
        size = settings.value("size")
        if isinstance(size, QSize):
            self.resize(size)
        if settings.value("full", "false") == "true":
            self.setWindowState(Qt.WindowState.WindowMaximized)
        self._refresh()

    def fill(self, workspace: Workspace, pages: Sequence[PageSlot], offer: Offer) -> None:
        """What it works on, and its pages, one for each title; the offer lies over them where it has something to offer."""
        self.workspace, self._slots = workspace, tuple(pages)
        offer.lie_over(self.stack, self._holder)
        workspace.told.connect(self.tell)
        workspace.offered.connect(self.message.tell)
        workspace.given.ask, workspace.clearing.ask = self._ask_values, self._ask_clearing
        workspace.runs.ask_busy = workspace.recorder.ask_busy = self._ask_busy
        workspace.saving.ask = self._ask_clash
        runs, recorder = workspace.runs, workspace.recorder
        for signal in (workspace.devices_changed, workspace.chosen_changed, workspace.script_changed, recorder.state_changed):
            signal.connect(self._refresh)
        for signal in (workspace.lead.device_changed, runs.state_changed, runs.changed):
            signal.connect(self._refresh)
        recorder.state_changed.connect(self._tick)
        self.actions_.add(self._entries())
        for number, slot in enumerate(self._slots):
            if slot.at_once:
                self.page(number)
        self.show_page(0)

    # pages

    def page(self, number: int) -> WindowPage:
        """The page of that number; made now if nobody has looked at it."""
        page = self._pages.get(number)
        if page is None:
            page = self._pages[number] = self._slots[number].make()
            before, current = self.stack.widget(number), self.stack.currentIndex()
            if before is not None:
                self.stack.removeWidget(before)
                before.deleteLater()
            self.stack.insertWidget(number, page)
            self.stack.setCurrentIndex(current)
            page.changed.connect(self._refresh)
            splitter, state = page.splitter(), self.settings.value(f"splitter/{page.title}")
            if splitter is not None and state is not None:
                splitter.restoreState(state)
            self.actions_.add(page.entries(), page)
        return page

    @property
    def current(self) -> WindowPage | None:
        """The page in sight."""
        return self._pages.get(self.stack.currentIndex())

    def show_page(self, number: int) -> None:
        """Bring a page into sight."""
        if not self._slots:
            return
        page = self.page(number)
        self.stack.setCurrentIndex(number)
        self.tabs.button(number).setChecked(True)
        for tab in self.tabs.buttons():
            tab.setFocusPolicy(Qt.FocusPolicy.StrongFocus)  # Qt takes it from those of a group that are not checked
        self.actions_.show_page(page)
        self._refresh()
        page.take_focus()
        self.shown_page.emit(number)

    # header

    def _header(self, titles: Sequence[str]) -> QWidget:
        header = named(QWidget(), "header")
        header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        header.setFixedHeight(46)
        name = Label(f'cop<span style="color:{theme.TOUCH.name()}">i</span>one', rich=True)
        name.setFont(theme.font(theme.TITLE, 700))
        row = QHBoxLayout(header)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(4)
        row.addWidget(name)
        row.addSpacing(22)
        self.tabs = QButtonGroup(self)
        for i, words in enumerate(titles):
            tab = named(checkable(QPushButton(words)), "tab")
            tab.setToolTip(f"Ctrl+{i + 1}")
            self.tabs.addButton(tab, i)
            row.addWidget(tab)
        self.tabs.button(0).setChecked(True)
        self.tabs.idClicked.connect(self.show_page)
        row.addStretch(1)
        self.about = named(Label(), "muted")
        row.addWidget(self.about)
        row.addSpacing(10)
        self.second = QPushButton()
        self.second.clicked.connect(self._second)
        row.addWidget(self.second)
        row.addSpacing(4)
        self.main = named(OnceButton("Record"), "main")
        self.main.clicked.connect(self._main)
        row.addWidget(self.main)
        return header

    def _refresh(self) -> None:
        page = self.current
        self._dress(self.main, page.primary() if page is not None else None, warm=True)
        self._dress(self.second, page.secondary() if page is not None else None)
        self.about.setText(page.about() if page is not None else "")
        for number, slot in enumerate(self._slots):
            badge = slot.badge()
            self.tabs.button(number).setText(f"{slot.title}  {badge}" if badge else slot.title)

    @staticmethod
    def _dress(button: QPushButton, now: Button | None, *, warm: bool = False) -> None:
        if warm:
            button.setEnabled(now is not None and now.enabled)
        else:
            button.setVisible(now is not None)
        if now is None:
            return
        button.setText(now.words)
        button.setEnabled(now.enabled)
        if warm and button.property("recording") != now.warm:
            button.setProperty("recording", now.warm)
            button.style().polish(button)

    def _tick(self) -> None:
        """While a recording goes on, its seconds are counted in the header."""
        if self.workspace is not None and self.workspace.recorder.active:
            self._clock.start()
        else:
            self._clock.stop()

    def tell(self, words: str) -> None:
        """Say what happened, over the window's edge, for a while."""
        self.message.tell(Notice(words))

    def _main(self) -> None:
        self._do(self.current.primary() if self.current is not None else None)

    def _second(self) -> None:
        self._do(self.current.secondary() if self.current is not None else None)

    @staticmethod
    def _do(button: Button | None) -> None:
        if button is not None and button.enabled:
            button.act()

    # actions

    def _entries(self) -> list[Entry]:
        assert self.workspace is not None
        w = self.workspace
        return [
            Entry("Project", "Open a project folder", "Ctrl+O", self._open_project),
            Entry("Project", "Open a script", "Ctrl+Shift+O", self._open_script),
            Entry("Project", "Find an action", "Ctrl+K", self.open_palette),
            Entry("Project", "Guide", "F1", self.open_guide),
            Entry("Project", "Quit", "Ctrl+Q", self.close),
            Entry("Edit", "Undo", "Ctrl+Z", lambda: self.current.undo() if self.current is not None else None),
            Entry("Edit", "Redo", "Ctrl+Shift+Z", lambda: self.current.redo() if self.current is not None else None),
            Entry(
                "Replay",
                "Replay on the chosen devices",
                "F5",
                w.replay,
                lambda: not w.runs.running and w.loaded is not None and bool(w.chosen()),
                wants="a script and a device",
            ),
            Entry("Replay", "Stop the run", "Shift+F5", w.runs.cancel, lambda: w.runs.running, wants="a run that goes on"),
            Entry("Replay", "Write the report of this run", "Ctrl+E", w.write_report, lambda: w.runs.folder is not None, wants="a run"),
            *(
                Entry("View", slot.title, f"Ctrl+{number + 1}", lambda number=number: self.show_page(number))  # type: ignore[misc]
                for number, slot in enumerate(self._slots)
            ),
            Entry("View", "Larger", "Ctrl++", lambda: self.current.zoom(True) if self.current is not None else None),
            Entry("View", "Smaller", "Ctrl+-", lambda: self.current.zoom(False) if self.current is not None else None),
        ]

    def open_guide(self) -> None:
        """A day's work, from plugging in to the report."""
        from .guide import GuideDialog

        assert self.workspace is not None
        GuideDialog(self.workspace.courier, self).show()

    def open_palette(self) -> None:
        """Every action, by a few letters of its words."""
        from .palette import Palette

        palette = Palette(self.actions_.offered(), self)
        palette.move(self.mapToGlobal(self.rect().center()).x() - palette.width() // 2, self.mapToGlobal(self.rect().topLeft()).y() + 70)
        palette.show()

    def _ask_values(self, needs: Sequence[Need], known: Mapping[str, str], done: Callable[[Mapping[str, str]], object]) -> None:
        """Values that the data does not give."""
        from .script.values import ask_values

        ask_values(self, needs, known, done)

    def _ask_clearing(self, devices: Sequence[str], apps: Sequence[str]) -> bool:
        """May what these apps have stored on somebody's phones be deleted?"""
        asked = QMessageBox(self)
        asked.setWindowTitle("Data would be cleared")
        asked.setTextFormat(Qt.TextFormat.PlainText)
        have = "have" if len(apps) > 1 else "has"
        asked.setText(f"Everything that {listed(apps)} {have} stored on {listed(devices)} is deleted.")
        asked.setInformativeText("It is asked once for each device and app while Copione is open.")
        clear = asked.addButton("Delete it and go on", QMessageBox.ButtonRole.DestructiveRole)
        leave = asked.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        asked.setDefaultButton(leave)
        asked.setEscapeButton(leave)
        asked.exec()
        clicked = asked.clickedButton()
        asked.deleteLater()
        return clicked is clear

    def _ask_busy(self, sentence: str) -> Busy | None:
        """Wait for a device that another Copione has, take it over, or neither."""
        asked = QMessageBox(self)
        asked.setWindowTitle("A device is in use")
        asked.setTextFormat(Qt.TextFormat.PlainText)
        asked.setText(sentence)
        wait = asked.addButton("Wait for it", QMessageBox.ButtonRole.AcceptRole)
        take = asked.addButton("Take it over", QMessageBox.ButtonRole.DestructiveRole)
        asked.setEscapeButton(asked.addButton("Leave it", QMessageBox.ButtonRole.RejectRole))
        asked.setDefaultButton(wait)
        asked.exec()
        clicked = asked.clickedButton()
        asked.deleteLater()
        return Busy.WAIT if clicked is wait else Busy.TAKE if clicked is take else None

    def _ask_clash(self, script: str, places: int) -> Clash:
        """What is to become of lines that were changed here and by another program."""
        from .saving import Clash

        asked = QMessageBox(self)
        asked.setWindowTitle("Changed in two places")
        asked.setTextFormat(Qt.TextFormat.PlainText)
        where = "the same lines" if places == 1 else f"the same lines at {places} places"
        asked.setText(f"Another program has changed {where} of {script} as you have. Everything else is put together.")
        asked.setInformativeText(
            "With both, its lines stand as comments behind yours. What is not taken is kept in the project's put-aside folder."
        )
        both = asked.addButton("Keep both", QMessageBox.ButtonRole.AcceptRole)
        mine = asked.addButton("Keep mine", QMessageBox.ButtonRole.ActionRole)
        theirs = asked.addButton("Take the file's", QMessageBox.ButtonRole.ActionRole)
        asked.setDefaultButton(both)
        asked.setEscapeButton(both)
        asked.exec()
        clicked = asked.clickedButton()
        asked.deleteLater()
        return Clash.MINE if clicked is mine else Clash.THEIRS if clicked is theirs else Clash.BOTH

    def _open_script(self) -> None:
        assert self.workspace is not None
        path, _ = QFileDialog.getOpenFileName(self, "Open a script", str(self.workspace.project.scripts_folder), "Scripts (*.copione)")
        if path:
            self.workspace.open_script(Path(path))
            self.show_page(1)

    def _open_project(self) -> None:
        assert self.workspace is not None
        path = QFileDialog.getExistingDirectory(self, "Open a project folder", str(self.workspace.project.folder))
        if path:
            self.workspace.open_project(Path(path))

    # coming and going

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        handle = self.windowHandle()
        if handle is not None and handle.property("watched") is None:
            handle.setProperty("watched", True)
            self._fields.watch(handle)
            self._fit()

    def _fit(self) -> None:
        """Not larger than the screen leaves room for, with what the window manager puts round it."""
        screen = self.screen()
        if screen is None or self.isMaximized():
            return
        room = screen.availableSize() - QSize(*FRAME_ROOM)
        if room.width() >= self.minimumWidth() and room.height() >= self.minimumHeight():
            self.resize(self.size().boundedTo(room))

    def closeEvent(self, event: QCloseEvent) -> None:
        self.settings.setValue("full", "true" if self.isMaximized() else "false")
        if not self.isMaximized():
            self.settings.setValue("size", self.size())
        for page in self._pages.values():
            splitter = page.splitter()
            if splitter is not None:
                self.settings.setValue(f"splitter/{page.title}", splitter.saveState())
        self._clock.stop()
        if self.workspace is not None:
            self.settings.setValue("project", str(self.workspace.project.folder))
            self.workspace.close()
        self.closed.emit()
        event.accept()
