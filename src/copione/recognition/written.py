"""A recorded screen as its picture shows it: what is written on it, without the labels that only its tree tells."""

from __future__ import annotations

from dataclasses import replace

from ..model.drawn import plain_sign
from ..model.screen import Screen, of_screen


@of_screen
def written(screen: Screen) -> Screen:
    """The same elements, called by what is written on them; what has a label and nothing written is without a name."""
    named = zip(screen.names, screen.texts, screen.labels, strict=True)
    names = tuple(plain_sign(text) or name if label else name for name, text, label in named)
    names = tuple("" if label and name == label else name for name, label in zip(names, screen.labels, strict=True))
    return replace(screen, names=names, labels=("",) * len(screen))
