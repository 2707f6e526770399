"""A stretch of a script tried on one device: stopped before a line, gone on with step by step, looked into where it is stuck."""

from __future__ import annotations

import logging
import tempfile
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Protocol

from ..language.folding import stretches
from ..links.claims import LOOK_S
from ..links.holding import awake, held
from ..links.limits import hurried
from ..links.link import Link
from ..model.action import Opening
from ..model.address import Address
from ..model.clock import Clock
from ..model.errors import CopioneError
from ..model.outcome import Outcome, Result
from ..model.portrait import Portrait
from ..model.roles import roles_of
from ..model.screen import Element, Moment
from ..model.step import Scene, Step
from ..model.target import AREA
from ..project.archive import TakeWriter
from ..project.loaded import Loaded
from ..project.project import Project
from ..recognition.sighting import likely
from .order import Position
from .plan import TakePlan, TakePorts
from .take import Take, build_of

LOG = logging.getLogger(__name__)
LIKELY = 4  # elements that are offered where a step is stuck


@dataclass(frozen=True)
class TrialRequest:
    """What to try: the lines from `first` to `last` of the script, with the values of a data row (from 1) and those `given` beside it.

    `stops` are lines to stop before; `stepping`: before every one.
    """

    first: int
    last: int
    row: int = 1
    given: Mapping[str, str] = field(default_factory=dict)
    stops: frozenset[int] = frozenset()
    stepping: bool = False


@dataclass(frozen=True)
class TrialStop:
    """Where a trial waits: before which step, at which line of the script itself, with which values, secrets left out."""

    address: Address
    step: Step
    line: int
    values: Mapping[str, str]


@dataclass(frozen=True)
class Tried:
    """What became of a step: with the screen it was judged by, and the element it was done to. `near` are the likely ones where it is
    stuck, the likeliest first, each with its score (0..1)."""

    result: Result
    moment: Moment | None = None
    element: Element | None = None
    near: tuple[tuple[Element, float], ...] = ()
    device: str = ""
    build: str = ""
    locale: str = ""

    def portrait(self, element: Element | None = None, scene: str = "", picture: str = "") -> Portrait | None:
        """What was found there, as evidence to keep; of another element where one is given."""
        found = element or self.element
        if found is None:
            return None
        return Portrait(found.screen, found.row, scene, picture, device=self.device, build=self.build, locale=self.locale)


class TrialListener(Protocol):
    """Told of everything as it happens, on the trial's own thread."""

    def waits(self, standing: TrialStop) -> None:
        """It waits before a step."""
        ...

    def goes_on(self, standing: TrialStop) -> None:
        """A step is about to be done."""
        ...

    def tried(self, tried: Tried) -> None:
        """One step has its outcome."""
        ...

    def ended(self, values: Mapping[str, str], trouble: str) -> None:
        """It is over: with the values as they stand then, or a sentence that says why it could not be."""
        ...


class Trial:
    """Run it on a thread of its own. `go_on`, `step` and `stop` may be called from any."""

    def __init__(self, project: Project, loaded: Loaded, asked: TrialRequest, listener: TrialListener, clock: Clock) -> None:
        self.project, self.loaded, self.asked, self.listener, self.clock = project, loaded, asked, listener, clock
        self._stepping, self._begun = asked.stepping, False
        self._go, self._stopped = threading.Event(), threading.Event()
        self._take: Take | None = None
        self._build = ""
        self._check: Callable[[], None] = lambda: None  # raises DeviceTaken once another Copione wants the device

    def go_on(self) -> None:
        """To the next line to stop before, or to the end."""
        self._stepping = False
        self._go.set()

    def step(self) -> None:
        """One step, and wait again."""
        self._stepping = True
        self._go.set()

    def stop(self) -> None:
        """Before the next look."""
        self._stopped.set()
        self._go.set()

    def run(self, link: Link) -> None:
        """Try it. Never raises: what keeps it from going on is told."""
        values: Mapping[str, str] = {}
        trouble = ""
        try:
            with (
                tempfile.TemporaryDirectory(prefix="copione-trial-") as scratch,
                held(link, f"trying {self.loaded.script.name}"),
                awake(link),
            ):
                values = self._run(link, Path(scratch))
        except CopioneError as error:
            trouble = error.sentence
        except Exception as error:
            LOG.exception("a trial met an error of its own")
            trouble = f"This is an error in Copione: {type(error).__name__}."
        self.listener.ended(values, trouble)

    def _run(self, link: Link, scratch: Path) -> Mapping[str, str]:
        script = self.loaded.document.script
        device = link.profile()
        package = self.project.package(script.app, device.platform) if script.app else ""
        self._build = build_of(link, package, self.loaded.library)
        row = self.loaded.takes[min(self.asked.row, len(self.loaded.takes)) - 1]
        plan = TakePlan.of(self.project, self.loaded, device, {**row, **self.asked.given}, package, self._build)
        plan = replace(plan, library=replace(plan.library, stretch=cut(self.loaded, self.asked.first, self.asked.last)))
        archive = TakeWriter(scratch / "take", self.project.redactor)
        self._check = link.claim.check
        ports = TakePorts(archive, self._told, self._is_stopped, before=self._before)
        self.loaded.teach(self.project.redactor)
        with hurried(link, script.patience):
            self._take = Take(plan, link, self.clock, ports)
            self._take.run()
        return self._take.values

    def _is_stopped(self) -> bool:
        self._check()
        return self._stopped.is_set()

    def _before(self, where: Position, step: Step, values: Mapping[str, str]) -> None:
        address = where.address(step)
        standing = TrialStop(address, step, where.own or step.line, values)
        stops = not where.file and step.line in self.asked.stops
        if self._begun and (self._stepping or stops):
            self._wait(standing)
        self._begun = True
        self.listener.goes_on(standing)

    def _wait(self, standing: TrialStop) -> None:
        self._go.clear()
        if self._stopped.is_set():  # looked at behind that, so that a stop in between is not lost
            return
        self.listener.waits(standing)
        while not self._go.wait(LOOK_S):
            self._check()  # another Copione may want the device meanwhile

    def _told(self, result: Result) -> None:
        if result.outcome in (Outcome.UNREACHED, Outcome.SKIPPED):
            return
        take = self._take
        assert take is not None
        watch, device = take.doer.watch, take.plan.device
        moment = watch.moment if watch.stem else None
        near: tuple[tuple[Element, float], ...] = ()
        context = take.doer.context
        if result.outcome is Outcome.STUCK and moment is not None and moment.screen is not None and context is not None:
            targets = context.step.action.targets()
            if targets and targets[0].role != AREA:
                wanted = context.wanted()
                near = likely(moment.screen, wanted.target, roles_of(wanted.target.role), wanted.portraits, LIKELY)
        element = context.element if context is not None else None
        self.listener.tried(Tried(result, moment, element, near, device.name, self._build, device.locale))


def cut(loaded: Loaded, first: int, last: int) -> tuple[Scene, ...]:
    """What of a script stands in its lines from one to another; where the head of a block is among them, up to the block's end."""
    heads = {s.line for _, s in loaded.script.steps() if isinstance(s.action, Opening)}
    ends = {each.head: each.last for each in stretches(loaded.document)}
    last = max([last, *(ends.get(head, head) for head in heads if first <= head <= last)])
    found = (replace(scene, steps=tuple(s for s in scene.steps if first <= s.line <= last)) for scene in loaded.script.scenes)
    return tuple(scene for scene in found if scene.steps)
