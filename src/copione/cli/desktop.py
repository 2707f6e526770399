"""The command that makes Copione an application of this user's desktop: icon, menu entry, description; and takes it away again."""

from __future__ import annotations

import shlex
import shutil
import sys
from importlib.resources import files
from pathlib import Path

import click

from ..files.writing import write_whole
from ..model.errors import FileTrouble
from .terminal import tell

ID = "app.copione.copione"  # by which the desktop knows the application
#: What is put where below the user's data folder.
PLACES = {
    f"{ID}.svg": f"icons/hicolor/scalable/apps/{ID}.svg",
    f"{ID}.desktop": f"applications/{ID}.desktop",
    f"{ID}.metainfo.xml": f"metainfo/{ID}.metainfo.xml",
}


@click.command()
@click.option("--install", "way", flag_value="install", help="Install the menu entry, icon and description.")
@click.option("--remove", "way", flag_value="remove", help="Remove them.")
@click.pass_context
def desktop(context: click.Context, way: str | None) -> None:
    """Add Copione to your desktop's applications, for your user only."""
    if way is None:
        raise click.UsageError("Give --install or --remove.", context)
    for name, place in _places().items():
        if way == "install":
            words = (files("copione") / "desktop" / name).read_text("utf-8").replace("@COMMAND@", _command())
            write_whole(place, words.encode())
            tell(f"Put in place: {place}")
        elif place.exists():
            try:
                place.unlink()
            except OSError as error:
                raise FileTrouble(f"{place} could not be removed: {error.strerror}.", path=place) from error
            tell(f"Removed: {place}")
    if way == "install":
        tell("Copione is among your applications now; some desktops show it at the next login.")


def _places() -> dict[str, Path]:
    """Where each file belongs, for this user."""
    from platformdirs import user_data_path

    base = user_data_path()
    return {name: base / place for name, place in PLACES.items()}


def _command() -> str:
    """How this very Copione is started: its own script, else this Python."""
    script = Path(sys.argv[0]).resolve() if sys.argv and Path(sys.argv[0]).name == "copione" else None
    found = script if script is not None and script.exists() else shutil.which("copione", path=str(Path(sys.executable).parent))
    return _quoted(str(found)) if found else f"{_quoted(sys.executable)} -m copione"


def _quoted(word: str) -> str:
    """As the Exec key of the desktop entry specification has it."""
    if shlex.quote(word) == word:
        return word
    escaped = "".join("\\" + c if c in '"`$\\' else c for c in word)
    return f'"{escaped}"'.replace("\\", "\\\\").replace("%", "%%")
