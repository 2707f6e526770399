"""The steps so far: a close crop round the target with the gesture on it, and the sentence as the script will have it."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPen, QTextDocument
from PySide6.QtWidgets import QInputDialog, QListView, QMenu, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from .. import theme
from ..pictures import PictureCache, close_part
from ..recorder import Recorder
from ..wording import sentence, verb_of
from . import marks

if TYPE_CHECKING:
    from ...recording.recording import RecordedStep, Steps

CROP = QSize(92, 48)
CROP_DP = 150.0  # width of the screen shown in a crop
STEP_HIGH, SCENE_HIGH = 70, 34
Index = QModelIndex | QPersistentModelIndex


class StepsModel(QAbstractListModel):
    """Scenes as headings, steps under them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows: list[str | RecordedStep] = []
        self.numbers: dict[int, int] = {}

    def show(self, steps: Steps, scene: str) -> None:
        rows: list[str | RecordedStep] = []
        last = None
        for step in steps:
            if step.scene != last:
                rows.append(step.scene)
                last = step.scene
            rows.append(step)
        if scene and scene != last:
            rows.append(scene)
        self.beginResetModel()
        self.rows = rows
        self.numbers = {step.uid: number for number, step in enumerate(steps, 1)}
        self.endResetModel()

    def rowCount(self, _parent: Index = QModelIndex()) -> int:  # noqa: B008
        return len(self.rows)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return row if isinstance(row, str) else row.words
        if role == Qt.ItemDataRole.ToolTipRole and not isinstance(row, str) and row.element is not None:
            from ...recognition.ease import advice

            return advice(row.element) or None  # how easy it is was found out when it was recorded
        return None


def _worded(step: RecordedStep) -> str:
    """The sentence, a drawing's path cut short; of a step in doubt paler, with the reason under it."""
    words = sentence(re.sub(r'path "(.{14}).+"', r'path "\1 …"', step.words))
    if step.doubt is None:
        return words
    muted = theme.MUTED.name()
    said = step.doubt.value
    doubt = f"{said}: {len(step.others)} other readings in its menu" if step.others else said
    return f'<span style="color:{muted}">{words}</span><br><span style="color:{muted}; font-size:11px">{doubt}</span>'


