"""Pictures: finding a patch of one screen on another, and telling whether two look alike. OpenCV is imported where first used.

A patch is looked for at the scale that the two densities predict, a little larger and smaller too, on a coarse copy first.
"""

from __future__ import annotations

import io
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from ..model.device import MOST_PIXELS
from ..model.geometry import Box
from ..model.screen import Moment

Pixels = npt.NDArray[np.uint8]
Floats = npt.NDArray[np.float32]

SCALES = (1.0, 0.97, 1.03)  # about the scale that the densities predict
COARSE = 4  # the first look is on a picture so many times smaller
LEAST_COARSE = 8  # pixels: a patch is not made smaller than this for the first look
PEAKS = 4  # places of the first look that are looked at closely
SAME = 0.90  # correlation from which it is the same; lookalikes reach 0.82, true ones 0.93 and more
LEAD = 0.05  # over the next place
INK, MARGIN_DP = 36.0, 3.0  # of 255, off the commonest colour; kept around what is drawn
PLAIN = 4.0  # standard deviation of grey below which there is nothing to tell a patch by
BLOCK_DP = 6.0
BLOCK_OFF = 0.16  # share of full colour by which the worst block may be off: one figure for another is more
FINGER, TOGETHER = 56.0, 10.0  # dp: what a touch on a picture is taken to mean at least; between letters of one line at most
SMALLEST, LARGEST = 12.0, 0.6  # dp each way; share of the screen


@dataclass(frozen=True, eq=False)
class Picture:
    """`pixels`: uint8 (h, w, 3), blue green red; `density` pixels a dp."""

    pixels: Pixels
    density: float
    kept: dict[Any, Any] = field(default_factory=dict, init=False, repr=False)  # what was read in it: lives as long as the picture

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, dp."""
        return self.pixels.shape[1] / self.density, self.pixels.shape[0] / self.density

    def cut(self, box: Box) -> Picture:
        """The part within a box, dp; what reaches over the edge is left away."""
        k = self.density
        left, top, right, bottom = (max(0, round(v * k)) for v in box)
        return Picture(self.pixels[top:bottom, left:right], k)

    def scaled(self, width_px: int, height_px: int) -> Picture:
        """The same picture in another size, pixels."""
        import cv2

        how = cv2.INTER_AREA if width_px <= self.pixels.shape[1] else cv2.INTER_LINEAR
        pixels = cv2.resize(self.pixels, (max(1, width_px), max(1, height_px)), interpolation=how)
        return Picture(np.asarray(pixels, np.uint8), self.density * width_px / max(1, self.pixels.shape[1]))

    def inked(self) -> Picture:
        """The part that is drawn on: without the plain margin, which is as wide as a layout makes it. The whole where nothing stands out.

        What differs from the commonest colour and does not touch the edge (a frame, the round corners of a button) is ink.
        """
        import cv2

        tall, wide = self.pixels.shape[:2]
        coarse = (self.pixels >> 4).reshape(-1, 3).astype(np.int32)
        codes = (coarse[:, 0] << 8) + (coarse[:, 1] << 4) + coarse[:, 2]
        commonest = int(np.bincount(codes).argmax())
        ground = self.pixels.reshape(-1, 3)[codes == commonest].mean(axis=0)
        ink = (np.abs(self.pixels.astype(np.float32) - ground).max(axis=2) > INK).astype(np.uint8)
        count, _, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
        parts = stats[1:count, :4]
        inside = parts[(parts[:, 0] > 0) & (parts[:, 1] > 0) & (parts[:, 0] + parts[:, 2] < wide) & (parts[:, 1] + parts[:, 3] < tall)]
        if not len(inside):
            return self
        pad = round(MARGIN_DP * self.density)
        left, top = (max(0, int(v) - pad) for v in inside[:, :2].min(axis=0))
        right, bottom = (int(v) + pad for v in (inside[:, :2] + inside[:, 2:]).max(axis=0))
        return Picture(self.pixels[top:bottom, left:right], self.density)


@dataclass(frozen=True)
class Match:
    """Where a patch was found, dp; how alike (0..1) and how alike the next place is; `off`: how far its worst block is off, 0..1."""

    box: Box
    score: float
    second: float
    off: float

    @property
    def sure(self) -> bool:
        """Is it the place, beyond doubt?"""
        return self.score >= SAME and self.score - self.second >= LEAD and self.off <= BLOCK_OFF


def picture_of(moment: Moment, width: float) -> Picture | None:
    """A moment's picture, decoded once; `width` of the screen in dp. None where it is not one."""
    if width not in moment.kept:
        moment.kept[width] = decode(moment.png, width)
    found: Picture | None = moment.kept[width]
    return found


