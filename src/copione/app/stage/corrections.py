"""What can be put right about a recorded step while the recording goes on: its menu, and the dialogs behind it."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QInputDialog, QLabel, QMenu, QVBoxLayout, QWidget

from ...language.printer import step_words
from ...model.portrait import Portrait
from ...model.screen import Element
from ...recording.checks import likely_checks
from ...recording.intent import target_of
from ...recording.recording import TYPING, RecordedStep, mergeable
from ...recording.session import IDLE
from ..lead import Lead
from ..script.frame import FrameView

NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_]*")


class PointDialog(QDialog):
    """The frame of a step: a click on another element points the step at it."""

    def __init__(self, portrait: Portrait, picture: Path | None, check: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Point this step at another element")
        self.resize(420, 640)
        self.frame = FrameView()
        self.frame.show_portrait(portrait, picture, check)
        self.frame.picked.connect(self._picked)
        self.words = QLabel("Click the element that was meant.", objectName="muted")
        self.words.setWordWrap(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.point = buttons.addButton("Point at it", QDialogButtonBox.ButtonRole.AcceptRole)
        self.point.setEnabled(False)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(self.words)
        layout.addWidget(self.frame, 1)
        layout.addWidget(buttons)

    def _picked(self, element: Element | None) -> None:
        self.point.setEnabled(element is not None)
        self.words.setText(target_of(element).words() if element is not None else "Click the element that was meant.")


def correct(menu: QMenu, lead: Lead, step: RecordedStep, parent: QWidget) -> None:
    """The entries that change one step."""
    uid = step.uid
    if step.others:
        meant = menu.addMenu("It may have meant")
        for number, other in enumerate(step.others):
            meant.addAction(step_words(other.step), lambda n=number: lead.change(lambda r: r.take_other(uid, n)))
    if step.element is not None and step.portraits[0][1].part is None:
        menu.addAction("Point at another element", lambda: _point(lead, step, parent))
    if step.element is not None and not step.step.is_check and step.portraits[0][1].part is None:
        checks = menu.addMenu("Turn into a check")
        for meaning in likely_checks(step.element):
            checks.addAction(step_words(meaning.step), lambda m=meaning: lead.change(lambda r: r.change(uid, m.step)))
    if step.step.verb in TYPING and len(step.step.value) > 1:
        menu.addAction("Split this typing", lambda: _split(lead, step, parent))
    if mergeable(lead.steps, uid):
        menu.addAction("Merge with the typing before", lambda: lead.change(lambda r: r.merge(uid)))
    if step.element is not None and not step.step.is_check:
        menu.addAction("Wait for it in a step of its own", lambda: lead.change(lambda r: r.wait_first(uid)))
        menu.addAction("Give it more time", lambda: _patience(lead, step, parent))
    for value in _values(step):
        menu.addAction(f"Make “{value}” a variable", lambda value=value: _vary(lead, value, parent))


def idle_steps(lead: Lead) -> list[int]:
    """The steps that changed nothing on the screen."""
    return [s.uid for s in lead.steps if s.doubt == IDLE]


def _point(lead: Lead, step: RecordedStep, parent: QWidget) -> None:
    portrait = step.portraits[0][1]
    picture = lead.shots / portrait.picture if lead.shots is not None and portrait.picture else None
    dialog = PointDialog(portrait, picture, step.step.is_check, parent)

    def point() -> None:
        element = dialog.frame.pick
        if element is not None:
            lead.change(lambda r: r.retarget(step.uid, element))

    dialog.accepted.connect(point)
    dialog.open()


def _split(lead: Lead, step: RecordedStep, parent: QWidget) -> None:
    first, given = QInputDialog.getText(
        parent, "Split this typing", "The first part; the rest becomes a step of its own", text=step.step.value
    )
    if given and step.step.value.startswith(first) and 0 < len(first) < len(step.step.value):
        lead.change(lambda r: r.split(step.uid, len(first)))
    elif given:
        lead.told.emit("Nothing was split: the first part has to be what the typing begins with.")


def _patience(lead: Lead, step: RecordedStep, parent: QWidget) -> None:
    seconds, given = QInputDialog.getDouble(parent, "Give it more time", "Seconds it may take", step.step.within or 15.0, 1.0, 600.0, 0)
    if given:
        lead.change(lambda r: r.change(step.uid, replace(step.step, within=seconds)))


def _values(step: RecordedStep) -> list[str]:
    """What a step says that another row of data could say otherwise: its value, and the names of list items."""
    said = [step.step.value] if step.step.verb in {"type", "append", "set", "choose"} or step.step.relation in {"reads", "contains"} else []
    if step.step.target is not None and step.step.target.role == "item":
        said.append(step.step.target.name)
    return [value for value in dict.fromkeys(said) if value and "{" not in value]


def _vary(lead: Lead, value: str, parent: QWidget) -> None:
    name, given = QInputDialog.getText(parent, f"Make “{value}” a variable", "Its name: letters, figures, _", text=_named(value))
    if given and NAME.fullmatch(name.strip()):
        lead.change(lambda r: r.vary(value, name.strip()))
    elif given:
        lead.told.emit(f"{name.strip() or 'Nothing'} cannot be a variable's name: letters, figures and _, no figure first.")


def _named(value: str) -> str:
    """A name to begin with: the first word."""
    word = re.sub(r"[^a-z_]", "", value.split()[0].lower()) if value.split() else ""
    return word or "value"
