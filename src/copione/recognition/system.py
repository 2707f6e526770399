"""What a platform itself asks, in the device's language: its dialogs' words, shipped, since no app's phrasebook knows them."""

from __future__ import annotations

import tomllib
from dataclasses import replace
from functools import cache
from pathlib import Path

from ..model.screen import Screen
from ..model.target import Target
from .evidence import fold

#: What asks in the system's name: packages of permission dialogs.
SYSTEM_DIALOGS = frozenset(
    {"com.android.permissioncontroller", "com.google.android.permissioncontroller", "com.android.packageinstaller", "springboard"}
)


@cache
def _meanings() -> dict[str, str]:
    """What each wording, plain, means: of every platform and language."""
    shipped = tomllib.loads(Path(__file__).with_name("system_words.toml").read_text("utf-8"))
    return {
        plain(words): meaning
        for meaning, platforms in shipped.items()
        for languages in platforms.values()
        for wordings in languages.values()
        for words in wordings
    }


def plain(words: str) -> str:
    """As they are compared: folded, and with the typewriter's apostrophe."""
    return fold(words.replace("’", "'"))


def as_asked(target: Target, screen: Screen) -> Target:
    """The target as the system's dialog on the screen says it, where it says another word of the same meaning, and says it once."""
    meaning = _meanings().get(plain(target.name)) if screen.app in SYSTEM_DIALOGS else None
    if meaning is None or target.name in screen.names:
        return target
    said = {name for name in screen.names if _meanings().get(plain(name)) == meaning}
    return replace(target, name=said.pop()) if len(said) == 1 else target
