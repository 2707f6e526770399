"""Where the lanes' cells are: by arithmetic, both ways."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF

NAMES, HEAD, HEAD_OF_MARKS, BAR = 132.0, 76.0, 34.0, 12.0
#: Cell sizes: marks only, crops, whole screens.
ZOOMS = ((18.0, 16.0), (86.0, 44.0), (86.0, 150.0))
MARKS, CROPS = 0, 1
TOP = 8.0  # between the heads and the first row
AROUND = 4.0  # of a cell that belongs to it, each way


@dataclass(frozen=True)
class Grid:
    """`zoom` is an index of `ZOOMS`; `x` and `y` are how far it is scrolled. Row 0, the lead's, stays where it is."""

    zoom: int = CROPS
    x: int = 0
    y: int = 0

    @property
    def size(self) -> tuple[float, float]:
        """Of a cell."""
        return ZOOMS[self.zoom]

    @property
    def pitch(self) -> tuple[float, float]:
        """From one cell to the next, across and down."""
        wide, tall = self.size
        return wide + (10.0 if self.zoom else 4.0), tall + (BAR + 12.0 if self.zoom else 8.0)

    @property
    def head(self) -> float:
        """Height of the columns' heads."""
        return HEAD if self.zoom else HEAD_OF_MARKS

    @property
    def lead_bottom(self) -> float:
        """Where the lead's row ends and the others begin."""
        return self.head + self.pitch[1] + 2.0

    def cell(self, row: int, place: int) -> QRectF:
        """A cell in the viewport; `place` counts the columns that are shown."""
        dx, dy = self.pitch
        return QRectF(NAMES + place * dx - self.x, self.head + TOP + row * dy - (self.y if row else 0), *self.size)

    def whole(self, rows: int, places: int) -> tuple[int, int]:
        """Width and height of everything."""
        dx, dy = self.pitch
        return int(NAMES + places * dx + 10), int(self.head + TOP + rows * dy + TOP)

    def places_in(self, width: float, places: int) -> range:
        """The columns of which something is in sight."""
        dx = self.pitch[0]
        first = max(0, int(self.x // dx))
        return range(min(first, places), min(places, first + int(width // dx) + 2))

    def rows_in(self, height: float, rows: int) -> range:
        """The rows below the lead's of which something is in sight."""
        dy = self.pitch[1]
        first = max(1, 1 + int(self.y // dy))
        return range(min(first, rows), min(rows, first + int(height // dy) + 1))

    def at(self, point: QPointF, rows: int, places: int) -> tuple[int, int] | None:
        """Row and place of the cell under a point of the viewport; None between cells."""
        dx, dy = self.pitch
        place = int((point.x() - NAMES + self.x + AROUND) // dx)
        on_lead = point.y() < self.lead_bottom
        row = int((point.y() - self.head - TOP + (0 if on_lead else self.y) + AROUND) // dy)
        if not (0 <= place < places and 0 <= row < rows) or on_lead != (row == 0) or point.x() < NAMES - AROUND:
            return None
        around = self.cell(row, place).adjusted(-AROUND, -AROUND, AROUND, BAR)
        return (row, place) if around.contains(point) else None
