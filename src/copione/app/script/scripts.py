"""The scripts of the project, in a narrow list beside the strip."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMenu, QWidget

from ..listed import Item, ItemList
from ..sheet import ask_name
from ..shelf import Shelf
from ..wording import day_said, outcomes_said

if TYPE_CHECKING:
    from ...project.shelf import ScriptEntry

WIDTH = 176


class ScriptsList(ItemList):
    """Search, new, rename (F2), duplicate, delete (Del): all of it can be taken back."""

    def __init__(self, shelf: Shelf, parent: QWidget | None = None) -> None:
        super().__init__("Scripts", self._fill_menu, parent)
        self.shelf = shelf
        self.setFixedWidth(WIDTH)
        self.new = self.add_button("New", self.ask_new)
        self.new.setAccessibleName("New script")
        self.opened.connect(self._open_entry)
        self.delete_asked.connect(shelf.delete_script)
        self.rename_asked.connect(self.ask_rename)
        shelf.changed.connect(self.refresh)
        shelf.workspace.script_opened.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """What there is now."""
        loaded = self.shelf.workspace.loaded
        self.show_items(
            [Item(each.name, self._about(each), each, loaded is not None and loaded.path == each.path) for each in self.shelf.scripts]
        )

    def _about(self, entry: ScriptEntry) -> str:
        run = next((each for each in self.shelf.runs if each.script == entry.name), None)
        return f"{outcomes_said(run.counts)} · {day_said(run.started)}" if run is not None else "never replayed"

    def _open_entry(self, entry: ScriptEntry) -> None:
        self.shelf.workspace.open_script(entry.path)

    def ask_new(self) -> None:
        """A name for a new script."""
        ask_name(self, "New script", "Make it", "", self.shelf.new_script)

    def ask_rename(self, entry: ScriptEntry) -> None:
        """Another name for a script."""
        ask_name(self, f"Rename “{entry.name}”", "Rename it", entry.name, lambda name: self.shelf.rename(entry, name))

    def chosen(self) -> ScriptEntry | None:
        """The one that the list stands on."""
        value: object = self.current()
        return next((each for each in self.shelf.scripts if each is value), None)

    def _fill_menu(self, menu: QMenu, value: object) -> None:
        entry = next((each for each in self.shelf.scripts if each is value), None)
        if entry is not None:
            menu.addAction("Open", lambda: self._open_entry(entry))
            menu.addAction("Rename", lambda: self.ask_rename(entry))
            menu.addAction("Duplicate", lambda: self.shelf.duplicate(entry))
            menu.addSeparator()
            menu.addAction("Delete", lambda: self.shelf.delete_script(entry))
