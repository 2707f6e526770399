"""What the script says of its steps, and what it would say as the app is now: shown, and taken over when that is accepted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter, QPen, QPixmap
from PySide6.QtWidgets import QCheckBox, QGridLayout, QScrollArea, QVBoxLayout, QWidget
from shiboken6 import isValid

from ..comparison.finding import Finding
from ..comparison.lanes import Lane
from ..language.printer import step_words
from ..model.address import Address
from ..model.errors import CopioneError
from ..project.renewing import Renewal, Shot, can_be_renewed, renewal_of, renewals_of, take_over_all
from ..recognition.phrases import Interpreter
from . import theme
from .courier import Courier
from .message import Notice
from .parts import Label, named
from .pictures import close_part, image_in
from .sheet import Sheet
from .wording import quoted
from .workspace import Workspace

if TYPE_CHECKING:
    from ..language.document import Document
    from ..project.loaded import Loaded
    from ..project.portraits import Portraits

WIDE, TALL = 270, 150  # of a picture, pixels
LEAST_DP = 340.0  # of a screen is shown at least
Chosen = Callable[[], tuple[Renewal, ...]]  # what of it is to be taken over
MakeSheet = Callable[[QWidget, tuple[Renewal, ...], Courier], tuple[Sheet, Chosen]]


class Renewing:
    """From the question whether something is meant so to the script, and back. Files are read and written beside Qt's thread."""

    def __init__(self, page: QWidget, workspace: Workspace) -> None:
        self._page, self.workspace = page, workspace
        self._asking = False  # from the keystroke on until it is answered: once is enough

    def place(self, finding: Finding) -> tuple[Lane, Address] | None:
        """Where its step could be taken over from: a device of the lead's language, where one has it; None where nothing can be."""
        lanes = self.workspace.runs.lanes
        met = [lane for take in finding.takes if (lane := lanes.lane(take)) is not None]
        able = [lane for lane in met if (result := lane.result(finding.address)) is not None and can_be_renewed(result)]
        spoken = lanes.lanes[0].device.locale if lanes.lanes else ""
        lane = min(able, key=lambda lane: lane.device.locale != spoken, default=None)
        return (lane, finding.address) if lane is not None else None

    def ask(self, finding: Finding) -> None:
        """Show both, and take over what is now when that is accepted."""
        place = self.place(finding)
        if place is not None:
            lane, address = place
            self._begin(lane, lambda loaded, spoken: (renewal_of(loaded, lane, address, spoken),), partial(one_sheet, lane=lane))

    def ask_all(self) -> None:
        """Show all that the lead does otherwise than the script has it, and take over what is chosen of it."""
        lanes = self.workspace.runs.lanes.lanes
        if lanes:
            self._begin(lanes[0], lambda loaded, spoken: renewals_of(loaded, lanes[0], spoken), several_sheet)

    def _begin(self, lane: Lane, find: Callable[[Loaded, Interpreter], tuple[Renewal, ...]], make: MakeSheet) -> None:
        workspace, loaded = self.workspace, self.workspace.loaded
        if self._asking:
            return
        if loaded is None or loaded.script.name != workspace.runs.title:
            workspace.told.emit(f"Open the script “{workspace.runs.title}” first: its run is shown, another script is open.")
            return
        spoken = Interpreter(workspace.project.phrases(lane.device.locale))

        def show(found: tuple[Renewal, ...]) -> None:
            if not found:
                self._answered()
                workspace.told.emit(
                    f"Nothing that {lane.device.name} did is otherwise than the script has it, as far as that could be taken over."
                )
                return
            sheet, chosen = make(self._page, found, workspace.courier)
            sheet.accepted.connect(lambda: self._take(loaded, chosen()))
            sheet.accepted.connect(self._answered)
            sheet.left.connect(self._answered)
            sheet.open()

        def failed(error: CopioneError) -> None:
            self._answered()
            workspace.failed(error)

        self._asking = True
        workspace.courier.think(lambda: find(loaded, spoken), show, failed)

    def _answered(self) -> None:
        self._asking = False

    def _take(self, loaded: Loaded, renewals: Sequence[Renewal]) -> None:
        workspace = self.workspace

        def done(changed: tuple[Document, Portraits]) -> None:
            if not self._is_open(loaded.document):
                workspace.told.emit("The script has changed meanwhile: nothing is taken over.")
                return
            workspace.editing.put(*changed)
            where = f"into line {renewals[0].step.line}" if len(renewals) == 1 else f"into {len(renewals)} steps"
            undo = "Undo", partial(self._give_back, loaded, changed[0])
            workspace.offered.emit(Notice(f"Taken over {where}. Replay to see it held.", (undo,)))

        if renewals:
            workspace.courier.with_files(lambda: take_over_all(loaded, renewals), done, workspace.failed)

    def _give_back(self, loaded: Loaded, changed: Document) -> None:
        if self._is_open(changed):
            self.workspace.editing.put(loaded.document, loaded.portraits)
        else:
            self.workspace.told.emit("The script has changed since: take it back on its page, step by step.")

    def _is_open(self, document: Document) -> bool:
        self.workspace.editing.take_in()
        return self.workspace.loaded is not None and self.workspace.loaded.document is document


