"""The portrait of a target, beside the pointer over its line."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPoint, QSize, Qt
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from ...recognition.evidence import Piece, pieces
from .. import theme
from ..parts import Label, named
from ..pictures import PictureCache, close_part
from ..wording import quoted
from ..workspace import Workspace

PICTURE = QSize(132, 92)


class HoverCard(QFrame):
    """A small card; it goes as soon as the pointer moves on."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.ToolTip)
        named(self, "card")
        self._picture = Label()
        self._picture.setFixedSize(PICTURE)
        self._picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._title = Label()
        self._title.setFont(theme.font(theme.BODY, 600))
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(12)
        self._grid.setVerticalSpacing(2)
        side = QVBoxLayout()
        side.addWidget(self._title)
        side.addLayout(self._grid)
        side.addStretch(1)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 8, 12, 8)
        row.setSpacing(12)
        row.addWidget(self._picture)
        row.addLayout(side)

    def show_at(self, place: QPoint, words: str, told: Sequence[Piece], picture: QPixmap | None, note: str) -> None:
        """Show a target's evidence beside a place on the screen; `note` where there is none."""
        self._title.setText(quoted(words))
        while (item := self._grid.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.deleteLater()
        for line, piece in enumerate(told):
            self._grid.addWidget(named(Label(piece.kind), "caption"), line, 0)
            self._grid.addWidget(Label(piece.value[:48]), line, 1)
            self._grid.addWidget(named(Label(piece.uniqueness), "caption"), line, 2)
        if note:
            self._grid.addWidget(named(Label(note), "caption"), len(told), 0, 1, 3)
        self._picture.setVisible(picture is not None)
        if picture is not None:
            kept = picture.scaled(PICTURE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
            self._picture.setPixmap(kept)
        self.adjustSize()
        self.move(place + QPoint(14, 18))
        self.show()


class Targets:
    """Close pictures of the script's targets, and the card that tells of one under the pointer."""

    def __init__(self, workspace: Workspace, pictures: PictureCache, parent: QWidget) -> None:
        self._workspace, self._pictures = workspace, pictures
        self.card = HoverCard(parent)

    def picture(self, key: str) -> QPixmap | None:
        """Of a target by its words; None where there is none, or while it is fetched."""
        loaded = self._workspace.loaded
        portrait = next((p for p in loaded.portraits.get(key, ()) if not p.grip), None) if loaded is not None else None
        path = self._workspace.frame_of(portrait)
        if portrait is None or path is None:
            return None
        screen, shape = portrait.screen, PICTURE * 2
        part = close_part(tuple(portrait.box), screen.width, screen.height, shape, 150.0)
        return self._pictures.get(path, QSize(shape), part)

    def show_at(self, line: int, place: QPoint) -> None:
        """The card of a line's target; line 0 takes it away."""
        step = self._workspace.step_at(line) if line else None
        if step is None or step[1].line != line or not step[1].key():
            self.card.hide()
            return
        portrait = self._workspace.portrait_of(*step)
        told = pieces(portrait)[:5] if portrait is not None else []
        note = "" if portrait is not None else "Nothing was recorded of it: it is found by kind and name."
        self.card.show_at(place, step[1].key(), told, self.picture(step[1].key()), note)
