"""WebDriver's bodies as pure functions: contacts and keys into the Actions API, answers into values or errors.

W3C Recommendation *WebDriver*; positions are CSS pixels of the viewport, which are dp here.
"""

from __future__ import annotations

import base64
import json
import re
from collections.abc import Sequence
from typing import Any

from ...model.gesture import Contact
from ...model.key import Key
from ..limits import one_line

#: WebDriver's characters for keys; of several the first are held while the last is pressed.
KEYS = {
    Key.ENTER: "\ue006",
    Key.BACKSPACE: "\ue003",
    Key.DELETE: "\ue017",
    Key.END: "\ue009\ue010",
    Key.ESCAPE: "\ue00c",
    Key.TAB: "\ue004",
    Key.LEFT: "\ue012",
    Key.UP: "\ue013",
    Key.RIGHT: "\ue014",
    Key.DOWN: "\ue015",
}
LEAST_S = 0.001  # between a press and its lift: in one tick of the API both cannot be


class RemoteRefused(Exception):
    """The remote end answered with an error: its word from the standard, and its message."""

    def __init__(self, error: str, message: str) -> None:
        super().__init__(message)
        self.error, self.message = error, message


def value_of(status: int, body: bytes) -> Any:
    """The value of an answer. Raises RemoteRefused for an error, ValueError for what is no answer of a remote end.

    Half characters (lone surrogates, which JSON lets through and no file takes) are replaced.
    """
    try:
        answer = json.loads(body.decode("utf-8", "replace"))
    except (ValueError, RecursionError) as error:
        raise ValueError(f"status {status} without JSON") from error
    if not isinstance(answer, dict) or "value" not in answer:
        raise ValueError(f"status {status} without a value")
    value = _whole(answer["value"]) if HALF.search(body) else answer["value"]
    if status >= 400:
        if not isinstance(value, dict) or "error" not in value:
            raise ValueError(f"status {status} without an error")
        raise RemoteRefused(one_line(value["error"], 60), one_line(value.get("message", ""), 300))
    return value


HALF = re.compile(rb"\\u[dD][89a-fA-F]")


def _whole(value: Any) -> Any:
    if isinstance(value, str):
        return value.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
    if isinstance(value, list):
        return [_whole(each) for each in value]
    if isinstance(value, dict):
        return {_whole(name): _whole(each) for name, each in value.items()}
    return value


# every value is of the kind that its command gives, or ValueError


def words_in(value: Any, what: str) -> str:
    """A text."""
    if not isinstance(value, str):
        raise ValueError(f"{what} is no text")
    return value


def record_in(value: Any, what: str) -> dict[str, Any]:
    """An object."""
    if not isinstance(value, dict):
        raise ValueError(f"{what} is no object")
    return value


def list_in(value: Any, what: str) -> list[Any]:
    """A list."""
    if not isinstance(value, list):
        raise ValueError(f"{what} is no list")
    return value


def number_in(value: Any, what: str, low: float, high: float) -> float:
    """A number within reason."""
    try:
        number = float(value)
    except (TypeError, ValueError, OverflowError) as error:
        raise ValueError(f"{what} is no number") from error
    if not low <= number <= high:
        raise ValueError(f"{what} is {number:g}")
    return number


def picture_in(value: Any) -> bytes:
    """The bytes of a picture that is sent as base64."""
    try:
        return base64.b64decode(words_in(value, "the screenshot"), validate=True)
    except ValueError as error:
        raise ValueError("the screenshot is no base64") from error


def touch_actions(contacts: Sequence[Contact], unit: float = 1.0) -> dict[str, Any]:
    """The body of one Perform Actions: a touch pointer for each contact, all on one time line. `unit`: coordinates in a dp.

    Ticks of the API last as long as their longest action, so every pointer gets an action in every tick: the times at which any
    finger does anything cut the time line.
    """
    start = min(c.since for c in contacts)
    lifts = [max(c.lift, c.since + LEAST_S) for c in contacts]
    times = sorted({round(t - start, 4) for c, up in zip(contacts, lifts, strict=True) for t in (*(p[0] for p in c.path), up)})
    sources = []
    for number, contact in enumerate(contacts):
        actions: list[dict[str, Any]] = []
        points = {round(t - start, 4): (x, y) for t, x, y in contact.path}
        begin, lift = round(contact.since - start, 4), round(lifts[number] - start, 4)
        last = 0.0
        for t in times:
            ms = max(0, round((t - last) * 1000))
            last = t
            if t in points and t >= begin:
                x, y = points[t]
                actions.append({"type": "pointerMove", "duration": ms, "x": x * unit, "y": y * unit, "origin": "viewport"})
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
    """The body that presses keys one after the other; a letter is itself. Of a key of several characters the first are held."""
    actions = []
    for key in keys:
        actions += [{"type": "keyDown", "value": part} for part in key]
        actions += [{"type": "keyUp", "value": part} for part in reversed(key)]
    return {"actions": [{"type": "key", "id": "keyboard", "actions": actions}]}


def capability(capabilities: dict[str, Any], name: str) -> Any:
    """A capability by its name, with or without a vendor's prefix."""
    if name in capabilities:
        return capabilities[name]
    return next((value for key, value in capabilities.items() if key.partition(":")[2] == name), None)
