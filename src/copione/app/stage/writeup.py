"""The few questions of a defect write-up."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from ...report.defect import Defect
from ..parts import Label, named


class WriteUpDialog(QDialog):
    """Asks for a title, what was expected and what was seen; steps, device, build, pictures and log are there already."""

    def __init__(self, steps: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Write up a defect")
        self.setMinimumWidth(460)
        words = named(Label(f"The {steps} steps, pictures, device, build and log come with it."), "muted")
        words.setWordWrap(True)
        self.title = QLineEdit(placeholderText="In one line: what is wrong")
        self.expected, self.seen = QPlainTextEdit(), QPlainTextEdit()
        form = QFormLayout()
        for name, field in (("What", self.title), ("Expected", self.expected), ("Seen", self.seen)):
            field.setAccessibleName(name)
            form.addRow(name, field)
        for field in (self.expected, self.seen):
            field.setFixedHeight(74)
            field.setTabChangesFocus(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.write = buttons.addButton("Write it up", QDialogButtonBox.ButtonRole.AcceptRole)
        self.write.setEnabled(False)
        self.title.textChanged.connect(lambda words: self.write.setEnabled(bool(words.strip())))
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 16)
        layout.addWidget(words)
        layout.addLayout(form)
        layout.addWidget(buttons)

    def defect(self) -> Defect:
        return Defect(self.title.text().strip(), self.expected.toPlainText().strip(), self.seen.toPlainText().strip())
