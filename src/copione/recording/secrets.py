"""What is typed into fields that hide it, while recording: each field's value under a variable of its own."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..model.action import Type
from ..model.secrecy import Redactor
from ..project.journal import Journal
from .intent import Meaning, hides

FIRST = "password"


@dataclass
class _Field:
    variable: str
    value: str = ""
    fragment: str = ""  # typed since it got the focus last: where in the value, nobody knows


class TypedSecrets:
    """Fields are told apart by their target's words. Two that hold the same are one variable.

    The redactor hears of what is typed before it is sent. The journal is cleaned of it once the field is left.
    """

    def __init__(self, redactor: Redactor, journal: Journal) -> None:
        self._redactor, self._journal = redactor, journal
        self._fields: dict[str, _Field] = {}
        self._focus = ""
        self._dirty = False  # something was found to be secret that the journal may hold

    def typed(self, field: str, words: str) -> None:
        """Letters go into a field that hides them."""
        here = self._at(field)
        here.value, here.fragment = here.value + words, here.fragment + words
        self._learn()

    def erased(self, field: str) -> None:
        """The last letter of such a field is taken away."""
        here = self._at(field)
        here.value, here.fragment = here.value[:-1], here.fragment[:-1]
        self._learn()

    def left(self) -> None:
        """Something else is done than typing: what was typed is whole. Raises FileTrouble."""
        self._focus = ""
        if self._dirty:
            self._dirty = False
            self._journal.clean()

    def named(self, meaning: Meaning) -> Meaning:
        """Typing into a field that hides it, with the field's own variable; anything else as it is."""
        action = meaning.step.action
        if not isinstance(action, Type) or meaning.element is None or not hides(meaning.element):
            return meaning
        here = self._at(meaning.step.key())
        same = (each.variable for each in self._fields.values() if each.value and each.value == here.value)
        words = "{" + next(same, here.variable) + "}"
        return replace(meaning, step=replace(meaning.step, action=replace(action, text=words)))

    def _learn(self) -> None:
        known = self._redactor.version
        for each in self._fields.values():
            for value in (each.value, each.fragment):
                self._redactor.learn({each.variable: value})
        self._journal.secret_typed()
        self._dirty = self._dirty or self._redactor.version != known

    def _at(self, field: str) -> _Field:
        if field not in self._fields:
            number = len(self._fields) + 1
            self._fields[field] = _Field(FIRST if number == 1 else f"{FIRST}_{number}")
        here = self._fields[field]
        if field != self._focus:
            self._focus, here.fragment = field, ""
        return here
