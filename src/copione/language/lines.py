"""What a line of a script can be."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.step import Step


@dataclass(frozen=True)
class Header:
    """A line that is not a step: script, app, patience, data or scene, and its value."""

    kind: str
    value: str


Item = Header | Step | None
