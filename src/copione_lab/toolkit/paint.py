"""Painting a placed tree with Pillow."""

from __future__ import annotations

from collections.abc import Callable

from PIL import Image, ImageDraw

from . import fonts
from .layout import LINE, Metrics
from .node import Box, Node

PAPER = "#F1EFE6"
LEAF = "#38513A"
LEAF_PALE = "#C9D2C2"
WHITE = "#FFFFFF"
GREY = "#8C9088"
AMBER = "#E0A52B"


_TURNED = {"left": "right", "right": "left"}


class Painter:
    """Paints nodes onto an image of the device's pixels."""

    def __init__(self, image: Image.Image, metrics: Metrics) -> None:
        self.draw = ImageDraw.Draw(image)
        self.metrics = metrics
        self.image = image

    def px(self, box: Box) -> tuple[int, int, int, int]:
        k = self.metrics.density
        return round(box.left * k), round(box.top * k), round(box.right * k) - 1, round(box.bottom * k) - 1

    def tree(self, node: Node) -> None:
        if node.seen.empty:
            return
        clipped = node.kind in {"scroll", "list"}
        if clipped and (node.reach > 0 or node.kind == "list"):
            self._clipped(node)
            return
        self.node(node)
        for child in node.children:
            self.tree(child)

    def _clipped(self, node: Node) -> None:
        """A scrolling container is painted aside and pasted in, so that nothing shows outside it."""
        left, top, right, bottom = self.px(node.seen)
        aside = Image.new("RGB", self.image.size, node.fill or PAPER)
        inner = Painter(aside, self.metrics)
        for child in node.children:
            inner.tree(child)
        self.image.paste(aside.crop((left, top, right + 1, bottom + 1)), (left, top))

    def node(self, node: Node) -> None:
        if node.fill or node.border:
            self.plate(node.box, node.fill, node.border, node.radius)
        paint = _PAINT.get(node.kind)
        if paint:
            paint(self, node)

    def plate(self, box: Box, fill: str | None, border: str | None = None, radius: float = 0) -> None:
        shape = self.px(box)
        if shape[2] < shape[0] or shape[3] < shape[1]:
            return
        width = max(1, round(self.metrics.density))
        self.draw.rounded_rectangle(shape, radius * self.metrics.density, fill=fill, outline=border, width=width if border else 0)

    def words(self, node: Node, ink: str | None = None, dy: float = 0) -> None:
        """The node's lines, vertically centred in its box."""
        metrics = self.metrics
        size_px = metrics.size_px(node.size)
        face = fonts.font(node.weight, size_px)
        step = node.size * metrics.text_scale * LINE
        top = node.box.top + dy + (node.box.height - dy - step * len(node.lines)) / 2
        for line in node.lines:
            wide = fonts.width_px(line, node.weight, size_px) / metrics.density
            room = node.box.width - wide
            align = _TURNED.get(node.align, node.align) if node.mirrored else node.align
            left = node.box.left + {"left": node.pad[0], "centre": room / 2, "right": room - node.pad[0]}[align]
            y = (top + step / 2) * metrics.density
            self.draw.text(
                (left * metrics.density, y), fonts.visual(line), font=fonts.face_for(line, face), fill=ink or node.ink, anchor="lm"
            )
            top += step

    def circle(self, x: float, y: float, radius: float, fill: str, border: str | None = None) -> None:
        self.plate(Box(x - radius, y - radius, x + radius, y + radius), fill, border, radius)


def _text(painter: Painter, node: Node) -> None:
    painter.words(node)


def _chip(painter: Painter, node: Node) -> None:
    on = bool(node.checked)
    painter.plate(node.box, LEAF if on else None, LEAF, node.box.height / 2)
    painter.words(node, WHITE if on else node.ink)


def _switch(painter: Painter, node: Node) -> None:
    box = node.box
    painter.plate(box, LEAF if node.checked else LEAF_PALE, None, box.height / 2)
    middle = (box.top + box.bottom) / 2
    far = bool(node.checked) != node.mirrored
    x = box.right - box.height / 2 if far else box.left + box.height / 2
    painter.circle(x, middle, box.height / 2 - 4, WHITE)


def track(node: Node) -> tuple[float, float]:
    """Where a slider's stops begin and end, x in dp; from right to left where the page runs so."""
    ends = node.box.left + 12, node.box.right - 12
    return (ends[1], ends[0]) if node.mirrored else ends


def _slider(painter: Painter, node: Node) -> None:
    begin, end = track(node)
    middle = (node.box.top + node.box.bottom) / 2
    x = begin + (end - begin) * node.share
    painter.plate(Box(min(begin, end), middle - 2, max(begin, end), middle + 2), LEAF_PALE, None, 2)
    painter.plate(Box(min(begin, x), middle - 2, max(begin, x), middle + 2), LEAF, None, 2)
    painter.circle(x, middle, 10, LEAF)


