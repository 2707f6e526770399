"""Pages on which all is drawn and the tree tells nothing: read from the picture, where the reader of texts is installed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..model.screen import Moment, Screen
from ..recognition.pictures import picture_of
from ..recognition.shapes import shapes_in
from ..recognition.text import can_read, texts
from ..screens.drawn import read_drawn, tells_nothing


class DrawnPages:
    """Reads the pages of one device; the newest one is kept, for reading takes a second or two.

    Any app may tell nothing for an instant, while a page of it comes. So the first page of an app is read once it shows the same twice.
    """

    def __init__(self) -> None:
        self._apps: set[str] = set()  # that are drawn
        self._png = b""
        self._screen: Screen | None = None

    def told(self, moment: Moment) -> Moment:
        """The moment as it is, or, where its tree tells nothing, with the screen that its picture shows."""
        blind = moment.screen
        if blind is None or not moment.png or not tells_nothing(blind) or not can_read():
            return moment
        if blind.app not in self._apps:
            if moment.png != self._png:
                self._png, self._screen = moment.png, None
                return moment
            self._apps.add(blind.app)
        known = self._screen
        if known is None or moment.png != self._png or known.keyboard != blind.keyboard:
            picture = picture_of(moment, blind.width)
            if picture is None:
                return moment
            known = read_drawn(blind, shapes_in(picture), texts(picture))
            self._png, self._screen = moment.png, known
        return replace(moment, screen=known)

    def seen(self, look: Callable[[], Moment]) -> Moment:
        """A moment by `look`, told; of an app that is met for the first time a second one, where the first tells nothing."""
        moment = self.told(look())
        return self.told(look()) if tells_nothing(moment.screen) and can_read() else moment
