"""The frame of the step in the middle of the page; while something is tried, the device's screen beside it."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ..courier import Courier
from ..parts import named, section
from ..pictures import PictureCache
from .frame import FrameView
from .trial import NowView


class Desk(QWidget):
    """`frame` as recorded, and `now`, which is there during a trial."""

    def __init__(self, pictures: PictureCache, courier: Courier, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        named(self, "desk")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.frame, self.now = FrameView(pictures), NowView(courier)
        self._titles, self._sides = [], []
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        for words, view in (("As recorded", self.frame), ("Now", self.now)):
            side, title = QWidget(), section(words)
            title.setContentsMargins(16, 10, 0, 0)
            column = QVBoxLayout(side)
            column.setContentsMargins(0, 0, 0, 0)
            column.addWidget(title)
            column.addWidget(view, 1)
            self._titles.append(title)
            self._sides.append(side)
            across.addWidget(side, 1)
        self.show_now(False)

    def show_now(self, shown: bool) -> None:
        """Both, or the recorded one alone."""
        for title in self._titles:
            title.setVisible(shown)
        self._sides[1].setVisible(shown)
