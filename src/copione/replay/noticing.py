"""Remarks are looked for on a thread of their own, beside the takes."""

from __future__ import annotations

import contextlib
import os
import queue
import threading
from collections.abc import Callable, Iterable, Sequence

from ..comparison.noticing import RunRemarks, safely
from ..comparison.viewing import Showing, Viewer
from ..model.address import Address
from ..model.remark import Remark
from ..model.take import TakeName

MEEK = 10  # how far the thread stands back, as `nice` counts
MOST_WAITING = 64  # screens that wait to be looked at; what comes meanwhile waits with them


class Noticing:
    """Shared by the takes of one run. `told` hears of remarks as they are found, on this object's thread; see `RunRemarks`."""

    def __init__(self, takes: Iterable[TakeName], told: Callable[[Sequence[Remark]], None]) -> None:
        self._remarks = RunRemarks(takes, told)
        self._jobs: queue.Queue[Callable[[], None] | None] = queue.Queue(MOST_WAITING)
        self._thread = threading.Thread(target=self._run, name="noticing", daemon=True)
        self._thread.start()

    def seen(self, take: TakeName, viewer: Viewer, address: Address, showing: Showing | None) -> None:
        """A step was done on this screen, or on none that says anything. Called from the take's thread; waits for room alone."""
        self._jobs.put(lambda: self._remarks.see(take, address, viewer.view(showing) if showing is not None else None))

    def ended(self, take: TakeName) -> None:
        """A take is over."""
        self._jobs.put(lambda: self._remarks.end(take))

    def close(self) -> None:
        """Every take is over: returns once everything has been looked at."""
        self._jobs.put(None)
        self._thread.join()

    def _run(self) -> None:
        with contextlib.suppress(AttributeError, OSError):  # Linux: the takes go first
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), MEEK)
        while (job := self._jobs.get()) is not None:
            safely(job)
        safely(self._remarks.finish)
