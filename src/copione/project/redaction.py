"""Pictures and trees without secrets: blanks over password fields, and over what shows a secret.

The tree tells where. What it does not tell (a message of the system, words in a picture) is read in the picture, once a secret has been
typed: only what looks like writing and is no text of the tree is read, and a picture that came before is not read again.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from ..model.geometry import Box
from ..model.screen import Element, Flag, Moment, Screen
from ..model.secrecy import Redactor
from ..recognition.pictures import Picture, picture_of
from ..recognition.text import NoReader, can_read, texts

INK = (0x22, 0x26, 0x2F)
AROUND_DP = 2.0  # a blank reaches so far over what it hides
UNKNOWN_WIDTH = 400.0  # dp, of a screen without a tree
STATUS_DP = 24.0  # the system's own bar with its clock: what secrets do not come back in
STROKE = 28.0  # of 255: how much a letter differs from what is round it
GAP_DP = 8.0  # between two letters or words of a line, at most
LEAST_DP, TALLEST_DP = (18.0, 6.0), 90.0  # of what looks like a word, each way; a line is no taller
MARGIN_DP = 12.0


class Blanks:
    """Of one take or recording. `reading`: pictures are read too."""

    def __init__(self, redactor: Redactor) -> None:
        self._redactor = redactor
        self.reading = False
        self._last: tuple[bytes, list[Box]] = b"", []

    def over(self, moment: Moment) -> Moment:
        """The moment as it may be kept; the same one where nothing in it is secret. A picture that cannot be blanked is left out."""
        screen = moment.screen
        boxes = list(_shown(screen, self._redactor)) if screen is not None else []
        if moment.png and self._redactor.knows_any and (self.reading or screen is None) and can_read():
            boxes += self._read(moment)
        tree = self._redactor.bytes(moment.tree)
        if boxes and moment.png:
            return replace(moment, png=_with_blanks(moment, boxes), tree=tree)
        return moment if tree == moment.tree else replace(moment, tree=tree)

    def _read(self, moment: Moment) -> list[Box]:
        png, boxes = self._last
        if png != moment.png:
            boxes = list(_written(moment, self._redactor))
            self._last = moment.png, boxes
        return boxes


def _shown(screen: Screen, redactor: Redactor) -> Iterable[Box]:
    """Where the tree tells of a password, or of a secret."""
    if (screen.flags & Flag.PASSWORD).any():
        yield from (e.box for e in screen if e.has(Flag.PASSWORD) and e.text)
    if redactor.knows_any and redactor.holds("\x1f".join((*screen.texts, *screen.labels, *screen.names))):
        for element in screen:
            own = redactor.holds(element.text) or redactor.holds(element.label)
            if own or (redactor.holds(element.name) and not _inside(element, redactor)):
                yield element.box


def _inside(element: Element, redactor: Redactor) -> bool:
    """Is it called by a secret that something in it says?"""
    return any(redactor.holds(e.text) or redactor.holds(e.label) for e in element.descendants())


def _written(moment: Moment, redactor: Redactor) -> Iterable[Box]:
    """Where the picture says a secret, as far as a reader can tell: the lines that hold one."""
    picture = picture_of(moment, moment.screen.width if moment.screen is not None else UNKNOWN_WIDTH)
    area = writing(picture, moment.screen) if picture is not None else None
    if picture is None or area is None:
        return
    try:
        words = texts(picture.cut(area))
    except NoReader:
        return
    lines = [(w.text, Box(area.left + w.box.left, area.top + w.box.top, area.left + w.box.right, area.top + w.box.bottom)) for w in words]
    for text, box in lines:
        if redactor.stands_out(text):
            yield box
    for (one, box), (two, below) in pairwise(lines):  # a line that goes on in the next
        if redactor.stands_out(one + two):
            yield box
            yield below


def writing(picture: Picture, screen: Screen | None) -> Box | None:
    """The part of a picture that may have words in it which its tree does not tell; None where there is none.

    Strokes that stand side by side are taken for a line; what the tree calls a text is left out.
    """
    import cv2

    k = picture.density
    grey = cv2.cvtColor(picture.pixels, cv2.COLOR_BGR2GRAY)
    small = cv2.resize(grey, None, fx=1 / k, fy=1 / k, interpolation=cv2.INTER_AREA)  # a pixel a dp
    strokes = (cv2.absdiff(small, cv2.medianBlur(small, 9)) > STROKE).astype(np.uint8)
    strokes[: round(STATUS_DP)] = 0
    for element in screen or ():
        if element.text or (element.label and not element.children and element.role not in {"img", "canvas", "document"}):
            left, top, right, bottom = (max(0, round(v)) for v in element.box)
            strokes[top:bottom, left:right] = 0
    lines = cv2.morphologyEx(strokes, cv2.MORPH_CLOSE, np.ones((1, round(GAP_DP)), np.uint8))
    count, _, stats, _ = cv2.connectedComponentsWithStats(lines, connectivity=8)
    parts = stats[1:count, :4]
    parts = parts[(parts[:, 2] >= LEAST_DP[0]) & (parts[:, 3] >= LEAST_DP[1]) & (parts[:, 3] <= TALLEST_DP)]
    if not len(parts):
        return None
    begin, end = parts[:, :2].min(axis=0) - MARGIN_DP, (parts[:, :2] + parts[:, 2:]).max(axis=0) + MARGIN_DP
    return Box(float(begin[0]), float(begin[1]), float(end[0]), float(end[1])).clipped(Box(0.0, 0.0, *picture.size))


def _with_blanks(moment: Moment, boxes: Sequence[Box]) -> bytes:
    from PIL import Image, ImageDraw

    try:
        image = Image.open(io.BytesIO(moment.png)).convert("RGB")
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        return b""
    k = image.width / (moment.screen.width if moment.screen is not None else UNKNOWN_WIDTH)
    draw = ImageDraw.Draw(image)
    for box in boxes:
        left, top, right, bottom = ((v + side * AROUND_DP) * k for v, side in zip(box, (-1, -1, 1, 1), strict=True))
        if right > left and bottom > top:
            draw.rectangle((left, top, right, bottom), fill=INK)
    data = io.BytesIO()
    image.save(data, "PNG", compress_level=1)
    return data.getvalue()
