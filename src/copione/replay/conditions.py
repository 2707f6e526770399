"""What a take turned on its device, and how it was before."""

from __future__ import annotations

from ..links.claims import Changed
from ..links.holding import CALL, put_back
from ..links.link import HasConditions, Link, TakesCalls
from ..model.condition import Condition
from ..model.errors import CopioneError


class Conditions:
    """Notes with the device's claim how each condition was before it is first changed, and puts it back."""

    def __init__(self, link: Link, package: str) -> None:
        self._link, self._package = link, package
        self._noted: dict[str, Changed] = {}

    def remember(self, condition: Condition) -> None:
        """How it is now is how it is put back. Raises LinkError, NoClaim."""
        if condition.name not in self._noted:
            self._note(condition.name, self._link.able(HasConditions).condition(condition, self._package))

    def have(self, condition: Condition, value: str) -> None:
        """Have it so until the take ends. Raises LinkError, NoClaim."""
        self.remember(condition)
        self._link.able(HasConditions).have(condition, value, self._package)

    def ring(self, caller: str) -> None:
        """A call comes in. Raises LinkError, NoClaim."""
        if CALL not in self._noted:
            self._note(CALL, "")
        self._link.able(TakesCalls).ring(caller)

    def _note(self, what: str, before: str) -> None:
        changed = Changed(what, self._package, before)
        self._link.claim.note(changed)
        self._noted[what] = changed

    def put_back(self) -> list[str]:
        """Everything as it was, the newest change first; why something is not, in sentences. What is not stays noted for the next owner."""
        troubles = []
        for changed in reversed(self._noted.values()):
            try:
                put_back(self._link, changed)
            except CopioneError as error:
                what = "the call" if changed.what == CALL else f"the {Condition[changed.what].value}"
                troubles.append(f"{what} could not be put back to {changed.before or 'what it was'}: {error.sentence}")
        self._noted.clear()
        return troubles
