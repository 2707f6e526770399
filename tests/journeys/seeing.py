"""What a person at the screen sees, and where: in the child's process, on Qt's thread. Places are in pixels of the X screen."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QLabel,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QWidget,
)

from copione.app.sheet import Sheet
from copione.app.window import MainWindow


def window() -> MainWindow:
    return next(w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow))


def ready() -> bool:
    """Is everything loaded, and is nothing under way?"""
    w = next((w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)), None)
    return w is not None and w.workspace is not None and w.current is not None


def workspace():
    return window().workspace


def lead():
    return workspace().lead


def idle() -> bool:
    """Has the lead done what was asked, and is its screen known?"""
    return lead().device is not None and lead().idle and not window().page(0).mirror.waiting and lead().moment is not None


def words() -> list[str]:
    return [step.words for step in workspace().recorder.steps]


def page() -> str:
    return window().current.title


def message() -> str:
    return window().message.label.text() if window().message.isVisible() else ""


def sheet() -> bool:
    """Does a sheet wait for an answer?"""
    return any(s.isVisible() and s.main.isEnabled() for s in window().findChildren(Sheet))


def focus() -> str:
    """The name of what has the keys."""
    widget = QApplication.focusWidget()
    return said(widget) if widget is not None else ""


def said(widget: QWidget) -> str:
    text = widget.text() if isinstance(widget, QAbstractButton | QLabel) else ""
    return widget.accessibleName() or text or (widget.placeholderText() if isinstance(widget, QLineEdit) else "")


def _pixels(widget: QWidget, place: QPoint) -> list[int]:
    there = widget.mapToGlobal(place) * widget.devicePixelRatioF()
    return [int(there.x()), int(there.y())]


def _seen(widget: QWidget) -> QRect:
    """The part of a widget that is in sight."""
    return widget.visibleRegion().boundingRect() if widget.isVisible() else QRect()


def where(name: str, part: bool = False) -> list[int] | None:
    """The middle of what is called so: a button, a field, a line of a list, an entry of a menu. `part`: its name only begins so."""

    def fits(words: str) -> bool:
        words = words.replace("&", "")
        return words.startswith(name) if part else words == name

    for menu in QApplication.topLevelWidgets():
        if isinstance(menu, QMenu) and menu.isVisible():
            for action in menu.actions():
                if fits(action.text()):
                    return _pixels(menu, menu.actionGeometry(action).center())
    shown = [w for w in QApplication.allWidgets() if not _seen(w).isEmpty()]
    for kind in (QAbstractButton | QLineEdit | QPlainTextEdit, QWidget):
        found = [w for w in shown if isinstance(w, kind) and fits(said(w)) and w.isEnabled()]
        if found:
            return _pixels(found[-1], _seen(found[-1]).center())
    for view in shown:
        if isinstance(view, QAbstractItemView) and view.model() is not None:
            for row in range(view.model().rowCount()):
                index = view.model().index(row, 0)
                if fits(str(index.data())) and view.visualRect(index).intersects(view.viewport().rect()):
                    return _pixels(view.viewport(), view.visualRect(index).center())
    return None


def element(role: str, name: str) -> list[int] | None:
    """The middle of an element of the lead's screen, where the mirror shows it."""
    moment = lead().moment
    found = next((e for e in moment.screen if (e.role, e.name) == (role, name)), None) if moment and moment.screen else None
    return glass(*found.box.centre) if found is not None else None


def box(role: str, name: str) -> list[float]:
    """An element's box on the lead, dp."""
    return list(next(e for e in lead().moment.screen if (e.role, e.name) == (role, name)).box)


def glass(x: float, y: float) -> list[int]:
    """A place of the lead's screen, dp."""
    mirror = window().page(0).mirror
    return _pixels(mirror, mirror.from_dp(x, y).toPoint())


def menu() -> list[str]:
    """What the menu that is open offers, in order."""
    shown = [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible()]
    return [action.text() for action in shown[-1].actions() if action.text()] if shown else []


def choice_is_clear() -> bool:
    """Is the choice of checks within the page, and clear of what it is about?"""
    stage = window().page(0)
    there = stage.choice.geometry()
    return stage.rect().contains(there) and not there.intersects(stage._clear(stage.mirror.box(stage.mirror.asked)))


def cell(device: str, number: int) -> list[int]:
    """The middle of a cell of the lanes: a device's, the step's number from 1."""
    view = window().page(2).view
    lane = next(lane for lane in view.lanes.lanes if lane.device.name == device)
    return _pixels(view.viewport(), view.cell_of(lane.name, view.lanes.columns[number - 1].address).center().toPoint())


def outside() -> list[str]:
    """Controls in sight of which a part lies beyond the window or the screen."""
    room = window().screen().availableGeometry()
    found = []
    for w in QApplication.allWidgets():
        if isinstance(w, QAbstractButton) and w.isVisible() and not w.visibleRegion().isEmpty():
            there = QRect(w.mapToGlobal(QPoint(0, 0)), w.size())
            if not room.contains(there) or w.visibleRegion().boundingRect().size() != w.size():
                found.append(said(w))
    return found
