"""The language's word lists: headers and keys. What things are called stands in `copione.model.roles`."""

from __future__ import annotations

from ..model.action import Key

HEADERS = ("script", "app", "patience", "data", "uses", "covers", "needs", "scene")

#: Keys to W3C UI Events `key` values.
KEYS = {Key.BACK: "GoBack", Key.HOME: "GoHome", Key.ENTER: "Enter"}
