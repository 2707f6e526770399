"""The sheet that asks why a finding is expected: who says so, why, until when."""

from __future__ import annotations

import getpass
import re
import time
from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QWidget

from ...comparison.finding import Finding
from ...comparison.standing import Allowance, allowance_for
from ..parts import Label, named
from ..sheet import Sheet
from ..wording import quoted

WHO = "who/expects"
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")


def ask_why(parent: QWidget, finding: Finding, script: str, who: str, done: Callable[[Allowance], object]) -> None:
    """`done` with the allowance that was put together."""
    sheet = Sheet("Expected here", "Expect it", parent, 480)
    told = named(Label(f"{quoted(finding.title)}. It will not be counted again on {', '.join(finding.devices)}."), "muted")
    told.setWordWrap(True)
    sheet.body.addWidget(told)
    fields = {}
    for name, value, hint in (
        ("Why", "", "the reason, for whoever reads it later"),
        ("Who says so", who or _user(), ""),
        ("Until (a day, or empty)", "", "2027-03-01"),
    ):
        sheet.body.addSpacing(4)
        sheet.body.addWidget(Label(name))
        field = fields[name] = QLineEdit(value)
        field.setAccessibleName(name)
        field.setPlaceholderText(hint)
        sheet.body.addWidget(field)
    why, by, until = fields.values()

    def checked() -> None:
        day = until.text().strip()
        sheet.main.setEnabled(bool(why.text().strip()) and (not day or _DAY.fullmatch(day) is not None))

    for field in fields.values():
        field.textChanged.connect(checked)
    checked()

    def accepted() -> None:
        said = (" ".join(field.text().split()) for field in (by, why, until))
        who_says, reason, day = said
        done(allowance_for(finding, script, who_says, time.strftime("%Y-%m-%d"), reason, day))

    sheet.accepted.connect(accepted)
    sheet.open(why)


def _user() -> str:
    try:
        return getpass.getuser()
    except (OSError, KeyError):
        return ""
