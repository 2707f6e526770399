"""Made-up hands on made-up panels: gestures with a clear intent, and what `getevent -lt` would print of them.

Written apart from `copione.touch`: it knows the gestures by what people do, not by that package's thresholds.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass

KINDS = ("tap", "double-tap", "hold", "swipe", "fling", "drag", "hold-drag", "pinch", "twist", "pan", "draw")
WIDTH, HEIGHT = 412.0, 892.0  # dp
Path = list[tuple[float, float, float]]


@dataclass
class Finger:
    """Places over time in dp, and the lift's own time."""

    path: Path
    lift: float


def _profile(chance: random.Random, kind: str):
    """Share of the way over share of the time: steady, smooth at both ends, slowing, gathering speed."""
    shapes = {
        "smooth": lambda u: 10 * u**3 - 15 * u**4 + 6 * u**5,
        "steady": lambda u: u,
        "slowing": lambda u: 1 - (1 - u) ** 2,
        "gathering": lambda u: u**1.8,
    }
    names = {"swipe": ("smooth", "slowing", "steady"), "fling": ("gathering", "steady"), "drag": ("smooth", "steady")}
    return shapes[chance.choice(names.get(kind, ("smooth", "steady")))]


def _way(begin: complex, end: complex, since: float, seconds: float, shape, bow: float = 0.0, hz: float = 240.0) -> Path:
    count = max(2, round(seconds * hz))
    across = (end - begin) * 1j * bow
    return [
        (since + seconds * i / count, (p := begin + (end - begin) * (v := shape(i / count)) + across * 4 * v * (1 - v)).real, p.imag)
        for i in range(count + 1)
    ]


def _inside(chance: random.Random, way: complex) -> complex:
    """A beginning from which the way stays on the screen."""
    x = chance.uniform(max(12, 12 - way.real), min(WIDTH - 12, WIDTH - 12 - way.real))
    y = chance.uniform(max(40, 40 - way.imag), min(HEIGHT - 20, HEIGHT - 20 - way.imag))
    return complex(x, y)


def made(kind: str, chance: random.Random, since: float = 0.0) -> list[Finger]:
    """Fingers of one gesture with a clear intent, before any noise."""
    turn = complex(math.cos(a := chance.uniform(0, 2 * math.pi)), math.sin(a))
    if kind in {"tap", "hold"}:
        at, seconds = _inside(chance, 0), chance.uniform(0.04, 0.25) if kind == "tap" else chance.uniform(0.6, 1.6)
        return [Finger([(since, at.real, at.imag)], since + seconds)]
    if kind == "double-tap":
        first = made("tap", chance, since)[0]
        first.lift = since + chance.uniform(0.04, 0.12)
        again = first.lift + chance.uniform(0.05, 0.22)
        _, x, y = first.path[0]
        place = (again, x + chance.uniform(-10, 10), y + chance.uniform(-10, 10))
        return [first, Finger([place], again + chance.uniform(0.04, 0.12))]
    if kind in {"swipe", "fling", "drag"}:
        length, seconds = {
            "swipe": (chance.uniform(80, 300), chance.uniform(0.24, 0.42)),
            "fling": (chance.uniform(140, 360), chance.uniform(0.06, 0.13)),
            "drag": (chance.uniform(60, 300), chance.uniform(1.0, 2.2)),
        }[kind]
        way = turn * min(length, 340)
        begin = _inside(chance, way)
        path = _way(begin, begin + way, since, seconds, _profile(chance, kind), chance.uniform(-0.1, 0.1))
        rest = chance.choice((0.0, chance.uniform(0.1, 0.3))) if kind == "drag" else 0.0
        return [Finger(path, since + seconds + rest + 0.004)]
    if kind == "hold-drag":
        way = turn * chance.uniform(60, 300)
        begin, rest, seconds = _inside(chance, way), chance.uniform(0.55, 1.0), chance.uniform(0.4, 1.2)
        return [
            Finger(
                [(since, begin.real, begin.imag), *_way(begin, begin + way, since + rest, seconds, _profile(chance, kind))],
                since + rest + seconds + 0.01,
            )
        ]
    if kind == "draw":
        return [_drawing(chance, since) if chance.random() < 0.6 else _sketched(chance, since, turn)]
    return _two(kind, chance, since, turn)


