"""The script page: strip, text, frame and portrait always show the same step."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QLabel, QMenu, QSplitter, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from ...language.printer import step_words
from ...model.outcome import Result
from ...model.portrait import Portrait
from ...model.screen import Element
from ...model.step import Step
from ...project.archive import TakeRecord
from ...project.project import problems_of
from ...recognition.evidence import Piece
from ...recognition.pictures import decode
from ...recognition.seeing import picture_piece
from ...recording.checks import likely_checks
from ...recording.intent import target_of
from ..pictures import Pictures
from ..workspace import Workspace
from .editor import ScriptEditor
from .frame import FrameView
from .portrait import PortraitPanel
from .strip import Still, Strip


class ScriptPage(QWidget):
    """Wires the four views to the workspace's current line."""

    record_asked = Signal()

    def __init__(self, workspace: Workspace, pictures: Pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.strip = Strip(pictures)
        self.editor = ScriptEditor()
        self.problem = QLabel(objectName="problem")
        self.problem.setWordWrap(True)
        self.problem.hide()
        self.table = QTableWidget()
        self.table.setAccessibleName("Data rows")
        self.table.verticalHeader().hide()
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        self.frame = FrameView()
        self.portrait = PortraitPanel()
        self.empty = QLabel("No script yet. Record one on the Stage: open the app, press Record, use it.")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.empty.setObjectName("muted")
        left = QWidget(objectName="sheet")
        left.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.editor, 1)
        column.addWidget(self.problem)
        column.addWidget(self.table)
        desk = QWidget(objectName="desk")
        desk.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        inner = QVBoxLayout(desk)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(self.frame)
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        for widget in (left, desk, self.portrait):
            self.splitter.addWidget(widget)
        self.splitter.setSizes([560, 350, 370])
        self.splitter.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        rule = QHBoxLayout()
        rule.addWidget(self.strip)
        layout.addLayout(rule)
        layout.addWidget(self.splitter, 1)
        layout.addWidget(self.empty, 1)
        self.editor.edited.connect(workspace.edit)
        self.editor.line_moved.connect(workspace.go_to)
        self.strip.picked.connect(workspace.go_to)
        workspace.script_changed.connect(self._script)
        workspace.line_changed.connect(self._line)
        workspace.runs.changed.connect(self._line_now)
        workspace.runs.state_changed.connect(self._stills)
        self.frame.picked.connect(lambda _pick: self._line_now())
        self.portrait.point_asked.connect(self._point)
        self.portrait.check_asked.connect(self._check)
        self.portrait.record_asked.connect(self.record_asked)
        self._script()

    def _script(self) -> None:
        loaded = self.workspace.loaded
        for widget in (self.strip, self.splitter):
            widget.setVisible(loaded is not None)
        self.empty.setVisible(loaded is None)
        if loaded is None:
            return
        self.editor.show_text(loaded.document.text)
        self.editor.show_problems(problems_of(loaded, asking=True))
        self.editor.offer(sorted(loaded.portraits), list(loaded.rows[0]))
        self._rows()
        self._stills()
        self._line_now()

    def _rows(self) -> None:
        loaded = self.workspace.loaded
        rows = loaded.rows if loaded and loaded.script.data else []
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

    def _results(self, step: Step) -> list[tuple[TakeRecord | None, str, Result]]:
        """What became of a step in the run that is shown, device by device; only where the script still says the same there."""
        numbers = {id(s): n for n, (_, s) in enumerate(self.workspace.loaded.script.steps())} if self.workspace.loaded else {}
        number = numbers.get(id(step), -1)
        found = []
        for lane in self.workspace.runs.lanes.lanes:
            if 0 <= number < len(lane.results) and lane.row == 1 and lane.results[number].verb == step.verb:
                place = lane.place if isinstance(lane.place, TakeRecord) else None
                found.append((place, lane.device.name, lane.results[number]))
        return found

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
            for take, _, result in self._results(step)[:1]:
                name = result.before or result.after
                if take is not None and name:
                    still = Still(step, step_words(step), take.picture(name), result.box, (take.device.width, take.device.height))
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
        found = [(name, result) for _, name, result in self._results(step)]
        self.portrait.show_step(step.key(), portrait, found, target_of(self.frame.pick).words() if self.frame.pick else "")
        self._look_at(portrait)

    def _look_at(self, portrait: Portrait | None) -> None:
        """Whether the target's picture tells it apart: found out beside the window's own work."""
        path = self.workspace.frame_of(portrait)
        if portrait is None or path is None or not path.exists():
            return

        def job() -> Piece | None:
            return picture_piece(portrait, decode(path.read_bytes(), portrait.screen.width))

        self.workspace.courier.aside(job, lambda piece: self.portrait.add_piece(portrait, piece))

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
        target = target_of(element)
        changed = replace(step, target=target)
        self.frame.pick = None
        self.workspace.point_at(step, changed, Portrait(element.screen, element.row, scene, portrait.picture))

    def _check(self) -> None:
        current = self._current()
        if current is None:
            return
        scene, step, portrait, element = current
        menu = QMenu(self)
        for number, meaning in enumerate(likely_checks(element), 1):
            kept = replace(meaning.portraits[0][1], scene=scene, picture=portrait.picture) if meaning.portraits else None
            menu.addAction(
                f"&{number}  {step_words(meaning.step)}", lambda m=meaning, kept=kept: self.workspace.add_after(step, m.step, kept)
            )
        menu.exec(self.portrait.check.mapToGlobal(self.portrait.check.rect().bottomLeft()))
