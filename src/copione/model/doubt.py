"""Why a recorded step may need a second look."""

from __future__ import annotations

from enum import Enum


class Doubt(Enum):
    """Why a recorded step may be about something else, or need better evidence; the value is what is said of it."""

    STALE = "the screen may have changed before this touch"
    IDLE = "nothing changed on the screen"
    GUESSED = "that it is a switch was guessed from what it does: the app's tree does not say"
    ONLY_PLACE = "known by its picture and place only: an id or a label in the app would help"