def decode(png: bytes, width: float) -> Picture | None:
    """A picture as a device sent it; `width` of the screen in dp. None where it is not one."""
    import cv2
    from PIL import Image

    try:
        with Image.open(io.BytesIO(png), formats=["PNG"]) as image:
            if image.width * image.height > MOST_PIXELS:
                return None
            pixels = _quickly(png, image.mode)
            if pixels is None or pixels.shape[1::-1] != image.size:
                pixels = np.asarray(cv2.cvtColor(np.asarray(image.convert("RGB"), np.uint8), cv2.COLOR_RGB2BGR), np.uint8)
    except (OSError, SyntaxError, ValueError, cv2.error, Image.DecompressionBombError):
        return None
    return Picture(np.asarray(pixels, np.uint8), pixels.shape[1] / width)


def _quickly(png: bytes, mode: str) -> Pixels | None:
    """The pixels of an ordinary picture, in a fraction of Pillow's time and beside other threads; None for any other."""
    import cv2
    import pyspng

    code = {"RGB": cv2.COLOR_RGB2BGR, "RGBA": cv2.COLOR_RGBA2BGR}.get(mode)
    try:
        return np.asarray(cv2.cvtColor(pyspng.load(png, format=mode), code), np.uint8) if code is not None else None
    except (RuntimeError, ValueError, cv2.error):  # Pillow tells whether it is a picture at all
        return None


def worth_a_look(box: Box, width: float, height: float) -> bool:
    """Is a box of the right size to be known by its picture: neither a dot nor most of the screen?"""
    return min(box.width, box.height) >= SMALLEST and box.area <= LARGEST * width * height


def look_for(patch: Picture, picture: Picture, within: Box | None = None) -> Match | None:
    """The place of `picture`, or of a part of it, that looks most like `patch`. None where the patch is plain, or does not fit in."""
    import cv2

    if within is not None:
        k = picture.density
        left, top = (max(0, round(v * k)) / k for v in within[:2])
        match = look_for(patch, picture.cut(within))
        return replace(match, box=match.box.moved(left, top)) if match is not None else None

    if min(patch.pixels.shape[:2], default=0) < LEAST_COARSE:
        return None
    grey = cv2.cvtColor(patch.pixels, cv2.COLOR_BGR2GRAY)
    if float(grey.std()) < PLAIN:
        return None
    ratio = picture.density / patch.density
    least = min(grey.shape) * ratio
    shrink = max(1, min(COARSE, int(least / LEAST_COARSE)))
    whole = cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY)
    small = _resized(whole, 1 / shrink)
    best: list[tuple[float, int, int, float]] = []
    for scale in SCALES:
        wanted = _resized(grey, ratio * scale / shrink)
        if wanted.shape[0] > small.shape[0] or wanted.shape[1] > small.shape[1]:
            continue
        heat = cv2.matchTemplate(small, wanted, cv2.TM_CCOEFF_NORMED)
        best += [(score, x * shrink, y * shrink, scale) for score, x, y in _peaks(np.asarray(heat, np.float32), wanted.shape)]
    close = [_closely(whole, grey, ratio, *peak[1:], shrink) for peak in sorted(best, reverse=True)[: PEAKS * 2]]
    if not close:
        return None
    score, x, y, wide, tall = max(close)
    second = max((s for s, x2, y2, w2, t2 in close if abs(x2 - x) > wide / 3 or abs(y2 - y) > tall / 3), default=0.0)
    k = picture.density
    seen = Picture(picture.pixels[y : y + tall, x : x + wide], k)
    return Match(Box(x / k, y / k, (x + wide) / k, (y + tall) / k), score, max(0.0, second), _worst(patch.scaled(wide, tall), seen))


def alike(patch: Picture, frame: Picture) -> int:
    """1 where nothing else of its own frame looks like a patch, 2 where something does, 0 where it is too plain to be looked for."""
    match = look_for(patch, frame)
    if match is None:
        return 0
    return 1 + (match.score - match.second < LEAD)


def _resized(grey: npt.NDArray[np.generic], scale: float) -> Pixels:
    import cv2

    size = max(1, round(grey.shape[1] * scale)), max(1, round(grey.shape[0] * scale))
    return np.asarray(cv2.resize(np.asarray(grey), size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR), np.uint8)


