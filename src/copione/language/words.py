"""The language's own words: headers, and those of which one stands in a place. What things are called stands in `copione.model.roles`."""

from __future__ import annotations

from ..model.action import Direction, Key, Orientation, Placement, Start
from ..model.number import PLAIN

HEADERS = ("script", "app", "patience", "data", "uses", "covers", "needs", "scene")

#: Terminals of the grammar, each with the words that it can be.
ONE_OF = {
    "KEY": tuple(key.value for key in Key),
    "DIRECTION": tuple(way.value for way in Direction),
    "PLACE": tuple(place.value for place in Placement),
    "ORIENTATION": tuple(way.value for way in Orientation),
    "START": tuple(start.value for start in Start if start.value),
}


def terminals() -> str:
    """Those of the grammar that are known from the model, as lines of the grammar."""
    lines = [f"{name}.1: {' | '.join(map(_pattern, words))}\n" for name, words in ONE_OF.items()]
    return "".join([*lines, f"NUMBER: /{PLAIN}/\n"])


def _pattern(words: str) -> str:
    """Those words, as whole words and with any blanks between them."""
    return "/" + words.replace(" ", r"[ \t]+") + r"(?![A-Za-z0-9_.-])/"
