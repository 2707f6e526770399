"""`allowances.toml` of a project: differences that are expected, with who said so, when and why."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path
from typing import Any

import msgspec
import tomlkit

from ..comparison.standing import Allowance
from ..files.reading import read_toml
from ..files.settings import change_toml
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
        for e in read_toml(path, _File).allowed
    )


def write_allowances(folder: Path, allowances: Iterable[Allowance]) -> None:
    """Have these allowances in the file, and no others; those that are there already stay as they are written. Raises FileTrouble."""
    wanted = [_facts(allowance) for allowance in allowances]

    def change(document: Any) -> None:
        there = document.setdefault("allowed", tomlkit.aot())
        left = list(wanted)
        for place in reversed(range(len(there))):
            known = {name: value for name, value in there[place].unwrap().items() if value}
            if known in left:
                left.remove(known)
            else:
                del there[place]
        for facts in left:
            there.append(tomlkit.item(facts))
        if not there:
            del document["allowed"]

    change_toml(folder / FILE, change, _HEAD)


def _facts(allowance: Allowance) -> dict[str, Any]:
    """An allowance as the file has it, without what is empty."""
    facts = {**asdict(allowance), **asdict(allowance.scope)}
    facts.pop("scope")
    return {name: list(value) if isinstance(value, tuple) else value for name, value in facts.items() if value}
