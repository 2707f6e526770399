"""What a script needs at its start, asked for in one sheet."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from ...model.step import Need
from ..parts import Label, named
from ..sheet import Sheet

KEPT = "Remembered for the next time."
SECRET = "Secret: written nowhere."
EITHER = "What is secret is written nowhere; the others are remembered for the next time."


def ask_values(parent: QWidget, needs: Sequence[Need], known: Mapping[str, str], done: Callable[[Mapping[str, str]], object]) -> None:
    """Ask for a value for each; `done` with all of them. `known`: what was given the last time, or the default."""
    sheet = Sheet("What it needs", "Begin", parent, 460)
    grid = QGridLayout()
    grid.setHorizontalSpacing(14)
    grid.setVerticalSpacing(8)
    fields: dict[str, QLineEdit] = {}

    def check() -> None:
        """Every one needs a value; what may be empty has a default that is."""
        sheet.main.setEnabled(all(fields[need.name].text() or need.default == "" for need in needs if need.name in fields))

    for row, need in enumerate(needs):
        field = QLineEdit(known.get(need.name, ""))
        field.setAccessibleName(need.name)
        if need.secret:
            field.setEchoMode(QLineEdit.EchoMode.Password)
        field.textChanged.connect(lambda _words: check())
        fields[need.name] = field
        grid.addWidget(Label(need.name), row, 0, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        grid.addWidget(field, row, 1)
    secrets = {need.secret for need in needs}
    told = named(Label(SECRET if secrets == {True} else KEPT if secrets == {False} else EITHER), "caption")
    told.setWordWrap(True)
    sheet.body.addLayout(grid)
    sheet.body.addWidget(told)
    sheet.accepted.connect(lambda: done({name: field.text() for name, field in fields.items()}))
    check()
    first = next((f for f in fields.values() if not f.text()), next(iter(fields.values())))
    first.selectAll()
    sheet.open(first)
