"""Text measuring and the fonts it is painted with."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

from PIL import ImageFont


@lru_cache(maxsize=1)
def _folder() -> Path:
    import font_roboto

    return Path(font_roboto.__file__).parent / "files"


@lru_cache(maxsize=256)
def font(weight: str, size_px: int) -> ImageFont.FreeTypeFont:
    """The face of that weight at that size in pixels."""
    return ImageFont.truetype(str(_folder() / f"Roboto-{weight}.ttf"), max(1, size_px))


_OTHER_SCRIPTS = Path("/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf")  # Roboto's package has Latin, Greek and Cyrillic only


def _right_to_left(words: str) -> bool:
    return any("\u0590" <= c <= "\u05ff" for c in words)


def visual(words: str) -> str:
    """The words in the order they are painted from the left: Hebrew turned round, its numbers kept."""
    if not _right_to_left(words):
        return words
    pieces = re.findall(r"[\d.,/]+|.", words)
    return "".join(reversed(pieces))


def face_for(words: str, face: ImageFont.FreeTypeFont) -> ImageFont.FreeTypeFont:
    """`face`, or one that has the letters, where the system has one."""
    if _right_to_left(words) and _OTHER_SCRIPTS.exists():
        return _other(round(face.size))
    return face


@lru_cache(maxsize=32)
def _other(size_px: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(_OTHER_SCRIPTS), size_px)


@lru_cache(maxsize=20_000)
def width_px(words: str, weight: str, size_px: int) -> float:
    return face_for(words, font(weight, size_px)).getlength(words)


@lru_cache(maxsize=5_000)
def wrapped(words: str, weight: str, size_px: int, limit_px: float) -> tuple[str, ...]:
    """`words` broken into lines no wider than `limit_px`, at spaces and at line ends."""
    lines: list[str] = []
    for paragraph in words.split("\n"):
        line = ""
        for word in paragraph.split(" "):
            longer = f"{line} {word}" if line else word
            if line and width_px(longer, weight, size_px) > limit_px:
                lines.append(line)
                line = word
            else:
                line = longer
        lines.append(line)
    return tuple(lines)
