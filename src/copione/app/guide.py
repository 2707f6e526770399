"""The guide, in a window of its own beside the work."""

from __future__ import annotations

from collections.abc import Mapping
from importlib.resources import files

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from . import theme
from .courier import Courier

WIDTH, HEIGHT, MARGIN = 900, 760, 56


class _Pages(QTextBrowser):
    """Shows the guide's own pictures; nothing is fetched from anywhere."""

    def __init__(self) -> None:
        super().__init__()
        self.pictures: Mapping[str, QImage] = {}

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        return self.pictures.get(name.toString() if isinstance(name, QUrl) else str(name))


class GuideDialog(QDialog):
    """Stays open beside the window; read beside Qt's thread."""

    def __init__(self, courier: Courier, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("A day with Copione")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(WIDTH, min(HEIGHT, parent.height()))
        self.pages = _Pages()
        self.pages.setAccessibleName("Guide")
        self.pages.setFont(theme.font(theme.BODY + 1))
        self.pages.setOpenLinks(False)
        self.pages.document().setDocumentMargin(24)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.pages)
        courier.think_newest("guide", _read, self._show)

    def _show(self, found: tuple[str, Mapping[str, QImage]]) -> None:
        words, self.pages.pictures = found
        self.pages.setMarkdown(words)


def _read() -> tuple[str, Mapping[str, QImage]]:
    """The guide's text, and its pictures as wide as the page."""
    folder = files("copione") / "guide"
    pictures = {}
    for each in (folder / "screenshots").iterdir():
        image = QImage.fromData(each.read_bytes()) if each.name.endswith(".png") else QImage()
        if not image.isNull():
            pictures[f"screenshots/{each.name}"] = image.scaledToWidth(WIDTH - 2 * MARGIN, Qt.TransformationMode.SmoothTransformation)
    return (folder / "guide.md").read_text("utf-8"), pictures
