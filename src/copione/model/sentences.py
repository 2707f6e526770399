"""What a toolkit makes of several texts: one sentence for a screen reader, and how it is taken apart again."""

from __future__ import annotations

import re

#: Between the texts that were merged.
_JOINTS = re.compile(r",\s+|\s*\n\s*|\s+[·•|]\s+")


def pieces_of(said: str) -> list[str]:
    """What a sentence that a toolkit merged out of several texts was made of; the whole where it is one."""
    return [piece for each in _JOINTS.split(said) if (piece := " ".join(each.split()))] or [said]
