"""Everything on the screen as a list, seen or not: to check what no pointer reaches."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ...model.screen import Element, Screen
from ...recognition.reach import reach
from ..palette import fits, rank
from ..parts import Label, named


class EverythingDialog(QDialog):
    """Enter or a click takes an element."""

    taken = Signal(object)

    def __init__(self, screen: Screen, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Everything on this screen")
        self.setMinimumSize(460, 480)
        self.elements = [e for e in screen if e.name]
        self.field = QLineEdit(placeholderText="A few letters of what it says")
        self.field.setAccessibleName("Filter the elements")
        self.list = QListWidget()
        self.list.setAccessibleName("Elements")
        hint = named(Label("Choose what to check; what cannot be seen just now says why."), "muted")
        layout = QVBoxLayout(self)
        for widget in (hint, self.field, self.list):
            layout.addWidget(widget)
        self.field.textChanged.connect(self._filter)
        self.field.returnPressed.connect(lambda: self._take(self.list.currentItem()))
        self.list.itemActivated.connect(self._take)
        self._filter("")

    def _filter(self, letters: str) -> None:
        self.list.clear()
        for element in sorted((e for e in self.elements if fits(letters, e.name)), key=lambda e: rank(letters, e.name)):
            there = reach(element)
            item = QListWidgetItem(element.called + (f"    {there.reason}" if there.reason else ""))
            item.setData(Qt.ItemDataRole.UserRole, element)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _take(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            element: Element = item.data(Qt.ItemDataRole.UserRole)
            self.accept()
            self.taken.emit(element)
