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


def change_allowances(folder: Path, before: Iterable[Allowance], after: Iterable[Allowance]) -> tuple[Allowance, ...]:
    """Do to the file what was done to the allowances that were read from it; what others changed there since stays. All that it has now.

    Raises FileTrouble.
    """
    was, wanted = [_facts(allowance) for allowance in before], [_facts(allowance) for allowance in after]
    gone, new = [facts for facts in was if facts not in wanted], [facts for facts in wanted if facts not in was]

    def change(document: Any) -> None:
        there = document.setdefault("allowed", tomlkit.aot())
        known = [{name: value for name, value in each.unwrap().items() if value} for each in there]
        for place in reversed(range(len(there))):
            if known[place] in gone:
                del there[place]
        for facts in new:
            if facts not in known:
                there.append(tomlkit.item(facts))
        if not there:
            del document["allowed"]

    change_toml(folder / FILE, change, _HEAD)
    return read_allowances(folder)


def _facts(allowance: Allowance) -> dict[str, Any]:
    """An allowance as the file has it, without what is empty."""
    facts = {**asdict(allowance), **asdict(allowance.scope)}
    facts.pop("scope")
    return {name: list(value) if isinstance(value, tuple) else value for name, value in facts.items() if value}
