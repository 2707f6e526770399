"""What the diary holds: hives and their last inspections."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

TEMPERS = ("Calm", "Nervous", "Hot")
MOST_FRAMES = 10
TODAY = date(2026, 11, 23)  # in the lab it always is
STOPS = ("Orchard", "Mill", "Lime avenue", "Heath", "Old quarry")
LOADING_S = 2.5  # how long the records take


@dataclass
class Hive:
    name: str
    seen: int  # days ago; 0 is today
    frames: int
    temper: str
    weight_kg: int
    queen: bool
    note: str = ""
    marked: bool = False


@dataclass
class Draft:
    """An inspection that is being written."""

    frames: int = 3
    queen: bool = False
    temper: str = ""
    note: str = ""
    weather: str = "Sunny"
    day: date = TODAY
    supers: int = 1
    photos: int = 0


def hives() -> list[Hive]:
    """The diary as it is after installing: the same on every phone."""
    return [
        Hive(
            name=f"Hive {number}",
            seen=2 + number * 5 % 19,
            frames=3 + number * 7 % 6,
            temper=TEMPERS[number * 2 % 3],
            weight_kg=24 + number * 11 % 17,
            queen=number % 4 != 0,
        )
        for number in range(1, 25)
    ]