def _drawing(chance: random.Random, since: float) -> Finger:
    """A loop, a zigzag or a spiral."""
    size, seconds, steps = chance.uniform(60, 150), chance.uniform(0.7, 2.0), 200
    middle = _inside(chance, 0)
    middle = complex(min(max(middle.real, size + 10), WIDTH - size - 10), min(max(middle.imag, size + 40), HEIGHT - size - 20))
    shape = chance.choice(("loop", "zigzag", "spiral"))
    path = []
    for i in range(steps + 1):
        u = i / steps
        if shape == "loop":
            p = size * complex(math.cos(2 * math.pi * u), 0.7 * math.sin(2 * math.pi * u))
        elif shape == "spiral":
            p = size * u * complex(math.cos(4 * math.pi * u), math.sin(4 * math.pi * u))
        else:
            p = size * complex(2 * u - 1, abs((u * 6) % 2 - 1) - 0.5)
        path.append((since + seconds * u, middle.real + p.real, middle.imag + p.imag))
    return Finger(path, since + seconds + 0.004)


def _sketched(chance: random.Random, since: float, turn: complex) -> Finger:
    """A short stroke of a pen: an arc, a bend and back, a wave."""
    size, seconds = chance.uniform(35, 80), chance.uniform(0.35, 1.1)
    begin = _inside(chance, 0)
    begin = complex(min(max(begin.real, 100), WIDTH - 100), min(max(begin.imag, 140), HEIGHT - 140))
    bow, sweep = chance.uniform(0.9, 1.3), chance.uniform(1.9, 3.2)
    form = chance.choice(("arc", "bend", "wave"))
    path = []
    for i in range(121):
        v = 10 * (u := i / 120) ** 3 - 15 * u**4 + 6 * u**5
        if form == "arc":
            p = size / (2 * math.sin(sweep / 2)) * complex(math.sin(sweep * v), 1 - math.cos(sweep * v))
        else:
            p = size * complex(v, bow * (0.22 * math.sin(2 * math.pi * v) if form == "bend" else 0.15 * math.sin(4 * math.pi * v)))
        path.append((since + seconds * u, *_xy(begin + turn * p)))
    return Finger(path, since + seconds + 0.004)


def _two(kind: str, chance: random.Random, since: float, turn: complex) -> list[Finger]:
    arm, seconds = chance.uniform(50, 100), chance.uniform(0.3, 0.9)
    scale, angle, shift = chance.uniform(0.95, 1.05), math.radians(chance.uniform(-4, 4)), turn * chance.uniform(0, 8)
    if kind == "pinch":
        scale = chance.choice((chance.uniform(1.5, 2.4), chance.uniform(0.35, 0.65)))
        arm = arm if scale < 1 else arm * 0.7
    elif kind == "twist":
        angle = chance.choice((-1, 1)) * math.radians(chance.uniform(35, 200))
    else:
        shift = complex(chance.choice((-1, 1)) * chance.uniform(60, 150), chance.uniform(-40, 40))
    middle = complex(WIDTH / 2 - shift.real / 2, HEIGHT / 2 - shift.imag / 2 + chance.uniform(-150, 150))
    direction = complex(math.cos(b := chance.uniform(0, math.pi)), math.sin(b))
    anchored = kind == "pinch" and chance.random() < 0.25
    late = chance.uniform(0, 0.09)
    fingers = []
    for side in (-1, 1):
        begin = since + (late if side == 1 else 0.0)
        path: Path = [(begin, *_xy(middle + side * arm * direction))] if side == -1 and late else []
        count = max(4, round(seconds * 240))
        for i in range(count + 1):
            u = i / count
            smooth = 10 * u**3 - 15 * u**4 + 6 * u**5
            grown = arm * (1 + (scale - 1) * smooth) * complex(math.cos(angle * smooth), math.sin(angle * smooth))
            place = middle + shift * smooth + side * direction * grown
            if anchored:
                place = middle - arm * direction if side == -1 else middle - arm * direction + 2 * direction * grown
            path.append((since + late + seconds * u, *_xy(place)))
        fingers.append(Finger(path, since + late + seconds + chance.uniform(0.004, 0.06)))
    return fingers


