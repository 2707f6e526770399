"""Every action once: its words, its shortcut, what it does. Menu bar, palette and keys are made from the same list."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenuBar


@dataclass(frozen=True)
class Entry:
    """`menu` names the menu it stands in; `when` tells whether it can be done now."""

    menu: str
    words: str
    keys: str
    act: Callable[[], object]
    when: Callable[[], bool] = lambda: True


def install(window: QMainWindow, entries: list[Entry]) -> list[QAction]:
    """Menus and shortcuts for all entries, in order."""
    bar: QMenuBar = window.menuBar()
    menus = {}
    made = []
    for entry in entries:
        menu = menus.get(entry.menu) or menus.setdefault(entry.menu, bar.addMenu(entry.menu))
        action = QAction(entry.words, window)
        if entry.keys:
            action.setShortcut(QKeySequence(entry.keys))
        action.triggered.connect(lambda _checked=False, e=entry: e.act() if e.when() else None)
        menu.addAction(action)
        menu.aboutToShow.connect(lambda a=action, e=entry: a.setEnabled(e.when()))
        menu.aboutToHide.connect(lambda a=action: a.setEnabled(True))
        made.append(action)
    return made
