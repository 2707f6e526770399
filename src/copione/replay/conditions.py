"""What a take turned on its device, and how it was before."""

from __future__ import annotations

from ..links.link import Link
from ..model.condition import Condition
from ..model.errors import CopioneError


class Conditions:
    """Remembers how each condition was before it was first changed, and puts it back."""

    def __init__(self, link: Link, package: str) -> None:
        self._link, self._package = link, package
        self._before: dict[Condition, str] = {}
        self._ringing = False

    def remember(self, condition: Condition) -> None:
        """How it is now is how it is put back. Raises LinkError."""
        if condition not in self._before:
            self._before[condition] = self._link.condition(condition, self._package)

    def have(self, condition: Condition, value: str) -> None:
        """Have it so until the take ends. Raises LinkError."""
        self.remember(condition)
        self._link.have(condition, value, self._package)

    def ring(self, caller: str) -> None:
        """A call comes in. Raises LinkError."""
        self._link.ring(caller)
        self._ringing = True

    def put_back(self) -> list[str]:
        """Everything as it was, the newest change first; why something is not, in sentences."""
        troubles = []
        for condition, value in reversed(self._before.items()):
            try:
                self._link.have(condition, value, self._package)
            except CopioneError as error:
                troubles.append(f"the {condition.value} could not be put back to {value}: {error.sentence}")
        self._before.clear()
        if self._ringing:
            try:
                self._link.ring("")
            except CopioneError as error:
                troubles.append(f"the call could not be ended: {error.sentence}")
        return troubles
