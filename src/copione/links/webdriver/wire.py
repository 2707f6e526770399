"""WebDriver's bodies as pure functions: contacts and keys into the Actions API, answers into values or errors.

W3C Recommendation *WebDriver*; positions are CSS pixels of the viewport, which are dp here.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from ...model.gesture import Contact

KEYS = {"Enter": "\ue006", "Backspace": "\ue003", "End": "\ue010"}


class Refused(Exception):
    """The remote end answered with an error: its word from the standard, and its message."""

    def __init__(self, error: str, message: str) -> None:
        super().__init__(message)
        self.error, self.message = error, message


def value_of(status: int, body: bytes) -> Any:
    """The value of an answer. Raises Refused for an error, ValueError for what is no answer of a remote end."""
    try:
        answer = json.loads(body)
    except ValueError as error:
        raise ValueError(f"status {status} without JSON") from error
    if not isinstance(answer, dict) or "value" not in answer:
        raise ValueError(f"status {status} without a value")
    value = answer["value"]
    if status >= 400:
        if not isinstance(value, dict) or "error" not in value:
            raise ValueError(f"status {status} without an error")
        raise Refused(str(value["error"]), str(value.get("message", "")))
    return value


def touch_actions(contacts: Sequence[Contact]) -> dict[str, Any]:
    """The body of one Perform Actions: a touch pointer for each contact, all on one time line.

    Ticks of the API last as long as their longest action, so every pointer gets an action in every tick: the times at which any
    finger does anything cut the time line.
    """
    start = min(c.since for c in contacts)
    times = sorted({round(t - start, 4) for c in contacts for t in (*(p[0] for p in c.path), c.lift)})
    sources = []
    for number, contact in enumerate(contacts):
        actions: list[dict[str, Any]] = []
        points = {round(t - start, 4): (x, y) for t, x, y in contact.path}
        begin, lift = round(contact.since - start, 4), round(contact.lift - start, 4)
        last = 0.0
        for t in times:
            ms = max(0, round((t - last) * 1000))
            last = t
            if t in points and t >= begin:
                x, y = points[t]
                actions.append({"type": "pointerMove", "duration": ms, "x": x, "y": y, "origin": "viewport"})
            else:
                actions.append({"type": "pause", "duration": ms})
            if t == begin:
                actions.append({"type": "pointerDown", "button": 0})
            elif t == lift:
                actions.append({"type": "pointerUp", "button": 0})
            else:
                actions.append({"type": "pause", "duration": 0})
        sources.append({"type": "pointer", "id": f"finger {number}", "parameters": {"pointerType": "touch"}, "actions": actions})
    return {"actions": sources}


def key_actions(keys: Sequence[str]) -> dict[str, Any]:
    """The body that presses keys one after the other; a letter is itself."""
    actions = [{"type": kind, "value": key} for key in keys for kind in ("keyDown", "keyUp")]
    return {"actions": [{"type": "key", "id": "keyboard", "actions": actions}]}


def capability(capabilities: dict[str, Any], name: str) -> Any:
    """A capability by its name, with or without a vendor's prefix."""
    if name in capabilities:
        return capabilities[name]
    return next((value for key, value in capabilities.items() if key.partition(":")[2] == name), None)


def vendor(capabilities: dict[str, Any], name: str) -> str:
    """The vendor prefix under which a capability was given; empty without one."""
    return next((key.partition(":")[0] for key in capabilities if key.partition(":")[2] == name), "")
