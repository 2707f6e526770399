"""A take in a process of its own: the plan goes there as a value, and its events come back as they happen."""

from __future__ import annotations

import multiprocessing
import pickle
import queue
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.queues import Queue
from multiprocessing.synchronize import Event

from ..links.link import Link
from ..model.address import Address
from ..model.clock import SystemClock
from ..model.errors import CopioneError
from ..model.outcome import Result
from ..model.screen import Moment
from ..replay.plan import TakePlan, TakePorts
from ..replay.take import Take
from ..replay.viewing import Showing

LOOK_S = 0.2  # how often it is asked whether the take is cancelled, and whether its process is still there


class TakeLost(CopioneError):
    """The process of a take ended before the take did."""


@dataclass(frozen=True)
class MomentKept:
    """The device showed this."""

    moment: Moment


@dataclass(frozen=True)
class SecretTyped:
    """A secret was typed: later pictures may show it."""


@dataclass(frozen=True)
class StepDone:
    """A step has its outcome."""

    result: Result


@dataclass(frozen=True)
class StepSeen:
    """On which screen a step was done; None where that says nothing of the app."""

    address: Address
    showing: Showing | None


@dataclass(frozen=True)
class DeviceLogged:
    """What the device logged meanwhile."""

    words: str


@dataclass(frozen=True)
class TakeOver:
    """Nothing more comes. `trouble` says why the take could not be finished; empty where it was."""

    trouble: str


TakeEvent = MomentKept | SecretTyped | StepDone | StepSeen | DeviceLogged | TakeOver


class EventArchive:
    """An archive that hands on what it is given. Pictures are numbered as `project.archive.TakeWriter` does."""

    def __init__(self, send: Callable[[TakeEvent], object]) -> None:
        self._send, self._count = send, 0
        self._without: set[str] = set()

    def moment(self, moment: Moment) -> str:
        """See `TakeArchive`."""
        self._count += 1
        stem = f"{self._count:04d}"
        if not moment.png:
            self._without.add(stem)
        self._send(MomentKept(moment))
        return stem

    def picture_name(self, stem: str) -> str:
        """See `TakeArchive`."""
        return f"{stem}.png" if stem and stem not in self._without else ""

    def secret_typed(self) -> None:
        """See `TakeArchive`."""
        self._send(SecretTyped())

    def step(self, result: Result) -> None:
        """See `TakeArchive`."""
        self._send(StepDone(result))

    def log(self, words: str) -> None:
        """See `TakeArchive`."""
        self._send(DeviceLogged(words))

    def close(self) -> None:
        """See `TakeArchive`."""


def run_apart(plan: TakePlan, connect: Callable[[], Link], ports: TakePorts) -> list[Result]:
    """Do a take in another process, which reaches the device by `connect`; both are pickled. Results go to `ports` as they come.

    Raises TakeLost where the process ended too early, and FileTrouble where the archive cannot be written.
    """
    spawning = multiprocessing.get_context("spawn")
    events: Queue[bytes] = spawning.Queue()  # pickled here: its own thread would lose what cannot be
    stop = spawning.Event()
    process = spawning.Process(target=_there, args=(plan, connect, events, stop), name="take", daemon=True)
    process.start()
    results: list[Result] = []
    try:
        while True:
            if ports.cancelled():
                stop.set()
            try:
                event = pickle.loads(events.get(timeout=LOOK_S))
            except queue.Empty:
                if process.is_alive():
                    continue
                raise TakeLost("The process that replayed the script ended before the script did.") from None
            if isinstance(event, TakeOver):
                if event.trouble:
                    raise TakeLost(event.trouble)
                return results
            _hand_on(event, ports, results)
    finally:
        stop.set()
        process.join()
        ports.archive.close()


def _hand_on(event: TakeEvent, ports: TakePorts, results: list[Result]) -> None:
    match event:
        case MomentKept(moment=moment):
            ports.archive.moment(moment)
        case SecretTyped():
            ports.archive.secret_typed()
        case StepDone(result=result):
            ports.archive.step(result)
            ports.told(result)
            results.append(result)
        case StepSeen(address=address, showing=showing):
            ports.seen(address, showing)
        case DeviceLogged(words=words):
            ports.archive.log(words)


def _there(plan: TakePlan, connect: Callable[[], Link], events: Queue[bytes], stop: Event) -> None:
    """In the other process."""

    def send(event: TakeEvent) -> None:
        events.put(pickle.dumps(event))

    ports = TakePorts(EventArchive(send), cancelled=stop.is_set, seen=lambda address, showing: send(StepSeen(address, showing)))
    trouble = ""
    try:
        Take(plan, connect(), SystemClock(), ports).run()
    except CopioneError as error:
        trouble = error.sentence
    except Exception as error:
        trouble = f"This is an error in Copione: {type(error).__name__}."
    send(TakeOver(plan.redactor.words(trouble)))
