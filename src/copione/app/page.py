"""What the window knows of a page, whichever it is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QSplitter, QWidget

from .actions import Entry

if TYPE_CHECKING:
    from ..comparison.lanes import Lanes
    from .workspace import Workspace


@dataclass(frozen=True)
class Button:
    """One of the header's buttons as it is now. `warm`: something goes on that it stops."""

    words: str
    act: Callable[[], object]
    enabled: bool = True
    warm: bool = False


class WindowPage(QWidget):
    """One page. `changed` tells that its buttons or what it is about are others now."""

    changed = Signal()
    title = ""

    def primary(self) -> Button | None:
        """The main action."""
        return None

    def secondary(self) -> Button | None:
        """The one beside it."""
        return None

    def about(self) -> str:
        """What the page is about, for the header."""
        return ""

    def entries(self) -> Sequence[Entry]:
        """Its own actions."""
        return ()

    def undo(self) -> None:
        """Take the last change of what is in sight back."""

    def redo(self) -> None:
        """Do again what was taken back."""

    def zoom(self, larger: bool) -> None:
        """Show what is in sight larger or smaller."""

    def take_focus(self) -> None:
        """The page has come into sight: its main widget takes the keys."""
        self.setFocus()

    def splitter(self) -> QSplitter | None:
        """The splitter whose state comes back at the next start."""
        return None


def replay_button(workspace: Workspace) -> Button:
    """The main action of the pages on which a script is looked at: replay it, or stop the run."""
    runs = workspace.runs
    if runs.running:
        done, total = runs.progress
        return Button(f"Stop the run   {100 * done // total} %", runs.cancel)
    count = len(workspace.chosen())
    return Button(f"Replay on {count}" if count else "Replay", workspace.replay, count > 0 and workspace.loaded is not None)


class RunPage(WindowPage):
    """A page on which a run is looked at."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.runs = workspace, workspace.runs

    def primary(self) -> Button:
        """Replay, or stop the run."""
        return replay_button(self.workspace)

    def secondary(self) -> Button:
        """The report of the run."""
        return Button("Write report", self.workspace.write_report, self.runs.folder is not None)

    def about(self) -> str:
        """Script, build and time of the run."""
        return " · ".join(filter(None, (self.runs.title, _build(self.runs.lanes), f"run of {self.runs.when}" if self.runs.when else "")))


def about_script(workspace: Workspace) -> str:
    """The script that is open, its app, and the build that was last seen."""
    loaded = workspace.loaded
    if loaded is None:
        return workspace.project.name
    return " · ".join(filter(None, (loaded.script.name, loaded.script.app, _build(workspace.lanes))))


def _build(lanes: Lanes) -> str:
    builds = {lane.build for lane in lanes.lanes if lane.build}
    return f"build {next(iter(builds))}" if len(builds) == 1 else ""
