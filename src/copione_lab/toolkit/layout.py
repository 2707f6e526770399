"""Layout in dp: measure upwards, place downwards."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from . import fonts
from .node import Box, Node

#: Sizes of controls in dp at text size 100 %.
SWITCH = (52.0, 32.0)
SLIDER_HEIGHT = 40.0
WHEEL_ROW = 34.0  # dp; a wheel shows three
LINE = 1.32  # line height over text size


@dataclass(frozen=True)
class Metrics:
    """What layout needs to know of the device: pixels a dp, and the user's text size (1.0 is ordinary)."""

    density: float
    text_scale: float

    def size_px(self, size_sp: float) -> int:
        return round(size_sp * self.text_scale * self.density)


class Layout:
    """Places a tree into a box. `scrolled` gives the offset in dp of a scroll container by its key."""

    def __init__(self, metrics: Metrics, scrolled: Mapping[str, float]) -> None:
        self.metrics = metrics
        self.scrolled = scrolled

    def run(self, root: Node, box: Box) -> None:
        self._place(root, box, box)
        if root.mirrored:
            for node in root.walk():
                node.box, node.clip, node.mirrored = node.box.mirrored(box), node.clip.mirrored(box), True

    # measuring

    def measure(self, node: Node, limit: float) -> tuple[float, float]:
        """Natural width and height of a node that may be at most `limit` dp wide."""
        limit = min(limit, node.width) if node.width is not None else limit
        width, height = _MEASURE.get(node.kind, Layout._measure_column)(self, node, limit)
        return (node.width if node.width is not None else width, node.height if node.height is not None else height)

    def _measure_text(self, node: Node, limit: float) -> tuple[float, float]:
        metrics = self.metrics
        size_px = metrics.size_px(node.size)
        inner = (limit - 2 * node.pad[0]) * metrics.density
        node.lines = list(fonts.wrapped(node.text, node.weight, size_px, max(1.0, inner)))
        wide = max((fonts.width_px(line, node.weight, size_px) for line in node.lines), default=0.0)
        line = node.size * metrics.text_scale * LINE
        return wide / metrics.density + 2 * node.pad[0] + 0.5, line * len(node.lines) + 2 * node.pad[1]

    def _measure_column(self, node: Node, limit: float) -> tuple[float, float]:
        inner = limit - 2 * node.pad[0]
        sizes = [self.measure(child, inner) for child in node.children]
        height = sum(h for _, h in sizes) + node.gap * max(0, len(sizes) - 1) + 2 * node.pad[1]
        return limit, height

    def _row_widths(self, node: Node, inner: float) -> list[float]:
        fixed = [0.0 if child.grow else self.measure(child, inner)[0] for child in node.children]
        left = max(0.0, inner - sum(fixed) - node.gap * max(0, len(fixed) - 1))
        total = sum(child.grow for child in node.children) or 1.0
        return [left * child.grow / total if child.grow else width for child, width in zip(node.children, fixed, strict=True)]

    def _measure_row(self, node: Node, limit: float) -> tuple[float, float]:
        inner = limit - 2 * node.pad[0]
        widths = self._row_widths(node, inner)
        tall = max((self.measure(child, w)[1] for child, w in zip(node.children, widths, strict=True)), default=0.0)
        wide = limit if any(child.grow for child in node.children) else sum(widths) + node.gap * (len(widths) - 1) + 2 * node.pad[0]
        return wide, tall + 2 * node.pad[1]

    def _flow(self, node: Node, inner: float) -> tuple[list[tuple[float, float, float, float]], float]:
        """Boxes of children set in lines like words, and the height of it all."""
        boxes: list[tuple[float, float, float, float]] = []
        x = y = tall = 0.0
        for child in node.children:
            w, h = self.measure(child, inner)
            if x and x + w > inner:
                x, y, tall = 0.0, y + tall + node.gap, 0.0
            boxes.append((x, y, w, h))
            x, tall = x + w + node.gap, max(tall, h)
        return boxes, y + tall

    def _measure_flow(self, node: Node, limit: float) -> tuple[float, float]:
        return limit, self._flow(node, limit - 2 * node.pad[0])[1] + 2 * node.pad[1]

    # placing

    def _place(self, node: Node, box: Box, clip: Box) -> None:
        node.box, node.clip = box, clip
        _PLACE.get(node.kind, Layout._place_column)(self, node, clip)

    def _place_column(self, node: Node, clip: Box) -> None:
        left, top = node.box.left + node.pad[0], node.box.top + node.pad[1]
        inner = node.box.width - 2 * node.pad[0]
        heights = [0.0 if child.grow else self.measure(child, inner)[1] for child in node.children]
        left_over = max(0.0, node.box.height - 2 * node.pad[1] - sum(heights) - node.gap * max(0, len(heights) - 1))
        total = sum(child.grow for child in node.children) or 1.0
        for child, height in zip(node.children, heights, strict=True):
            height = left_over * child.grow / total if child.grow else height
            width = child.width if child.width is not None else inner
            self._place(child, Box(left, top, left + width, top + height), clip)
            top += height + node.gap

    def _place_row(self, node: Node, clip: Box) -> None:
        left, inner = node.box.left + node.pad[0], node.box.width - 2 * node.pad[0]
        for child, width in zip(node.children, self._row_widths(node, inner), strict=True):
            height = self.measure(child, width)[1]
            if child.kind in {"column", "scroll", "list"} and child.height is None:
                height = max(height, node.box.height - 2 * node.pad[1]) if child.kind != "column" or child.grow else height
            if child.kind in {"scroll", "list"}:
                height = node.box.height - 2 * node.pad[1]
            top = node.box.top + (node.box.height - height) / 2
            self._place(child, Box(left, top, left + width, top + height), clip)
            left += width + node.gap

    def _place_flow(self, node: Node, clip: Box) -> None:
        left, top = node.box.left + node.pad[0], node.box.top + node.pad[1]
        for child, (x, y, w, h) in zip(node.children, self._flow(node, node.box.width - 2 * node.pad[0])[0], strict=True):
            self._place(child, Box(left + x, top + y, left + x + w, top + y + h), clip)

    def _place_scroll(self, node: Node, clip: Box) -> None:
        inside = node.box.clipped(clip)
        inner = node.box.width - 2 * node.pad[0]
        heights = [self.measure(child, inner)[1] for child in node.children]
        content = sum(heights) + node.gap * max(0, len(heights) - 1) + 2 * node.pad[1]
        node.reach = max(0.0, content - node.box.height)
        node.offset = min(self.scrolled.get(node.key, 0.0), node.reach)
        top = node.box.top + node.pad[1] - node.offset
        for child, height in zip(node.children, heights, strict=True):
            left = node.box.left + node.pad[0]
            self._place(child, Box(left, top, left + inner, top + height), inside)
            top += height + node.gap

    def _place_stack(self, node: Node, clip: Box) -> None:
        """Children over one another, each filling the whole."""
        for child in node.children:
            self._place(child, node.box, clip)

    def _place_shifted(self, node: Node, clip: Box) -> None:
        """Children pushed out of the screen sideways."""
        away = clip.right - node.box.left + 4
        for child in node.children:
            self._place(child, Box(node.box.left + away, node.box.top, node.box.right + away, node.box.bottom), clip)

    def _place_leaf(self, node: Node, clip: Box) -> None:
        if node.text and not node.lines:
            self._measure_text(node, node.box.width)


