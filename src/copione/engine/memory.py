"""Returning memory to the system: pictures and screens come and go by the hundred."""

from __future__ import annotations

import ctypes
import gc
from collections.abc import Callable

#: Of the C library's allocator (`mallopt(3)`): its codes, and what they are set to.
MMAP_THRESHOLD, LARGE = -3, 1 << 20  # bytes: a piece so large is a mapping of its own, and goes back to the system when it is freed
ARENAS, MOST = -8, 4  # each thread would have one for itself, with holes of its own
SELDOM = 20_000, 30, 500  # objects: scripts and screens are large and hold no circles: looking for some stops the window


def use_sparingly(*, seldom: bool = False) -> None:
    """At the start of a program that looks at many phones. `seldom`: circles are looked for seldom, so that a window does not stop.

    Where the C library is another one, its allocator stays as it is.
    """
    mallopt: Callable[[int, int], int] | None = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:
        mallopt(MMAP_THRESHOLD, LARGE)
        mallopt(ARENAS, MOST)
    if seldom:
        gc.set_threshold(*SELDOM)


def collect() -> None:
    """After a run, a trial, a recording: what held its screens, and is held in circles, goes."""
    gc.collect()
