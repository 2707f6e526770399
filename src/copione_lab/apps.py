"""The stand-in apps that come with the lab, by package."""

from __future__ import annotations

from typing import Protocol

from .app import App, System
from .contacts import Contacts
from .hive_diary import HiveDiary
from .kiln_book import KilnBook


class AppKind(Protocol):
    """An app that can be installed: made for a phone and a build."""

    package: str
    label: str

    def __call__(self, system: System, version: str, /) -> App: ...


APPS: dict[str, AppKind] = {app.package: app for app in (HiveDiary, KilnBook, Contacts)}
OWN = frozenset({Contacts.package})  # that a phone comes with, and does not part with