def _xy(p: complex) -> tuple[float, float]:
    return p.real, p.imag


def noisy(fingers: list[Finger], chance: random.Random, hz: float, jitter: float = 0.8, dropped: float = 0.08) -> list[Finger]:
    """As a panel of that rate sees them: jitter in dp, samples lost, resting fingers jittering too."""
    seen = []
    for finger in fingers:
        t0, last = finger.path[0][0], finger.lift
        places: Path = []
        count = max(1, int((last - t0) * hz))
        for i in range(count + 1):
            t = t0 + i / hz
            if i and (t >= last or chance.random() < dropped):
                continue
            x, y = _at(finger.path, t)
            places.append((t, x + chance.gauss(0, jitter), y + chance.gauss(0, jitter)))
        seen.append(Finger(places, last))
    return seen


def _at(path: Path, t: float) -> tuple[float, float]:
    low, high = 0, len(path) - 1
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if path[middle][0] <= t else (low, middle - 1)
    t0, x0, y0 = path[low]
    if low + 1 >= len(path):
        return x0, y0
    t1, x1, y1 = path[low + 1]
    share = (t - t0) / (t1 - t0) if t1 > t0 else 0.0
    return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share


def printed(fingers: list[Finger], density: float, first_id: int = 1, ids: int = 65535) -> str:
    """What `getevent -lt` prints of them: protocol B, unchanged values not sent again, tracking ids reused after `ids`."""
    happenings = []
    for number, finger in enumerate(fingers):
        happenings += [(t, number, i, x, y) for i, (t, x, y) in enumerate(finger.path)]
        happenings.append((finger.lift, number, -1, 0.0, 0.0))
    happenings.sort(key=lambda h: (h[0], h[1]))
    slots: dict[int, int] = {}
    held: dict[int, tuple[int, int]] = {}
    current, down, lines = 0, 0, []

    def line(t: float, kind: str, code: str, value: str) -> None:
        lines.append(f"[{t:15.6f}] /dev/input/event4: {kind:<12} {code:<20} {value:<20}")

    for place, (t, number, sample, x, y) in enumerate(happenings):
        if sample == 0:
            slots[number] = next(s for s in range(10) if s not in slots.values())
        slot = slots[number]
        if slot != current:
            line(t, "EV_ABS", "ABS_MT_SLOT", f"{slot:08x}")
            current = slot
        if sample < 0:
            line(t, "EV_ABS", "ABS_MT_TRACKING_ID", "ffffffff")
            del slots[number]
            down -= 1
            if not down:
                line(t, "EV_KEY", "BTN_TOUCH", "UP")
        else:
            if sample == 0:
                line(t, "EV_ABS", "ABS_MT_TRACKING_ID", f"{(first_id + number) % ids:08x}")
                down += 1
                if down == 1:
                    line(t, "EV_KEY", "BTN_TOUCH", "DOWN")
            px, py = max(0, round(x * density)), max(0, round(y * density))
            before = held.get(slot)
            if before is None or before[0] != px:
                line(t, "EV_ABS", "ABS_MT_POSITION_X", f"{px:08x}")
            if before is None or before[1] != py:
                line(t, "EV_ABS", "ABS_MT_POSITION_Y", f"{py:08x}")
            held[slot] = (px, py)
        if place + 1 == len(happenings) or happenings[place + 1][0] > t or sample < 0:
            line(t, "EV_SYN", "SYN_REPORT", "00000000")
    return "\n".join(lines) + "\n"
