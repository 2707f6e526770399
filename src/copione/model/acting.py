"""What every action of a step has."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import ClassVar

from .target import Target
from .words import Worded


@dataclass(frozen=True)
class Action(Worded):
    """Base of all. `verb` is the word its lines begin with; `touches` tells whether it changes something on the device; `of_page`,
    whether the page that is shown has anything to do with it."""

    verb: ClassVar[str] = ""
    touches: ClassVar[bool] = True
    of_page: ClassVar[bool] = True

    @property
    def tables(self) -> tuple[str, ...]:
        """The tables that it reads, whose columns are variables in the block that it opens."""
        return ()

    @property
    def named_app(self) -> str:
        """The app that it names, by its word in the script's head; empty where it names none."""
        return str(getattr(self, "app", ""))

    def targets(self) -> tuple[Target, ...]:
        """The targets it names, the one it acts on first."""
        values = (getattr(self, each.name) for each in fields(self))
        return tuple(value for value in values if isinstance(value, Target))
