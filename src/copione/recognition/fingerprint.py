"""A picture in a few bytes: which colours are in it, and how they are spread. See `model.likeness`. Pure."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt

from ..model.likeness import FINE, GRID, LEVELS
from .pictures import Picture

SMALL = 40  # pixels a side that are looked at


def fingerprint(picture: Picture) -> str:
    """Proportions, shares of colours (a pixel is shared between the nearest levels), the mean colours of the parts, and finer parts in
    grey: hex digits."""
    tall, wide = picture.pixels.shape[:2]
    if not tall or not wide:
        return ""
    small = cv2.resize(np.ascontiguousarray(picture.pixels), (SMALL, SMALL), interpolation=cv2.INTER_AREA).astype(np.float32)
    shares = _shares(small.reshape(-1, 3))
    means = cv2.resize(small, (GRID, GRID), interpolation=cv2.INTER_AREA)
    shape = min(65535, round(1000 * wide / tall))
    fine = cv2.resize(small.mean(axis=2), (FINE, FINE), interpolation=cv2.INTER_AREA)
    told = [shares * 255, np.asarray(means, np.float64).reshape(-1), np.asarray(fine, np.float64).reshape(-1)]
    parts = bytes(np.clip(np.rint(np.concatenate(told)), 0, 255).astype(np.uint8).tobytes())
    return str(shape.to_bytes(2, "big").hex() + parts.hex())


def _shares(pixels: npt.NDArray[np.float32]) -> npt.NDArray[np.float64]:
    """The share of each colour, float64 (LEVELS ** 3,): trilinear weights, so that a shade more or less changes little."""
    place = pixels / 255 * (LEVELS - 1)
    low = np.minimum(place.astype(np.int32), LEVELS - 2)
    part = place - low
    found = np.zeros(LEVELS**3)
    for corner in range(8):
        up = np.array([corner & 1, corner >> 1 & 1, corner >> 2])
        weight = np.where(up, part, 1 - part).prod(axis=1)
        codes = ((low + up) * np.array([1, LEVELS, LEVELS**2])).sum(axis=1)
        found += np.bincount(codes, weight, LEVELS**3)
    return found / len(pixels)
