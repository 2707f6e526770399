"""Freehand paths: SVG path data in shares of a box, M and L only, which is all a finger draws."""

from __future__ import annotations

import math
import re

Point = tuple[float, float]
_TOKEN = re.compile(r"[MLml]|[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?")
LIKE = "One looks like M .2 .2 L .8 .6."


def svg_strokes(words: str) -> list[list[Point]]:
    """The strokes of path data, each at least one place. Raises ValueError, with a sentence, for what is none."""
    strokes: list[list[Point]] = []
    numbers: list[float] = []
    command = ""
    if _TOKEN.sub("", words).replace(",", "").strip():
        raise ValueError(f"{words} is no path. {LIKE}")
    for token in _TOKEN.findall(words):
        if token in "MLml":
            command = token
            continue
        numbers.append(float(token))
        if not math.isfinite(numbers[-1]):
            raise ValueError(f"{token} is too far away. {LIKE}")
        if len(numbers) == 2:
            place = (numbers[0], numbers[1])
            last = strokes[-1][-1] if strokes and strokes[-1] else (0.0, 0.0)
            if command.islower():
                place = last[0] + place[0], last[1] + place[1]
            if not command:
                raise ValueError(f"{words} does not begin with M. {LIKE}")
            if command in "Mm":
                strokes.append([place])
                command = "L" if command == "M" else "l"
            elif not strokes:
                raise ValueError(f"{words} does not begin with M. {LIKE}")
            else:
                strokes[-1].append(place)
            numbers = []
    if not strokes or numbers:
        raise ValueError(f"{words} is no path. {LIKE}")
    return strokes
