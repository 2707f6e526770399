"""How far a picture has been turned and scaled: one similarity fitted to what is the same in both.

Pictures of things on an even ground (pins on a map) are told by where the things are, any two of which give a movement that the others
must fit; others by their corners (ORB, Rublee 2011), fitted by RANSAC. What stands still, a frame, tells nothing where something moved.
"""

from __future__ import annotations

import math
from itertools import permutations

import numpy as np
import numpy.typing as npt

from .pictures import Picture

FEATURES = 600
AGREE = 12  # corners that have to fit the same movement
CLOSE_PX = 4.0
STILL_PX = 1.5
THINGS = (3, 40)  # so few tell no movement, so many are no things
EVEN = 24  # of 255: how far a thing's grey is from the ground's
FIT = 0.8  # share of the things that have to fit
OFF = 0.012  # of the picture's diagonal: how far a thing may lie off

Places = npt.NDArray[np.float64]


def moved(before: Picture, after: Picture) -> tuple[float, float] | None:
    """Degrees clockwise and the factor of scale from one picture to the other; None where too little of both is the same."""
    ratio = before.density / after.density
    ours, theirs = _things(before), _things(after)
    if THINGS[0] <= len(ours) <= THINGS[1]:
        close = max(CLOSE_PX, OFF * math.hypot(*after.pixels.shape[:2]))
        fit = _by_things(ours, theirs, close) if len(theirs) <= THINGS[1] else None
    else:
        fit = _by_corners(before, after)
    return (math.degrees(math.atan2(fit.imag, fit.real)), abs(fit) * ratio) if fit is not None else None


def _grey(picture: Picture) -> npt.NDArray[np.uint8]:
    import cv2

    return np.asarray(cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY), np.uint8)


def _things(picture: Picture) -> npt.NDArray[np.complex128]:
    """Where things lie on the ground, as complex numbers of pixels; none at the edge, and none that are large."""
    import cv2

    grey = _grey(picture)
    ground = int(np.median(grey))
    apart = (np.abs(grey.astype(np.int16) - ground) > EVEN).astype(np.uint8)
    _, _, stats, centres = cv2.connectedComponentsWithStats(apart)
    tall, wide = grey.shape
    found = []
    for (left, top, width, height, area), (x, y) in zip(stats[1:].tolist(), centres[1:].tolist(), strict=True):
        inside = left > 2 and top > 2 and left + width < wide - 2 and top + height < tall - 2
        if inside and area >= 12 and width < wide / 4 and height < tall / 4:
            found.append(complex(x, y))
    return np.array(found, np.complex128)


def _by_things(ours: npt.NDArray[np.complex128], theirs: npt.NDArray[np.complex128], close: float) -> complex | None:
    """The turn and scale, as one complex factor, by which the most of our places come to lie on theirs, and no other as many."""
    best, second, factor = 0, 0, complex(1)
    first = int(np.abs(ours - ours.mean()).argmax())
    other = int(np.abs(ours - ours[first]).argmax())
    for a, b in permutations(range(len(theirs)), 2):
        by = (theirs[b] - theirs[a]) / (ours[other] - ours[first])
        placed = theirs[a] + (ours - ours[first]) * by
        fits = int((np.abs(placed[:, None] - theirs[None, :]).min(axis=1) <= close).sum())
        if fits > best:
            best, second, factor = fits, best if abs(by - factor) > 0.2 else second, complex(by)
        elif fits > second and abs(by - factor) > 0.2:
            second = fits
    return factor if best >= FIT * len(ours) and best > second else None


def _by_corners(before: Picture, after: Picture) -> complex | None:
    import cv2

    orb = cv2.ORB.create(FEATURES, fastThreshold=8)
    (places, signs), (there, others) = (orb.detectAndCompute(_grey(p), None) for p in (before, after))
    if signs is None or others is None or min(len(signs), len(others)) < AGREE:
        return None
    pairs = cv2.BFMatcher(cv2.NORM_HAMMING, crossCheck=True).match(signs, others)
    if len(pairs) < AGREE:
        return None
    ours = np.array([places[m.queryIdx].pt for m in pairs], np.float32)
    theirs = np.array([there[m.trainIdx].pt for m in pairs], np.float32)
    moves = np.hypot(*(theirs - ours).T) > STILL_PX
    if moves.sum() >= AGREE:
        ours, theirs = ours[moves], theirs[moves]
    fit, fits = cv2.estimateAffinePartial2D(ours, theirs, ransacReprojThreshold=CLOSE_PX)
    if fit is None or int(fits.sum()) < AGREE:
        return None
    return complex(float(fit[0, 0]), float(fit[1, 0]))