def _fixed(width: float, height: float) -> Callable[[Layout, Node, float], tuple[float, float]]:
    return lambda _layout, _node, _limit: (width, height)


def _measure_slider(_layout: Layout, _node: Node, limit: float) -> tuple[float, float]:
    return limit, SLIDER_HEIGHT


def _measure_field(layout: Layout, node: Node, limit: float) -> tuple[float, float]:
    return limit, max(48.0, layout._measure_text(node, limit)[1])


def _measure_button(layout: Layout, node: Node, limit: float) -> tuple[float, float]:
    wide, tall = layout._measure_text(node, limit)
    return max(48.0, wide), max(48.0, tall)


_MEASURE: dict[str, Callable[[Layout, Node, float], tuple[float, float]]] = {
    "text": Layout._measure_text,
    "heading": Layout._measure_text,
    "button": _measure_button,
    "radio": _measure_button,
    "field": _measure_field,
    "slider": _measure_slider,
    "switch": _fixed(*SWITCH),
    "space": _fixed(0, 0),
    "image": _fixed(120, 120),
    "canvas": _measure_slider,
    "tab": _measure_button,
    "combo": _measure_field,
    "date": _measure_field,
    "choice": _measure_button,
    "wheel": lambda _layout, node, limit: (limit, 3 * WHEEL_ROW),
    "handle": _fixed(48, 48),
    "lens": _fixed(48, 48),
    "progress": _fixed(40, 40),
    "tabs": Layout._measure_row,
    "dialog": Layout._measure_row,
    "row": Layout._measure_row,
    "bar": Layout._measure_row,
    "flow": Layout._measure_flow,
    "radiogroup": Layout._measure_flow,
}
_LEAVES = (
    *("text", "heading", "button", "radio", "field", "slider", "switch", "space", "image", "canvas"),
    *("tab", "combo", "date", "choice", "wheel", "lens", "handle", "progress"),
)
_PLACE: dict[str, Callable[[Layout, Node, Box], None]] = {
    "row": Layout._place_row,
    "bar": Layout._place_row,
    "tabs": Layout._place_row,
    "dialog": Layout._place_row,
    "stack": Layout._place_stack,
    "shifted": Layout._place_shifted,
    "flow": Layout._place_flow,
    "radiogroup": Layout._place_flow,
    "scroll": Layout._place_scroll,
    "list": Layout._place_scroll,
    **dict.fromkeys(_LEAVES, Layout._place_leaf),
}
