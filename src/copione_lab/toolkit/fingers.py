"""Raw pointers into taps, long presses, drags and flings, with a phone's slop and times.

Events carry their own time, so injected gestures mean the same whatever the pace of the lab.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from .layout import WHEEL_ROW
from .node import Box, Node
from .paint import track

SLOP = 8.0  # dp a finger may drift and still tap
LONG_PRESS = 0.5  # s
DOUBLE_S = 0.3  # between the lift of one tap and the next touch
DOUBLE_NEAR = 48.0  # dp between the two
PULL = 64.0  # dp a list at its beginning is pulled down to be refreshed
AWAY = 0.4  # of a row's width that a finger goes sideways to swipe it away
FLING_MIN = 50.0  # dp/s below which a released scroll just stops
FLING_FRICTION = 0.0018  # dp of further way per (dp/s) squared; 1,000 dp/s goes on for a second screenful at most
FLING_WINDOW = 0.1  # s of the path's end that the release speed is read from


@dataclass
class _Finger:
    down: tuple[float, float, float]
    path: list[tuple[float, float, float]]
    target: Node | None
    scroll: Node | None
    dragging: bool = False
    held: bool = False
    sideways: bool = False
    carried: bool = False
    at_top: bool = False
    edge: bool = False


class Fingers:
    """What the fingers on one phone are doing. A widget that asked for raw touches gets every finger's; elsewhere the first one acts."""

    def __init__(
        self,
        hit: Callable[[float, float], tuple[Node | None, Node | None]],
        scroll_by: Callable[[Node, float, float], None],
        at_edge: Callable[[float], bool] = lambda x: False,
        go_back: Callable[[], None] = lambda: None,
    ) -> None:
        """`at_edge`: does a stroke that begins at that x belong to the system, as the way back?"""
        self._hit = hit
        self._scroll_by = scroll_by
        self._at_edge, self._go_back = at_edge, go_back
        self._tapped: tuple[float, float, float] | None = None
        self._finger: _Finger | None = None
        self._first: int | None = None
        self._raw: dict[int, Node] = {}

    def event(self, action: str, pointer: int, x: float, y: float, at: float) -> None:
        """`action` is down, move, up or cancel; x, y in dp; `at` in seconds."""
        if action == "down" and self._finger is None:
            target, _ = self._hit(x, y)
            if target is not None and target.on_touch:
                self._raw[pointer] = target
        if pointer in self._raw:
            node = self._raw.pop(pointer) if action in {"up", "cancel"} else self._raw[pointer]
            assert node.on_touch is not None
            node.on_touch(action, pointer, (x - node.box.left) / node.box.width, (y - node.box.top) / node.box.height)
            return
        if action == "down":
            if self._finger is None:
                edge = self._at_edge(x)
                target, scroll = (None, None) if edge else self._hit(x, y)
                top = scroll is not None and scroll.offset <= 0.5
                self._finger, self._first = _Finger((x, y, at), [(x, y, at)], target, scroll, at_top=top, edge=edge), pointer
                if target is not None and target.kind == "slider":
                    self._slide(target, x)
            return
        finger = self._finger
        if finger is None or pointer != self._first:
            return
        self.pass_time(at)
        if action == "move":
            self._move(finger, x, y, at)
        elif action == "up":
            self._move(finger, x, y, at)
            self._finger = None
            self._up(finger, at)
        else:
            self._finger = None

    def pass_time(self, at: float) -> None:
        """A finger that has rested long enough is a long press, even before it lifts."""
        finger = self._finger
        if finger and not finger.dragging and not finger.held and at - finger.down[2] >= LONG_PRESS:
            finger.held = True
            if finger.target is not None and finger.target.on_hold:
                finger.target.on_hold()

    def _move(self, finger: _Finger, x: float, y: float, at: float) -> None:
        last = finger.path[-1]
        finger.path.append((x, y, at))
        if not finger.dragging:
            away = max(abs(x - finger.down[0]), abs(y - finger.down[1]))
            taken = finger.held and finger.target is not None and finger.target.on_hold
            if away <= SLOP or taken:
                return
            finger.dragging = True
            target = finger.target
            finger.carried = bool(target and (target.kind == "wheel" or (target.on_drop and (target.kind == "handle" or finger.held))))
            finger.sideways = abs(x - finger.down[0]) > abs(y - finger.down[1]) and bool(finger.target and finger.target.on_away)
            last = finger.down
        if finger.target is not None and finger.target.kind == "slider":
            self._slide(finger.target, x)
        elif finger.scroll is not None and not finger.sideways and not finger.carried:
            self._scroll_by(finger.scroll, last[1] - y, 0.0)

    def _up(self, finger: _Finger, at: float) -> None:
        target = finger.target
        if not finger.dragging:
            if target is not None and not (finger.held and target.on_hold):
                self._tap(target, finger, at)
            return
        (x0, y0, _), (x, y, _) = finger.down, finger.path[-1]
        if finger.edge:
            if abs(x - x0) > DOUBLE_NEAR:
                self._go_back()
        elif finger.carried:
            assert target is not None
            if target.kind == "wheel":
                self._turn_wheel(target, round((y0 - y) / WHEEL_ROW))
            elif target.on_drop:
                target.on_drop(y - y0)
        elif finger.sideways:
            if target is not None and target.on_away and abs(x - x0) >= AWAY * target.box.width:
                target.on_away()
        elif finger.scroll is not None and (target is None or target.kind != "slider"):
            if finger.at_top and finger.scroll.on_pull and y - y0 >= PULL and y - y0 > abs(x - x0):
                finger.scroll.on_pull()
                return
            self._fling(finger, finger.scroll, at)

    def _tap(self, target: Node, finger: _Finger, at: float) -> None:
        x, y, since = finger.down
        last, self._tapped = self._tapped, (x, y, at)
        if target.on_double and last is not None and since - last[2] <= DOUBLE_S and abs(x - last[0]) + abs(y - last[1]) <= DOUBLE_NEAR:
            self._tapped = None
            target.on_double()
        elif target.kind == "wheel":
            middle = (target.box.top + target.box.bottom) / 2
            self._turn_wheel(target, round((y - middle) / WHEEL_ROW))
        elif target.kind != "slider" and target.on_tap:
            target.on_tap()

    @staticmethod
    def _turn_wheel(wheel: Node, by: int) -> None:
        there = min(len(wheel.options) - 1, max(0, int(wheel.value) + by))
        if there != wheel.value and wheel.on_value:
            wheel.on_value(there)

    def _fling(self, finger: _Finger, scroll: Node, at: float) -> None:
        recent = [p for p in finger.path if at - p[2] <= FLING_WINDOW] or finger.path[-1:]
        span = max(1e-3, recent[-1][2] - recent[0][2])
        speed = (recent[0][1] - recent[-1][1]) / span
        if abs(speed) > FLING_MIN:
            self._scroll_by(scroll, 0.0, FLING_FRICTION * speed * abs(speed) / (1 + abs(speed) / 1500))

    @staticmethod
    def _slide(slider: Node, x: float) -> None:
        begin, end = track(slider)
        share = min(1.0, max(0.0, (x - begin) / (end - begin)))
        if slider.on_value:
            slider.on_value(round(slider.least_value + share * (slider.top_value - slider.least_value)))


def hit(root: Node, x: float, y: float) -> tuple[Node | None, Node | None]:
    """The topmost node that takes touches at a point, and the innermost scroll container there."""
    target: Node | None = None
    scroll: Node | None = None
    for node in root.walk():
        box: Box = node.seen
        if box.empty or not box.contains(x, y):
            continue
        if node.kind in {"scroll", "list"}:
            scroll = node
        if node.enabled and (node.on_tap or node.on_hold or node.on_value or node.on_touch or node.on_double or node.on_drop):
            target = node
    return target, scroll


def hidden_below(root: Node, key: str) -> tuple[Node | None, float]:
    """What scrolls round the node with that key, and how far down out of it the node ends, dp; None where nothing scrolls round it."""
    holder: Node | None = None
    for node in root.walk():
        if node.kind in {"scroll", "list"}:
            holder = node
        if node.key == key and node is not holder and holder is not None:
            return (holder if holder.reach > 0 else None), node.box.bottom + 8 - holder.box.bottom
    return None, 0.0
