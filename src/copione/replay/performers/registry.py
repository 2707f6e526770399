"""Which function does an action on a device, and which reads what a relation is about."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from ...model.action import Action
from ...model.reading import Reading
from ...model.relation import Relation
from ...model.screen import Element
from ...model.target import Target
from ..context import StepContext

Performer = Callable[[StepContext, Any], None]
Reader = Callable[[StepContext, Target, Any, Element], Reading]
P = TypeVar("P", bound=Performer)
R = TypeVar("R", bound=Reader)

PERFORMERS: dict[type[Action], Performer] = {}
READERS: dict[type[Relation], Reader] = {}  # of a relation that is not about an element's words


def performs(*kinds: type[Action]) -> Callable[[P], P]:
    """A decorator: the function does these actions. It gets the step's context and the action, filled in and in the device's language;
    what becomes of the step is left in the context. It raises CopioneError where the device fails.
    """

    def note(performer: P) -> P:
        PERFORMERS.update(dict.fromkeys(kinds, performer))
        return performer

    return note


def reads(*kinds: type[Relation]) -> Callable[[R], R]:
    """A decorator: the function gives what an element says, as what these relations are about. It gets the step's context, the target,
    the relation and the element.
    """

    def note(reader: R) -> R:
        READERS.update(dict.fromkeys(kinds, reader))
        return reader

    return note
