"""A hand that uses a page by sight: it finds words where they are painted, independently of how Copione reads the page."""

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
    """One line of a sheet: what the hand does, the step that describes it, what the page logs.

    A tilde marks a log entry that needs touch events.
    """

    hand: str
    step: str
    told: str


@dataclass(frozen=True)
class Sheet:
    """Everything that is done on a page, and the names of the faults that can be seeded in it."""

    lines: tuple[Line, ...]
    faults: tuple[str, ...]

    def told(self, fingers: bool = True) -> list[str]:
        """The whole log that is expected. `fingers`: does the device send touch events?"""
        return [line.told.removeprefix("~") for line in self.lines if line.told and (fingers or not line.told.startswith("~"))]


def sheet_of(name: str) -> Sheet:
    """Read a page's sheet from its file."""
    lines = (HERE / f"{name}.steps").read_text("utf-8").splitlines()
    faults = next((line for line in lines if line.startswith("# faults:")), "").removeprefix("# faults:").split()
    return Sheet(tuple(_parsed(lines)), tuple(faults))


def _parsed(lines: list[str]) -> Iterator[Line]:
    for line in lines:
        if line and not line.startswith("#"):
            hand, step, told = (part.strip() for part in line.split("|"))
            yield Line(hand, step, told)


class Hand:
    """Carries out the lines of a sheet on a page that is being recorded."""

    def __init__(self, session: Session, link: BrowserLink) -> None:
        self.session, self.link = session, link

    def do(self, words: str) -> None:
        """Carry out one line: `GESTURE WHAT [#N] [@ X,Y X,Y]` or `type WORDS`.

        WHAT is visible text or a CSS selector, #N picks the Nth match, and X,Y are places in shares of its box.
        """
        gesture, _, rest = words.partition(" ")
        self.session.look()
        if gesture == "type":
            self.session.type(rest)
        elif gesture == "back":
            self.session.press(Key.BACK)
        else:
            wanted, _, way = rest.partition(" @ ")
            left, top, right, bottom = self.still(wanted)
            shares = [tuple(map(float, place.split(","))) for place in (way or "0.5,0.5").split()]
            places = [(left + x * (right - left), top + y * (bottom - top)) for x, y in shares]
            self.touch(GESTURES[gesture](*(v for place in places for v in place)))  # type: ignore[operator]

    def still(self, wanted: str) -> list[float]:
        """The box of something, once it is no longer moving."""
        box = self.box(wanted)
        while True:
            time.sleep(LOOK_S)
            last, box = box, self.box(wanted)
            if box == last:
                return box

    def touch(self, contact: Contact) -> None:
        """Make a one-finger gesture, after a short pause for the page to settle."""
        time.sleep(REST_S)
        self.session.look()
        self.session.touch([contact])

    def box(self, wanted: str) -> list[float]:
        """The box of something on the page, waiting and scrolling for it as a person would. Raises LookupError if it never appears."""
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
        """Its box, if it is in sight, and whether it is further down the page."""
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
