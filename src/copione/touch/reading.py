"""What the hand did: contacts as gestures. Pure; lengths in dp, times in seconds."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from ..model.gesture import Finger, Gesture
from .measure import Stroke, stroke, together
from .panel import FingerTrack, track_of
from .thresholds import (
    BOW,
    DOUBLE_NEAR,
    DOUBLE_S,
    DRAG_S,
    DRAG_SPEED,
    DRAWN,
    FLICKER_NEAR,
    FLICKER_S,
    FLING_GATHERING,
    FLING_SPEED,
    HOLD_S,
    PALM_S,
    PALM_SLOP,
    PALM_TIMES,
    SLOP,
    TOGETHER,
)


class _Choice:
    """Decisions on the way to a kind. The least sure one gives the confidence, and the kind it decided against is the runner-up."""

    def __init__(self) -> None:
        self.confidence, self.second = 1.0, ""

    def exceeds(self, value: float, threshold: float, kind_if_not: str, kind_if_so: str) -> bool:
        """Is a measure above its threshold? The two kinds are what the gesture is if it is not, and if it is."""
        surety = _surety(max(value, threshold), min(value, threshold))
        if surety < self.confidence:
            self.confidence, self.second = surety, kind_if_not if value > threshold else kind_if_so
        return value > threshold


def _surety(larger: float, smaller: float) -> float:
    """0.5 on the line between two readings, towards 1 with the distance from it."""
    return larger**2 / (larger**2 + smaller**2) if larger + smaller > 0 else 0.5


def read_contacts(contacts: Sequence[Finger]) -> Gesture:
    """The gesture of contacts that belong together: one finger's, several fingers', or two taps. Raises ValueError for none."""
    if not contacts:
        raise ValueError("No contact makes no gesture.")
    found = read_tracks([track_of(contact) for contact in contacts])
    return max(found, key=lambda gesture: (gesture.fingers, gesture.seconds))


def read_tracks(found: Sequence[FingerTrack]) -> list[Gesture]:
    """All gestures of a stream of tracks in dp, in the order they began: flickers mended, palms left out, double taps joined."""
    groups = (group for cluster in _clusters(_mended(found)) for group in _groups(_without_palms(cluster)))
    return list(_joined([_gesture(group) for group in groups]))


# which contacts belong together


def _mended(found: Sequence[FingerTrack]) -> list[FingerTrack]:
    """A contact that breaks off for an instant and goes on near by is one contact."""
    import numpy as np

    kept: list[FingerTrack] = []
    for track in sorted(found, key=lambda each: each.since):
        near = _broken_off(track, kept)
        if near is None:
            kept.append(track)
        else:
            b = kept[near]
            t, x, y = (np.concatenate(pair) for pair in ((b.t, track.t), (b.x, track.x), (b.y, track.y)))
            kept[near] = FingerTrack(b.finger, t, x, y, track.lift, max(b.major, track.major), b.palm or track.palm)
    return kept


def _broken_off(track: FingerTrack, kept: Sequence[FingerTrack]) -> int | None:
    """Which of the last few contacts a track goes on from, if any."""
    since, (x, y) = track.since, track.begin
    for i in range(len(kept) - 1, max(-1, len(kept) - 11), -1):
        if 0 <= since - kept[i].lift < FLICKER_S and math.hypot(x - kept[i].end[0], y - kept[i].end[1]) < FLICKER_NEAR:
            return i
    return None


def _clusters(found: list[FingerTrack]) -> Iterator[list[FingerTrack]]:
    """Stretches of time in which always some finger is down."""
    cluster: list[FingerTrack] = []
    until = 0.0
    for track in found:
        if cluster and track.since >= until:
            yield cluster
            cluster = []
        until = max(until, track.lift) if cluster else track.lift
        cluster.append(track)
    if cluster:
        yield cluster


def _without_palms(found: list[FingerTrack]) -> list[FingerTrack]:
    """A palm rests while fingers act: the panel says so, it is much wider, or it lies still from well before to well after."""
    if len(found) == 1 and not found[0].palm:
        return found
    kept = []
    for track in found:
        others = [o for o in found if o is not track and o.since < track.lift and track.since < o.lift]
        if not track.palm and not (others and _is_palm(track, others)):
            kept.append(track)
    return kept


def _is_palm(track: FingerTrack, others: Sequence[FingerTrack]) -> bool:
    if track.major > 0 and track.major > PALM_TIMES * max((o.major for o in others), default=0.0) > 0:
        return True
    still = float(max(track.x.max() - track.x.min(), track.y.max() - track.y.min())) <= PALM_SLOP
    before = min(o.since for o in others) - track.since
    after = track.lift - max(o.lift for o in others)
    return still and before >= PALM_S and after >= PALM_S


def _groups(found: list[FingerTrack]) -> Iterator[list[FingerTrack]]:
    """Fingers that act together, and each of the others alone."""
    group: list[FingerTrack] = []
    for track in found:
        if group and not any(_share(track, member) >= TOGETHER for member in group):
            yield group
            group = []
        group.append(track)
    if group:
        yield group


def _share(one: FingerTrack, other: FingerTrack) -> float:
    """How long two are down together, as a share of the shorter one."""
    both = min(one.lift, other.lift) - max(one.since, other.since)
    return both / max(1e-3, min(one.lift - one.since, other.lift - other.since))


def _joined(gestures: list[Gesture]) -> Iterator[Gesture]:
    """Two quick taps at one place are a double tap."""
    waiting: Gesture | None = None
    for gesture in gestures:
        if waiting is not None and _double(waiting, gesture):
            gap = gesture.since - waiting.until
            choice = _Choice()
            choice.exceeds(DOUBLE_S, max(gap, 1e-3), "tap", "tap")
            confidence = min(choice.confidence, waiting.confidence, gesture.confidence)
            yield Gesture("double-tap", waiting.contacts + gesture.contacts, confidence, "tap")
            waiting = None
            continue
        if waiting is not None:
            yield waiting
        waiting = gesture
    if waiting is not None:
        yield waiting


def _double(first: Gesture, second: Gesture) -> bool:
    if (first.kind, second.kind, first.fingers, second.fingers) != ("tap", "tap", 1, 1):
        return False
    away = math.hypot(second.begin[0] - first.begin[0], second.begin[1] - first.begin[1])
    return 0 <= second.since - first.until <= DOUBLE_S and away <= DOUBLE_NEAR


# what they did


def _gesture(group: list[FingerTrack]) -> Gesture:
    choice = _Choice()
    if len(group) == 1:
        kind = _one_finger(stroke(group[0]), choice)
        return Gesture(kind, (group[0],), choice.confidence, choice.second)
    return _several(group, choice)


def _one_finger(s: Stroke, choice: _Choice) -> str:
    if not choice.exceeds(s.reach, SLOP, "hold" if s.seconds > HOLD_S else "tap", "swipe"):
        return "hold" if choice.exceeds(s.seconds, HOLD_S, "tap", "hold") else "tap"
    moved = "drag" if _slow(s) > 1.0 else "swipe"
    drawn = s.bow / max(s.chord, s.reach * 0.2) / BOW
    if choice.exceeds(drawn if s.reach > DRAWN else drawn * 0.5, 1.0, moved, "draw"):
        return "draw"
    if choice.exceeds(s.dwell, max(HOLD_S * 0.85, 1.3 * s.creep), moved, "hold-drag"):
        return "hold-drag"
    if choice.exceeds(_slow(s), 1.0, "swipe", "drag"):
        return "drag"
    gathering = s.released / max(s.speed, 1.0)
    line = FLING_GATHERING if gathering > 1.3 else FLING_SPEED * (1.0 if gathering > 0.6 else 2.0)
    return "fling" if choice.exceeds(s.released, line, "swipe", "fling") else "swipe"


def _slow(s: Stroke) -> float:
    """Over 1 for a drag: it takes its time and goes slowly."""
    return float((s.seconds - s.dwell) / DRAG_S * (DRAG_SPEED / max(s.speed, 1.0)) ** 0.7)


def _several(group: list[FingerTrack], choice: _Choice) -> Gesture:
    m = together(group)
    ways = sorted((("pinch", m.radial), ("twist", m.around), ("pan", m.along)), key=lambda way: -way[1])
    seconds = max(t.lift for t in group) - min(t.since for t in group)
    contacts = tuple(group)
    if not choice.exceeds(m.reach, SLOP, "tap", ways[0][0]):
        kind = "hold" if choice.exceeds(seconds, HOLD_S, "tap", "hold") else "tap"
        return Gesture(kind, contacts, choice.confidence, choice.second, 1.0, 0.0, (m.begin, m.end))
    choice.second = ways[1][0]
    choice.exceeds(ways[0][1], ways[1][1], ways[1][0], ways[0][0])
    return Gesture(ways[0][0], contacts, choice.confidence, choice.second, m.scale, m.angle, (m.begin, m.end))
