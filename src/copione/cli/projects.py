"""Commands about projects."""

from __future__ import annotations

from pathlib import Path

import click

from ..model.errors import FileTrouble
from ..model.secrecy import Redactor
from .terminal import tell


@click.command()
@click.argument("folder", type=click.Path(path_type=Path, file_okay=False))
@click.pass_obj
def new(redactor: Redactor, folder: Path) -> None:
    """Create an empty project in FOLDER."""
    from ..project.project import MARK, Project

    if (folder / MARK).exists():
        raise FileTrouble(f"{folder} is a project already. Open it in the window with Ctrl+O.")
    Project.create(folder, folder.resolve().name, redactor)
    tell(f"An empty project is in {folder.resolve()}")
