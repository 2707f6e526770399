"""The `uinput` shell command: JSON commands that register a touch panel and inject its events, several fingers at once.

Event codes are those of Linux's input-event-codes.h.
"""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .phone import Phone

EV_SYN, EV_ABS = 0, 3
SLOT, X, Y, TRACKING_ID = 0x2F, 0x35, 0x36, 0x39


class Injection:
    """One registered panel: what its slots hold, turned into pointers at every sync."""

    def __init__(self, phone: Phone) -> None:
        self.phone = phone
        self.at = phone.now()
        self._slot = 0
        self._held: dict[int, dict[int, int]] = {}
        self._down: set[int] = set()
        self._spans = (phone.model.width_px, phone.model.height_px)

    def run(self, commands: str) -> None:
        """All commands of a stream of JSON objects. Raises ValueError, KeyError."""
        decoder, rest = json.JSONDecoder(), commands.strip()
        while rest:
            command, end = decoder.raw_decode(rest)
            rest = rest[end:].lstrip()
            self._one(command)

    def _one(self, command: dict[str, Any]) -> None:
        kind = command["command"]
        if kind == "register":
            spans = {entry["code"]: entry["info"]["maximum"] + 1 for entry in command["abs_info"]}
            self._spans = spans[X], spans[Y]
        elif kind == "delay":
            seconds = command["duration"] / 1000
            self.phone.sleep(seconds)
            self.at += seconds
        elif kind == "inject":
            events = command["events"]
            for i in range(0, len(events), 3):
                self._event(*events[i : i + 3])

    def _event(self, kind: int, code: int, value: int) -> None:
        if kind == EV_ABS and code == SLOT:
            self._slot = value
        elif kind == EV_ABS:
            self._held.setdefault(self._slot, {})[code] = value
        elif kind == EV_SYN:
            self._sync()

    def _sync(self) -> None:
        model = self.phone.model
        for slot, held in self._held.items():
            wide, tall = model.width_px / self._spans[0], model.height_px / self._spans[1]
            x, y = held.get(X, 0) * wide, held.get(Y, 0) * tall
            if held.get(TRACKING_ID, -1) == -1:
                if slot in self._down:
                    self._down.discard(slot)
                    self.phone.panel_touch("up", slot, x, y, self.at)
            else:
                self.phone.panel_touch("move" if slot in self._down else "down", slot, x, y, self.at)
                self._down.add(slot)
