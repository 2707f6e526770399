"""Every action once: its words, its shortcut, what it does and where. Menu bar, palette and keys are made from the same list."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

MENUS = ("Project", "Edit", "Record", "Replay", "View")  # in this order, whoever fills them


class ShortcutScope(Enum):
    """Where an action's shortcut works. Menu and palette offer it wherever its page is in sight."""

    EVERYWHERE = "on every page"
    PAGE = "on the page that declares it"
    MENU = "nowhere: the widget it belongs to takes the keys itself, and nothing else does"


@dataclass(frozen=True)
class Entry:
    """`menu` names the menu it stands in; `keys` its shortcut, empty for none; `when` tells whether it can be done now, `wants` what it
    needs for that, as words behind "needs"."""

    menu: str
    words: str
    keys: str
    act: Callable[[], object]
    when: Callable[[], bool] = lambda: True
    scope: ShortcutScope = ShortcutScope.EVERYWHERE
    wants: str = ""


@dataclass(frozen=True)
class Offered:
    """An action with what keeps it from being done now; empty where nothing does."""

    entry: Entry
    hindrance: str = ""


class Actions:
    """Menus and shortcuts of the window and its pages; a page's own work only while it is in sight."""

    def __init__(self, window: QMainWindow) -> None:
        self._window = window
        self._made: list[tuple[object, Entry, QAction]] = []
        self._in_sight: object = None
        self._menus: dict[str, QMenu] = {}
        for name in MENUS:
            self._menu(name)

    def add(self, entries: Sequence[Entry], owner: object = None) -> None:
        """Those of the window, or of a page."""
        for entry in entries:
            menu = self._menus.get(entry.menu) or self._menu(entry.menu)
            action = QAction(entry.words, self._window)
            if entry.keys and entry.scope is not ShortcutScope.MENU:
                action.setShortcut(QKeySequence(entry.keys))
            action.triggered.connect(lambda _checked=False, e=entry: e.act() if e.when() else None)
            menu.addAction(action)
            self._made.append((owner, entry, action))
        self._enable()

    def _menu(self, name: str) -> QMenu:
        menu = self._menus[name] = self._window.menuBar().addMenu(name)
        menu.aboutToShow.connect(self._refresh)
        menu.aboutToHide.connect(self._enable)
        return menu

    def show_page(self, owner: object) -> None:
        """That page is in sight now."""
        self._in_sight = owner
        self._enable()

    def offered(self) -> list[Offered]:
        """Every action there is, those first that can be done now, here."""
        found = [Offered(entry, self._hindrance(owner, entry)) for owner, entry, _ in self._made]
        return sorted(found, key=lambda each: bool(each.hindrance))

    def _hindrance(self, owner: object, entry: Entry) -> str:
        if not self._here(owner, entry):
            return f"on the page {getattr(owner, 'title', '')}"
        if not entry.when():
            return f"needs {entry.wants}" if entry.wants else "not now"
        return ""

    def _here(self, owner: object, entry: Entry) -> bool:
        return owner is None or owner is self._in_sight or entry.scope is ShortcutScope.EVERYWHERE

    def _enable(self) -> None:
        """A shortcut is alive wherever it may work; whether it can be done is asked when it is used."""
        for owner, entry, action in self._made:
            action.setEnabled(self._here(owner, entry))

    def _refresh(self) -> None:
        for owner, entry, action in self._made:
            action.setEnabled(self._here(owner, entry) and entry.when())
