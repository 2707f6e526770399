"""A run that goes on, followed beside Qt's thread: its results folded into lanes and findings, and published a few times a second."""

from __future__ import annotations

import logging
import queue
import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from ..comparison.finding import Finding
from ..comparison.findings import Findings
from ..comparison.lanes import Cell, Lanes
from ..model.outcome import Result
from ..model.remark import Remark
from ..model.take import TakeName

if TYPE_CHECKING:
    from ..model.clock import Clock
    from ..replay.listening import TakeBegun

LOG = logging.getLogger(__name__)
EVERY_S = 0.1  # news is published at most so often


@dataclass(frozen=True)
class News:
    """A run as it stands. `changed` are the cells that are other than in the news before; None for all of them."""

    lanes: Lanes = field(default_factory=Lanes)
    findings: tuple[Finding, ...] = ()
    changed: frozenset[Cell] | None = None
    troubles: tuple[str, ...] = ()
    ended: bool = False


class Follower:
    """Listens to a run. `publish` is called on the follower's own thread, the last time with `ended`."""

    def __init__(self, lanes: Lanes, publish: Callable[[News], None], clock: Clock) -> None:
        self._lanes, self._findings = lanes, Findings.of(lanes)
        self._publish, self._clock = publish, clock
        self._events: queue.SimpleQueue[Callable[[], Iterable[Cell]] | str] = queue.SimpleQueue()
        self._troubles: list[str] = []
        self._starting = threading.Lock()
        self._thread: threading.Thread | None = None  # begun with the first event

    def _put(self, event: Callable[[], Iterable[Cell]] | str) -> None:
        with self._starting:
            if self._thread is None:
                self._thread = threading.Thread(target=self._run, name="follower", daemon=True)
                self._thread.start()
        self._events.put(event)

    # told by the run, on the devices' threads

    def take_started(self, take: TakeName, begun: TakeBegun) -> None:
        """A take begins: from now on its pictures can be looked at."""
        self._put(lambda: self._begin(take, begun))

    def step_done(self, take: TakeName, result: Result) -> None:
        """One more result."""
        self._put(lambda: self._fold(take, result))

    def take_ended(self, take: TakeName, trouble: str) -> None:
        """A take is over; what kept it from being done is told."""
        if trouble:
            words = f"{take.device}: {trouble}"
            self._put(lambda: self._tell(words))

    def noticed(self, remarks: tuple[Remark, ...]) -> None:
        """Something differs that no check asked about."""
        self._put(lambda: self._remark(remarks))

    def run_ended(self, trouble: str) -> None:
        """Nothing more comes."""
        self._put(trouble)

    # on the follower's thread

    def _begin(self, take: TakeName, begun: TakeBegun) -> Iterable[Cell]:
        self._lanes = self._lanes.with_take(take, begun.folder, begun.build)
        return ()

    def _fold(self, take: TakeName, result: Result) -> Iterable[Cell]:
        self._lanes = self._lanes.with_result(take, result)
        return self._lanes.changed

    def _remark(self, remarks: tuple[Remark, ...]) -> Iterable[Cell]:
        self._findings = self._findings.with_remarks(self._lanes, remarks)
        return ()

    def _tell(self, words: str) -> Iterable[Cell]:
        if words not in self._troubles:
            self._troubles.append(words)
        return ()

    def _run(self) -> None:
        ended = False
        while not ended:
            changed: set[Cell] = set()
            columns = self._lanes.columns
            event: Callable[[], Iterable[Cell]] | str | None = self._events.get()
            until = self._clock.now() + EVERY_S
            while event is not None:
                if isinstance(event, str):
                    ended = True
                    if event:
                        self._tell(event)
                    break
                try:
                    changed.update(event())
                except Exception:
                    LOG.exception("a result could not be taken in")
                event = self._next(until)
            moved = self._lanes.columns is not columns
            self._findings = self._findings.updated(self._lanes, changed)
            troubles, self._troubles = tuple(self._troubles), []
            self._publish(News(self._lanes, self._findings.ordered(), None if moved else frozenset(changed), troubles, ended))

    def _next(self, until: float) -> Callable[[], Iterable[Cell]] | str | None:
        """What comes within the time that is left."""
        try:
            return self._events.get(timeout=max(0.001, until - self._clock.now())) if self._clock.now() < until else None
        except queue.Empty:
            return None
