"""What is asked when a recording ends: what the script is called, with the place where it will be."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit, QPushButton, QWidget

from ...files.naming import slug
from ...project.project import Project
from ..parts import Label, named
from ..sheet import Sheet


class SaveSheet(Sheet):
    """`name` holds the answer; the recording goes on when it is left."""

    def __init__(self, project: Project, suggested: str, steps: int, parent: QWidget) -> None:
        super().__init__(f"Save {steps} steps" if steps != 1 else "Save one step", "Save the script", parent, 460)
        self._project = project
        self.cancel.setText("Go on recording")
        self.throw = QPushButton("Throw away")
        self.foot.insertWidget(0, self.throw)
        self.field = QLineEdit(suggested)
        self.field.setAccessibleName("Name of the script")
        self.field.selectAll()
        self.field.textChanged.connect(self._changed)
        self.place = named(Label(), "muted")
        self.place.setWordWrap(True)
        self.place.setFixedHeight(2 * self.place.fontMetrics().lineSpacing() + 4)
        self.place.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.body.addWidget(self.field)
        self.body.addWidget(self.place)
        self._changed()

    @property
    def name(self) -> str:
        """What the script is to be called."""
        return " ".join(self.field.text().split())

    def _changed(self) -> None:
        self.main.setEnabled(bool(self.name))
        folder = self.place.fontMetrics().elidedText(str(self._project.scripts_folder), Qt.TextElideMode.ElideMiddle, 380)
        self.place.setText(f"It will be {slug(self.name)}.copione in\n{folder}" if self.name else "It needs a name.")
