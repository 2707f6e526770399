"""The script page: strip, text, frame and portrait always show the same step."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QMenu, QSplitter, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from ...comparison.lanes import Lane
from ...language.printer import step_words
from ...model.address import Address
from ...model.outcome import Result
from ...model.portrait import Portrait
from ...model.screen import Element
from ...model.step import Step
from ...project.archive import picture_path
from ...project.files import read_bytes
from ...recognition.evidence import Piece
from ...recognition.pictures import decode
from ...recognition.seeing import picture_piece
from ...recording.checks import likely_checks
from ...recording.intent import Meaning, target_of
from ..actions import Entry, Scope
from ..page import Button, Page, about_script, replay_button
from ..parts import Label, named
from ..pictures import Pictures
from ..shelf import Shelf
from ..workspace import Workspace
from . import lines
from .editor import ScriptEditor
from .find import FindBar
from .frame import FrameView
from .portrait import PortraitPanel
from .scripts import ScriptsList
from .strip import Still, Strip

if TYPE_CHECKING:
    from ...project.shelf import ScriptEntry


class ScriptPage(Page):
    """Wires the four views to the workspace's current line."""

    title = "Script"

    def __init__(self, workspace: Workspace, shelf: Shelf, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.shelf = workspace, shelf
        self._shown: Address | None = None  # the step in the run that the portrait tells of
        self.strip = Strip(pictures)
        self.editor = ScriptEditor()
        self.problem = named(Label(), "problem")
        self.problem.setWordWrap(True)
        self.problem.hide()
        self.table = QTableWidget()
        self.table.setAccessibleName("Data rows")
        self.table.verticalHeader().hide()
        self.table.setTabKeyNavigation(False)  # the tabulator leaves it, arrows walk it
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        self.frame = FrameView(pictures)
        self.portrait = PortraitPanel()
        self.empty = Label("No script yet. Record one on the Stage: open the app, press Record, use it.")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.empty.setObjectName("muted")
        left = named(QWidget(), "sheet")
        left.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.find_bar = FindBar(self.editor)
        column.addWidget(self.find_bar)
        column.addWidget(self.editor, 1)
        column.addWidget(self.problem)
        column.addWidget(self.table)
        desk = named(QWidget(), "desk")
        desk.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        inner = QVBoxLayout(desk)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(self.frame)
        self._splitter = QSplitter(Qt.Orientation.Horizontal)
        for widget in (left, desk, self.portrait):
            self._splitter.addWidget(widget)
        self._splitter.setSizes([470, 320, 314])
        self._splitter.setChildrenCollapsible(False)
        self.scripts = ScriptsList(shelf, self.editor.send_if_typed)
        layout = QVBoxLayout()
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self.scripts)
        across.addLayout(layout, 1)
        layout.addWidget(self.strip)
        layout.addWidget(self._splitter, 1)
        layout.addWidget(self.empty, 1)
        self.editor.edited.connect(workspace.edit)
        self.editor.line_moved.connect(workspace.go_to)
        self.strip.picked.connect(workspace.go_to)
        workspace.script_opened.connect(self._opened)
        workspace.script_changed.connect(self._script)
        workspace.line_changed.connect(self._line)
        workspace.runs.changed.connect(self._run_changed)
        workspace.runs.state_changed.connect(self._stills)
        self.frame.picked.connect(lambda _pick: self._line_now())
        self.portrait.point_asked.connect(self._point)
        self.portrait.check_asked.connect(self._check)
        self.portrait.record_asked.connect(self.record_from_here)
        self._opened()
        self._script()

    # as a page

    def primary(self) -> Button:
        """Replay what stands in the editor, or stop the run."""
        button = replay_button(self.workspace)
        return button if self.workspace.runs.running else replace(button, act=self.replay)

    def about(self) -> str:
        """The script."""
        return about_script(self.workspace)

    def entries(self) -> Sequence[Entry]:
        """Scripts."""
        scripts = self.scripts

        def of_chosen(act: Callable[[ScriptEntry], object]) -> Callable[[], object]:
            return lambda: act(entry) if (entry := scripts.chosen()) is not None else None

        def open_() -> bool:
            return self.workspace.loaded is not None

        there = lambda: bool(self.shelf.scripts)  # noqa: E731
        editor, page = self.editor, Scope.PAGE
        return [
            Entry("Edit", "Find and replace in the script", "Ctrl+F", self.find_bar.open, open_, page, "a script"),
            Entry("Edit", "Move the lines up", "Alt+Up", lambda: lines.move(editor, False), open_, page, "a script"),
            Entry("Edit", "Move the lines down", "Alt+Down", lambda: lines.move(editor, True), open_, page, "a script"),
            Entry("Edit", "Duplicate the lines", "Ctrl+D", lambda: lines.duplicate(editor), open_, page, "a script"),
            Entry("Edit", "Make the lines comments, or steps again", "Ctrl+/", lambda: lines.comment(editor), open_, page, "a script"),
            Entry("Project", "New script", "Ctrl+Shift+N", scripts.ask_new, scope=Scope.PAGE),
            Entry("Project", "Find a script", "Ctrl+Shift+F", scripts.search.setFocus, there, Scope.PAGE),
            Entry("Project", "Rename the script that is chosen", "F2", of_chosen(scripts.ask_rename), there, Scope.MENU),
            Entry("Project", "Duplicate the script that is chosen", "", of_chosen(self.shelf.duplicate), there, Scope.PAGE),
            Entry("Project", "Delete the script that is chosen", "Del", of_chosen(self.shelf.delete_script), there, Scope.MENU),
        ]

    def undo(self) -> None:
        """Of what has the keys: a script that was deleted comes back to the list, else of the text."""
        if self.scripts.lines.hasFocus():
            self.shelf.bring_back("script")
            return
        self.editor.undo()
        self.editor.send()

    def redo(self) -> None:
        """Of the text."""
        self.editor.redo()
        self.editor.send()

    def take_focus(self) -> None:
        """Keys are for the text."""
        self.editor.setFocus()

    def splitter(self) -> QSplitter:
        """Between text, frame and portrait."""
        return self._splitter

    def replay(self) -> None:
        """With what was typed just now."""
        self.editor.send()
        self.workspace.replay()

    def record_from_here(self) -> None:
        """With what was typed just now."""
        self.editor.send()
        self.workspace.record_from_here()

    # what it shows

    def _run_changed(self) -> None:
        changed = self.workspace.runs.news.changed
        if changed is None or any(cell.address == self._shown for cell in changed):
            self._line_now()

    def _opened(self) -> None:
        """Another script: what was done in the one before is not undone in this one."""
        if self.workspace.loaded is not None:
            self.editor.open_text(self.workspace.loaded.document.text)

    def _script(self) -> None:
        loaded = self.workspace.loaded
        for widget in (self.strip, self._splitter):
            widget.setVisible(loaded is not None)
        self.empty.setVisible(loaded is None)
        if loaded is None:
            return
        self.editor.show_text(loaded.document.text)
        self.editor.show_problems(self.workspace.problems())
        self.editor.offer(sorted(loaded.portraits), list(loaded.rows[0]))
        self._rows()
        self._stills()
        self._line_now()

    def _rows(self) -> None:
        loaded = self.workspace.loaded
        rows = loaded.rows if loaded and loaded.script.data else ()
        columns = list(rows[0]) if rows else []
        self.table.setVisible(bool(rows))
        self.table.setColumnCount(len(columns))
        self.table.setRowCount(len(rows))
        self.table.setHorizontalHeaderLabels(columns)
        for r, row in enumerate(rows):
            for c, name in enumerate(columns):
                self.table.setItem(r, c, QTableWidgetItem(row[name]))
        self.table.setFixedHeight(min(190, 34 + 31 * len(rows)))

    # what is shown of each step

    def _address(self, step: Step) -> Address | None:
        """Where in the run that is shown the step was done: the nearest line that did the same to the same target."""
        lanes = self.workspace.runs.lanes
        same = [
            column.address
            for column in lanes.columns
            if column.action is not None and type(column.action) is type(step.action) and self._target_at(column.address) == step.key()
        ]
        return min(same, key=lambda address: abs(address.line - step.line), default=None)

    def _target_at(self, address: Address) -> str:
        lanes = self.workspace.runs.lanes
        first = next(iter(lanes.lanes), None)
        result = first.result(address) if first is not None else None
        return result.target if result is not None else next((r.target for _, r in lanes.cells(address)), "")

    def _results(self, step: Step) -> list[tuple[Lane, Result]]:
        """What became of a step in the run that is shown, device by device."""
        address = self._address(step)
        return [(lane, r) for lane, r in self.workspace.runs.lanes.cells(address) if lane.row == 1] if address is not None else []

    def _stills(self) -> None:
        loaded = self.workspace.loaded
        if loaded is None:
            return
        stills = []
        size = (412.0, 892.0)
        for scene, step in loaded.script.steps():
            portrait = self.workspace.portrait_of(scene.name, step)
            picture = self.workspace.frame_of(portrait)
            if portrait is not None and picture is not None:
                size = (portrait.screen.width, portrait.screen.height)
                stills.append(Still(step, step_words(step), picture, portrait.box, size))
                continue
            still = Still(step, step_words(step), None, None, size)
            for lane, result in self._results(step)[:1]:
                name, device = result.before or result.after, lane.device
                if lane.folder is not None and name:
                    picture = picture_path(lane.folder, name)
                    still = Still(step, step_words(step), picture, result.box, (device.width, device.height))
            stills.append(still)
        for i in range(len(stills) - 2, -1, -1):  # a step without a target shows what the next one stands on
            if stills[i].picture is None:
                stills[i] = replace(stills[i], picture=stills[i + 1].picture, size=stills[i + 1].size)
        self.strip.frames.show_stills(stills)
        self.strip.show_line(self.workspace.line)

    def _line_now(self) -> None:
        self._line(self.workspace.line)

    def _line(self, line: int) -> None:
        self.editor.go_to(line)
        self.strip.show_line(line)
        problem = next((p for p in self.editor.problems if p.line == line), self.editor.problems[0] if self.editor.problems else None)
        self.problem.setVisible(problem is not None)
        if problem is not None:
            self.problem.setText(f"Line {problem.line}: {problem.sentence}")
        here = self.workspace.step_at(line)
        if here is None:
            self.frame.show_portrait(None, None, False)
            self.portrait.show_step("", None, [], "")
            return
        scene, step = here
        portrait = self.workspace.portrait_of(scene, step)
        if portrait is not self.frame.portrait or self.frame.pick is None:
            pick = self.frame.pick if portrait is self.frame.portrait else None
            self.frame.show_portrait(portrait, self.workspace.frame_of(portrait), step.is_check)
            self.frame.pick = pick
        self._shown = self._address(step)
        found = [(lane.device.name, result) for lane, result in self._results(step)]
        self.portrait.show_step(step.key(), portrait, found, target_of(self.frame.pick).words() if self.frame.pick else "")
        self._look_at(portrait)

    def _look_at(self, portrait: Portrait | None) -> None:
        """Whether the target's picture tells it apart: found out beside the window's own work."""
        path = self.workspace.frame_of(portrait)
        if portrait is None or path is None:
            return

        def job() -> Piece | None:
            return picture_piece(portrait, decode(read_bytes(path), portrait.screen.width))

        self.workspace.courier.think_newest("picture of the target", job, lambda piece: self.portrait.add_piece(portrait, piece))

    # changing

    def _current(self) -> tuple[str, Step, Portrait, Element] | None:
        here = self.workspace.step_at(self.workspace.line)
        portrait = self.frame.portrait
        if here is None or portrait is None:
            return None
        return here[0], here[1], portrait, self.frame.pick or portrait.element

    def _point(self) -> None:
        current = self._current()
        if current is None or self.frame.pick is None:
            return
        scene, step, portrait, element = current
        changed = step.on(target_of(element))
        self.frame.pick = None
        self.workspace.point_at(step, changed, Portrait(element.screen, element.row, scene, portrait.picture))

    def _check(self) -> None:
        current = self._current()
        if current is None:
            return
        scene, step, portrait, element = current
        menu = QMenu(self)

        def add(meaning: Meaning) -> None:
            kept = replace(meaning.portraits[0][1], scene=scene, picture=portrait.picture) if meaning.portraits else None
            self.workspace.add_after(step, meaning.step, kept)

        for number, meaning in enumerate(likely_checks(element), 1):
            menu.addAction(f"&{number}  {step_words(meaning.step)}").triggered.connect(lambda _checked=False, m=meaning: add(m))
        menu.exec(self.portrait.check.mapToGlobal(self.portrait.check.rect().bottomLeft()))
