"""How far a picture has been turned and scaled: its corners found again (ORB, Rublee 2011) and one similarity fitted (RANSAC)."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from .pictures import Picture

FEATURES = 600
AGREE = 12  # corners that have to fit the same movement
CLOSE_PX = 4.0


def moved(before: Picture, after: Picture) -> tuple[float, float] | None:
    """Degrees clockwise and the factor of scale from one picture to the other; None where too little of both is the same."""
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
    fit, fits = cv2.estimateAffinePartial2D(ours, theirs, ransacReprojThreshold=CLOSE_PX)
    if fit is None or int(fits.sum()) < AGREE:
        return None
    a, b = float(fit[0, 0]), float(fit[1, 0])
    ratio = before.density / after.density
    return math.degrees(math.atan2(b, a)), math.hypot(a, b) * ratio


def _grey(picture: Picture) -> npt.NDArray[np.uint8]:
    import cv2

    return np.asarray(cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY), np.uint8)
