"""A hand that knows nothing of how Copione reads a page: it sees words where they are painted, and touches them."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from copione.links.browser.link import BrowserLink
from copione.model.action import Key
from copione.model.errors import LinkError
from copione.model.gesture import Contact
from copione.recording.session import Session
from copione.touch.making import drag, hold, hold_drag, swipe, tap

HERE = Path(__file__).parent
EYES = (HERE / "eyes.js").read_text("utf-8")
SEEN_S = 6.0  # how long it waits for what it wants to touch
LOOK_S, REST_S = 0.1, 0.4
SCROLLS = 12
SCROLL = (3.0, 560.0, 3.0, 330.0, 0.4)  # at the side, where nothing else listens
GESTURES = {"tap": tap, "hold": hold, "drag": drag, "swipe": swipe, "carry": hold_drag}


@dataclass(frozen=True)
class Line:
    """What the hand does, the step that means it, and what the page's handlers are told; with a tilde where only fingers do that."""

    hand: str
    step: str
    told: str


@dataclass(frozen=True)
class Sheet:
    """What is to be done on a page, and the faults that can be seeded in it."""

    lines: tuple[Line, ...]
    faults: tuple[str, ...]

    def told(self, fingers: bool = True) -> list[str]:
        """What the handlers are told all in all."""
        return [line.told.removeprefix("~") for line in self.lines if line.told and (fingers or not line.told.startswith("~"))]


def sheet_of(name: str) -> Sheet:
    """A page's sheet, read from its file."""
    lines = (HERE / f"{name}.steps").read_text("utf-8").splitlines()
    faults = next((line for line in lines if line.startswith("# faults:")), "").removeprefix("# faults:").split()
    return Sheet(tuple(_parsed(lines)), tuple(faults))


def _parsed(lines: list[str]) -> Iterator[Line]:
    for line in lines:
        if line and not line.startswith("#"):
            hand, step, told = (part.strip() for part in line.split("|"))
            yield Line(hand, step, told)


class Hand:
    """Does what a sheet says on a page that is being recorded."""

    def __init__(self, session: Session, link: BrowserLink) -> None:
        self.session, self.link = session, link

    def do(self, words: str) -> None:
        """`GESTURE WHAT [#N] [@ X,Y X,Y]`: what it sees, which one of several, from where to where in shares of it; or `type WORDS`."""
        gesture, _, rest = words.partition(" ")
        self.session.look()
        if gesture == "type":
            self.session.type(rest)
        elif gesture == "back":
            self.session.press(Key.BACK)
        else:
            wanted, _, way = rest.partition(" @ ")
            left, top, right, bottom = self.box(wanted)
            shares = [tuple(map(float, place.split(","))) for place in (way or "0.5,0.5").split()]
            places = [(left + x * (right - left), top + y * (bottom - top)) for x, y in shares]
            self.touch(GESTURES[gesture](*(v for place in places for v in place)))  # type: ignore[operator]

    def touch(self, contact: Contact) -> None:
        """One finger on what it sees now, once that has come to rest."""
        time.sleep(REST_S)
        self.session.look()
        self.session.touch([contact])

    def box(self, wanted: str) -> list[float]:
        """Where something is, waited for and scrolled to as a person does. Raises LookupError where it does not come."""
        since, scrolls = time.monotonic(), 0
        while True:
            box, below = self._seen(wanted)
            if box is not None:
                return box
            if not below and time.monotonic() - since < SEEN_S:
                time.sleep(LOOK_S)
            elif scrolls < SCROLLS:
                scrolls += 1
                self.touch(drag(*SCROLL))
            else:
                raise LookupError(f"the hand sees no {wanted}")

    def _seen(self, wanted: str) -> tuple[list[float] | None, bool]:
        """Its box, and whether it stands below what shows."""
        words, _, nth = wanted.partition(" #")
        if self.link._outside.popup is not None:  # what the browser asks outside of the page is drawn by Copione
            screen = self.session.look().screen
            return next((list(e.box) for e in screen or () if e.name == words), None), False
        try:
            box, below = self.link.tab.run(EYES, words, int(nth or 1) - 1)  # type: ignore[misc]
        except LinkError:  # a dialog has come since
            self.session.look()
            return None, False
        return box, bool(below)
