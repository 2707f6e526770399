"""A choice that was opened while recording: what is done until it closes again is one step."""

from __future__ import annotations

from ..model.action import Tap
from ..model.screen import Element, Screen
from ..screens.reading import reads
from .intent import Meaning, chosen, same_on


class OpenedChoice:
    """The choice that is open, if one is, and the step that opened it."""

    def __init__(self) -> None:
        self._open: tuple[Element, int] | None = None

    def forget(self) -> None:
        """What is done from here on stands for itself."""
        self._open = None

    def note(self, meaning: Meaning, uid: int, after: Screen | None) -> None:
        """Remember a tap that opened a choice: the step `uid`."""
        combo = meaning.element
        if combo is None or combo.role != "combobox" or after is None or not isinstance(meaning.step.action, Tap):
            return
        if same_on(after, combo) is None or _options(after) > _options(combo.screen):
            self._open = combo, uid

    def closed(self, after: Screen | None, locale: str) -> tuple[int, Meaning] | None:
        """The step it began with and what it meant, once it is closed and reads something else."""
        if self._open is None or after is None:
            return None
        combo, uid = self._open
        now = same_on(after, combo)
        same = now is not None and reads(now) == reads(combo)
        if now is None or (same and _options(after) > _options(combo.screen)):
            return None  # it is still open
        self._open = None
        return None if same else (uid, chosen(combo, reads(now), locale))


def _options(screen: Screen) -> int:
    return sum(role == "option" for role in screen.roles)
