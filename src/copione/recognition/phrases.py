"""A script recorded in one language on a device of another: the project's phrasebook put between."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ..model.portrait import Portrait
from ..model.screen import Screen
from ..model.step import Step, Target

Phrases = Mapping[str, str]


class Interpreter:
    """Says targets, values and portraits in the device's language; whole phrases only, what is not in the book stays."""

    def __init__(self, phrases: Phrases) -> None:
        self.phrases = phrases
        self._screens: dict[int, tuple[Screen, Screen]] = {}

    def words(self, said: str) -> str:
        return self.phrases.get(said, said)

    def target(self, target: Target) -> Target:
        return replace(target, name=self.words(target.name), inside=self.target(target.inside) if target.inside else None)

    def step(self, step: Step) -> Step:
        """The step as it is done and checked on the device. What is typed is typed as the script has it."""
        value = step.value if step.verb in {"type", "append", "note", "snap", "keep"} else self.words(step.value)
        target, onto = (self.target(t) if t else None for t in (step.target, step.onto))
        return replace(step, target=target, onto=onto, value=value)

    def portrait(self, portrait: Portrait) -> Portrait:
        return replace(portrait, screen=self._screen(portrait.screen)) if self.phrases else portrait

    def _screen(self, screen: Screen) -> Screen:
        held = self._screens.get(id(screen))
        if held is None:
            texts, labels, names = (tuple(map(self.words, column)) for column in (screen.texts, screen.labels, screen.names))
            told = replace(screen, texts=texts, labels=labels, names=names)
            held = self._screens[id(screen)] = (screen, told)  # the key's screen is kept, so its id stays taken
        return held[1]