def _field(painter: Painter, node: Node) -> None:
    painter.plate(node.box, WHITE, LEAF if node.value else LEAF_PALE, 6)
    metrics = painter.metrics
    face = fonts.font(node.weight, metrics.size_px(node.size))
    step = node.size * metrics.text_scale * LINE
    top = node.box.top + max(node.pad[1], (48 - step) / 2)
    for line in node.lines:
        painter.draw.text(
            ((node.box.left + node.pad[0]) * metrics.density, (top + step / 2) * metrics.density),
            line,
            font=face,
            fill=node.ink,
            anchor="lm",
        )
        top += step


def _comb(painter: Painter, node: Node) -> None:
    """A patch of honeycomb."""
    painter.plate(node.box, AMBER if node.ink == "#22301F" else node.ink, None, node.radius)
    cell, tall = 14.0, 12.1
    y, odd = node.box.top + 8, False
    while y < node.box.bottom - 4:
        x = node.box.left + 8 + (cell / 2 if odd else 0)
        while x < node.box.right - 4:
            painter.circle(x, y, 5, "#C98A1B")
            x += cell
        y, odd = y + tall, not odd


def _canvas(painter: Painter, node: Node) -> None:
    k, box = painter.metrics.density, node.box
    for points, dots in node.drawn:
        placed = [((box.left + x * box.width) * k, (box.top + y * box.height) * k) for x, y in points]
        if not dots:
            painter.draw.line(placed, fill="#7A5A12", width=max(2, round(3 * k)), joint="curve")
            continue
        for x, y in placed:
            if painter.px(box)[0] < x < painter.px(box)[2] and painter.px(box)[1] < y < painter.px(box)[3]:
                painter.circle(x / k, y / k, 9, AMBER, "#7A5A12")


def _tab(painter: Painter, node: Node) -> None:
    painter.words(node, LEAF if node.selected else GREY)
    if node.selected:
        painter.plate(Box(node.box.left + 8, node.box.bottom - 3, node.box.right - 8, node.box.bottom), LEAF, None, 1.5)


def _combo(painter: Painter, node: Node) -> None:
    painter.plate(node.box, WHITE, LEAF_PALE, 6)
    painter.words(node)
    k, middle = painter.metrics.density, (node.box.top + node.box.bottom) / 2
    x = node.box.left + 20 if node.mirrored else node.box.right - 20
    corners = [((x + dx) * k, (middle + dy) * k) for dx, dy in ((-5, -2.5), (5, -2.5), (0, 3.5))]
    painter.draw.polygon(corners, fill=node.ink)


def _choice(painter: Painter, node: Node) -> None:
    if node.checked:
        painter.plate(node.box, "#E8EADD", None, 6)
    painter.words(node)


def _wheel(painter: Painter, node: Node) -> None:
    painter.plate(node.box, WHITE, LEAF_PALE, 8)
    tall = node.box.height / 3
    painter.plate(Box(node.box.left + 4, node.box.top + tall, node.box.right - 4, node.box.top + 2 * tall), "#E8EADD", None, 6)
    for place in (-1, 0, 1):
        row = int(node.value) + place
        if 0 <= row < len(node.options):
            top = node.box.top + (place + 1) * tall
            line = Node("text", lines=[node.options[row]], size=node.size, box=Box(node.box.left, top, node.box.right, top + tall))
            line.align = "centre"
            painter.words(line, node.ink if place == 0 else GREY)


def _handle(painter: Painter, node: Node) -> None:
    x, y = (node.box.left + node.box.right) / 2, (node.box.top + node.box.bottom) / 2
    for dy in (-4, 0, 4):
        painter.plate(Box(x - 9, y + dy - 1, x + 9, y + dy + 1), GREY, None, 1)


def _lens(painter: Painter, node: Node) -> None:
    """A magnifying glass."""
    k, box = painter.metrics.density, node.box
    x, y = (box.left + box.right) / 2 - 2, (box.top + box.bottom) / 2 - 2
    wide = max(2, round(2 * k))
    painter.draw.ellipse(tuple(v * k for v in (x - 6, y - 6, x + 6, y + 6)), outline=node.ink, width=wide)
    painter.draw.line([((x + 4.5) * k, (y + 4.5) * k), ((x + 10) * k, (y + 10) * k)], fill=node.ink, width=wide)


def _progress(painter: Painter, node: Node) -> None:
    """A ring that goes round: `value` is how far, 0..1."""
    k, box = painter.metrics.density, node.box
    middle_x, middle_y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
    ring = tuple(v * k for v in (middle_x - 16, middle_y - 16, middle_x + 16, middle_y + 16))
    painter.draw.arc(ring, node.value * 360, node.value * 360 + 250, fill=LEAF, width=max(2, round(4 * k)))


_PAINT: dict[str, Callable[[Painter, Node], None]] = {
    "text": _text,
    "heading": _text,
    "button": _text,
    "radio": _chip,
    "switch": _switch,
    "slider": _slider,
    "field": _field,
    "image": _comb,
    "canvas": _canvas,
    "tab": _tab,
    "combo": _combo,
    "date": _combo,
    "choice": _choice,
    "wheel": _wheel,
    "handle": _handle,
    "lens": _lens,
    "progress": _progress,
}