class StepDelegate(QStyledItemDelegate):
    """Paints a heading or a step."""

    def __init__(self, pictures: PictureCache, shots: Callable[[], Path | None], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.pictures, self.shots = pictures, shots

    def sizeHint(self, _option: QStyleOptionViewItem, index: Index) -> QSize:
        model = index.model()
        assert isinstance(model, StepsModel)
        return QSize(200, SCENE_HIGH if isinstance(model.rows[index.row()], str) else STEP_HIGH)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        model = index.model()
        assert isinstance(model, StepsModel)
        row = model.rows[index.row()]
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(option.rect)
        if isinstance(row, str):
            painter.setFont(theme.font(theme.BODY, 700))
            painter.setPen(theme.INK)
            painter.drawText(area.adjusted(34, 8, -8, 0), Qt.AlignmentFlag.AlignVCenter, row)
        else:
            selected = bool(option.state & QStyle.StateFlag.State_Selected)
            self._step(painter, area, row, model.numbers[row.uid], selected)
        painter.restore()

    def _step(self, painter: QPainter, area: QRectF, step: RecordedStep, number: int, selected: bool) -> None:
        card = area.adjusted(34, 3, -14, -3)
        painter.setFont(theme.font(theme.CAPTION))
        painter.setPen(theme.MUTED)
        painter.drawText(
            QRectF(area.left() + 4, area.top(), 24, area.height()), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, str(number)
        )
        painter.setPen(QPen(theme.CHECK if selected else theme.RULE, 1.6 if selected else 1))
        painter.setBrush(theme.SHEET)
        painter.drawRoundedRect(card, 7, 7)
        crop = QRectF(card.left() + 8, card.top() + 8, CROP.width(), CROP.height())
        self._crop(painter, crop, step)
        document = QTextDocument()
        document.setDefaultFont(theme.font())
        document.setHtml(_worded(step))
        document.setTextWidth(card.right() - crop.right() - 46)
        painter.translate(crop.right() + 10, card.center().y() - document.size().height() / 2)
        document.drawContents(painter)
        painter.resetTransform()
        if step.bars:
            marks.bars(painter, card.right() - 26, card.center().y() + 6, step.bars)

    def _crop(self, painter: QPainter, crop: QRectF, step: RecordedStep) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(crop, 4, 4)
        folder, element = self.shots(), step.element
        if folder is None or not step.shot:
            return
        path = folder / f"{step.shot}.png"
        ratio = painter.device().devicePixelRatioF()
        box = step.box
        if element is None or box is None:
            part = (0.0, 0.0, 1.0, 0.24)  # the head of the page
            pixmap = self.pictures.get(path, (crop.size() * ratio).toSize(), part)
        else:
            part = close_part(box, element.screen.width, element.screen.height, CROP, CROP_DP)
            pixmap = self.pictures.get(path, (crop.size() * ratio).toSize(), part)
        if pixmap is None or pixmap.isNull():
            return
        wide, tall = pixmap.width() / ratio, pixmap.height() / ratio
        place = QRectF(crop.center().x() - wide / 2, crop.center().y() - tall / 2, wide, tall)
        painter.drawPixmap(place, pixmap, QRectF(pixmap.rect()))
        if element is None or box is None:
            return
        painter.save()
        painter.setClipRect(crop)
        screen = element.screen

        def at(x: float, y: float) -> QPointF:
            return QPointF(
                place.left() + (x / screen.width - part[0]) / part[2] * wide, place.top() + (y / screen.height - part[1]) / part[3] * tall
            )

        if verb_of(step.words) == "check":
            marks.outline(painter, QRectF(at(box.left, box.top), at(box.right, box.bottom)), theme.CHECK, 1.6)
        else:
            marks.gesture(painter, step.step.verb, [at(x, y) for x, y in step.mark], 7)
        painter.restore()


class StepsView(QListView):
    """Backspace or Delete removes the step chosen, or the last one."""

    remove_asked = Signal(int)
    take_back_asked = Signal()

    def __init__(self, recorder: Recorder, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.recorder, self.pictures = recorder, pictures
        self.steps = StepsModel(self)
        self.setModel(self.steps)
        self.setItemDelegate(StepDelegate(pictures, lambda: recorder.folder, self))
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Steps so far")
        self.setSelectionMode(QListView.SelectionMode.ExtendedSelection)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(self._menu)
        recorder.steps_changed.connect(self._refresh)
        pictures.arrived.connect(self.viewport().update)
        self.doubleClicked.connect(self._rename)

    def _refresh(self) -> None:
        self.steps.show(self.recorder.steps, self.recorder.scene if self.recorder.active else "")
        self.scrollToBottom()

    def current_step(self) -> RecordedStep | None:
        index = self.currentIndex()
        row = self.steps.rows[index.row()] if index.isValid() and index.row() < len(self.steps.rows) else None
        return None if isinstance(row, str) else row

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            step = self.current_step()
            if step is not None:
                self.remove_asked.emit(step.uid)
            else:
                self.take_back_asked.emit()
        elif event.key() == Qt.Key.Key_F2:
            self._rename(self.currentIndex())
        else:
            super().keyPressEvent(event)

    def _menu(self, place: QPoint) -> None:
        step = self.current_step()
        if step is not None:
            self.menu_for(step).popup(self.viewport().mapToGlobal(place))

    def menu_for(self, step: RecordedStep) -> QMenu:
        """What can be done with a step, or with all that are selected."""
        from .corrections import correct, idle_steps

        uids = self.chosen_uids()
        menu = QMenu(self)
        menu.addAction("Delete this step", lambda: self.remove_asked.emit(step.uid))
        correct(menu, self.recorder, step, self.pictures, self)
        menu.addSeparator()
        many = f"these {len(uids)} steps" if len(uids) > 1 else "this step"
        menu.addAction(f"Save {many} as a script", lambda: self._save_stretch(uids))
        menu.addAction(f"Write up {many} as a defect", lambda: self.write_up(uids))
        idle = idle_steps(self.recorder)
        if idle:
            menu.addAction(f"Delete {len(idle)} that changed nothing", lambda: self._remove(idle))
        return menu

    def _remove(self, uids: list[int]) -> None:
        for uid in uids:
            self.remove_asked.emit(uid)

    def chosen_uids(self) -> list[int]:
        """The steps that are selected, in order."""
        rows = sorted(index.row() for index in self.selectedIndexes())
        chosen = [self.steps.rows[row] for row in rows if row < len(self.steps.rows)]
        return [row.uid for row in chosen if not isinstance(row, str)]

    def _save_stretch(self, uids: list[int]) -> None:
        name, given = QInputDialog.getText(self, "Save these steps as a script", "Name of the script")
        if given and name.strip():
            self.recorder.save_stretch(name.strip(), uids)

    def write_up(self, uids: list[int] | None = None) -> None:
        """Ask what is wrong, then write the steps up: those given, or all."""
        from .writeup import WriteUpDialog

        dialog = WriteUpDialog(len(uids or self.recorder.steps), self)
        dialog.accepted.connect(lambda: self.recorder.write_up(dialog.defect(), uids or None))
        dialog.open()

    def _rename(self, index: QModelIndex) -> None:
        row = self.steps.rows[index.row()] if index.isValid() else None
        if isinstance(row, str):
            name, given = QInputDialog.getText(self, "Rename the scene", "Name of the scene", text=row)
            if given and name.strip():
                self.recorder.edit(lambda recording: recording.rename_scene(row, name.strip()))
