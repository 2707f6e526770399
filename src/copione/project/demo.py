"""The demo project that comes with the package: a script of the sample app with its portraits, frames and data."""

from __future__ import annotations

import os
import shutil
import time
from importlib.resources import as_file, files
from pathlib import Path

from ..files.reading import trouble
from .project import MARK

FIRST = "spring-inspection.copione"  # what is opened first: the newest script is
KEPT = ("runs", "recordings")  # of whoever used it in place


def copy_demo(folder: Path, *, anew: bool = False) -> Path | None:
    """Make the demo project in a folder, unless it is there. `anew`: what is there is put aside first; returns where.

    Raises FileTrouble.
    """
    aside = None
    try:
        if anew and folder.exists():
            aside = folder.with_name(f"{folder.name}-until-{time.strftime('%Y-%m-%d-%H%M%S')}")
            folder.rename(aside)
        if not (folder / MARK).exists():
            with as_file(files("copione") / "demo" / "hive-diary") as source:
                shutil.copytree(source, folder, ignore=shutil.ignore_patterns(*KEPT, "__pycache__"), dirs_exist_ok=True)
            os.utime(folder / "scripts" / FIRST)
    except OSError as error:
        raise trouble(error, folder) from error
    return aside