def one_sheet(parent: QWidget, found: tuple[Renewal, ...], courier: Courier, lane: Lane) -> tuple[Sheet, Chosen]:
    """Both beside each other, and what taking over would do."""
    (renewal,), device, build = found, lane.device.name, lane.build
    sheet = Sheet("Take it over?", "Take it over", parent, 2 * WIDE + 64)
    grid = QGridLayout()
    grid.setHorizontalSpacing(16)
    grid.setVerticalSpacing(8)
    grid.setRowMinimumHeight(1, TALL + 8)
    now = f"Now, on {device}" + (f", build {build}" if build else "")
    for column, (title, said, shot, line) in enumerate(
        (
            ("As the script has it", renewal.then, renewal.was, step_words(renewal.step)),
            (now, renewal.now, renewal.seen, step_words(renewal.changed)),
        )
    ):
        grid.addWidget(named(Label(title), "muted"), 0, column)
        grid.addWidget(_picture(shot, title, parent.devicePixelRatioF(), courier), 1, column)
        for row, words in ((2, quoted(said)), (3, line)):
            label = Label(words)
            label.setWordWrap(True)
            label.setFixedWidth(WIDE)
            if row == 3:
                label.setFont(theme.font(theme.BODY, 600))
            grid.addWidget(label, row, column)
    sheet.body.addLayout(grid)
    sheet.body.addSpacing(6)
    note = named(Label(_consequence(renewal, build)), "muted")
    note.setWordWrap(True)
    sheet.body.addWidget(note)
    return sheet, lambda: found


def several_sheet(parent: QWidget, found: tuple[Renewal, ...], courier: Courier) -> tuple[Sheet, Chosen]:
    """A line for each, to be ticked; what its target is known by is ticked already, what a check expects is not."""
    sheet = Sheet("What of this is meant so?", "Take over what is ticked", parent, 640)
    rows = QVBoxLayout()
    rows.setSpacing(10)
    boxes = []
    for renewal in found:
        box = QCheckBox(quoted(f"Line {renewal.step.line}: {step_words(renewal.step)}"))
        box.setChecked(renewal.portrait is not None and not renewal.step.is_check)
        boxes.append(box)
        words = renewal.said if renewal.changed == renewal.step else f"{renewal.said}. To be: {step_words(renewal.changed)}"
        now = named(Label(quoted(words)), "muted")
        now.setWordWrap(True)
        now.setIndent(24)
        pair = QVBoxLayout()
        pair.setSpacing(2)
        pair.addWidget(box)
        pair.addWidget(now)
        rows.addLayout(pair)
    rows.addStretch(1)
    holder = QWidget()
    holder.setLayout(rows)
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setWidget(holder)
    area.setMinimumHeight(min(360, 24 + 52 * len(found)))
    area.setAccessibleName("What is otherwise now")
    sheet.body.addWidget(area)

    def chosen() -> tuple[Renewal, ...]:
        return tuple(renewal for renewal, box in zip(found, boxes, strict=True) if box.isChecked())

    def ticked() -> None:
        sheet.main.setEnabled(bool(chosen()))

    for box in boxes:
        box.toggled.connect(ticked)
    ticked()
    return sheet, chosen


def _picture(shot: Shot | None, title: str, ratio: float, courier: Courier) -> Label:
    label = Label("" if shot is not None else "no picture of it is kept")
    label.setFixedSize(WIDE, TALL)
    label.setAlignment(Qt.AlignmentFlag.AlignCenter)
    label.setAccessibleName(f"{title}: its picture")
    if shot is not None:
        courier.think(partial(close_up, shot, ratio), partial(_put, label))
    return label


def _consequence(renewal: Renewal, build: str) -> str:
    if renewal.portrait is None:
        return f"Line {renewal.step.line} is changed for every device and build. The run stays as it is: replay to see it held."
    since = f"from build {build} on; older builds go by what was recorded" if build else "from now on"
    if renewal.renamed is not None:
        return f"It is called so on every line from now on, and known by what is here {since}. Replay to see it held."
    return f"The line stays. What its target is known by is this one, {since}. Replay to see it held."


def close_up(shot: Shot, ratio: float) -> QImage:
    """The place in its picture with what is round it, outlined. Null where the picture cannot be read."""
    image = image_in(shot.path)
    if image.isNull():
        return image
    size = QSize(WIDE, TALL)
    x, y, w, h = close_part(tuple(shot.box), shot.width, shot.height, size, LEAST_DP)
    part = QRectF(x * image.width(), y * image.height(), w * image.width(), h * image.height())
    cut = image.copy(part.toRect()).scaled(size * ratio, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    k = cut.width() / (w * shot.width)
    box = QRectF((shot.box.left - x * shot.width) * k, (shot.box.top - y * shot.height) * k, shot.box.width * k, shot.box.height * k)
    painter = QPainter(cut)
    painter.setPen(QPen(theme.INK, 2 * ratio))
    painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 6, 6)
    painter.end()
    cut.setDevicePixelRatio(ratio)
    return cut


def _put(label: Label, image: QImage) -> None:
    if not isValid(label):
        return
    if image.isNull():
        label.setText("its picture cannot be read")
    else:
        label.setPixmap(QPixmap.fromImage(image))
