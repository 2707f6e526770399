"""Reading the text in a picture: an optional extra (`pip install copione[text]`), slow beside everything else, so asked last."""

from __future__ import annotations

import hashlib
import threading
from concurrent.futures import Future, ThreadPoolExecutor
from functools import lru_cache
from importlib.util import find_spec
from typing import Any

import numpy as np

from ..model.drawn import Words
from ..model.errors import CopioneError
from ..model.geometry import Box
from .evidence import fold
from .pictures import Picture

#: What stands on a screen stands upright; lines are looked for on a copy of so many pixels, and read one by one: a third of the memory.
THRIFTY = {"Global.use_cls": False, "Rec.rec_batch_num": 1, "Det.limit_type": "max", "Det.limit_side_len": 960}
SURE = 0.6  # of the reader's own confidence
LINE = 0.6  # of a line's height by which the middles of two pieces of it may differ
READ_AT = 1.75  # pixels a dp: small letters are still 17 pixels high, and the reader takes a third of the time and memory
SMALL_DP = 14.0  # a picture with less room around its letters gets a margin: the reader misses what touches the edge


class NoReader(CopioneError):
    """Text in pictures cannot be read here."""


def can_read() -> bool:
    """Is the extra installed?"""
    return find_spec("rapidocr") is not None


MOST_READ = 4  # pictures of a take of which it is kept what they say
_readers = ThreadPoolExecutor(1, "reading pictures")
_lock = threading.Lock()  # the reader is one, and not made for several threads


@lru_cache(maxsize=1)
def _reader() -> Any:
    import logging

    try:
        from rapidocr import RapidOCR

        reader = RapidOCR(params={"Global.log_level": "critical", **THRIFTY})
    except ImportError as error:  # it, or the engine that it runs on
        raise NoReader("Text in a picture can be read once the extra is installed: pip install 'copione[text]'.") from error
    logging.getLogger("RapidOCR").setLevel(logging.CRITICAL)
    return reader


def texts(picture: Picture) -> tuple[Words, ...]:
    """All text in a picture, from the top left; read once for each picture. Raises NoReader."""
    found: tuple[Words, ...] | None = picture.kept.get(texts)
    if found is None:
        found = picture.kept[texts] = _read(picture)
    return found


class Readings:
    """The words of a take's newest pictures, read in the background. A picture that has not changed is read once."""

    def __init__(self) -> None:
        self._kept: dict[bytes, Future[tuple[Words, ...]]] = {}

    def begin(self, png: bytes, picture: Picture) -> Future[tuple[Words, ...]]:
        """Begin to read a picture, decoded from `png`. An older one whose turn has not come is not read any more."""
        key = hashlib.blake2b(png).digest()
        if key not in self._kept:
            self._kept = {other: words for other, words in self._kept.items() if not words.cancel()}
            self._kept = dict(list(self._kept.items())[1 - MOST_READ :]) | {key: _readers.submit(texts, picture)}
        return self._kept[key]

    def in_time(self, png: bytes, picture: Picture, seconds: float) -> bool:
        """Wait at most so long for a picture's words, which `texts` gives from then on. False where it takes longer. Raises NoReader."""
        try:
            picture.kept[texts] = self.begin(png, picture).result(seconds)
        except TimeoutError:
            return False
        return True


def _read(picture: Picture) -> tuple[Words, ...]:
    import cv2

    if picture.density > READ_AT:
        picture = picture.scaled(round(picture.size[0] * READ_AT), round(picture.size[1] * READ_AT))
    pad = round(SMALL_DP * picture.density)
    ground = [int(v) for v in np.median(picture.pixels.reshape(-1, 3), axis=0)]
    pixels = cv2.copyMakeBorder(picture.pixels, pad, pad, pad, pad, cv2.BORDER_CONSTANT, value=ground)
    with _lock:
        found = _reader()(pixels)
    if found.boxes is None:
        return ()
    k = picture.density
    pieces = []
    for corners, said, sure in zip(found.boxes, found.txts, found.scores, strict=True):
        left, top, right, bottom = (float(v) - pad for v in (*np.min(corners, axis=0), *np.max(corners, axis=0)))
        if sure >= SURE and said.strip():
            pieces.append(Words(said.strip(), Box(left / k, top / k, right / k, bottom / k)))
    return tuple(_in_order(pieces))


def _in_order(pieces: list[Words]) -> list[Words]:
    """Line by line, each from the left."""
    lines: list[list[Words]] = []
    for piece in sorted(pieces, key=lambda w: w.box.centre[1]):
        if lines and abs(lines[-1][0].box.centre[1] - piece.box.centre[1]) < LINE * piece.box.height:
            lines[-1].append(piece)
        else:
            lines.append([piece])
    return [piece for line in lines for piece in sorted(line, key=lambda w: w.box.left)]


def said_in(picture: Picture) -> str:
    """All text in a picture as one line. Raises NoReader."""
    return " ".join(words.text for words in texts(picture))


def place_of(picture: Picture, said: str) -> Words | None:
    """The only piece of text that says just that, white space and case apart. Raises NoReader."""
    wanted = fold(said).replace(" ", "")
    found = [words for words in texts(picture) if fold(words.text).replace(" ", "") == wanted]
    return found[0] if len(found) == 1 else None
