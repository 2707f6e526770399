"""Two runs held against each other: what ended otherwise."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...comparison.change import StepChange
from ...files.places import Place
from ...model.outcome import Outcome
from .. import theme
from ..parts import Label, named
from ..renewing import Renewing
from ..sheet import Sheet
from ..wording import quoted
from ..workspace import Workspace

MOST = 200


class ComparedSheet(Sheet):
    """The earlier run is read beside Qt's thread."""

    def __init__(self, workspace: Workspace, folder: Place, title: str, parent: QWidget, renewing: Renewing) -> None:
        super().__init__("What is otherwise now", "Close", parent, 620)
        self.cancel.hide()
        self._renewing = renewing
        self.take = QPushButton("Take over what is meant so…")
        self.take.clicked.connect(self._take_over)
        self.foot.insertWidget(0, self.take)
        self.told = named(Label(f"The run that is shown, held against {title}."), "muted")
        self.told.setWordWrap(True)
        self.body.addWidget(self.told)
        self.list = QVBoxLayout()
        self.list.setSpacing(8)
        holder = QWidget()
        holder.setLayout(self.list)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(holder)
        area.setMinimumHeight(320)
        area.setAccessibleName("What is otherwise now")
        self.body.addWidget(area)
        now = workspace.runs.lanes

        def read() -> tuple[StepChange, ...]:
            from ...engine.comparing import changes_since

            return changes_since(folder, now)

        workspace.courier.read(read, self._show, lambda error: self.told.setText(error.sentence))

    def _take_over(self) -> None:
        self.leave()
        self._renewing.ask_all()

    def _show(self, found: tuple[StepChange, ...]) -> None:
        worse = sum(change.worse for change in found)
        never = sum(change.now.outcome is Outcome.UNREACHED for change in found)
        every, found = len(found), tuple(change for change in found if change.now.outcome is not Outcome.UNREACHED)
        if not every:
            self.list.addWidget(Label("Nothing: every step that both have ended alike on every device that both have."))
        for change in found[:MOST]:
            ink = theme.OUTCOME_WORDS[change.now.outcome].name()
            line = Label(f"{change.take.device}: {quoted(change.step)}")
            line.setWordWrap(True)
            said = Label(quoted(change.said))
            said.setWordWrap(True)
            said.setStyleSheet(f"color: {ink};")
            self.list.addWidget(line)
            self.list.addWidget(said)
        if len(found) > MOST:
            self.list.addWidget(Label(f"And {len(found) - MOST} more."))
        self.list.addStretch(1)
        if never:
            self.list.insertWidget(self.list.count() - 1, Label(f"And {never} steps were not come to after these."))
        if every:
            self.told.setText(f"{self.told.text()} {worse} went worse, {every - worse} did not.")
