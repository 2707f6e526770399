"""The composition root of the window."""

from __future__ import annotations

import sys
from pathlib import Path

from platformdirs import user_config_path, user_documents_path
from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from ..links.bench import Bench
from ..project.project import MARK, Project
from . import theme
from .window import MainWindow
from .workspace import Workspace


def run(bench: Bench, folder: Path | None) -> int:
    """Open the window on a project: the one given, the last one, or a new one among the user's documents."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Copione")
    theme.apply(app)
    settings = QSettings(str(user_config_path("copione") / "window.ini"), QSettings.Format.IniFormat)
    last = settings.value("project")
    if folder is None:
        folder = Path(str(last)) if last and (Path(str(last)) / MARK).exists() else user_documents_path() / "Copione"
    window = build(bench, Project.create(folder, folder.name), settings)
    window.show()
    window.workspace.begin()
    return int(app.exec())


def build(bench: Bench, project: Project, settings: QSettings) -> MainWindow:
    """The window and everything it works with, not yet shown and looking at nothing."""
    return MainWindow(Workspace(bench, project), settings)
