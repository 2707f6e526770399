"""Portraits: all the evidence kept about one target. Sightings: a target found on some screen."""

from __future__ import annotations

from dataclasses import dataclass

from .geometry import Box
from .outcome import Cause, Evidence, Reason
from .screen import Element, Screen


@dataclass(frozen=True)
class Portrait:
    """One recorded element with the whole tree it stood in, so that a pick can be looked up backwards.

    `picture` is the file name of the recorded frame beside the script, empty without one. `scene` is where in the script it was seen.
    `value` and `share` keep a slider's reading and where along it the finger was (0..1), negative when unknown. `part` is set for an
    area: the part of the element that is meant, as shares of its box. `grip` marks the part by which a target is carried, kept under the
    target's own words. `device`, `build` and `locale` tell where it was found, when it was learned in a trial. `scrolled`: it was
    scrolled to when it was recorded.
    """

    screen: Screen
    row: int
    scene: str = ""
    picture: str = ""
    value: str = ""
    share: float = -1.0
    part: Box | None = None
    grip: bool = False
    device: str = ""
    build: str = ""
    locale: str = ""
    scrolled: bool = False

    @property
    def element(self) -> Element:
        """The element as it was recorded."""
        return Element(self.screen, self.row)

    @property
    def box(self) -> Box:
        """What is meant: the element's box, or the part of it."""
        return self.element.box if self.part is None else self.element.box.part(self.part)


@dataclass(frozen=True)
class Sighting:
    """The element, the evidence it was found by, strongest first, and how surely (score and margin 0..1).

    `weaker` says in words which recorded evidence was missing or different; empty when it was found as recorded. `second` is the runner-up.
    """

    element: Element
    by: tuple[Evidence, ...]
    score: float
    margin: float
    weaker: str = ""
    second: Element | None = None


@dataclass(frozen=True)
class NotFound:
    """No sighting, and why. `score`, `margin` and `second` are those of the best that was not taken."""

    why: Reason
    score: float = 0.0
    margin: float = 0.0
    second: Element | None = None

    @property
    def reason(self) -> str:
        """Why, in words: a part of a sentence."""
        return self.why.words

    @property
    def ambiguous(self) -> bool:
        """Is something there that could be it, and cannot be told from something else?"""
        return self.why.cause is Cause.AMBIGUOUS


NOT_HERE = Reason(Cause.NOT_HERE, "it is not on this screen")
