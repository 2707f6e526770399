"""Changing a TOML file that people edit too: comments, unknown tables and the order of things stay."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import tomlkit
from tomlkit.exceptions import TOMLKitError

from ..model.errors import FileTrouble
from .changing import change_file
from .reading import FileKind, decoded, parse_toml


def change_toml(path: Path, change: Callable[[tomlkit.TOMLDocument], None], head: str = "") -> None:
    """Read a TOML file, change it and write it. It is read again, and changed again, where another program wrote it meanwhile.

    `change` may be called several times. `head` is what a file that is made anew begins with. Raises FileTrouble.
    """

    def apply(data: bytes | None) -> bytes:
        text = head if data is None else decoded(data, path)
        parse_toml(text, dict[str, Any], path)
        try:
            document = tomlkit.parse(text)
            change(document)
            after = tomlkit.dumps(document)
        except (TOMLKitError, RecursionError, ValueError) as error:
            raise FileTrouble(f"{path.name} cannot be changed: {error}.", path=path) from error
        parse_toml(after, dict[str, Any], path)  # what is written can be read again
        return after.encode()

    change_file(path, FileKind.SETTINGS, apply)


def table_in(holder: Any, name: str) -> Any:
    """A table of a document or of another table, made where it is not there. Raises ValueError where something else has its name."""
    if name not in holder:
        holder[name] = tomlkit.table(is_super_table=None)
    if not isinstance(holder[name], dict):
        raise ValueError(f"{name} is no table")
    return holder[name]
