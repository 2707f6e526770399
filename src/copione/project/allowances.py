"""`allowances.toml` of a project: differences that are expected, with who said so, when and why."""

from __future__ import annotations

import json
import tomllib
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path

import msgspec

from ..comparison.standing import Allowance
from ..model.errors import FileTrouble
from .files import DAMAGED, read_bytes, write_whole
from .scopes import ScopeEntry

FILE = "allowances.toml"
_HEAD = "# What is expected on some devices. Copione writes this file; it may be edited by hand.\n"


class _Entry(ScopeEntry, kw_only=True, forbid_unknown_fields=True):
    """One `[[allowed]]` of the file."""

    about: str
    what: str
    script: str = ""
    variant: str = ""
    who: str = ""
    when: str = ""
    why: str = ""
    until: str = ""
    until_build: str = ""


class _File(msgspec.Struct, forbid_unknown_fields=True):
    """The whole file."""

    allowed: list[_Entry] = []


def read_allowances(folder: Path) -> tuple[Allowance, ...]:
    """What a project expects; nothing where it says nothing. Raises FileTrouble."""
    path = folder / FILE
    if not path.exists():
        return ()
    try:
        told = msgspec.convert(tomllib.loads(read_bytes(path).decode("utf-8")), _File)
    except (*DAMAGED, tomllib.TOMLDecodeError, msgspec.ValidationError) as error:
        raise FileTrouble(f"{path} cannot be used: {error}.", path=path) from error
    return tuple(
        Allowance(
            script=e.script,
            about=e.about,
            what=e.what,
            scope=e.scope,
            variant=e.variant,
            who=e.who,
            when=e.when,
            why=e.why,
            until=e.until,
            until_build=e.until_build,
        )
        for e in told.allowed
    )


def write_allowances(folder: Path, allowances: Iterable[Allowance]) -> None:
    """Replace the file. Raises FileTrouble."""
    parts = [_HEAD]
    for allowance in allowances:
        facts = {**asdict(allowance), **asdict(allowance.scope)}
        facts.pop("scope")
        lines = [f"{name} = {_value(value)}" for name, value in facts.items() if value]
        parts.append("\n[[allowed]]\n" + "\n".join(lines) + "\n")
    write_whole(folder / FILE, "".join(parts).encode())


def _value(value: object) -> str:
    return json.dumps(list(value) if isinstance(value, tuple) else value, ensure_ascii=False)
