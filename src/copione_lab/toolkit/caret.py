"""The caret of the field that has the focus: where a finger puts it, and what the keys do to the text around it."""

from __future__ import annotations

from . import fonts
from .layout import LINE, Metrics
from .node import Node


class Caret:
    """`at` is how many characters of the text stand before it."""

    def __init__(self) -> None:
        self.at = 0

    def put(self, field: Node, x: float, y: float, metrics: Metrics) -> None:
        """Where a finger touches the field's text, x and y in dp of the screen."""
        size_px = metrics.size_px(field.size)
        step = field.size * metrics.text_scale * LINE
        row = max(0, min(len(field.lines) - 1, int((y - field.box.top - field.pad[1]) / step)))
        starts = _starts(field)
        line = field.lines[row] if field.lines else ""
        room = (x - field.box.left - field.pad[0]) * metrics.density
        within = next((n for n in range(len(line)) if fonts.width_px(line[: n + 1], field.weight, size_px) > room), len(line))
        self.at = (starts[row] if starts else 0) + within

    def type(self, text: str, words: str) -> str:
        """The text with words typed at the caret."""
        here = min(self.at, len(text))
        self.at = here + len(words)
        return text[:here] + words + text[here:]

    def press(self, field: Node, key: str) -> str:
        """The field's text after a key: DEL, FORWARD_DEL, ENTER, MOVE_END (to the end of the line), CTRL_MOVE_END (of the text)."""
        text = field.text
        here = min(self.at, len(text))
        if key == "ENTER":
            return self.type(text, "\n")
        if key == "FORWARD_DEL":
            return text[:here] + text[here + 1 :]
        if key == "DEL":
            self.at = max(0, here - 1)
            return text[: self.at] + text[here:]
        if key == "MOVE_END":
            ends = [start + len(line) for start, line in zip(_starts(field), field.lines, strict=True)]
            self.at = next((end for end in ends if end >= here), len(text))
        elif key == "CTRL_MOVE_END":
            self.at = len(text)
        elif key in {"DPAD_LEFT", "DPAD_RIGHT"}:
            self.at = min(len(text), max(0, here + (1 if key == "DPAD_RIGHT" else -1)))
        return text


def _starts(field: Node) -> list[int]:
    """Where in the text each of its lines begins."""
    found, place = [], 0
    for line in field.lines:
        place = field.text.find(line, place)
        found.append(place)
        place += len(line)
    return found
