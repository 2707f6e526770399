"""What a device or a server may say at most, and how long it may take: every command has a limit in bytes and one deadline for all of it.

Whatever comes from a device is checked here or in `copione.screens`, before anything else sees it.
"""

from __future__ import annotations

import contextlib
import time
import unicodedata
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

from ..model.device import MOST_PIXELS
from ..model.errors import NoAnswer, PictureUnsound

MEGABYTE = 1 << 20
#: Bytes of one answer. A screen of 8 million pixels is a PNG of some 3 MB; real element trees have less than 1 MB.
WORDS, TREE, PICTURE, LOG, LISTING = 4 * MEGABYTE, 16 * MEGABYTE, 48 * MEGABYTE, 32 * MEGABYTE, MEGABYTE
PATIENCE_S = 30.0  # what a command may take where nobody is in more of a hurry
GRACE_S, SLOWEST = 3.0, 1000.0  # an answer that has begun may take so long, and as much more as its bytes do at so many a second
MORE_S = 7.0  # what a command may take beyond a step's patience: a tree dump waits up to ten seconds for a screen to rest
FOR_PICTURE = 0.25  # share of a moment's time that is kept for the picture of a screen whose tree does not come
INSTALL_S = 300.0
NAME = 80  # characters of a name that a device gives itself
SIDE_PX = 20_000  # of a screen, at most
DPI = (40, 2000)  # what a screen may have

PNG, END = b"\x89PNG\r\n\x1a\n", b"\x00\x00\x00\x00IEND\xaeB`\x82"


class Deadline:
    """The end of one command, however many reads it takes. An answer that has begun has to flow: see `came`."""

    def __init__(self, seconds: float) -> None:
        self._begin = time.monotonic()
        self._until = self._end = self._begin + seconds
        self._began: float | None = None

    @property
    def seconds(self) -> float:
        """How long it is, as things stand."""
        return round(self._until - self._begin, 2)

    def came(self, size: int) -> None:
        """So many bytes of the answer have come. From the first on, they must come at a rate that no device falls behind."""
        if self._began is None:
            self._began = time.monotonic()
        self._until = min(self._end, self._began + GRACE_S + size / SLOWEST)

    @property
    def over(self) -> bool:
        """Is it past?"""
        return time.monotonic() >= self._until

    def left(self) -> float:
        """Seconds until then. Raises TimeoutError when it is past."""
        left = self._until - time.monotonic()
        if left <= 0:
            raise TimeoutError
        return left

    def but(self, kept: float) -> float:
        """Seconds until then, but for some that are kept for what follows; one at least."""
        return max(1.0, self._until - time.monotonic() - kept)


class Hurried(Protocol):
    """What has a patience: seconds that any one of its commands may take."""

    patience: float


@dataclass(frozen=True)
class Limit:
    """What one command may take: bytes of its answer, seconds in all."""

    bytes: int = WORDS
    seconds: float = PATIENCE_S


def patience_for(step_s: float) -> float:
    """Seconds that a command may take for a step with that patience: the device is not waited for much longer than the step would be."""
    return step_s + MORE_S


@contextlib.contextmanager
def hurried(link: Hurried, step_s: float) -> Iterator[None]:
    """Let each command of a link take so long as a step with that patience allows."""
    before = link.patience
    link.patience = min(before, patience_for(step_s))
    try:
        yield
    finally:
        link.patience = before


def no_answer(who: str, seconds: float) -> NoAnswer:
    """The error for a device that has given no whole answer for so long."""
    return NoAnswer(f"{who} has given no whole answer for {seconds:g} s. Is it hanging?")


def one_line(said: object, most: int = NAME) -> str:
    """What a device says of itself as one line for people: no control characters, no line ends, no marks that turn the writing round."""
    words = "".join(" " if c.isspace() else c for c in str(said)[: most * 8] if c.isspace() or unicodedata.category(c)[0] != "C")
    words = " ".join(words.split())
    return words if len(words) <= most else words[: most - 1] + "…"


def trouble_with(png: bytes) -> str:
    """What is wrong with a picture, as a part of a sentence; empty where nothing is. Its pixels are not unpacked: header and end tell."""
    if not png.startswith(PNG) or png[12:16] != b"IHDR" or len(png) < 45:
        return "no picture of its screen"
    width, height = png_size(png)
    if not 0 < width <= SIDE_PX or not 0 < height <= SIDE_PX or width * height > MOST_PIXELS:
        return f"a picture of {width} × {height} pixels, which no screen has"
    if not png.endswith(END):
        return "a picture that is cut short"
    return "" if _whole(png) else "a picture that is damaged"


def _whole(png: bytes) -> bool:
    """Do its chunks follow each other to the end, each with its checksum (PNG specification, 5.3)?"""
    at = len(PNG)
    while at + 12 <= len(png):
        size = int.from_bytes(png[at : at + 4], "big")
        end = at + 12 + size
        if end > len(png) or zlib.crc32(memoryview(png)[at + 4 : end - 4]) != int.from_bytes(png[end - 4 : end], "big"):
            return False
        at = end
    return at == len(png)


def sound_picture(png: bytes, who: str) -> bytes:
    """The picture, if it is one. Raises PictureUnsound that says what it is instead."""
    trouble = trouble_with(png)
    if trouble:
        raise PictureUnsound(f"{who} gave {trouble}.", printed=png[:80])
    return png


def png_size(png: bytes) -> tuple[int, int]:
    """Width and height in pixels from a PNG's header."""
    return int.from_bytes(png[16:20], "big"), int.from_bytes(png[20:24], "big")
