"""What a line of a script can be."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.step import Need, Step


@dataclass(frozen=True)
class Header:
    """A line that is not a step: script, app, patience, data, uses or scene with its value, covers with `several`.

    A scene's `several` are the names of the values it asks for.
    """

    kind: str
    value: str
    several: tuple[str, ...] = ()


Item = Header | Need | Step | None
