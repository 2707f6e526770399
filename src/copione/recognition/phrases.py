"""A script recorded in one language on a device of another: the project's phrasebook put between."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from weakref import WeakKeyDictionary

from ..model.portrait import Portrait
from ..model.screen import Screen
from ..model.step import Step
from ..model.words import Text

Phrases = Mapping[str, str]


def backwards(phrases: Phrases) -> dict[str, str]:
    """From the device's language to the script's; of phrases that are said alike the first; also without case."""
    found: dict[str, str] = {}
    for here, there in phrases.items():
        found.setdefault(there, here)
    for there, here in list(found.items()):
        found.setdefault(there.casefold(), here)
    return found


class Interpreter:
    """Says steps and portraits in the device's language; whole phrases only, what is not in the book stays."""

    def __init__(self, phrases: Phrases) -> None:
        self.phrases = phrases
        self.backwards = backwards(phrases)
        self._screens: WeakKeyDictionary[Screen, Screen] = WeakKeyDictionary()

    def learn(self, phrases: Phrases) -> None:
        """Another language from now on."""
        self.phrases, self.backwards = phrases, backwards(phrases)
        self._screens.clear()

    def words(self, said: str) -> str:
        """A phrase in the device's language."""
        return self.phrases.get(said, said)

    def back(self, said: str) -> str:
        """A phrase of the device in the script's language."""
        return self.backwards.get(said) or self.backwards.get(said.casefold(), said)

    def _text(self, said: str, kind: Text) -> str:
        return self.words(said) if kind.of_app else said

    def step(self, step: Step) -> Step:
        """The step as it is done and checked on the device: the app's own texts translated, everything else as the script has it."""
        return step.map_text(self._text) if self.phrases else step

    def portrait(self, portrait: Portrait) -> Portrait:
        """The portrait as it would have been recorded in the device's language."""
        return replace(portrait, screen=self._screen(portrait.screen)) if self.phrases else portrait

    def _screen(self, screen: Screen) -> Screen:
        told = self._screens.get(screen)
        if told is None:
            texts, labels, names = (tuple(map(self.words, column)) for column in (screen.texts, screen.labels, screen.names))
            told = self._screens[screen] = replace(screen, texts=texts, labels=labels, names=names)
        return told
