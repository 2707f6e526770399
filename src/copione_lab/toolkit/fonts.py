"""Text measuring and the fonts it is painted with."""

from __future__ import annotations

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


@lru_cache(maxsize=20_000)
def width_px(words: str, weight: str, size_px: int) -> float:
    return font(weight, size_px).getlength(words)


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
