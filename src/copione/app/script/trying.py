"""Lines of the text tried on a device: the actions, and what is asked before something is learned."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QWidget

from ...language.folding import stretches
from ...model.portrait import Portrait
from ...model.screen import Element
from ...recognition.evidence import Piece, pieces
from ...recording.targets import target_of
from ..actions import Entry, ShortcutScope
from ..parts import Label, named
from ..sheet import Sheet
from ..trials import Trials
from ..wording import quoted
from ..workspace import Workspace
from .editor import ScriptEditor

if TYPE_CHECKING:
    from ...links.bench import Device
    from ...replay.trial import Tried


class Trying:
    """What can be tried of the text; `device` is the one that is chosen, None for the lead."""

    def __init__(self, workspace: Workspace, trials: Trials, editor: ScriptEditor, parent: QWidget) -> None:
        self.workspace, self.trials, self.editor, self._parent = workspace, trials, editor, parent
        self.device_name = ""

    def entries(self) -> Sequence[Entry]:
        """As actions of the page."""
        page, wants = ShortcutScope.PAGE, "a script and a phone"
        return [
            Entry("Replay", "Try a step", "F8", self.one, self._can, page, wants),
            Entry("Replay", "Try from here on, or go on", "F9", self.on, self._can, page, wants),
            Entry("Replay", "Try the lines that are chosen", "Ctrl+F8", self.lines, self._can, page, wants),
            Entry("Replay", "Try the scene", "Ctrl+F9", self.scene, self._can, page, wants),
            Entry("Replay", "Stop before this line, or do not", "F7", self.turn_stop, self._open, page, "a script"),
            Entry("Replay", "Stop the trial", "Shift+F9", self.trials.stop, lambda: self.trials.running, page, "a trial"),
        ]

    def _open(self) -> bool:
        return self.workspace.loaded is not None

    def _can(self) -> bool:
        return self._open() and bool(self.trials.devices())

    def _line(self) -> int:
        return self.editor.textCursor().blockNumber() + 1

    def _device(self) -> Device | None:
        return next((d for d in self.trials.devices() if d.name == self.device_name), None)

    def _start(self, first: int, last: int, *, stepping: bool = False) -> None:
        self.workspace.editing.end_typing()
        self.trials.start(first, last, self._device(), stepping=stepping)

    def one(self) -> None:
        """The step of the caret's line, and stop before the next; while one waits, one step more."""
        if self.trials.running:
            self.trials.step()
            return
        step = self.workspace.step_at(self._line())
        if step is not None:
            self._start(step[1].line, len(self._lines()), stepping=True)

    def on(self) -> None:
        """From the caret's line to the end; while one waits, on from there."""
        if self.trials.running:
            self.trials.go_on()
            return
        self.from_line(self._line())

    def from_line(self, line: int) -> None:
        """From that line to the end: of its scene, where that one is only performed."""
        loaded = self.workspace.loaded
        scene = next((s for s in reversed(loaded.script.scenes) if s.line <= line), None) if loaded is not None else None
        last = max((s.line for s in scene.steps), default=line) if scene is not None and scene.values else len(self._lines())
        self._start(line, last)

    def lines(self) -> None:
        """Those that are chosen."""
        self._start(*self.editor.chosen_lines())

    def scene(self) -> None:
        """The one that the caret is in."""
        loaded = self.workspace.loaded
        if loaded is None:
            return
        self.workspace.editing.end_typing()
        scene = next((s for s in reversed(loaded.script.scenes) if s.line <= self._line()), None)
        whole = next((s for s in stretches(loaded.document) if scene is not None and s.head == scene.line), None)
        if whole is not None:
            self._start(whole.head + 1, whole.last)

    def turn_stop(self) -> None:
        """A trial stops before the caret's line, or does not any more."""
        self.trials.turn_stop(self._line())

    def _lines(self) -> Sequence[object]:
        return self.workspace.loaded.document.lines if self.workspace.loaded is not None else ()

    # learning

    def take(self, tried: Tried, element: Element | None) -> None:
        """Point a stuck step at an element and go on; or learn what an adapted one was found by, after its difference was shown."""
        if element is not None:
            self._point(tried, element)
            return
        loaded = self.workspace.loaded
        known = loaded.portraits.get(tried.result.target, ()) if loaded is not None else ()
        found = tried.portrait()
        if found is None:
            return
        sheet = Sheet("Learn how it looks here", "Learn it", self._parent, 560)
        about = ", ".join(filter(None, (tried.device, f"build {tried.build}" if tried.build else "", tried.locale)))
        sheet.body.addWidget(named(Label(f"{quoted(tried.result.target)} keeps this beside what was recorded: {about}."), "muted"))
        sheet.body.addLayout(difference(known[0] if known else None, found))
        sheet.accepted.connect(lambda: self.trials.learn(tried))
        sheet.open()

    def _point(self, tried: Tried, element: Element) -> None:
        """The step's target keeps what is there; where it goes by another name, the step is about that."""
        loaded = self.workspace.loaded
        line = tried.result.own_line
        step = self.workspace.step_at(line)
        if loaded is None or step is None or tried.result.file:
            self.workspace.told.emit("The step stands in another script: open it there.")
            return
        if "{" in step[1].key() or not step[1].key():
            self.trials.point_at(tried, element)
        else:
            changed = step[1].on(target_of(element))
            portrait = tried.portrait(element, step[0], self.trials.keep_frame(tried))
            if portrait is not None:
                self.workspace.editing.point_at(step[1], changed, portrait)
        self.from_line(line)


def difference(known: Portrait | None, found: Portrait) -> QGridLayout:
    """What was recorded beside what is there, piece by piece; what is the same is quiet."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(16)
    grid.setVerticalSpacing(4)
    for column, words in enumerate(("", "as recorded", "here")):
        grid.addWidget(named(Label(words), "caption"), 0, column)
    ours = {p.kind: p for p in (pieces(known) if known is not None else ())}
    theirs = {p.kind: p for p in pieces(found)}
    for row, kind in enumerate(dict.fromkeys((*ours, *theirs)), 1):
        one, other = _said(ours.get(kind)), _said(theirs.get(kind))
        grid.addWidget(named(Label(kind), "muted"), row, 0)
        for column, words in ((1, one), (2, other)):
            label = Label(words[:40])
            if one == other:
                named(label, "muted")
            else:
                label.setStyleSheet("font-weight: 600;")
            grid.addWidget(label, row, column)
    return grid


def _said(piece: Piece | None) -> str:
    return piece.value if piece is not None else "–"
