"""What can be told of a picture without knowing what it shows: what is written on it, and the plain shapes of controls. Lengths are dp."""

from __future__ import annotations

from dataclasses import dataclass

from .geometry import Box

#: Signs that look alike, as one of them.
SIGNS = {
    **dict.fromkeys("‹〈❮＜", "<"),
    **dict.fromkeys("›〉❯＞", ">"),
    **dict.fromkeys("×✕✖", "x"),
    **dict.fromkeys("−–—", "-"),
    "＋": "+",
}


def plain_sign(text: str) -> str:
    """A text of a single sign as readers of pictures take it; any other as it is."""
    return SIGNS.get(text, text)


@dataclass(frozen=True)
class Words:
    """A piece of text in a picture, and where."""

    text: str
    box: Box


@dataclass(frozen=True)
class Plate:
    """A filled or outlined box. `fill`: its colour at the rim, blue green red, 0..255; `left_mark`, `right_mark`: is something small
    drawn at that end?"""

    box: Box
    fill: tuple[float, float, float]
    left_mark: bool = False
    right_mark: bool = False


@dataclass(frozen=True)
class Pill:
    """A switch, and whether its knob is at the right."""

    box: Box
    right: bool


@dataclass(frozen=True)
class SliderTrack:
    """A slider's line with its knob; `share` is how far along the knob is, 0..1 from the left."""

    box: Box
    share: float


@dataclass(frozen=True)
class Shapes:
    """All that was found, each from the top down."""

    plates: tuple[Plate, ...] = ()
    pills: tuple[Pill, ...] = ()
    tracks: tuple[SliderTrack, ...] = ()
