"""What scripts are called, and which files are theirs."""

from __future__ import annotations

import re
from pathlib import Path

from ..language.quoting import unquoted

HEAD_CHARS = 4000  # within which a script says its name
_NAMED = re.compile(r'^(\s*script\s+)("(?:\\.|[^"\\])*")', re.M)


def name_in(text: str) -> str:
    """What a script calls itself; empty where it does not say."""
    match = _NAMED.search(text[:HEAD_CHARS])
    return unquoted(match.group(2)) if match is not None else ""


def with_name(text: str, quoted_name: str) -> str:
    """A script's text with another name, in quotes."""
    said = _NAMED.sub(lambda match: match.group(1) + quoted_name, text, count=1)
    return said if name_in(said) else f"script {quoted_name}\n{text}"


def portraits_path(script: Path) -> Path:
    """Where the portraits of a script are kept."""
    return script.with_name(script.stem + ".portraits.json")


def frames_folder(script: Path) -> Path:
    """Where the recorded frames of a script are kept."""
    return script.with_name(script.stem + ".frames")


def parts_of_script(script: Path) -> tuple[Path, Path, Path]:
    """A script's files: itself, its portraits, its frames."""
    return script, portraits_path(script), frames_folder(script)


def free_script_path(path: Path) -> Path:
    """The path of a script, or the first like it with a number behind it, of which none of its files is there."""
    number, found = 1, path
    while any(part.exists() for part in parts_of_script(found)):
        number += 1
        found = path.with_name(f"{path.stem}-{number}{path.suffix}")
    return found
