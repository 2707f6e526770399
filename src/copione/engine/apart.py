"""A take in a process of its own: the plan goes there as a value, and its events come back as they happen."""

from __future__ import annotations

import contextlib
import multiprocessing
import pickle
import queue
import signal
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.process import BaseProcess
from multiprocessing.queues import Queue
from multiprocessing.synchronize import Event

from ..comparison.viewing import Showing
from ..links.link import Link
from ..model.address import Address
from ..model.clock import SystemClock
from ..model.errors import CopioneError
from ..model.outcome import Result
from ..model.screen import Moment
from ..project.archive import MomentNames
from ..replay.plan import TakePlan, TakePorts
from ..replay.take import Take

LOOK_S = 0.2  # how often it is checked whether the take is cancelled, and whether its process is still running
END_S = 30.0  # for a process to restore the device once it has been asked to stop


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
    """An archive that hands on what it is given, under the names that the archive at the other end gives it."""

    def __init__(self, send: Callable[[TakeEvent], object]) -> None:
        self._send, self._names = send, MomentNames()

    def moment(self, moment: Moment) -> str:
        """See `TakeArchive`."""
        self._send(MomentKept(moment))
        return self._names.add(moment)

    def picture_name(self, stem: str) -> str:
        """See `TakeArchive`."""
        return self._names.picture(stem)

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
    """Do a take in another process, which reaches the device through `connect`; both are pickled. Results go to `ports` as they come.

    Raises TakeLost if the process ends before the take does, and FileTrouble if the archive cannot be written.
    """
    spawning = multiprocessing.get_context("spawn")
    events: Queue[bytes] = spawning.Queue()  # pickled here: its own thread would lose what cannot be
    stop = spawning.Event()
    process = spawning.Process(target=_there, args=(plan, connect, events, stop), name="take", daemon=True)
    process.start()
    results: list[Result] = []
    running = True
    try:
        while True:
            if ports.cancelled():
                stop.set()
            try:
                event = pickle.loads(events.get(timeout=LOOK_S))
            except queue.Empty:
                if not running:
                    raise TakeLost("The process that replayed the script ended before the script did.") from None
                running = process.is_alive()  # what it sent last may only just have arrived
                continue
            if isinstance(event, TakeOver):
                if event.trouble:
                    raise TakeLost(event.trouble)
                return results
            _hand_on(event, ports, results)
    finally:
        stop.set()
        _ended(process, events)
        ports.archive.close()


def _ended(process: BaseProcess, events: Queue[bytes]) -> None:
    """Wait until the process has ended. What it still sends is dropped: it would wait for ever for somebody to take it."""
    until = time.monotonic() + END_S
    while process.is_alive() and time.monotonic() < until:
        with contextlib.suppress(queue.Empty):
            events.get(timeout=LOOK_S / 10)
    process.kill()
    process.join()


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
    """In the other process. Ctrl+C is for the first one, which stops the take."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)

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
