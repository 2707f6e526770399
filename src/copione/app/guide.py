"""The guide, in a window of its own beside the work."""

from __future__ import annotations

from importlib.resources import as_file, files
from pathlib import Path

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from . import theme

WIDTH, HEIGHT, MARGIN = 900, 760, 56


class _Pages(QTextBrowser):
    """Pictures are as wide as the page; nothing is fetched from anywhere but the guide's own folder."""

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self._folder = folder

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        words = name.toString() if isinstance(name, QUrl) else str(name)
        path = (self._folder / words).resolve()
        if Path(words).suffix != ".png" or Path(words).parent.name != "screenshots" or not path.exists():
            return None
        image = QImage(str(path))
        return image.scaledToWidth(self._wide(), Qt.TransformationMode.SmoothTransformation) if not image.isNull() else None

    def _wide(self) -> int:
        return max(320, WIDTH - 2 * MARGIN)


class GuideDialog(QDialog):
    """Stays open beside the window."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("A day with Copione")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(WIDTH, min(HEIGHT, parent.height()))
        with as_file(files("copione") / "guide") as folder:
            self.pages = _Pages(folder)
            self.pages.setAccessibleName("Guide")
            self.pages.setFont(theme.font(theme.BODY + 1))
            self.pages.setOpenLinks(False)
            self.pages.document().setDocumentMargin(24)
            self.pages.setMarkdown((folder / "guide.md").read_text("utf-8"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.pages)
