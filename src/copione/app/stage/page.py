"""The stage: bench at the left, the lead's live screen, the steps at the right."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QInputDialog, QLabel, QLineEdit, QMenu, QPushButton, QSplitter, QVBoxLayout, QWidget

from ...links.link import InstalledApp
from ...model.geometry import Box
from ...model.screen import Element
from .. import theme
from ..bench.view import BenchView
from ..pictures import Pictures
from ..workspace import Workspace
from .checks import CheckChoice
from .mirror import Mirror
from .steps import StepsView


class StagePage(QWidget):
    """Wires the mirror, the steps and the checks to the lead."""

    connect_asked = Signal()

    def __init__(self, workspace: Workspace, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.lead = workspace.lead
        self.bench = BenchView(workspace)
        self.bench.connect_asked.connect(self.connect_asked)
        self.mirror = Mirror(self.lead)
        self.steps = StepsView(self.lead, pictures)
        self.choice = CheckChoice(self)
        self.choice.taken.connect(self.lead.check)
        self.choice.closed.connect(self._asked)
        self.mirror.check_asked.connect(self._ask)
        self.mirror.area_asked.connect(self._ask_area)
        self.steps.remove_asked.connect(lambda uid: self.lead.change(lambda r: r.delete(uid)))
        self.steps.take_back_asked.connect(self.take_back)
        splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.addWidget(self._desk())
        splitter.addWidget(self._panel())
        splitter.setSizes([640, 460])
        splitter.setChildrenCollapsible(False)
        self.splitter = splitter
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.bench)
        layout.addWidget(splitter, 1)
        self.lead.recording_changed.connect(self._refresh)
        self.lead.steps_changed.connect(self._refresh)
        self.lead.device_changed.connect(self._refresh)
        workspace.devices_changed.connect(self._refresh)
        self._refresh()

    def _desk(self) -> QWidget:
        desk = QWidget(objectName="desk")
        desk.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(desk)
        layout.setContentsMargins(0, 0, 0, 16)
        layout.setSpacing(4)
        layout.addWidget(self.mirror, 1)
        row = QHBoxLayout()
        row.setSpacing(5)  # all of it fits beside bench and steps in a window 1024 wide
        row.addStretch(1)
        self.keys: dict[str, QPushButton] = {}
        for name, words, tip, act in (
            ("back", "Back", "Go back on the phone", lambda: self.lead.press("back")),
            ("home", "Home", "The phone's home screen", lambda: self.lead.press("home")),
            ("turn", "Turn", "Turn the phone on its side, or upright again", self.turn),
            ("apps", "Open app", "Choose an installed app", self.open_app),
        ):
            button = QPushButton(words)
            button.setToolTip(tip)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _checked=False, act=act: act())
            self.keys[name] = button
            row.addWidget(button)
        self.check = QPushButton("Check", objectName="check", checkable=True)
        self.check.setToolTip("Hold C and click an element, or latch it here")
        self.check.toggled.connect(self.mirror.set_latched)
        self.check.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        row.addWidget(self.check)
        self.snapper = QPushButton("Snap")
        self.snapper.setToolTip("Keep a picture of this moment, here and on every replay (Ctrl+P)")
        self.snapper.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.snapper.clicked.connect(self.snap)
        row.insertWidget(row.count() - 1, self.snapper)
        self.hand = QPushButton("Finger on the phone", checkable=True)
        self.hand.setToolTip("Record what your own finger does on the phone's glass, besides what is done here")
        self.hand.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.hand.clicked.connect(self.lead.put_hand)
        row.addWidget(self.hand)
        row.addStretch(1)
        layout.addLayout(row)
        return desk

    def _panel(self) -> QWidget:
        panel = QWidget(objectName="side")
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        panel.setMinimumWidth(300)
        title = QLabel("Steps so far", objectName="caption")
        title.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        self.undo = QPushButton("Take last back", objectName="link")
        self.undo.setToolTip("Backspace")
        self.undo.clicked.connect(self.take_back)
        head = QHBoxLayout()
        head.setContentsMargins(38, 0, 10, 0)
        head.addWidget(title)
        head.addStretch(1)
        head.addWidget(self.undo)
        self.name = QLineEdit("", objectName="plain", placeholderText="Name of the script")
        self.name.setAccessibleName("Name of the script")
        name_row = QHBoxLayout()
        name_row.setContentsMargins(32, 0, 14, 0)
        name_row.addWidget(self.name)
        self.scene = QLineEdit(placeholderText="Begin a new scene: its name, then Enter")
        self.scene.setAccessibleName("Name of a new scene")
        self.scene.returnPressed.connect(self._new_scene)
        self.empty = QLabel()
        self.empty.setObjectName("muted")
        self.empty.setWordWrap(True)
        self.empty.setContentsMargins(38, 8, 24, 0)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        foot = QHBoxLayout()
        foot.setContentsMargins(34, 0, 14, 0)
        foot.addWidget(self.scene)
        layout = QVBoxLayout(panel)
        layout.setContentsMargins(0, 12, 0, 12)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addLayout(name_row)
        layout.addWidget(self.empty)
        layout.addWidget(self.steps, 1)
        layout.addLayout(foot)
        return panel

    def _refresh(self) -> None:
        recording = self.lead.recording
        ready = self.lead.device is not None
        for button in self.keys.values():
            button.setEnabled(ready)
        self.check.setEnabled(recording)
        self.snapper.setEnabled(recording)
        self.hand.setEnabled(ready)
        self.hand.setChecked(self.lead.on_phone)
        if not recording and self.check.isChecked():
            self.check.setChecked(False)
        self.undo.setVisible(recording and bool(self.lead.steps))
        self.name.setVisible(recording)
        self.scene.setVisible(recording)
        self.empty.setVisible(not self.lead.steps)
        if not ready:
            words = self.workspace.server_trouble or "No phone is ready. Plug one in, or press Connect a device."
        else:
            words = "Open the app on the phone, press Record, and use it as its user would. What you do is written down here, step by step."
        self.empty.setText(words)

    def _ask(self, element: Element, at: QPointF) -> None:
        if self.lead.recording:
            self.mirror.asked = element
            self.choice.open(element, self.mirror.mapTo(self, at.toPoint()))

    def _ask_area(self, box: Box, at: QPointF) -> None:
        """Checks of an area of the picture; what is written in it is read meanwhile."""
        from ...recognition.text import can_read
        from ...recording.checks import area_checks

        moment, size = self.lead.moment, self.mirror.screen_dp()
        if not self.lead.recording or moment is None or size is None:
            return
        self.mirror.asked_area = box
        place = self.mirror.mapTo(self, at.toPoint())
        number = 1 + len({key for step in self.lead.steps for key, _ in step.portraits if key.startswith("area ")})
        title = f"Area of {box.width:.0f} × {box.height:.0f} dp"

        def offer(words: str, remark: str) -> None:
            if self.mirror.asked_area == box:
                self.choice.offer(title, remark, area_checks(moment.screen, size, box, number, words), place)

        offer("", "Reading what is written here" if can_read() else "Text here can be read once copione[text] is installed")
        if can_read():
            self.lead.read_area(moment, box, size[0], lambda words: offer(words, "Part of the picture"))

    def _asked(self) -> None:
        self.mirror.asked = self.mirror.asked_area = None
        self.mirror.setFocus()
        self.mirror.update()

    def _new_scene(self) -> None:
        name = self.scene.text().strip()
        if name:
            self.scene.clear()
            self.mirror.flush()
            self.lead.change(lambda recording: recording.new_scene(name))
            self.mirror.setFocus()

    def check_anything(self) -> None:
        """Choose an element from a list of everything on the screen, then what to check of it."""
        moment = self.lead.moment
        if moment is None or moment.screen is None:
            return
        from .everything import EverythingDialog

        dialog = EverythingDialog(moment.screen, self)
        dialog.taken.connect(lambda element: self._ask(element, QPointF(self.mirror.width() / 2, 80)))
        dialog.open()

    def snap(self) -> None:
        self.mirror.flush()
        self.lead.snap()

    def note(self) -> None:
        """Words for people, kept with the picture of this moment."""
        words, given = QInputDialog.getText(self, "Note something", "What do you see?")
        if given and words.strip():
            self.mirror.flush()
            self.lead.note(words.strip())

    def turn(self) -> None:
        size = self.mirror.screen_dp()
        if size is not None:
            self.lead.turn("portrait" if size[0] > size[1] else "landscape")

    def take_back(self) -> None:
        self.mirror.flush()
        self.lead.change(lambda recording: recording.take_back())

    def _install(self, everywhere: bool) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, "Install a package file", "", "Packages (*.apk *.zip);;All files (*)")
        if name:
            data = Path(name).read_bytes()
            act = lambda link: link.install(data)  # noqa: E731
            if everywhere:
                self.workspace.everywhere(act)
            else:
                self.lead.do(act)

    def open_app(self) -> None:
        self.lead.list_apps(self._choose_app)

    def _choose_app(self, apps: list[InstalledApp], front: tuple[str, str]) -> None:
        menu = self.apps_menu(apps, front)
        menu.popup(self.keys["apps"].mapToGlobal(self.keys["apps"].rect().topLeft()))

    def apps_menu(self, apps: list[InstalledApp], front: tuple[str, str]) -> QMenu:
        """What is in front, and what can be done with each app, on this phone or on all that take part."""
        menu = QMenu(self)
        shown = f"{front[0]} {front[1]}".strip()
        menu.addAction(f"In front: {shown or 'no app'}", lambda: self._copy(shown)).setToolTip("Copy package and activity")
        menu.addSeparator()
        for app in apps:
            package, version = app.package, app.version
            inner = menu.addMenu(f"{package}   {version}")
            inner.addAction("Open", lambda package=package: self.lead.open_app(package))
            inner.addAction("Stop", lambda package=package: self.lead.stop_app(package))
            inner.addAction("Open afresh, its data cleared", lambda package=package: self.lead.open_app(package, afresh=True))
            inner.addSeparator()
            inner.addAction("Stop on the whole bench", lambda package=package: self.workspace.everywhere(lambda link: link.stop(package)))
            inner.addAction(
                "Open afresh on the whole bench",
                lambda package=package: self.workspace.everywhere(lambda link: link.launch(package, afresh=True)),
            )
        menu.addSeparator()
        menu.addAction("Install a package file", lambda: self._install(False))
        menu.addAction("Install a package file on the whole bench", lambda: self._install(True))
        if not apps:
            menu.addAction("No app is installed besides the phone's own").setEnabled(False)
        return menu

    def _copy(self, words: str) -> None:
        QGuiApplication.clipboard().setText(words)
        self.lead.told.emit(f"Copied: {words}")
