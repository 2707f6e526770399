"""Values that scripts need and are given by hand: asked for in one sheet, remembered for the next time, secret ones only in memory."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol
from urllib.parse import quote

from PySide6.QtCore import QSettings

from ..model.errors import CopioneError
from .courier import Courier

if TYPE_CHECKING:
    from ..model.step import Need
    from ..project.loaded import Loaded
    from ..project.project import Project

VALUES = "values/"  # under which given values are remembered
#: Asks for values in one sheet: which, what was given the last time, and who hears of them.
AskValues = Callable[[Sequence["Need"], Mapping[str, str], Callable[[Mapping[str, str]], object]], object]


class ValuesHost(Protocol):
    """Whoever has the project."""

    project: Project
    courier: Courier

    @property
    def told(self) -> Any:
        """Told of words for the user."""
        ...

    def failed(self, error: CopioneError) -> None:
        """Tell what went wrong."""
        ...


def value_key(script: Path, name: str, scene: str = "") -> str:
    """Under which key a value of a script, or of one of its scenes, is remembered."""
    return VALUES + "/".join(quote(part, safe="") for part in (str(script), scene, name) if part)


class Given:
    """Also what else was answered before. `ask` shows the sheet."""

    def __init__(self, workspace: ValuesHost, settings: QSettings | None) -> None:
        self._workspace, self._settings = workspace, settings
        self.ask: AskValues = lambda needs, known, done: None
        self._secrets: dict[Path, dict[str, str]] = {}  # by script: another one asks for its own

    def remembered(self, key: str) -> str:
        """What was answered the last time; empty where nothing was."""
        return str(self._settings.value(key) or "") if self._settings is not None else ""

    def remember(self, key: str, answer: str) -> None:
        """For the next time, and the next start; nothing that is known to be secret."""
        if self._settings is not None and not self._workspace.project.redactor.holds(answer):
            self._settings.setValue(key, answer)

    def forget_secrets(self) -> None:
        """What was remembered before it was known to be secret: a password field got it meanwhile."""
        for key in self._settings.allKeys() if self._settings is not None else ():
            if key.startswith(VALUES) and self._workspace.project.redactor.holds(self.remembered(key)) and self._settings is not None:
                self._settings.remove(key)

    def complete(self, loaded: Loaded, go: Callable[[Loaded], object]) -> None:
        """`go` with a script and all that it needs: from the environment, from what was given before, else asked for."""
        workspace = self._workspace
        project = workspace.project

        def job() -> Loaded:  # what was just typed into a table has been written before
            return project.complete(loaded).with_environment()

        workspace.courier.with_files(job, lambda found: self._ask(found, go), workspace.failed)

    def _ask(self, loaded: Loaded, go: Callable[[Loaded], object]) -> None:
        secrets = self._secrets.setdefault(loaded.path, {})
        loaded = loaded.given(secrets)
        asked = loaded.asked
        if not asked:
            go(loaded)
            return
        known = {n.name: self.remembered(value_key(loaded.path, n.name)) or n.default or "" for n in asked if not n.secret}

        def given(values: Mapping[str, str]) -> None:
            for need in asked:
                if need.secret:
                    secrets[need.name] = values[need.name]
                else:
                    self.remember(value_key(loaded.path, need.name), values[need.name])
            full = loaded.given(values)
            for note in full.notes[len(loaded.notes) :]:
                self._workspace.told.emit(note)
            go(full)

        self.ask(asked, known, given)
