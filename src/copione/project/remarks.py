"""Remarks as files: `remarks.toml` says which kinds are not wanted, where, and why; a run keeps what it noticed as lines of JSON."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import msgspec

from ..comparison.standing import DeviceScope
from ..files.places import Place
from ..files.reading import DAMAGED, FileKind, read_lines, read_toml
from ..model.address import Address
from ..model.device import DeviceProfile
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.remark import Remark, RemarkKind
from ..model.remark_kinds import kind_called
from ..model.take import TakeName
from .scopes import ScopeEntry

FILE = "remarks.toml"
KEPT = "remarks.jsonl"


@dataclass(frozen=True)
class MutedRemark:
    """A kind that is not remarked on: everywhere, or on some devices, or about one element."""

    kind: RemarkKind
    scope: DeviceScope = field(default_factory=DeviceScope)
    element: str = ""
    why: str = ""

    def fits(self, remark: Remark, device: DeviceProfile) -> bool:
        """Is that remark one of them?"""
        about = not self.element or self.element.casefold() in (remark.name.casefold(), remark.key.casefold())
        return remark.kind == self.kind and about and self.scope.fits(device)


class _Entry(ScopeEntry, kw_only=True, forbid_unknown_fields=True):
    """One `[[off]]` of the file."""

    kind: str
    element: str = ""
    why: str = ""

    def off(self) -> MutedRemark:
        """As it is meant. Raises ValueError for a kind that there is not."""
        return MutedRemark(kind_called(self.kind), self.scope, self.element, self.why)


class _File(msgspec.Struct, forbid_unknown_fields=True):
    """The whole file."""

    off: list[_Entry] = []


def wanted_off(folder: Path) -> tuple[MutedRemark, ...]:
    """What a project's file says; nothing without one. Raises FileTrouble, with the kinds that there are."""
    path = folder / FILE
    if not path.exists():
        return ()
    try:
        return tuple(entry.off() for entry in read_toml(path, _File).off)
    except ValueError as error:
        raise FileTrouble(f"{path} cannot be used: {error}.", path=path) from error


def remark_record(remark: Remark) -> dict[str, Any]:
    """A remark as plain values."""
    return {
        "kind": remark.kind.value,
        "key": remark.key,
        "over": remark.over,
        "name": remark.name,
        "here": remark.here,
        "elsewhere": remark.elsewhere,
        "take": _take(remark.take),
        "address": str(remark.address),
        "box": [round(v, 2) for v in remark.box] if remark.box is not None else None,
        "shot": remark.shot,
        "page": remark.page,
        "example_box": [round(v, 2) for v in remark.example_box] if remark.example_box is not None else None,
        "example_shot": remark.example_shot,
        "fine": [_take(take) for take in remark.fine],
    }


def _take(name: TakeName) -> list[object]:
    return [name.device, name.row, name.which]


def lines_of(remarks: Iterable[Remark]) -> str:
    """A line of JSON each."""
    return "".join(json.dumps(remark_record(remark), ensure_ascii=False) + "\n" for remark in remarks)


def read_remarks(run: Place) -> tuple[Remark, ...]:
    """What a run noticed; lines that were not written whole are left out. Raises FileTrouble where the file cannot be read."""
    path = run / KEPT
    if not path.exists():
        return ()
    found = []
    for line in read_lines(path, FileKind.LINES):
        try:
            found.append(_remark(msgspec.json.decode(line, type=dict[str, Any])))
        except DAMAGED:
            continue
    return tuple(found)


def _remark(record: Mapping[str, Any]) -> Remark:
    box, example = record.get("box"), record.get("example_box")
    return Remark(
        kind=kind_called(str(record["kind"])),
        key=str(record["key"]),
        over=str(record.get("over", "")),
        name=str(record["name"]),
        here=str(record["here"]),
        elsewhere=str(record["elsewhere"]),
        take=_named(record["take"]),
        address=Address.parse(str(record["address"])),
        box=Box(*(float(v) for v in box)) if box else None,
        shot=Path(str(record.get("shot", ""))).name,
        example_box=Box(*(float(v) for v in example)) if example else None,
        example_shot=Path(str(record.get("example_shot", ""))).name,
        page=int(record.get("page", 0)),
        fine=tuple(_named(each) for each in record.get("fine", ())),
    )


def _named(each: Any) -> TakeName:
    device, row, which = each
    return TakeName(str(device), int(row), int(which))
