"""The stage: bench at the left, the lead's live screen, the steps at the right."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QRectF, Qt
from PySide6.QtWidgets import QHBoxLayout, QInputDialog, QLineEdit, QPushButton, QSplitter, QVBoxLayout, QWidget

from ...model.action import Key, Orientation
from ...model.geometry import Box
from ...model.target import AREA
from .. import theme
from ..actions import Entry, ShortcutScope
from ..bench.view import BenchView
from ..page import Button, WindowPage
from ..parts import Label, checkable, named
from ..pictures import PictureCache
from ..reaching import Reaching
from ..workspace import Workspace
from .checks import CheckChoice
from .mirror import Mirror
from .steps import StepsView
from .welcome import Welcome

if TYPE_CHECKING:
    from ...engine.recording import AppStart
    from ...links.link import InstalledApp
    from ...model.screen import Element
    from ...recording.intent import Meaning

GOING = "a recording that goes on"


class StagePage(WindowPage):
    """Wires the mirror, the steps and the checks to the lead and its recorder."""

    title = "Stage"

    def __init__(self, workspace: Workspace, reaching: Reaching, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.reaching = workspace, reaching
        self.lead, self.recorder = workspace.lead, workspace.recorder
        self.bench = BenchView(workspace)
        self.bench.connect_asked.connect(self.connect_device)
        self.mirror = Mirror(self.lead)
        self.steps = StepsView(self.recorder, pictures)
        self.choice = CheckChoice(self)
        self.choice.taken.connect(self.recorder.check)
        self.choice.closed.connect(self._asked)
        self._began = False
        self.mirror.check_asked.connect(self._ask)
        self.mirror.area_asked.connect(self._ask_area)
        self.mirror.take_back_asked.connect(self.take_back)
        self.steps.remove_asked.connect(lambda uid: self.recorder.edit(lambda r: r.delete(uid)))
        self.steps.take_back_asked.connect(self.take_back)
        self._splitter = QSplitter(Qt.Orientation.Horizontal)
        self._splitter.addWidget(self._desk())
        self._splitter.addWidget(self._panel())
        self.welcome = Welcome(workspace, reaching)
        self.welcome.connect_asked.connect(self.connect_device)
        self._splitter.setSizes([640, 460])
        self._splitter.setChildrenCollapsible(False)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.bench)
        layout.addWidget(self._splitter, 1)
        layout.addWidget(self.welcome, 1)
        self.recorder.state_changed.connect(self._refresh)
        self.recorder.state_changed.connect(self._recording)
        self.recorder.steps_changed.connect(self._refresh)
        self.lead.device_changed.connect(self._refresh)
        workspace.devices_changed.connect(self._refresh)
        self._refresh()

    # as a page

    def primary(self) -> Button:
        """Record, or stop what goes on."""
        recorder = self.recorder
        if recorder.active:
            seconds = int(time.monotonic() - recorder.since)
            return Button(f"Stop recording   {seconds // 60}:{seconds % 60:02d}", self.stop, warm=True)
        if recorder.approach is not None:
            return Button("Stop   step {} of {}".format(*recorder.approach), recorder.cancel_approach)
        return Button("Record", self.record, self.lead.device is not None and not recorder.starting)

    def secondary(self) -> Button | None:
        """What goes on can be thrown away."""
        return Button("Throw away", self.throw_away) if self.recorder.active else None

    def about(self) -> str:
        """The project."""
        return self.workspace.project.name

    def entries(self) -> Sequence[Entry]:
        """Recording, and what is done while it goes on."""
        w, recorder = self.workspace, self.recorder

        def idle() -> bool:
            return w.lead.device is not None and not recorder.active

        def going() -> bool:
            return recorder.active

        page = ShortcutScope.PAGE
        return [
            Entry("Record", "Record", "Ctrl+R", self.record, idle, wants="a phone, and no recording that goes on"),
            Entry(
                "Record",
                "Record from here: replay up to this step, then go on by hand",
                "Ctrl+H",
                w.record_from_here,
                lambda: idle() and w.loaded is not None and not w.runs.running,
                wants="a phone and a script",
            ),
            Entry("Record", "Stop recording and save", "Ctrl+Shift+R", self.stop, going, wants=GOING),
            Entry("Record", "Throw the recording away", "", self.throw_away, going, wants=GOING),
            Entry("Record", "Take the last step back", "Ctrl+Backspace", self.take_back, going, ShortcutScope.MENU, wants=GOING),
            Entry(
                "Record",
                "Write down plain gestures, or what they mean again",
                "Ctrl+G",
                lambda: recorder.record_plainly(not recorder.plainly),
                going,
                page,
            ),
            Entry(
                "Record",
                "Check something from a list of everything on the screen",
                "Ctrl+Shift+C",
                self.check_anything,
                going,
                page,
                wants=GOING,
            ),
            Entry("Record", "Note something", "Ctrl+N", self.note, going, page, wants=GOING),
            Entry("Record", "Keep a picture of this moment", "Ctrl+P", self.snap, going, page, wants=GOING),
            Entry("Record", "Write up a defect", "Ctrl+D", self.steps.write_up, lambda: going() and bool(recorder.steps), page, GOING),
            Entry("Record", "Open an app on the lead", "Ctrl+L", self.open_app, lambda: w.lead.device is not None, page, "a phone"),
            Entry("Record", "Connect a device", "", self.connect_device),
        ]

    def undo(self) -> None:
        """Of the recording."""
        self.mirror.flush()
        self.recorder.edit(lambda recording: recording.undo())

    def redo(self) -> None:
        """Of the recording."""
        self.recorder.edit(lambda recording: recording.redo())

    def zoom(self, larger: bool) -> None:
        """The live screen."""
        self.mirror.set_zoom(self.mirror.zoom * (1.15 if larger else 1 / 1.15))

    def take_focus(self) -> None:
        """Keys are for the phone."""
        self.mirror.setFocus()

    def splitter(self) -> QSplitter:
        """Between the live screen and the steps."""
        return self._splitter

    # its parts

    def _desk(self) -> QWidget:
        desk = named(QWidget(), "desk")
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
            ("back", "Back", "Go back on the phone", lambda: self.lead.press(Key.BACK)),
            ("home", "Home", "The phone's home screen", lambda: self.lead.press(Key.HOME)),
            ("turn", "Turn", "Turn the phone on its side, or upright again", self.turn),
            ("apps", "Open app", "Choose an installed app", self.open_app),
        ):
            button = QPushButton(words)
            button.setToolTip(tip)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _checked=False, act=act: self._in_order(act))
            self.keys[name] = button
            row.addWidget(button)
        self.check = named(checkable(QPushButton("Check")), "check")
        self.check.setToolTip("Hold C and click an element, or latch it here")
        self.check.toggled.connect(self.mirror.set_latched)
        self.check.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        row.addWidget(self.check)
        self.snapper = QPushButton("Snap")
        self.snapper.setToolTip("Keep a picture of this moment, here and on every replay (Ctrl+P)")
        self.snapper.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.snapper.clicked.connect(self.snap)
        row.insertWidget(row.count() - 1, self.snapper)
        self.hand = checkable(QPushButton("Finger on the phone"))
        self.hand.setToolTip("Record what your own finger does on the phone's glass, besides what is done here")
        self.hand.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.hand.clicked.connect(self.recorder.listen_to_phone)
        row.addWidget(self.hand)
        row.addStretch(1)
        layout.addLayout(row)
        return desk

    def _in_order(self, act: Callable[[], object]) -> None:
        """After what the hand did before: a tap may still wait for a second one."""
        self.mirror.flush()
        act()

    def _panel(self) -> QWidget:
        panel = named(QWidget(), "side")
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        panel.setMinimumWidth(300)
        title = named(Label("Steps so far"), "caption")
        title.setFont(theme.font(theme.CAPTION, 600, spaced=True))
        self.undo_button = named(QPushButton("Take last back"), "link")
        self.undo_button.setToolTip("Backspace")
        self.undo_button.clicked.connect(self.take_back)
        head = QHBoxLayout()
        head.setContentsMargins(38, 0, 10, 0)
        head.addWidget(title)
        head.addStretch(1)
        head.addWidget(self.undo_button)
        self.name = named(Label(), "muted")
        self.name.setContentsMargins(38, 0, 14, 0)
        self.scene = QLineEdit(placeholderText="Begin a new scene: its name, then Enter")
        self.scene.setAccessibleName("Name of a new scene")
        self.scene.returnPressed.connect(self._new_scene)
        self.empty = Label("Press Record and use the app as its user would. What you do is written down here, step by step.")
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
        layout.addWidget(self.name)
        layout.addWidget(self.empty)
        layout.addWidget(self.steps, 1)
        layout.addLayout(foot)
        return panel

    def _refresh(self) -> None:
        recording = self.recorder.active
        ready = self.lead.device is not None
        for button in self.keys.values():
            button.setEnabled(ready)
        self.welcome.setVisible(not ready)
        self._splitter.setVisible(ready)
        self.check.setEnabled(recording)
        self.snapper.setEnabled(recording)
        self.hand.setEnabled(ready)
        self.hand.setChecked(self.recorder.on_phone)
        if not recording and self.check.isChecked():
            self.check.setChecked(False)
        self.undo_button.setVisible(recording and bool(self.recorder.steps))
        self.name.setVisible(recording and self.recorder.into is not None)
        self.scene.setVisible(recording)
        self.empty.setVisible(not self.recorder.steps)

    def _recording(self) -> None:
        """A recording has begun: it has a name, and the keys are for the phone."""
        into = self.recorder.into
        if self.recorder.active and not self._began:
            self.name.setText(f"into {into.path.stem}, behind line {into.line}" if into else "")
            self.name.setVisible(into is not None)
            self.mirror.setFocus()
        self._began = self.recorder.active

    def connect_device(self) -> None:
        """How to connect one."""
        from ..connect import ConnectDialog

        ConnectDialog(self.workspace, self.reaching, self).open()

    def record(self) -> None:
        """Ask which app and how it begins, then record."""
        if self.lead.device is None or self.recorder.active or self.recorder.starting:
            return
        from .begin import RecordSheet

        sheet = RecordSheet(self.workspace, self.recorder.on_phone, self)
        sheet.begun.connect(self._begin)
        sheet.open(sheet.app)

    def _begin(self, answer: tuple[AppStart, bool]) -> None:
        begin, listening = answer
        self.recorder.on_phone = listening
        self.workspace.record(begin)

    def stop(self) -> None:
        """Ask for the script's name, then save the recording; one that goes into a script has its place already."""
        self.mirror.flush()
        if self.recorder.into is not None:
            self.recorder.stop("")
            return
        from .finish import SaveSheet

        sheet = SaveSheet(self.workspace.project, self.recorder.suggested_name, len(self.recorder.steps), self)
        sheet.accepted.connect(lambda: self.recorder.stop(sheet.name))
        sheet.throw.clicked.connect(sheet.leave)
        sheet.throw.clicked.connect(self.throw_away)
        sheet.open(sheet.field)

    def throw_away(self) -> None:
        """Keep nothing of the recording but its files."""
        self.recorder.throw_away()

    def _ask(self, element: Element) -> None:
        if not self.recorder.active:
            return
        clear = self._clear(self.mirror.box(element))

        def offer(meanings: list[Meaning], bars: int) -> None:
            self.mirror.asked = element
            self.choice.open(element, meanings, bars, clear)

        self.recorder.ask_checks(element, offer)

    def _ask_area(self, box: Box) -> None:
        """Checks of an area of the picture; what is written in it is read meanwhile."""
        moment, size = self.lead.moment, self.mirror.screen_dp()
        if not self.recorder.active or moment is None or size is None:
            return
        from ...recognition.text import can_read

        self.mirror.asked_area = box
        clear = self._clear(self.mirror.area(box))
        number = 1 + len({target for step in self.recorder.steps for target, _ in step.portraits if target.role == AREA})
        waiting = "Reading what is written here" if can_read() else "Text here can be read once copione[text] is installed"

        def offer(meanings: list[Meaning], read: bool) -> None:
            if self.mirror.asked_area == box:
                remark = "Part of the picture" if read else waiting
                self.choice.offer(f"Area of {box.width:.0f} × {box.height:.0f} dp", remark, meanings, clear)

        self.recorder.ask_area_checks(moment, size, box, number, offer)

    def _clear(self, box: QRectF) -> QRect:
        """Where something of the mirror is on this page, as far as it is in sight."""
        return box.intersected(QRectF(self.mirror.rect())).toAlignedRect().translated(self.mirror.mapTo(self, QPoint(0, 0)))

    def _asked(self) -> None:
        self.mirror.asked = self.mirror.asked_area = None
        self.mirror.setFocus()
        self.mirror.update()

    def _new_scene(self) -> None:
        name = self.scene.text().strip()
        if name:
            self.scene.clear()
            self.mirror.flush()
            self.recorder.edit(lambda recording: recording.new_scene(name))
            self.mirror.setFocus()

    def check_anything(self) -> None:
        """Choose an element from a list of everything on the screen, then what to check of it."""
        moment = self.lead.moment
        if moment is None or moment.screen is None:
            return
        from .everything import EverythingDialog

        dialog = EverythingDialog(moment.screen, self)
        dialog.taken.connect(self._ask)
        dialog.open()

    def snap(self) -> None:
        self.mirror.flush()
        self.recorder.snap()

    def note(self) -> None:
        """Words for people, kept with the picture of this moment."""
        words, given = QInputDialog.getText(self, "Note something", "What do you see?")
        if given and words.strip():
            self.mirror.flush()
            self.recorder.note(words.strip())

    def turn(self) -> None:
        size = self.mirror.screen_dp()
        if size is not None:
            self.lead.turn(Orientation.PORTRAIT if size[0] > size[1] else Orientation.LANDSCAPE)

    def take_back(self) -> None:
        self.mirror.flush()
        self.recorder.edit(lambda recording: recording.take_back())

    def open_app(self) -> None:
        self.lead.list_apps(self._choose_app)

    def _choose_app(self, apps: list[InstalledApp], front: tuple[str, str]) -> None:
        from .apps import AppsMenu

        menu = AppsMenu(self.workspace, apps, front, self)
        menu.popup(self.keys["apps"].mapToGlobal(self.keys["apps"].rect().topLeft()))
