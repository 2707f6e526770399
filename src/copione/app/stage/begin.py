"""What is asked before a recording begins: which app, and how it is started. Nothing is cleared that nobody asked to clear."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QButtonGroup, QCheckBox, QComboBox, QFileDialog, QHBoxLayout, QPushButton, QRadioButton, QVBoxLayout, QWidget

from ...links.endpoints import checked
from ...links.link import RunsApps
from ...model.action import Start
from ...model.errors import LinkError
from .. import theme
from ..parts import Label, named
from ..sheet import Sheet
from ..workspace import Workspace

if TYPE_CHECKING:
    from ...links.link import Link

AS_IT_IS = "as it is"
#: The ways to begin: how it is remembered, what it says, what it means.
WAYS: tuple[tuple[str, str, str, Start | None], ...] = (
    (AS_IT_IS, "As it is now", "Nothing is touched. The script begins by checking that this page is shown.", None),
    (Start.KEEPING.value, "Started again, its data kept", "Whoever is signed in stays signed in.", Start.KEEPING),
    (Start.AFRESH.value, "Afresh, its data cleared", "Everything the app has stored on {device} is deleted.", Start.AFRESH),
)


class RecordSheet(Sheet):
    """`begun` with what was answered."""

    begun = Signal(object)

    def __init__(self, workspace: Workspace, listening: bool, parent: QWidget) -> None:
        self.workspace, self.lead = workspace, workspace.lead
        device = self.lead.device
        assert device is not None
        super().__init__(f"Record on {device.name}", "Record", parent)
        self._stand_in = device.listed.stand_in
        self._web = device.profile is not None and device.profile.platform == "web"
        self._front = ""
        self.app = QComboBox()
        self.app.setAccessibleName("App to record")
        self.app.addItem("Asking which app is in front", "")
        self.app.currentIndexChanged.connect(self._app_chosen)
        if self._web:
            self.app.setEditable(True)
            self.app.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
            field = self.app.lineEdit()
            assert field is not None
            field.setCompleter(None)  # type: ignore[arg-type]  # what is typed is meant
            self.app.editTextChanged.connect(self._app_chosen)
        self.body.addWidget(_caption("App"))
        self.body.addWidget(self.app)
        self.body.addSpacing(8)
        self.body.addWidget(_caption("Begin"))
        self.ways = QButtonGroup(self)
        for number, (_, words, meaning, _start) in enumerate(WAYS):
            button = QRadioButton(words)
            button.setFont(theme.font(theme.BODY, 600))
            told = named(Label(meaning.format(device=device.name)), "muted")
            told.setWordWrap(True)
            told.setContentsMargins(23, 0, 0, 6)
            button.setAccessibleDescription(told.text())
            self.ways.addButton(button, number)
            pair = QVBoxLayout()
            pair.setSpacing(1)
            pair.addWidget(button)
            pair.addWidget(told)
            self.body.addLayout(pair)
        self.finger = QCheckBox("Listen to the finger on the phone too")
        self.finger.setChecked(listening and not self._web)
        self.body.addWidget(self.finger)
        if self._web:
            self.finger.hide()  # a browser has no glass of its own
        self.place = named(Label(), "muted")
        self.place.setWordWrap(True)
        if not workspace.project.made:
            self._ask_place()
        self.main.setProperty("recording", True)
        self.main.setEnabled(False)
        self.accepted.connect(self._answer)
        self.lead.device_changed.connect(self.leave)  # what was asked was about this phone alone
        self.lead.ask(_apps, self._known, lambda error: self._known(("", "", [])))

    def _ask_place(self) -> None:
        """Where the project is made that the recording goes into: said, and to be changed, before it is."""
        self.body.addSpacing(8)
        self.body.addWidget(_caption("Kept in"))
        row = QHBoxLayout()
        row.addWidget(self.place, 1)
        another = QPushButton("Another folder")
        another.clicked.connect(self._another_place)
        row.addWidget(another)
        self.body.addLayout(row)
        self._show_place()

    def _show_place(self) -> None:
        self.place.setText(f"{self.workspace.project.folder}, a new project")

    def _another_place(self) -> None:
        path = QFileDialog.getExistingDirectory(self, "Where to keep the project", str(Path.home()))
        if path:
            self.workspace.project_opened.connect(self._show_place)
            self.workspace.open_project(Path(path))

    def _known(self, found: tuple[str, str, list[str]]) -> None:
        """The app in front with its version, and those that are installed."""
        self._front, version, packages = found
        words = self.workspace.words_of_apps()
        self.app.blockSignals(True)
        self.app.clear()
        kept = self.workspace.project.apps.values() if self._web else ()
        packages = [*packages, *(app.packages["web"] for app in kept if "web" in app.packages)]
        for package in dict.fromkeys([*([self._front] if version else []), *packages]):
            known = words.get(package) or package.rpartition(".")[2]
            front = f"{version} · in front" if package == self._front else ""
            self.app.addItem("   ".join(filter(None, (known, front, package))), package)
            if self._web:
                self.app.setItemText(self.app.count() - 1, package)
        self.app.blockSignals(False)
        if self._web:
            field = self.app.lineEdit()
            assert field is not None
            field.setPlaceholderText("https://… the address to begin at")
            field.selectAll()
        elif not self.app.count():
            self.app.addItem("No app can be started on it", "")
        self._app_chosen()

    def _app_chosen(self) -> None:
        package = self._package()
        there = package != "" and package == self._front
        self.ways.button(0).setEnabled(there)
        remembered = self.workspace.given.remembered(f"begin/{package}")
        known = [way[0] for way in WAYS]
        number = known.index(remembered) if remembered in known else 2 if self._stand_in else 1
        if (number == 2 and not self._stand_in) or (number == 0 and not there):
            number = 1  # what clears somebody's data is never the preset
        self.ways.button(number).setChecked(True)
        self.main.setEnabled(bool(package))

    def _package(self) -> str:
        """What was chosen, or typed; empty where that is nothing yet."""
        if not self._web:
            return str(self.app.currentData() or "")
        try:
            return checked(self.app.currentText())
        except LinkError:
            return ""

    def _answer(self) -> None:
        from ...engine.recording import AppStart

        package, number = self._package(), self.ways.checkedId()
        self.workspace.given.remember(f"begin/{package}", WAYS[number][0])
        if WAYS[number][3] is Start.AFRESH and self.lead.device is not None:
            self.workspace.clearing.agree(self.lead.device, package)
        self.begun.emit((AppStart(package, WAYS[number][3]), self.finger.isChecked()))


def _apps(link: Link) -> tuple[str, str, list[str]]:
    """The app in front, its version (empty for the phone's own home screen), and what is installed besides the phone's own."""
    packages, front = link.able(RunsApps).packages(), link.able(RunsApps).front()[0]
    return front, link.able(RunsApps).version(front) if front in packages else "", packages


def _caption(words: str) -> Label:
    label = named(Label(words), "caption")
    label.setFont(theme.font(theme.CAPTION, 600, spaced=True))
    label.setAlignment(Qt.AlignmentFlag.AlignLeft)
    return label
