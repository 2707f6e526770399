"""What stands on a stand-in phone's screen at one moment, and a picture of it."""

from __future__ import annotations

from dataclasses import dataclass

from PIL import Image

from . import system_ui
from .toolkit.layout import Metrics
from .toolkit.node import Node
from .toolkit.paint import Painter


@dataclass(frozen=True)
class Frame:
    """The app's tree, the keyboard over it, and until when it stays so."""

    page: Node
    keys: Node | None
    until: float | None

    def painted(self, bar: Node | None, size: tuple[int, int], metrics: Metrics) -> Image.Image:
        """A picture of so many pixels, with `bar`, the keys under the screen."""
        image = Image.new("RGB", size, self.page.fill or "#000000")
        painter = Painter(image, metrics)
        for each in (self.page, self.keys, bar):
            if each is not None:
                painter.tree(each)
        system_ui.paint_status(image, metrics.density)
        return image
