"""What a stand-in app is to its phone, and what the phone offers it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from .toolkit.node import Node


@dataclass(frozen=True)
class Surroundings:
    """The window an app draws into: size in dp, the phone's platform and locale, and the faults seeded on it."""

    width: float
    height: float
    platform: str
    locale: str
    faults: frozenset[str]
    keyboard_up: bool
    back: str = "gesture"
    choice: str = "menu"
    date: str = "calendar"
    look: str = "new"
    dark: bool = False


class System(Protocol):
    """What a phone does for the app that runs on it."""

    def now(self) -> float: ...

    def focus(self, key: str | None) -> None: ...

    def focused(self) -> str | None: ...

    def busy(self, seconds: float) -> None:
        """The page takes so long to come to rest."""
        ...

    def crash(self, reason: str) -> None:
        """The app ends with an entry in the log."""
        ...

    def log(self, tag: str, words: str) -> None: ...

    def online(self) -> bool: ...

    def permit(self, what: str, granted: Callable[[], object]) -> None:
        """Ask the user, in the system's own dialog, unless that was allowed before; then go on."""
        ...


class App(Protocol):
    """An app installed on a stand-in phone. State lives in the object; the page is built anew for each frame."""

    package: str
    label: str
    version: str
    keeps: tuple[str, ...]  # names of what it has stored: there again when it is started anew

    def opens(self, address: str) -> bool:
        """Go to what an address names; False for one of another's."""
        ...

    def activity(self) -> str: ...

    def page(self, around: Surroundings) -> Node: ...

    def back(self) -> bool:
        """Go one page back; False when there is none, and the phone goes home."""
        ...

    def restless(self) -> bool:
        """Does the page in front never come to rest?"""
        ...

    def turned(self) -> None:
        """The phone was turned: the page is laid out anew."""
        ...

    def next_change(self) -> float | None:
        """When the page will change by itself, in the system's time; None when it will not."""
        ...
