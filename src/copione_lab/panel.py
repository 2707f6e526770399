"""The phone's own touch panel: a finger on the glass comes out as Linux multi-touch protocol B, as `getevent` prints it."""

from __future__ import annotations

import queue
import time
from collections.abc import Callable

DEVICE = "/dev/input/event2"
SLOTS = 10
Line = str


def listing(width_px: int, height_px: int) -> str:
    """`getevent -lp`: the panel and its axes."""
    axes = [("SLOT", SLOTS - 1), ("TOUCH_MAJOR", 255), ("POSITION_X", width_px - 1), ("POSITION_Y", height_px - 1), ("TRACKING_ID", 65535)]
    lines = ["add device 1: " + DEVICE, '  name:     "lab_touch"', "  events:", "    KEY (0001): BTN_TOUCH"]
    for i, (name, most) in enumerate(axes):
        head = "    ABS (0003): " if i == 0 else " " * 16
        lines.append(f"{head}{'ABS_MT_' + name:<22}: value 0, min 0, max {most}, fuzz 0, flat 0, resolution 0")
    return "\n".join([*lines, "  input props:", "    INPUT_PROP_DIRECT"]) + "\n"


class Panel:
    """Turns fingers into events and gives them to everybody who listens."""

    def __init__(self) -> None:
        self._listeners: list[queue.SimpleQueue[Line | None]] = []
        self._slots: dict[int, int] = {}
        self._slot = 0
        self._tracking = 0

    def listen(self) -> queue.SimpleQueue[Line | None]:
        lines: queue.SimpleQueue[Line | None] = queue.SimpleQueue()
        self._listeners.append(lines)
        return lines

    def leave(self, lines: queue.SimpleQueue[Line | None]) -> None:
        self._listeners.remove(lines)

    def touch(self, action: str, finger: int, x_px: float, y_px: float, at: float | None = None) -> None:
        """A finger goes down, moves or lifts; `at` in seconds of the panel's clock."""
        at = time.monotonic() if at is None else at
        events: list[tuple[str, str, int]] = []
        if action == "down":
            slot = next(s for s in range(SLOTS) if s not in self._slots.values())
            self._slots[finger] = slot
            self._tracking += 1
        elif finger not in self._slots:
            return
        slot = self._slots[finger]
        if slot != self._slot:
            events.append(("EV_ABS", "ABS_MT_SLOT", slot))
            self._slot = slot
        if action == "down":
            events.append(("EV_ABS", "ABS_MT_TRACKING_ID", self._tracking))
            if len(self._slots) == 1:
                events.append(("EV_KEY", "BTN_TOUCH", 1))
        if action == "up":
            events.append(("EV_ABS", "ABS_MT_TRACKING_ID", 0xFFFFFFFF))
            del self._slots[finger]
            if not self._slots:
                events.append(("EV_KEY", "BTN_TOUCH", 0))
        else:
            events += [("EV_ABS", "ABS_MT_POSITION_X", round(x_px)), ("EV_ABS", "ABS_MT_POSITION_Y", round(y_px))]
        events.append(("EV_SYN", "SYN_REPORT", 0))
        for kind, code, value in events:
            words = {0: "UP", 1: "DOWN"}[value] if kind == "EV_KEY" else f"{value:08x}"
            line = f"[{at:15.6f}] {DEVICE}: {kind:<12} {code:<20} {words:<20}\n"
            for lines in self._listeners:
                lines.put(line)

    def stream(self, write: Callable[[bytes], bool]) -> None:
        """`getevent -lt`: every event as it happens, until nobody takes them any more."""
        lines = self.listen()
        try:
            while True:
                try:
                    line = lines.get(timeout=0.2)
                except queue.Empty:
                    if not write(b""):
                        return
                    continue
                if line is None or not write(line.encode()):
                    return
        finally:
            self.leave(lines)
