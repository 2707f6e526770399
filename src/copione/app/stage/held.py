"""A pointer that is held on the mirror: when the device is to follow it already, and how, one move at a time."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QTimer

from ...model.gesture import Contact
from ...touch.thresholds import HOLD_S, SLOP
from ..lead import Lead
from .pointer import PointerStroke

LOOK_MS = 40
#: A finger that moves is followed from here on: shorter strokes, flings among them, are sent as a whole with the hand's own speed.
MOVING_S = 0.4
#: One that rests is followed once it is certainly a long press: put down earlier, a slow wire might make one of a tap.
STILL_S = HOLD_S + 0.18


class Following(QObject):
    """Puts a finger down on the lead while the pointer is held, and moves it after the pointer; what is recorded is the hand's own path.

    How long it is held is counted from look to look: while the window was busy it may have been lifted already.
    """

    def __init__(self, lead: Lead, finger: PointerStroke, parent: QObject) -> None:
        super().__init__(parent)
        self.lead, self.finger = lead, finger
        self.on = False  # is a finger down on the device?
        self._png = b""
        self._refused = self._moving = False
        self._sent = 0  # points of the path
        self._held = self._looked = 0.0  # seconds: for how long, and when that was looked at
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.look)

    def begin(self) -> None:
        """The pointer was pressed, on the picture that is shown now."""
        self._png, self.on, self._refused, self._moving = self.lead.live.png, False, False, False
        self._held, self._looked = 0.0, time.monotonic()
        self._timer.start()

    def stop(self) -> None:
        """It was lifted, or means something else."""
        self._timer.stop()
        self.on = False

    def look(self) -> None:
        """Is it time to follow, or to follow farther?"""
        if not self.finger.down or self._refused:
            self._timer.stop()
            return
        if self.on:
            if not self._moving and self._sent < len(self.finger.path):
                path = self.finger.path[self._sent :]
                self._moving, self._sent = True, len(self.finger.path)
                self.lead.finger_moved([(x, y) for _, x, y in path], self._moved)
            return
        before, self._looked = self._looked, time.monotonic()
        self._held += min(self._looked - before, 2 * LOOK_MS / 1000)
        begin = self.finger.path[0]
        away = max(abs(x - begin[1]) + abs(y - begin[2]) for _, x, y in self.finger.path)
        if self._held >= (MOVING_S if away > SLOP else STILL_S):
            self.on, self._sent = True, len(self.finger.path)
            self.lead.finger_down([(x, y) for _, x, y in self.finger.path], self._png, self._refuse)

    def _moved(self) -> None:
        self._moving = False

    def _refuse(self) -> None:
        self._refused, self.on = True, False

    def lift(self, contact: Contact) -> bool:
        """The pointer was lifted. Was the device following? Then that is all; else the gesture is still to be done."""
        following = self.on
        self.stop()
        if following:
            self.lead.finger_up(contact)
        return following
