"""The runs of the project, in a list beside the lanes: opened, held against each other, deleted."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMenu, QWidget

from ...project.archive import RunEnd
from ..listed import Item, ItemList
from ..renewing import Renewing
from ..shelf import Shelf
from ..wording import day_said, outcomes_said

if TYPE_CHECKING:
    from ...project.shelf import RunEntry

WIDTH = 232


class RunsList(ItemList):
    """Enter or a click opens a run, Del deletes it; its menu compares it with the one that is shown."""

    def __init__(self, shelf: Shelf, renewing: Renewing, parent: QWidget | None = None) -> None:
        super().__init__("Runs", self._fill_menu, parent)
        self.shelf, self.renewing = shelf, renewing
        self.setFixedWidth(WIDTH)
        self.opened.connect(lambda entry: shelf.workspace.runs.show_run(entry.folder))
        self.delete_asked.connect(shelf.delete_run)
        shelf.changed.connect(self.refresh)
        shelf.workspace.runs.state_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """What there is now."""
        shown = self.shelf.workspace.runs.folder
        self.show_items([Item(self._title(each), self._about(each), each, each.folder == shown) for each in self.shelf.runs])

    @staticmethod
    def _title(entry: RunEntry) -> str:
        return f"{day_said(entry.started)} · {entry.script}"

    @staticmethod
    def _about(entry: RunEntry) -> str:
        build = f"build {entry.builds[0]}" if len(entry.builds) == 1 else f"{len(entry.builds)} builds" if entry.builds else ""
        devices = f"{len(entry.devices)} devices" if len(entry.devices) != 1 else entry.devices[0]
        return " · ".join(
            filter(None, (outcomes_said(entry.counts), devices, build, "" if entry.end is RunEnd.COMPLETE else entry.end.value))
        )

    def chosen(self) -> RunEntry | None:
        """The one that the list stands on."""
        value: object = self.current()
        return next((each for each in self.shelf.runs if each is value), None)

    def _fill_menu(self, menu: QMenu, value: object) -> None:
        entry = next((each for each in self.shelf.runs if each is value), None)
        if entry is None:
            return
        runs = self.shelf.workspace.runs
        menu.addAction("Open", lambda: runs.show_run(entry.folder))
        compare = menu.addAction("Compare the run that is shown with this one", lambda: self.compare_with(entry))
        compare.setEnabled(runs.folder is not None and runs.folder != entry.folder and not runs.running)
        menu.addSeparator()
        menu.addAction("Delete", lambda: self.shelf.delete_run(entry))

    def compare_with(self, entry: RunEntry) -> None:
        """What is otherwise in the run that is shown than it was in that one."""
        from .compared import ComparedSheet

        ComparedSheet(self.shelf.workspace, entry.folder, self._title(entry), self, self.renewing).open()
