"""The script that is open, and every change of it: by the keys, by the views, and as a whole. `Saving` writes it to the disk."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtCore import QObject, Signal

from ..language.document import Document, parse
from ..model.errors import CopioneError

if TYPE_CHECKING:
    from ..language.problems import Problem
    from ..language.refactor import Candidate
    from ..model.portrait import Portrait
    from ..model.step import Step
    from ..model.target import Target
    from ..project.loaded import Loaded
    from ..project.project import Project
    from .courier import Courier
    from .saving import Saving


class EditingHost(Protocol):
    """Whoever has the script that is open."""

    loaded: Loaded | None
    project: Project
    saving: Saving

    @property
    def script_changed(self) -> Any:
        """Told of each change."""
        ...

    def failed(self, error: CopioneError) -> None:
        """Tell what went wrong."""
        ...

    def go_to(self, line: int) -> None:
        """Make a line the current one."""
        ...


Kept = Mapping[str, tuple["Portrait", ...]]


class Editing(QObject):
    """Holds what is wrong with the script as of its newest text. `told` words for the user."""

    problems_changed = Signal()
    read_over = Signal()  # the newest text, as a whole
    told = Signal(str)

    def __init__(self, workspace: EditingHost, courier: Courier, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace, self.courier = workspace, courier
        self.problems: tuple[Problem, ...] = ()
        self.typing: list[Callable[[], object]] = []  # each hands on letters of the text that were typed and not handed on yet
        self.cells: list[Callable[[], object]] = []  # each ends the typing into a cell of a table and takes its content in
        workspace.script_changed.connect(self._read_over)

    def take_in(self) -> None:
        """What is being typed, before anything else becomes of the script: it would be lost where another text takes its place.

        The user goes on typing: this is for what is done meanwhile, beside the user.
        """
        for hand_on in self.typing:
            hand_on()

    def end_typing(self) -> None:
        """The same, and what is being typed into a cell: the user has done with it and asks for something else."""
        for hand_on in (*self.typing, *self.cells):
            hand_on()

    def _newest(self) -> Loaded | None:
        """The script with what is being typed."""
        self.take_in()
        return self.workspace.loaded

    def _read_over(self) -> None:
        """What is wrong with the whole is found out beside the window's own work."""
        loaded = self.workspace.loaded
        if loaded is None:
            self._found(())
            return

        def job() -> tuple[tuple[Problem, ...], bool]:
            return loaded.with_environment().remarks(asking=True), loaded.complete

        self.courier.think_newest("problems", job, self._have_read)

    def _have_read(self, found: tuple[tuple[Problem, ...], bool]) -> None:
        problems, complete = found
        self._found(problems)
        if not complete:
            self.complete()
        self.read_over.emit()

    def _found(self, problems: tuple[Problem, ...]) -> None:
        if problems != self.problems:
            self.problems = problems
            self.problems_changed.emit()

    # text

    def edit(self, text: str) -> None:
        """The editor's text as the script."""
        loaded = self.workspace.loaded
        if loaded is not None and text != loaded.document.text:
            self.put(parse(text, loaded.document))

    def put(self, document: Document, portraits: Kept | None = None) -> None:
        """Another text, and other portraits where given."""
        loaded = self._newest()
        if loaded is None:
            return
        kept = dict(portraits) if portraits is not None else None
        self.workspace.loaded = loaded.edited(document, kept)
        self.workspace.saving.save(kept)
        self.workspace.script_changed.emit()

    def complete(self, over: Callable[[], object] = lambda: None) -> None:
        """Look for what the text names now: another table, another script it uses. `over` once it is known, or cannot be."""
        project, asked = self.workspace.project, self._newest()
        if asked is None:
            over()
            return
        known = asked

        def done(found: Loaded) -> None:
            over()
            now = self._newest()
            if now is not None and now.path == found.path and project is self.workspace.project:
                read = replace(now.as_read, tables=found.as_read.tables)
                self.workspace.loaded = replace(found, document=now.document, portraits=now.portraits, as_read=read)
                self.workspace.script_changed.emit()

        def failed(error: CopioneError) -> None:
            over()
            self.workspace.failed(error)

        self.courier.with_files(lambda: project.complete(known), done, failed)

    # steps

    def point_at(self, step: Step, changed: Step, portrait: Portrait) -> None:
        """Point a step at another element: its line, and the portrait under the new words."""
        loaded = self._newest()
        if loaded is None:
            return
        portraits = dict(loaded.portraits)
        portraits[changed.key()] = (portrait, *(p for p in portraits.get(changed.key(), ()) if p.screen is not portrait.screen))
        self.put(loaded.document.with_step(step.line, changed), portraits)

    def learn(self, key: str, portrait: Portrait) -> None:
        """One more portrait under a target's words; of the same screen the newer."""
        loaded = self._newest()
        if loaded is None:
            return
        others = tuple(p for p in loaded.portraits.get(key, ()) if p.screen.signature != portrait.screen.signature)
        self.put(loaded.document, {**loaded.portraits, key: (*others, portrait)})

    def add_after(self, step: Step, added: Step, portrait: Portrait | None) -> None:
        """A step behind another one."""
        loaded = self._newest()
        if loaded is None:
            return
        portraits = dict(loaded.portraits)
        if portrait is not None and added.key() not in portraits:
            portraits[added.key()] = (portrait,)
        self.put(loaded.document.with_step_after(step.line, added), portraits)
        self.workspace.go_to(step.line + 1)

    # the whole

    def change(self, change: Callable[[Document], Document]) -> bool:
        """A change of the text that may not be possible; why not is told. Portraits go along where targets are worded otherwise."""
        loaded = self._newest()
        if loaded is None:
            return False
        try:
            document = change(loaded.document)
        except CopioneError as error:
            self.told.emit(error.sentence)
            return False
        from ..language.refactor import keys_after

        same = len(list(document.script.steps())) == len(list(loaded.script.steps()))
        self.put(document, self._under(loaded, keys_after(loaded.document, document)) if same else None)
        return True

    @staticmethod
    def _under(loaded: Loaded, keys: Mapping[str, str]) -> Kept | None:
        """The portraits, those of targets that are worded otherwise also under their new words; undoing finds the old ones."""
        moved = {new: loaded.portraits[old] for old, new in keys.items() if old in loaded.portraits and new not in loaded.portraits}
        return {**loaded.portraits, **moved} if moved else None

    def rename_scene(self, old: str, new: str) -> None:
        """Wherever it stands and is performed, also in other scripts of the project."""
        from ..language.refactor import rename_scene

        loaded = self._newest()
        if loaded is None or new == old or not new:
            return
        if loaded.script.scene(new) is not None:
            self.told.emit(f"There is a scene {new} already.")
            return
        home = next((name for name in ("", *loaded.script.uses) if self._has(loaded, name, old)), "")
        self.change(lambda document: rename_scene(document, old, new, defined=not home))
        place = loaded.used[home].path if home else loaded.path

        def others() -> list[str]:
            from ..project.renaming import rename_scene_elsewhere

            return rename_scene_elsewhere(place, old, new, besides=loaded.path)

        def done(changed: list[str]) -> None:
            if changed:
                self.told.emit(f"Renamed in {', '.join(changed)} too.")
                self.complete()

        self.courier.with_files(others, done, self.workspace.failed)

    @staticmethod
    def _has(loaded: Loaded, file: str, scene: str) -> bool:
        script = loaded.library.scripts.get(file)
        return script is not None and script.scene(scene) is not None

    def rename_variable(self, old: str, new: str) -> None:
        """Wherever it is used, and the column of the data."""
        from ..language.refactor import rename_variable

        loaded = self._newest()
        if loaded is None or new == old or not new:
            return
        if self.change(lambda document: rename_variable(document, old, new)):
            tables = [name for name, rows in loaded.tables.items() if rows and old in rows[0]]
            project = self.workspace.project

            def write() -> None:
                from ..project.data import rename_column

                for name in tables:
                    rename_column(project.data_path(name), old, new)

            if tables:
                self.courier.with_files(write, lambda _done: self.complete(), self.workspace.failed)

    def rename_target(self, old: str, new: Target) -> None:
        """In every step, with its portraits."""
        from ..language.refactor import rename_target

        loaded = self._newest()
        if loaded is not None:
            document, keys = rename_target(loaded.document, old, new)
            self.put(document, self._under(loaded, keys))

    def make_scene(self, first: int, last: int, name: str, values: tuple[Candidate, ...]) -> None:
        """Those lines as a scene of their own, performed in their place."""
        from ..language.refactor import scene_of

        loaded = self._newest()
        if loaded is None:
            return
        said = {value.words: "{" + value.name + "}" for value in values}
        keys = {}
        for number in range(first, last + 1):
            item = loaded.document.lines[number - 1].item if number <= len(loaded.document.lines) else None
            for target in getattr(getattr(item, "action", None), "targets", tuple)():
                moved = target.map_text(lambda words, kind: said.get(words, words) if kind.data else words)
                if moved != target:
                    keys[target.words()] = moved.words()
        try:
            document = scene_of(loaded.document, first, last, name, values)
        except CopioneError as error:
            self.told.emit(error.sentence)
            return
        self.put(document, self._under(loaded, keys))
        self.workspace.go_to(first)

    def make_variable(self, line: int, words: str, name: str) -> None:
        """Words as a variable: a column of the data with them in each row; data is made where there is none."""
        from ..language.lines import Header
        from ..language.refactor import with_variable

        loaded = self._newest()
        if loaded is None:
            return
        known = loaded.script.data
        data, project = known or f"{loaded.path.stem}.csv", self.workspace.project

        def change(document: Document) -> Document:
            made = with_variable(document, line, words, name)
            return made if known else made.with_header(Header("data", data))

        def write() -> None:
            from ..project.data import add_column

            add_column(project.data_path(data), name, words, project.redactor)

        if self.change(change):
            self.courier.with_files(write, lambda _done: self.complete(), self.workspace.failed)