def _peaks(heat: Floats, size: tuple[int, ...]) -> list[tuple[float, int, int]]:
    """The best places of a correlation map, each at least half a patch from the others: score, x, y."""
    import cv2

    found: list[tuple[float, int, int]] = []
    heat = heat.copy()
    tall, wide = max(1, size[0] // 2), max(1, size[1] // 2)
    for _ in range(PEAKS):
        _, score, _, (x, y) = cv2.minMaxLoc(heat)
        if not np.isfinite(score) or score <= 0:
            break
        found.append((float(score), int(x), int(y)))
        heat[max(0, y - tall) : y + tall + 1, max(0, x - wide) : x + wide + 1] = -1.0
    return found


def _closely(
    whole: npt.NDArray[np.generic], grey: npt.NDArray[np.generic], ratio: float, x: int, y: int, scale: float, shrink: int
) -> tuple[float, int, int, int, int]:
    """Score, x, y, width and height in pixels at full size, about a place of the first look."""
    import cv2

    wanted = _resized(grey, ratio * scale)
    tall, wide = wanted.shape[:2]
    slack = 2 * shrink
    top, left = max(0, y - slack), max(0, x - slack)
    part = np.asarray(whole)[top : y + tall + slack, left : x + wide + slack]
    if part.shape[0] < tall or part.shape[1] < wide:
        return -1.0, x, y, wide, tall
    _, score, _, (dx, dy) = cv2.minMaxLoc(cv2.matchTemplate(part, wanted, cv2.TM_CCOEFF_NORMED))
    return float(score), left + dx, top + dy, wide, tall


def _worst(known: Picture, seen: Picture) -> float:
    """How far the worst block of a picture is off from the known one, both of the same size in pixels: 0 not at all, 1 black for white."""
    import cv2

    if known.pixels.shape != seen.pixels.shape:
        return 1.0
    block = max(2, round(BLOCK_DP * seen.density))
    size = max(1, round(seen.pixels.shape[1] / block * 2)), max(1, round(seen.pixels.shape[0] / block * 2))
    one, other = (cv2.resize(p.pixels, size, interpolation=cv2.INTER_AREA).astype(np.float32) for p in (known, seen))
    return float(np.abs(one - other).mean(axis=2).max() / 255.0)


def thing_at(picture: Picture, x: float, y: float) -> Box:
    """What a finger at a point of a picture seems to be on: the lines and letters that stand together there, or a finger's width, dp."""
    import cv2

    k = picture.density
    width, height = picture.size
    here = Box(x - FINGER / 2, y - FINGER / 2, x + FINGER / 2, y + FINGER / 2).clipped(Box(0.0, 0.0, width, height))
    edges = cv2.Canny(cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY), 60, 150)
    near = cv2.dilate(edges, np.ones((round(TOGETHER * k), round(TOGETHER * k)), np.uint8))
    _, marks, stats, _ = cv2.connectedComponentsWithStats(near, connectivity=8)
    tall, wide = marks.shape
    mark = int(marks[min(tall - 1, max(0, round(y * k))), min(wide - 1, max(0, round(x * k)))])
    if not mark:
        return here
    left, top, w, h = (int(v) / k for v in stats[mark, :4])
    found = Box(left, top, left + w, top + h)
    return found if worth_a_look(found, width, height) and found.area <= width * height / 6 else here


# alike within tolerances


def unlike_at_best(known: Picture, seen: Picture, reach_dp: float, colour: float) -> float:
    """The same as `unlike`, where a layout may have stretched the picture, or shows less or more of it at the same scale."""
    wide, tall = min(known.size[0], seen.size[0]), min(known.size[1], seen.size[1])
    shares = [unlike(known, seen, reach_dp, colour)]
    if max(abs(a - b) for a, b in zip(known.size, seen.size, strict=True)) >= 1.0:
        for at in (0.0, 0.5, 1.0):
            one, other = (_middle(picture, wide, tall, at) for picture in (known, seen))
            shares.append(unlike(one, other, reach_dp, colour))
    return min(shares)


def _middle(picture: Picture, wide: float, tall: float, at: float) -> Picture:
    """A part of that size, dp: from the left (`at` 0), the middle, or the right (1); of the height always the middle."""
    left, top = (picture.size[0] - wide) * at, (picture.size[1] - tall) / 2
    return picture.cut(Box(left, top, left + wide, top + tall))


def unlike(known: Picture, seen: Picture, reach_dp: float, colour: float) -> float:
    """Share 0..1 of what is seen that the known picture does not have within `reach_dp` and `colour` (share of full colour).

    Both are compared at one pixel a dp and a half, sharpness apart: each pixel has to lie between the darkest and the brightest of the
    other's neighbourhood, both ways (grey-level erosion and dilation).
    """
    import cv2

    width, height = seen.size
    size = max(1, round(width * 1.5)), max(1, round(height * 1.5))
    one, other = (cv2.resize(p.pixels, size, interpolation=cv2.INTER_AREA) for p in (known, seen))
    span = 2 * max(0, round(reach_dp * 1.5)) + 1
    kernel = np.ones((span, span), np.uint8)
    slack = colour * 255.0
    bad = np.zeros(one.shape[:2], bool)
    for a, b in ((one, other), (other, one)):
        low, high = cv2.erode(a, kernel).astype(np.float32) - slack, cv2.dilate(a, kernel).astype(np.float32) + slack
        bad |= ((b < low) | (b > high)).any(axis=2)
    return float(bad.mean())
