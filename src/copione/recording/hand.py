"""The user's own finger on the lead's glass: what its touch panel tells, read against the screens that were seen meanwhile."""

from __future__ import annotations

import threading
from dataclasses import replace

from ..links.link import Link, TellsTouches
from ..model.clock import Clock
from ..model.doubt import Doubt
from ..model.errors import CopioneError
from ..touch.panel import FingerTrack, fingers_down, parse_events, tracks
from ..touch.reading import read_tracks
from ..touch.thresholds import DOUBLE_S
from .session import Session

MOST_BYTES = 64 << 20  # of one recording: an hour of ten fingers
SETTLED_S = DOUBLE_S + 0.08  # after a lift: a second tap would have begun by then


class Hand:
    """`take_in` is called again and again on the session's thread; the panel is listened to on a thread of its own."""

    def __init__(self, link: Link, session: Session, clock: Clock) -> None:
        self.link, self.session, self.clock = link, session, clock
        profile = link.profile()
        self._size = profile.width, profile.height
        units = link.able(TellsTouches).panel()
        self._scale = profile.width / units[0], profile.height / units[1]
        self._lock = threading.Lock()
        self._log = bytearray()
        self._heard = clock.now()  # when the panel last said something
        self._done = -1.0  # panel time up to which everything was taken in
        self._read = 0  # so much of the log is read and taken in
        self._closed = False
        self._trouble = ""
        self._thread = threading.Thread(target=self._listen, name="hand", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Listen no more."""
        self._closed = True

    def _listen(self) -> None:
        try:
            self.link.able(TellsTouches).touch_stream(self._said)
        except CopioneError as error:
            self._trouble = error.sentence

    def _said(self, data: bytes) -> bool:
        with self._lock:
            if data and len(self._log) + len(data) > MOST_BYTES:
                self._trouble = "The phone's touch panel tells more than any hand does: it is listened to no more."
                return False
            if data:
                self._log += data
                self._heard = self.clock.now()
        return not self._closed

    def take_in(self) -> bool:
        """Take in what the hand has finished doing; else look whether the screen has changed. Was anything taken in?

        Raises LinkError when the panel can be listened to no more.
        """
        if self._trouble:
            raise CopioneError(self._trouble)
        with self._lock:
            said, quiet = len(self._log), self.clock.now() - self._heard
            log = bytes(self._log) if said > self._read else b""
        if not log:
            self.session.glance()
            return False
        events = parse_events(log[: log.rfind(b"\n") + 1])
        fresh = [track for track in tracks(events, *self._scale) if track.lift > self._done]
        if quiet < SETTLED_S or fingers_down(events):
            return False
        rotation = self.session.moment.screen.rotation if self.session.moment.screen else 0
        gestures = read_tracks([self._turned(track, rotation) for track in fresh])
        self._done = max((track.lift for track in fresh), default=self._done)
        self._read = said
        for number, gesture in enumerate(gestures):
            self.session.record_performed_gesture(gesture, Doubt.STALE if number else None, last=number + 1 == len(gestures))
        return bool(gestures)

    def _turned(self, track: FingerTrack, rotation: int) -> FingerTrack:
        """From the panel's axes to the screen as it is held; a panel does not turn with it."""
        width, height = self._size
        x, y = track.x, track.y
        places = {0: (x, y), 1: (y, width - x), 2: (width - x, height - y), 3: (height - y, x)}
        turned_x, turned_y = places[rotation % 4]
        return replace(track, x=turned_x, y=turned_y)
