"""What is drawn on the diary's two canvases: a comb sketch, and a map moved by one or two fingers. Places are shares of the canvas."""

from __future__ import annotations

import cmath

Point = tuple[float, float]
#: Where the hives stand, as shares of the map.
STANDS: tuple[Point, ...] = ((0.3, 0.35), (0.5, 0.3), (0.66, 0.42), (0.42, 0.6), (0.6, 0.68))


class Sketch:
    """Strokes as shares of the canvas; each finger draws its own."""

    def __init__(self) -> None:
        self.strokes: list[list[Point]] = []
        self._open: dict[int, list[Point]] = {}

    def touch(self, action: str, finger: int, x: float, y: float) -> None:
        if action == "down":
            self._open[finger] = []
            self.strokes.append(self._open[finger])
        if finger in self._open:
            self._open[finger].append((x, y))
        if action in {"up", "cancel"}:
            self._open.pop(finger, None)


class Map:
    """A view on the stands: a similarity transform, as a factor (scale and angle) and a shift, both complex numbers."""

    def __init__(self) -> None:
        self.turn, self.shift = complex(1, 0), complex(0, 0)
        self._fingers: dict[int, complex] = {}

    @property
    def scale(self) -> float:
        return abs(self.turn)

    @property
    def angle_deg(self) -> float:
        return cmath.phase(self.turn) * 180 / cmath.pi

    def touch(self, action: str, finger: int, x: float, y: float) -> None:
        here = complex(x, y)
        if action == "move" and finger in self._fingers:
            self._moved(finger, here)
        if action in {"down", "move"}:
            self._fingers[finger] = here
        else:
            self._fingers.pop(finger, None)

    def _moved(self, finger: int, here: complex) -> None:
        """One finger shifts; with a second one resting, the line between them turns and scales."""
        before = self._fingers[finger]
        others = [place for number, place in self._fingers.items() if number != finger]
        if not others:
            self.shift += here - before
            return
        still = others[0]
        if abs(before - still) > 1e-6:
            factor = (here - still) / (before - still)
            self.turn *= factor
            self.shift = still + factor * (self.shift - still)

    def places(self) -> list[Point]:
        moved = [self.turn * complex(*stand) + self.shift for stand in STANDS]
        return [(place.real, place.imag) for place in moved]
