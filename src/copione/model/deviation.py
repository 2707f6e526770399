"""In which way something reads otherwise than expected: what a reason is about, and what two devices with the same fault have in common."""

from __future__ import annotations

from enum import Enum


class Deviation(Enum):
    """Kinds; the value is what a reason is about, and how archives hold it."""

    NOTHING = "nothing"
    LANGUAGE = "in another language"
    FORMAT = "in another format"
    DAY = "another day"
    CUT = "cut"


OFF = "off by "  # before how much a number is off


def off_by(gap: float) -> str:
    """A number that is more (or less) by so much."""
    return f"{OFF}{gap:+g}"
