"""The plain shapes of controls in a picture: plates, switches and sliders, told by their outlines. OpenCV is imported where first used."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from ..model.drawn import Pill, Plate, Shapes, SliderTrack
from ..model.geometry import Box
from .pictures import Picture

LEAST = 22.0  # dp each way of a plate; letters are smaller
WIDEST = 0.985  # of the picture's width: what is wider is the page's ground
FULL = 0.76  # of its box that a plate fills at least; a circle fills 0.785
SAME = 0.8  # of two boxes' union that they share: the inner and the outer edge of one outline
RIM = 3.0  # dp from an edge: within the outline, and outside of what is drawn on a plate
OFF = 24.0  # of 255 by which two colours differ at least
MARK, MARK_INK = 40.0, (0.01, 0.4)  # dp at the end of a plate, and the share of that which a mark there covers
PILL = (1.35, 2.6)  # width over height of a switch
PILL_TALL = (18.0, 44.0)  # dp
SLIDER_WIDE, SLIDER_TALL = 80.0, (12.0, 40.0)  # dp at least; dp
THIN = 0.45  # of its box that a slider fills at most
KNOB = 3.0  # dp by which a slider's knob is higher than its line at least


def shapes_in(picture: Picture) -> Shapes:
    """The shapes of a picture."""
    import cv2

    k = picture.density
    grey = cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY)
    edges = cv2.morphologyEx(cv2.Canny(grey, 12, 36), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    outlines, _ = cv2.findContours(edges, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
    plates: list[Box] = []
    pills: list[Pill] = []
    tracks: list[SliderTrack] = []
    for outline in outlines:
        left, top, wide, tall = (float(v) / k for v in cv2.boundingRect(outline))
        box = Box(left, top, left + wide, top + tall)
        full = float(cv2.contourArea(outline)) / k / k / max(1.0, box.area)
        if full >= FULL and wide >= LEAST and tall >= LEAST and wide <= WIDEST * picture.size[0]:
            plates.append(box)
        if full >= FULL and PILL_TALL[0] <= tall <= PILL_TALL[1] and PILL[0] <= wide / tall <= PILL[1]:
            side = _knob(picture, box)
            pills += [Pill(box, side)] if side is not None else []
        elif full <= THIN and wide >= SLIDER_WIDE and SLIDER_TALL[0] <= tall <= SLIDER_TALL[1]:
            share = _along(picture, box)
            tracks += [SliderTrack(box, share)] if share is not None else []
    kept = [box for box in _apart(plates) if not any(_same(box, pill.box) for pill in pills)]
    return Shapes(
        tuple(_plate(picture, box) for box in kept),
        tuple(pill for i, pill in enumerate(pills) if not any(_same(pill.box, other.box) for other in pills[:i])),
        tuple(
            track
            for track in tracks
            if not any(track.box.area < other.box.area and track.box.clipped(other.box) == track.box for other in tracks)
        ),
    )


def _same(one: Box, other: Box) -> bool:
    return one.overlap(other) >= SAME


def _apart(boxes: list[Box]) -> list[Box]:
    """Of boxes that are the two edges of one outline the outer one; from the top down."""
    found: list[Box] = []
    for box in sorted(boxes, key=lambda b: -b.area):
        if not any(_same(box, other) for other in found):
            found.append(box)
    return sorted(found, key=lambda b: (b.top, b.left))


def _colour(picture: Picture, x: float, y: float) -> npt.NDArray[np.float32]:
    k = picture.density
    tall, wide = picture.pixels.shape[:2]
    at = min(tall - 1, max(0, round(y * k))), min(wide - 1, max(0, round(x * k)))
    return np.asarray(picture.pixels[at], np.float32)


def _plate(picture: Picture, box: Box) -> Plate:
    """With its colour just inside the upper edge, in the middle."""
    blue, green, red = _colour(picture, box.centre[0], box.top + RIM).tolist()
    fill = blue, green, red
    ends = (box.left + RIM, box.left + MARK), (box.right - MARK, box.right - RIM)
    left, right = (_marked(picture, Box(begin, box.top + 2 * RIM, end, box.bottom - 2 * RIM), fill) for begin, end in ends)
    return Plate(box, fill, left, right)


def _marked(picture: Picture, end: Box, fill: tuple[float, float, float]) -> bool:
    pixels = picture.cut(end).pixels.astype(np.float32)
    if pixels.size == 0:
        return False
    ink = (np.abs(pixels - np.array(fill, np.float32)).max(axis=2) >= 2 * OFF).mean()
    return bool(MARK_INK[0] <= ink <= MARK_INK[1])


def _knob(picture: Picture, box: Box) -> bool | None:
    """Is a switch's knob at the right? None where neither end has one: the colour at an end is the track's, or the knob's on it."""
    middle, half = (box.top + box.bottom) / 2, box.height / 2
    track = _colour(picture, box.centre[0], box.top + RIM)
    ends = (_colour(picture, box.left + half, middle), _colour(picture, box.right - half, middle))
    off = [float(np.abs(end - track).max()) >= OFF for end in ends]
    return off[1] if off[0] != off[1] else None


def _along(picture: Picture, box: Box) -> float | None:
    """How far along its line a slider's knob is; None where nothing on the line is higher than it."""
    part = picture.cut(box).pixels.astype(np.float32)
    if part.size == 0:
        return None
    ground = np.median(np.concatenate([part[0], part[-1]]), axis=0)
    ink = (np.abs(part - ground).max(axis=2) >= OFF).sum(axis=0) / picture.density
    line = float(np.median(ink))
    high = np.flatnonzero(ink >= max(line + KNOB, 0.6 * box.height))
    if not len(high) or line < 0.5 or (high[-1] - high[0]) / picture.density > 1.6 * box.height:
        return None
    half = box.height / 2
    x = float(high.mean()) / picture.density
    return min(1.0, max(0.0, (x - half) / max(1.0, box.width - box.height)))
