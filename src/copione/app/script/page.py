"""The script page: strip, text, frame and portrait always show the same step."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QMenu, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from ...comparison.lanes import Lane
from ...files.reading import FileKind, read_bytes
from ...language.assist import CompletionContext
from ...language.folding import FoldRange, stretches
from ...language.printer import step_words
from ...model.address import Address
from ...model.outcome import Result
from ...model.portrait import Portrait
from ...model.screen import Element
from ...model.step import Step
from ...recognition.evidence import Piece
from ...recognition.pictures import decode
from ...recognition.seeing import picture_piece
from ...recording.checks import likely_checks
from ...recording.intent import Meaning
from ...recording.targets import target_of
from ..actions import Entry, ShortcutScope
from ..page import Button, WindowPage, about_script, replay_button
from ..parts import Label, named
from ..pictures import PictureCache
from ..shelf import Shelf
from ..trials import Trials
from ..workspace import Workspace
from . import lines
from .desk import Desk
from .editor import ScriptEditor
from .find import FindBar
from .hover import Targets
from .portrait import PortraitPanel
from .refactoring import Refactoring
from .scripts import ScriptsList
from .stills import Film, Key, done_in, film, nearest
from .strip import Strip
from .surroundings import scenes_of, surroundings
from .tables import Tables
from .trial import TrialPanel
from .trying import Trying

if TYPE_CHECKING:
    from ...project.shelf import ScriptEntry


LATER_MS = 120  # the film of a text that is being typed is made when the hand rests


class ScriptPage(WindowPage):
    """Wires the four views to the workspace's current line."""

    title = "Script"

    def __init__(self, workspace: Workspace, shelf: Shelf, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.shelf = workspace, shelf
        self._done: dict[tuple[type, str], list[Address]] = {}
        self._shown: Address | None = None  # the step in the run that the portrait tells of
        self.pictures = pictures
        self.trials = Trials(workspace)
        self.trials.told.connect(workspace.told)
        workspace.closing.append(self.trials.stop)
        self.strip = Strip(pictures)
        self._turned: set[Key] = set()  # brackets of the strip that were folded or opened
        self.editor = ScriptEditor()
        self.refactoring = Refactoring(workspace, self.editor)
        self.trying = Trying(workspace, self.trials, self.editor, self)
        self.editor.fill_menu = self._fill_menu
        self.targets = Targets(workspace, pictures, self)
        self.editor.completion.picture = self.targets.picture
        self.problem = named(Label(), "problem")
        self.problem.setWordWrap(True)
        self.problem.hide()
        self.tables = Tables(workspace)
        self.table = self.tables.table
        self.portrait = PortraitPanel()
        self.trial = TrialPanel(self.trials)
        self._right = QStackedWidget()
        self._right.addWidget(self.portrait)
        self._right.addWidget(self.trial)
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
        column.addWidget(self.tables)
        self.desk = Desk(pictures, workspace.courier)
        self.frame, self.now = self.desk.frame, self.desk.now
        self._splitter = QSplitter(Qt.Orientation.Horizontal)
        for widget in (left, self.desk, self._right):
            self._splitter.addWidget(widget)
        self._splitter.setSizes([470, 320, 314])
        self._splitter.setChildrenCollapsible(False)
        self.scripts = ScriptsList(shelf)
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
        self.editor.edited.connect(workspace.editing.edit)
        self.editor.typed.connect(workspace.saving.typed)
        workspace.editing.typing.append(self.editor.send_if_typed)
        workspace.editing.cells.append(self.tables.take_in)
        self.editor.hovered.connect(self.targets.show_at)
        self.editor.line_moved.connect(workspace.go_to)
        self.strip.picked.connect(workspace.go_to)
        self.strip.turned.connect(self._turn_bracket)
        self.strip.menu_asked.connect(self._strip_menu)
        workspace.editing.problems_changed.connect(self._problems)
        workspace.editing.read_over.connect(self._read_over)
        self.tables.row_chosen.connect(self._row_chosen)
        self.trials.changed.connect(self._trial)
        self.trial.closed.connect(self._close_trial)
        self.trial.pointed.connect(self.trying.take)
        self.trial.again_asked.connect(self.trying.from_line)
        self.trial.on.currentTextChanged.connect(self._device_chosen)
        self.now.picked.connect(self._point_now)
        workspace.script_opened.connect(self._opened)
        workspace.project_opened.connect(self._other_project)
        shelf.renamed.connect(self.editor.renamed)
        workspace.script_changed.connect(self._script)
        workspace.line_changed.connect(self._line)
        workspace.runs.changed.connect(self._run_changed)
        workspace.runs.state_changed.connect(self._stills)
        self.frame.picked.connect(lambda _pick: self._line_now())
        self.portrait.point_asked.connect(self._point)
        self.portrait.check_asked.connect(self._check)
        self.portrait.record_asked.connect(workspace.record_from_here)
        self._later = QTimer(self, singleShot=True, interval=LATER_MS)
        self._later.timeout.connect(self._stills)
        self._show_trial(False)
        self._opened()
        self._script()
        self._read_over()

    # as a page

    def primary(self) -> Button:
        """Replay what stands in the editor, or stop the run."""
        return replay_button(self.workspace)

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
        editor, page = self.editor, ShortcutScope.PAGE
        return [
            Entry("Edit", "Find and replace in the script", "Ctrl+F", self.find_bar.open, open_, page, "a script"),
            Entry("Edit", "Move the lines up", "Alt+Up", lambda: lines.move(editor, False), open_, page, "a script"),
            Entry("Edit", "Move the lines down", "Alt+Down", lambda: lines.move(editor, True), open_, page, "a script"),
            Entry("Edit", "Duplicate the lines", "Ctrl+D", lambda: lines.duplicate(editor), open_, page, "a script"),
            Entry("Edit", "Make the lines comments, or steps again", "Ctrl+/", lambda: lines.comment(editor), open_, page, "a script"),
            *self.refactoring.entries(),
            *self.trying.entries(),
            Entry("Project", "New script", "Ctrl+Shift+N", scripts.ask_new, scope=ShortcutScope.PAGE),
            Entry("Project", "Find a script", "Ctrl+Shift+F", scripts.search.setFocus, there, ShortcutScope.PAGE),
            Entry("Project", "Rename the script that is chosen", "F2", of_chosen(scripts.ask_rename), there, ShortcutScope.MENU),
            Entry("Project", "Duplicate the script that is chosen", "", of_chosen(self.shelf.duplicate), there, ShortcutScope.PAGE),
            Entry("Project", "Delete the script that is chosen", "Del", of_chosen(self.shelf.delete_script), there, ShortcutScope.MENU),
        ]

    def undo(self) -> None:
        """Of what has the keys: a script that was deleted comes back to the list, else of the text."""
        if self.scripts.lines.hasFocus():
            self.shelf.bring_back("script")
            return
        if self.table.hasFocus() and self.tables.undo():
            return
        self.editor.undo()
        self.editor.send()

    def redo(self) -> None:
        """Of the text, or of the table where that has the keys."""
        if self.table.hasFocus() and self.tables.redo():
            return
        self.editor.redo()
        self.editor.send()

    def take_focus(self) -> None:
        """Keys are for the text."""
        self.editor.setFocus()

    def splitter(self) -> QSplitter:
        """Between text, frame and portrait."""
        return self._splitter

    # what it shows

    def _run_changed(self) -> None:
        changed = self.workspace.runs.news.changed
        if changed is None or any(cell.address == self._shown for cell in changed):
            self._line_now()

    def _opened(self) -> None:
        """Another script: what was done in the one before is not undone in this one, and there again once it is opened again."""
        self._turned.clear()
        self._done = done_in(self.workspace.lanes)
        if self.workspace.loaded is not None:
            self.editor.open_text(self.workspace.loaded.path, self.workspace.loaded.document.text)

    def _other_project(self) -> None:
        self.editor.forget()
        self.tables.forget()

    def _script(self) -> None:
        loaded = self.workspace.loaded
        for widget in (self.strip, self._splitter):
            widget.setVisible(loaded is not None)
        self.empty.setVisible(loaded is None)
        if loaded is None:
            return
        if self.editor.typing:  # what was typed is not written over: it is the script next
            self.editor.send()
            if self.workspace.loaded is not loaded:
                return
        self.editor.show_text(loaded.document.text)
        self.tables.show_script()
        self._line_now()

    def _read_over(self) -> None:
        """What else is found out of a text comes one after the other: all at once would hold up the window."""
        loaded, scenes, scripts = self.workspace.loaded, self.workspace.library, tuple(self.workspace.library)
        if loaded is None:
            return
        read = loaded

        def about() -> tuple[list[FoldRange], CompletionContext]:
            return stretches(read.document), surroundings(read, scenes_of(read, scenes), scripts)

        self.workspace.courier.think_newest("what belongs together", about, self._know)

    def _know(self, found: tuple[list[FoldRange], CompletionContext]) -> None:
        belongs, self.editor.completion.around = found
        self.editor.show_stretches(belongs)
        self._later.start()

    def _problems(self) -> None:
        self.editor.show_problems(self.workspace.editing.problems)
        self._line_now()

    # what is shown of each step

    def _address(self, step: Step) -> Address | None:
        """Where in the run that is shown the step was done."""
        return nearest(self._done, step)

    def _results(self, step: Step) -> list[tuple[Lane, Result]]:
        """What became of a step in the script's run that is shown, device by device."""
        address = self._address(step)
        return [(lane, r) for lane, r in self.workspace.lanes.cells(address) if lane.row == 1] if address is not None else []

    def _stills(self) -> None:
        """The film is made beside the window's own work."""
        loaded, lanes, turned = self.workspace.loaded, self.workspace.lanes, frozenset(self._turned)
        self._done = done_in(lanes)
        if loaded is not None:
            self.workspace.courier.think_newest("film", lambda: film(loaded, lanes, turned), self._show_film)

    def _show_film(self, made: Film) -> None:
        self.strip.show_film(made)
        self.strip.show_line(self.workspace.line)

    def _turn_bracket(self, key: Key) -> None:
        self._turned ^= {key}
        self._stills()
        if key[0] in self.editor.folds.stretches and "performed" not in key[1] and "otherwise" not in key[1]:
            self.editor.folds.turn(key[0])

    def _line_now(self) -> None:
        self._line(self.workspace.line)

    def _line(self, line: int) -> None:
        self.editor.go_to(line)
        self.strip.show_line(line)
        self._say_problem(line)
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

    def _say_problem(self, line: int) -> None:
        """What is wrong with the line, else what is wrong first; a hint where the caret is on it."""
        found = self.editor.problems
        here = min((p for p in found if p.line == line), key=lambda p: p.hint, default=None)
        problem = here if here is not None and not here.hint else next((p for p in found if not p.hint), here)
        self.problem.setVisible(problem is not None)
        if problem is not None:
            name = "hint" if problem.hint else "problem"
            if self.problem.objectName() != name:
                named(self.problem, name).style().polish(self.problem)
            self.problem.setText(f"Line {problem.line}: {problem.sentence}")

    def _look_at(self, portrait: Portrait | None) -> None:
        """Whether the target's picture tells it apart: found out beside the window's own work."""
        path = self.workspace.frame_of(portrait)
        if portrait is None or path is None:
            return

        def job() -> Piece | None:
            return picture_piece(portrait, decode(read_bytes(path, FileKind.PICTURE), portrait.screen.width))

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
        self.workspace.editing.point_at(step, changed, Portrait(element.screen, element.row, scene, portrait.picture))

    def _check(self) -> None:
        current = self._current()
        if current is None:
            return
        scene, step, portrait, element = current
        menu = QMenu(self)

        def add(meaning: Meaning) -> None:
            kept = replace(meaning.portraits[0][1], scene=scene, picture=portrait.picture) if meaning.portraits else None
            self.workspace.editing.add_after(step, meaning.step, kept)

        for number, meaning in enumerate(likely_checks(element), 1):
            menu.addAction(f"&{number}  {step_words(meaning.step)}").triggered.connect(lambda _checked=False, m=meaning: add(m))
        menu.exec(self.portrait.check.mapToGlobal(self.portrait.check.rect().bottomLeft()))

    def _fill_menu(self, menu: QMenu) -> None:
        """What can be done with the lines of the caret."""
        self.refactoring.fill_menu(menu)
        menu.addSeparator()
        menu.addAction("Try a step", self.trying.one)
        menu.addAction("Try from here on", self.trying.on)
        menu.addAction("Stop before this line, or do not", self.trying.turn_stop)

    def _strip_menu(self, _line: int, place: QPoint) -> None:
        menu = QMenu(self)
        self._fill_menu(menu)
        menu.exec(place)
        menu.deleteLater()

    # trials

    def _show_trial(self, shown: bool) -> None:
        self._right.setCurrentWidget(self.trial if shown else self.portrait)
        self.desk.show_now(shown)

    def _close_trial(self) -> None:
        self.trials.stop()
        self._show_trial(False)
        self.editor.show_here(0)

    def _trial(self) -> None:
        trials = self.trials
        if trials.running:
            self._show_trial(True)
        here = trials.standing or trials.doing
        self.editor.show_here(here.line if here is not None else 0)
        self.editor.show_stops(trials.stops)
        self.now.show_tried(trials.tried[-1] if trials.tried else None)

    def _row_chosen(self, row: int) -> None:
        self.trials.row = row if self.workspace.loaded is not None and self.tables.name == self.workspace.loaded.script.data else 1

    def _device_chosen(self, name: str) -> None:
        self.trying.device_name = name

    def _point_now(self, element: Element) -> None:
        if self.trials.stuck is not None:
            self.trying.take(self.trials.stuck, element)
