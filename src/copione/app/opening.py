"""Files handed to the desktop's own programs."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QDesktopServices


def open_file(path: Path) -> bool:
    """Open a file with whatever this user opens such files with; False where nothing takes it."""
    return QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))
