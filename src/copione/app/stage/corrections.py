"""What can be put right about a recorded step while the recording goes on: its menu, and the dialogs behind it."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QInputDialog, QMenu, QVBoxLayout, QWidget

from ...language.printer import step_words
from ...model.action import Append, Type
from ...model.doubt import Doubt
from ...model.portrait import Portrait
from ...model.screen import Element
from ...model.step import Step
from ...model.words import Text
from ...recording.checks import likely_checks
from ...recording.recording import RecordedStep, Recording, mergeable
from ...recording.targets import target_of
from ..parts import Label, named
from ..pictures import PictureCache
from ..recorder import Recorder
from ..script.frame import FrameView
from ..wording import quoted

NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_]*")


class PointDialog(QDialog):
    """The frame of a step: a click on another element points the step at it."""

    def __init__(self, portrait: Portrait, picture: Path | None, check: bool, pictures: PictureCache, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Point this step at another element")
        self.resize(420, 640)
        self.frame = FrameView(pictures)
        self.frame.show_portrait(portrait, picture, check)
        self.frame.picked.connect(self._picked)
        self.words = named(Label("Click the element that was meant."), "muted")
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
        self.words.setText(quoted(target_of(element).words()) if element is not None else "Click the element that was meant.")


def correct(menu: QMenu, recorder: Recorder, step: RecordedStep, pictures: PictureCache, parent: QWidget) -> None:
    """The entries that change one step."""
    uid = step.uid
    if step.others:
        meant = menu.addMenu("It may have meant")
        for number, other in enumerate(step.others):
            meant.addAction(step_words(other.step), partial(_edit, recorder, partial(_take_alternative, uid, number)))
    if step.element is not None and step.portraits[0][1].part is None:
        menu.addAction("Point at another element", lambda: _point(recorder, step, pictures, parent))
    if step.element is not None and not step.step.is_check and step.portraits[0][1].part is None:
        checks = menu.addMenu("Turn into a check")
        for meaning in likely_checks(step.element):
            checks.addAction(step_words(meaning.step), partial(_edit, recorder, partial(_change, uid, meaning.step)))
    if isinstance(step.step.action, Type | Append) and len(step.step.action.text) > 1:
        menu.addAction("Split this typing", lambda: _split(recorder, step, parent))
    if mergeable(recorder.steps, uid):
        menu.addAction("Merge with the typing before", lambda: recorder.edit(lambda r: r.merge(uid)))
    if step.element is not None and not step.step.is_check:
        menu.addAction("Wait for it in a step of its own", lambda: recorder.edit(lambda r: r.wait_first(uid)))
        menu.addAction("Give it more time", lambda: _patience(recorder, step, parent))
    for value in _values(step):
        menu.addAction(f"Make “{value}” a variable", partial(_make_variable, recorder, value, parent))


def _edit(recorder: Recorder, change: Callable[[Recording], object]) -> None:
    recorder.edit(change)


def _take_alternative(uid: int, number: int, recording: Recording) -> None:
    recording.take_alternative(uid, number)


def _change(uid: int, step: Step, recording: Recording) -> None:
    recording.change(uid, step)


def idle_steps(recorder: Recorder) -> list[int]:
    """The steps that changed nothing on the screen."""
    return [s.uid for s in recorder.steps if s.doubt is Doubt.IDLE]


def _point(recorder: Recorder, step: RecordedStep, pictures: PictureCache, parent: QWidget) -> None:
    portrait = step.portraits[0][1]
    picture = recorder.folder / portrait.picture if recorder.folder is not None and portrait.picture else None
    dialog = PointDialog(portrait, picture, step.step.is_check, pictures, parent)

    def point() -> None:
        element = dialog.frame.pick
        if element is not None:
            recorder.edit(lambda r: r.retarget(step.uid, element))

    dialog.accepted.connect(point)
    dialog.open()


def _split(recorder: Recorder, step: RecordedStep, parent: QWidget) -> None:
    typing = step.step.action
    assert isinstance(typing, Type | Append)
    first, given = QInputDialog.getText(parent, "Split this typing", "The first part; the rest becomes a step of its own", text=typing.text)
    if given and typing.text.startswith(first) and 0 < len(first) < len(typing.text):
        recorder.edit(lambda r: r.split(step.uid, len(first)))
    elif given:
        recorder.lead.told.emit("Nothing was split: the first part has to be what the typing begins with.")


def _patience(recorder: Recorder, step: RecordedStep, parent: QWidget) -> None:
    seconds, given = QInputDialog.getDouble(parent, "Give it more time", "Seconds it may take", step.step.within or 15.0, 1.0, 600.0, 0)
    if given:
        recorder.edit(lambda r: r.change(step.uid, replace(step.step, within=seconds)))


def _values(step: RecordedStep) -> list[str]:
    """What a step says that another row of data could say otherwise: its values, and the names of list items."""
    action = step.step.action
    item = step.step.target if step.step.target is not None and step.step.target.role == "item" else None
    own = {said for target in action.targets() for said, _ in target.texts()}
    said = [words for words, kind in action.texts() if kind.data and kind is not Text.PATTERN and words not in own]
    return [value for value in dict.fromkeys([*said, *([item.name] if item is not None else [])]) if value and "{" not in value]


def _make_variable(recorder: Recorder, value: str, parent: QWidget) -> None:
    name, given = QInputDialog.getText(parent, f"Make “{value}” a variable", "Its name: letters, figures, _", text=_named(value))
    if given and NAME.fullmatch(name.strip()):
        recorder.edit(lambda r: r.make_variable(value, name.strip()))
    elif given:
        recorder.lead.told.emit(f"{name.strip() or 'Nothing'} cannot be a variable's name: letters, figures and _, no figure first.")


def _named(value: str) -> str:
    """A name to begin with: the first word."""
    word = re.sub(r"[^a-z_]", "", value.split()[0].lower()) if value.split() else ""
    return word or "value"
