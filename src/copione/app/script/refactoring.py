"""Changes of the script as a whole: asked for in the text, in the strip or on the steps, and where a name is needed in a sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from PySide6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QMenu

from ...language import refactor
from ...language.quoting import quoted
from ...model.errors import CopioneError
from ...model.library import OWN
from ..actions import Entry, ShortcutScope
from ..parts import Label, named
from ..sheet import Sheet, ask_name
from ..workspace import Workspace
from .editor import ScriptEditor
from .surroundings import scenes_of


class Refactoring:
    """What can be done with the lines that are chosen, and with what the caret stands on."""

    def __init__(self, workspace: Workspace, editor: ScriptEditor) -> None:
        self.workspace, self.editor, self.editing = workspace, editor, workspace.editing

    def entries(self) -> Sequence[Entry]:
        """As actions of the page."""
        here, page = self._there, ShortcutScope.PAGE
        return [
            Entry("Edit", "Go to the scene or value", "Ctrl+G", self.go_to, here, page, "a script"),
            Entry("Edit", "Rename what the caret is on", "Shift+F2", self.rename, here, page, "a script"),
            Entry("Edit", "Make a scene of the lines", "Ctrl+M", self.make_scene, here, page, "a script"),
            Entry("Edit", "Perform a scene here", "Ctrl+P", self.perform, here, page, "a script"),
            Entry("Edit", "Make a variable of the words", "Ctrl+B", self.make_variable, here, page, "a script"),
            Entry("Edit", "Turn the step into a check", "Ctrl+Shift+K", self.turn_into_check, here, page, "a script"),
            Entry("Edit", "Wait for the step's target first", "Ctrl+Shift+W", self.wait_for, here, page, "a script"),
            Entry("View", "Fold or open what the caret is in", "Ctrl+.", self.fold, here, page, "a script"),
            Entry("View", "Fold everything", "Ctrl+Shift+.", lambda: self.editor.folds.all(True), here, page, "a script"),
            Entry("View", "Open everything", "Ctrl+Shift+,", lambda: self.editor.folds.all(False), here, page, "a script"),
        ]

    def fill_menu(self, menu: QMenu) -> None:
        """The same for a menu at the caret."""
        acts: tuple[tuple[str, Callable[[], object]], ...] = (
            ("Go to the scene or value", self.go_to),
            ("Rename what the caret is on …", self.rename),
            ("Make a scene of the lines …", self.make_scene),
            ("Perform a scene here …", self.perform),
            ("Make a variable of the words …", self.make_variable),
            ("Turn into a check", self.turn_into_check),
            ("Wait for it first", self.wait_for),
        )
        for words, act in acts:
            menu.addAction(words, act)

    def _there(self) -> bool:
        return self.workspace.loaded is not None

    def _line(self) -> int:
        return self.editor.textCursor().blockNumber() + 1

    def _subject(self) -> refactor.RenameSubject | None:
        self.editing.end_typing()
        loaded = self.workspace.loaded
        cursor = self.editor.textCursor()
        return refactor.subject_at(loaded.document, self._line(), cursor.positionInBlock()) if loaded is not None else None

    def fold(self) -> None:
        """The stretch round the caret."""
        self.editor.folds.turn(self._line())

    # going

    def go_to(self) -> None:
        """Where the scene or the value under the caret is made, in whatever script that is."""
        subject, loaded = self._subject(), self.workspace.loaded
        if subject is None or loaded is None or subject.kind == "target":
            self.workspace.told.emit("Put the caret on the name of a scene, or on a {value}.")
            return
        line = refactor.defined_at(loaded.document, subject)
        if line:
            self.workspace.go_to(line)
            return
        for name, used in loaded.used.items():
            line = refactor.defined_at(used.document, subject) if name != OWN else 0
            if line:
                self.workspace.open_script(used.path, line)
                return
        where = f"{{{subject.name}}} comes from the data, or is given at the start." if subject.kind == "value" else "It is nowhere."
        self.workspace.told.emit(where)

    # names

    def rename(self) -> None:
        """The scene, value or target under the caret, everywhere."""
        subject = self._subject()
        if subject is None:
            self.workspace.told.emit("Put the caret on a scene, a {value} or a target.")
            return
        known = {"scene": "scene", "value": "value", "target": "target"}[subject.kind]

        def done(name: str) -> None:
            if subject.kind == "scene":
                self.editing.rename_scene(subject.name, name)
            elif subject.kind == "value":
                self._renamed_value(subject.name, name)
            else:
                try:
                    self.editing.rename_target(subject.name, refactor.named_target(name))
                except CopioneError as error:
                    self.workspace.told.emit(error.sentence)

        ask_name(self.editor, f"Rename the {known} everywhere", "Rename it", subject.name, done)

    def _renamed_value(self, old: str, new: str) -> None:
        if new.isidentifier() and new.isascii():
            self.editing.rename_variable(old, new)
        else:
            self.workspace.told.emit(f"{new} is not a valid name: use letters, digits and _.")

    # lines

    def make_scene(self) -> None:
        """A name for it, and which words become its values."""
        self.editing.end_typing()
        loaded = self.workspace.loaded
        if loaded is None:
            return
        first, last = self.editor.chosen_lines()
        found = refactor.candidates(loaded.document, first, last)
        sheet = Sheet("Make a scene of these steps", "Make it", self.editor, 460)
        name = QLineEdit(placeholderText="Its name")
        name.setAccessibleName("Name of the scene")
        sheet.body.addWidget(name)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        rows: list[tuple[refactor.Candidate, QCheckBox, QLineEdit]] = []
        if found:
            sheet.body.addWidget(named(Label("Words that are its values, given anew each time it is performed"), "caption"))
            sheet.body.addLayout(grid)
        for row, each in enumerate(found):
            box = QCheckBox(f"“{each.words}”" if len(each.words) < 28 else f"“{each.words[:27]}…”")
            box.setChecked(True)
            field = QLineEdit(each.name)
            field.setAccessibleName(f"Name of the value {each.words}")
            box.toggled.connect(field.setEnabled)
            grid.addWidget(box, row, 0)
            grid.addWidget(field, row, 1)
            rows.append((each, box, field))

        def check() -> None:
            sane = all(not box.isChecked() or (f.text().isidentifier() and f.text().isascii()) for _, box, f in rows)
            sheet.main.setEnabled(bool(name.text().strip()) and sane)

        for field in (name, *(f for _, _, f in rows)):
            field.textChanged.connect(lambda _words: check())
        check()

        def done() -> None:
            values = tuple(replace(each, name=field.text()) for each, box, field in rows if box.isChecked())
            self.editing.make_scene(first, last, " ".join(name.text().split()), values)

        sheet.accepted.connect(done)
        sheet.open(name)

    def perform(self) -> None:
        """A scene of this script or another one, behind the line of the caret."""
        self.editing.end_typing()
        loaded = self.workspace.loaded
        if loaded is None:
            return
        offered = [s for s in scenes_of(loaded, self.workspace.library) if s.values or not s.file]
        menu = QMenu(self.editor)
        menu.setAccessibleName("Scenes")
        if not offered:
            menu.addAction("No scene asks for values yet: make one of some lines first").setEnabled(False)
        for scene in offered:
            words = f"{scene.name}   {' '.join('{' + v + '}' for v in scene.values)}".rstrip() + (f"   {scene.file}" if scene.file else "")
            menu.addAction(words.replace("&", "&&")).triggered.connect(
                lambda _checked=False, s=scene: self._perform(s.name, s.values, s.file)
            )
        menu.exec(self.editor.mapToGlobal(self.editor.cursorRect().bottomLeft()))
        menu.deleteLater()

    def _perform(self, name: str, values: Sequence[str], file: str) -> None:
        loaded = self.workspace.loaded
        if loaded is None:
            return
        known = refactor.variables_of(loaded.document) | set(loaded.rows[0])
        given = " ".join("{" + value + "}" if value in known else quoted(value) for value in values)
        words = f"perform {quoted(name)}{' with ' + given if given else ''}"
        line = self._line()
        self.editing.change(lambda document: document.with_words_after(line, words, file))
        self.workspace.go_to(line + 1 + int(bool(file) and file not in loaded.script.uses))

    def make_variable(self) -> None:
        """Of the words that are chosen or under the caret, a value that data, or whoever starts it, gives."""
        self.editing.end_typing()
        words, line = self._words_here(), self._line()
        if not words:
            self.workspace.told.emit("Put the caret into words in quotes, or on a number.")
            return
        name = refactor.free_name(self.workspace.loaded.document, line) if self.workspace.loaded is not None else "value"
        ask_name(self.editor, f"A variable instead of “{words[:40]}”", "Make it", name, lambda said: self._made(line, words, said))

    def _made(self, line: int, words: str, name: str) -> None:
        if name.isidentifier() and name.isascii():
            self.editing.make_variable(line, words, name)
        else:
            self.workspace.told.emit(f"{name} is not a valid name: use letters, digits and _.")

    def _words_here(self) -> str:
        """The text of the step that the caret is in."""
        loaded = self.workspace.loaded
        step = refactor.step_at(loaded.document, self._line()) if loaded is not None else None
        if step is None:
            return ""
        line, column = self.editor.textCursor().block().text(), self.editor.textCursor().positionInBlock()
        texts = [said for said, kind in step.action.texts() if kind.data and said and "{" not in said]
        for said in sorted(texts, key=len, reverse=True):
            for form in (quoted(said), said):
                begin = line.find(form)
                if 0 <= begin <= column <= begin + len(form):
                    return said
        return texts[0] if len(texts) == 1 else ""

    def turn_into_check(self) -> None:
        """The step of the caret's line."""
        self.editing.end_typing()
        line = self._line()
        self.editing.change(lambda document: refactor.turned_into_check(document, line))

    def wait_for(self) -> None:
        """Before the step of the caret's line."""
        self.editing.end_typing()
        line = self._line()
        self.editing.change(lambda document: refactor.with_wait(document, line))
