"""What is measured of a stroke, and of several fingers together. Lengths in dp, times in seconds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from .panel import FingerTrack
from .thresholds import AWAY, RELEASE_S, RESTED_S, SLOP

Floats = npt.NDArray[np.float64]
ENOUGH = 5  # samples from which on a lone far one is taken for a jump of the panel
GONE = 24.0  # dp from where it began: by then a finger has left
PARTS = 12  # into which the time of several fingers is cut


@dataclass(frozen=True)
class Stroke:
    """One finger's measures. `reach`: farthest from where it began; `chord`: from begin to end; `bow`: how wide the path is
    across the chord, on both sides of it.

    `dwell`: how long it stayed where it began; `creep`: how long a hand that sets out smoothly is still there; `released`: its speed at the
    lift; `speed`: the chord, or the reach, over the time it moved.
    """

    seconds: float
    reach: float
    chord: float
    bow: float
    dwell: float
    creep: float
    speed: float
    released: float


def smooth(places: Floats) -> Floats:
    """The median of three neighbours: one jump of the panel is gone, an even stroke stays. The ends are moved to the middle of theirs.

    `places` is x and y, shape (2, n); so is what is returned.
    """
    if places.shape[1] < ENOUGH:
        return places
    before, here, after = places[:, :-2], places[:, 1:-1], places[:, 2:]
    found = places.copy()
    np.maximum(np.minimum(before, here), np.minimum(np.maximum(before, here), after), out=found[:, 1:-1])
    for row, (first, second, third, *_) in enumerate(found[:, :3].tolist()):
        found[row, 0] = _end(first, second, third)
    for row, (third, second, first) in enumerate(found[:, -3:].tolist()):
        found[row, -1] = _end(first, second, third)
    return found


def _end(value: float, near: float, next_to_it: float) -> float:
    """An end of a path as it is, unless it jumps from where the path leads."""
    led = 2 * near - next_to_it
    return led if abs(value - led) > abs(next_to_it - near) + AWAY else value


def stroke(track: FingerTrack) -> Stroke:
    """The measures of one finger; the track in dp. Of one that stays within the slop only times and reach."""
    t = track.t
    seconds = max(track.lift - float(t[0]), 1e-3)
    if len(t) == 1:
        return Stroke(seconds, 0.0, 0.0, 0.0, seconds, 0.0, 0.0, 0.0)
    raw = np.array((track.x, track.y))
    places = smooth(raw)
    gone_by = places - places[:, :1]
    dx, dy = gone_by
    away = np.hypot(dx, dy)
    reach = float(away.max())
    if reach <= SLOP:
        return Stroke(seconds, reach, reach, 0.0, seconds, 0.0, 0.0, 0.0)
    cx, cy = float(dx[-1]), float(dy[-1])
    chord = math.hypot(cx, cy)
    across = cx * dy - cy * dx
    bow = float(across.max() - across.min()) / chord if chord > 1.0 else reach
    overshoot = max(0.0, float((dx * cx + dy * cy).max()) / chord - chord) if chord > 1.0 else 0.0
    place = _jitter(raw)
    gone = int(np.argmax(away > min(GONE, 0.9 * reach)))
    near = np.flatnonzero(away[:gone] <= place)
    left = int(near[-1]) + 1 if len(near) else gone
    dwell = float(t[left] - t[0])
    moving = max(seconds - dwell, 1e-3)
    return Stroke(
        seconds=seconds,
        reach=reach,
        chord=chord,
        bow=max(bow, overshoot),
        dwell=dwell,
        creep=seconds * (place / max(10 * reach, 1.0)) ** (1 / 3),  # minimum jerk begins as 10 u^3 (Flash and Hogan 1985)
        speed=max(chord, reach) / moving,
        released=_released(t, places, track.lift),
    )


def _jitter(places: Floats) -> float:
    """How far a resting finger is seen to stray, dp: four deviations of the panel's noise, told from second differences."""
    if places.shape[1] < ENOUGH:
        return AWAY
    second = np.abs(places[:, 2:] - 2 * places[:, 1:-1] + places[:, :-2]).ravel()
    second.partition(len(second) // 2)
    return min(AWAY, max(AWAY / 2.4, 4 * float(second[len(second) // 2]) / (0.6745 * math.sqrt(6))))


def _released(t: Floats, places: Floats, lift: float) -> float:
    """The speed at the lift; 0 where the finger had come to rest before."""
    last = float(t[-1])
    if lift - last > RESTED_S:
        return 0.0
    begin = min(int(t.searchsorted(last - RELEASE_S)), len(t) - 2)
    span = last - float(t[begin])
    if span <= 0:
        return 0.0
    x, y = (places[:, -1] - places[:, begin]).tolist()
    return math.hypot(x, y) / span


@dataclass(frozen=True)
class Together:
    """Several fingers as one: the least-squares similarity from their first common instant to their last.

    `scale` and `angle` (degrees, clockwise on the screen) turn about their middle, which goes from `begin` to `end` (dp).
    `radial`, `around` and `along` say the same as lengths a finger went: out or in, round the middle, and all one way.
    """

    since: float
    until: float
    scale: float
    angle: float
    begin: tuple[float, float]
    end: tuple[float, float]
    radial: float
    around: float
    along: float
    reach: float


def _at(times: Floats, track: FingerTrack) -> npt.NDArray[np.complex128]:
    """Where a finger was at those times, as complex numbers."""
    x, y = smooth(np.array((track.x, track.y)))
    found: npt.NDArray[np.complex128] = np.interp(times, track.t, x) + 1j * np.interp(times, track.t, y)
    return found


def together(tracks: Sequence[FingerTrack]) -> Together:
    """The measures of two or more fingers that are down at the same time; tracks in dp.

    Complex numbers for points: the factor a that takes z to w best is sum(conj(z) w) / sum(|z|^2) about the middles (Umeyama 1991, in the
    plane). It is taken step by step, so that a turn may go past 180 degrees.
    """
    since, until = max(track.since for track in tracks), min(track.lift for track in tracks)
    times = np.linspace(since, max(until, since + 1e-3), PARTS + 1)
    points = np.array([_at(times, k) for k in tracks])
    middles = points.mean(axis=0)
    arms = points - middles
    spread = (np.abs(arms) ** 2).sum(axis=0)
    factors = (np.conj(arms[:, :-1]) * arms[:, 1:]).sum(axis=0) / np.maximum(spread[:-1], 1e-6)
    angle = float(np.angle(factors).sum())
    scale = math.sqrt(max(float(spread[-1]), 1e-6) / max(float(spread[0]), 1e-6))
    radii = np.sqrt(spread / len(tracks))
    moves = points[:, -1] - points[:, 0]
    mean = complex(moves.mean())
    unit = mean / abs(mean) if abs(mean) > 0 else 1.0
    along = max(0.0, float((moves * np.conj(unit)).real.min()))
    return Together(
        since=since,
        until=until,
        scale=scale,
        angle=math.degrees(angle),
        begin=(float(middles[0].real), float(middles[0].imag)),
        end=(float(middles[-1].real), float(middles[-1].imag)),
        radial=abs(float(radii[-1] - radii[0])),
        around=abs(angle) * float(radii.mean()),
        along=along,
        reach=float(np.abs(points - points[:, :1]).max()),
    )
