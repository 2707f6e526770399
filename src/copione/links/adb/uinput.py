"""Several fingers at once: contacts as commands for the phone's `uinput` tool, which registers a touch panel and injects its events.

The panel is a Linux multi-touch device of protocol B; codes are those of Linux's uinput.h and input-event-codes.h.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from itertools import pairwise

from ...model.gesture import Contact

UI_SET_EVBIT, UI_SET_KEYBIT, UI_SET_ABSBIT, UI_SET_PROPBIT = 100, 101, 103, 110
EV_SYN, EV_KEY, EV_ABS = 0, 1, 3
BTN_TOUCH, PROP_DIRECT = 0x14A, 1
SLOT, X, Y, TRACKING_ID = 0x2F, 0x35, 0x36, 0x39
SETTLE_MS = 300  # until the system has taken the new panel in
FRAME_S = 1 / 60


def at_time(contact: Contact, t: float) -> tuple[float, float]:
    """Where a finger is at a time, dp: between its samples on a straight line, before and after them at its ends."""
    path = contact.path
    if t <= path[0][0]:
        return path[0][1:]
    for (t0, x0, y0), (t1, x1, y1) in pairwise(path):
        if t <= t1:
            share = (t - t0) / (t1 - t0) if t1 > t0 else 1.0
            return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share
    return path[-1][1:]


def to_panel(x: float, y: float, width: float, height: float, rotation: int) -> tuple[float, float]:
    """A point of the turned screen in the panel's own axes; `width`, `height` of the upright screen, `rotation` in quarter turns."""
    return {0: (x, y), 1: (width - y, x), 2: (width - x, height - y), 3: (y, height - x)}[rotation % 4]


def uinput_commands(contacts: Sequence[Contact], size_px: tuple[int, int], density: float, rotation: int = 0) -> str:
    """The whole input for one `uinput -`: the panel, then a frame every sixtieth of a second until the last finger has lifted."""
    width, height = size_px
    commands: list[dict[str, object]] = [_register(width, height), {"id": 1, "command": "delay", "duration": SETTLE_MS}]
    begin, end = min(c.since for c in contacts), max(c.lift for c in contacts)
    down: set[int] = set()
    frames = max(1, round((end - begin) / FRAME_S))
    for n in range(frames + 1):
        t = begin + (end - begin) * n / frames
        events: list[int] = []
        for slot, contact in enumerate(contacts):
            if contact.since <= t < contact.lift:
                x_dp, y_dp = at_time(contact, t)
                x, y = to_panel(x_dp * density, y_dp * density, width, height, rotation)
                events += [EV_ABS, SLOT, slot]
                if slot not in down:
                    events += [EV_ABS, TRACKING_ID, slot + 1]
                    events += [] if down else [EV_KEY, BTN_TOUCH, 1]
                    down.add(slot)
                events += [EV_ABS, X, min(width - 1, max(0, round(x))), EV_ABS, Y, min(height - 1, max(0, round(y)))]
            elif slot in down:
                events += [EV_ABS, SLOT, slot, EV_ABS, TRACKING_ID, -1]
                down.discard(slot)
                events += [] if down else [EV_KEY, BTN_TOUCH, 0]
        if events:
            commands.append({"id": 1, "command": "inject", "events": [*events, EV_SYN, 0, 0]})
        commands.append({"id": 1, "command": "delay", "duration": max(1, round((end - begin) / frames * 1000))})
    return "\n".join(json.dumps(command, separators=(",", ":")) for command in commands)


def _register(width: int, height: int) -> dict[str, object]:
    bits = {
        UI_SET_EVBIT: [EV_KEY, EV_ABS],
        UI_SET_KEYBIT: [BTN_TOUCH],
        UI_SET_ABSBIT: [SLOT, X, Y, TRACKING_ID],
        UI_SET_PROPBIT: [PROP_DIRECT],
    }
    ranges = {SLOT: 9, X: width - 1, Y: height - 1, TRACKING_ID: 65535}
    rest = {"minimum": 0, "fuzz": 0, "flat": 0, "resolution": 0}
    return {
        "id": 1,
        "command": "register",
        "name": "copione touch",
        "vid": 0xF055,
        "pid": 0xC0D1,
        "bus": "usb",
        "configuration": [{"type": kind, "data": data} for kind, data in bits.items()],
        "abs_info": [{"code": code, "info": {"value": 0, "maximum": most, **rest}} for code, most in ranges.items()],
    }
