"""What the hand did: one finger's contact as a tap, a hold or a swipe."""

from __future__ import annotations

import math
from collections.abc import Sequence
from statistics import median

from ..model.gesture import Contact, Gesture

#: Lengths in dp, times in seconds. The platform's own slop is 8 dp and its long press 0.4-0.5 s; a mouse or a shaky finger drifts a little
#: more without meaning a swipe, so the line is drawn between the platform's slop and the shortest swipe people make (about 24 dp).
SLOP = 12.0
HOLD_S = 0.45
ENOUGH = 5  # samples from which on the farthest one may be a jump of the panel


def read_contacts(contacts: Sequence[Contact]) -> Gesture:
    """The gesture of one finger. Raises ValueError for none, or for several fingers, which have no reading yet."""
    if len(contacts) != 1:
        raise ValueError("One contact makes a gesture here.")
    contact = contacts[0]
    drift = _drift(contact)
    seconds = contact.seconds
    if drift > SLOP:
        return Gesture("swipe", (contact,), _surety(drift, SLOP), "tap" if seconds < HOLD_S else "hold")
    kind, second = ("hold", "tap") if seconds >= HOLD_S else ("tap", "hold")
    if _surety(SLOP, drift) < _surety(max(seconds, HOLD_S), min(seconds, HOLD_S)):
        second = "swipe"
    surety = min(_surety(SLOP, drift), _surety(max(seconds, HOLD_S), min(seconds, HOLD_S)))
    return Gesture(kind, (contact,), surety, second)


def _drift(contact: Contact) -> float:
    """How far the finger went: end to end, or out and back; a lone jumpy sample is not a way."""
    (x0, y0), (x1, y1) = contact.begin, contact.end
    ends = math.hypot(x1 - x0, y1 - y0)
    mx, my = median(p[1] for p in contact.path), median(p[2] for p in contact.path)
    away = sorted(math.hypot(x - mx, y - my) for _, x, y in contact.path)
    return max(ends, away[-2] if len(away) >= ENOUGH else away[-1])


def _surety(larger: float, smaller: float) -> float:
    """0.5 on the line between two readings, towards 1 with the distance from it."""
    return larger / (larger + smaller) if larger + smaller > 0 else 0.5
