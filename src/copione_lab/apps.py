"""The stand-in apps that come with the lab, by package."""

from __future__ import annotations

from .hive_diary import HiveDiary
from .kiln_book import KilnBook

#: Each is made for a phone and a build.
APPS: dict[str, type[HiveDiary] | type[KilnBook]] = {HiveDiary.package: HiveDiary, KilnBook.package: KilnBook}
