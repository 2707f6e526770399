"""A run: takes on several devices at once, a worker each, rows one after the other on each device."""

from __future__ import annotations

import contextlib
import logging
import threading
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future
from dataclasses import dataclass, replace
from functools import partial

from ..comparison.costs import Stretch, TakeCosts, cost_remarks
from ..comparison.viewing import Viewer
from ..files.naming import slug
from ..files.places import Place
from ..links.bench import Device
from ..links.claims import Busy
from ..links.holding import awake, held
from ..links.limits import hurried
from ..links.link import Link
from ..model.clock import Clock
from ..model.cost import Cost
from ..model.device import DeviceProfile
from ..model.errors import CopioneError, FileTrouble
from ..model.outcome import Cause, Outcome, Reason, Result
from ..model.remark import Remark
from ..model.take import TakeName
from ..project.archive import RunEnd, RunWriter, TakeWriter
from ..project.loaded import Loaded
from ..project.project import Project
from ..project.remarks import lines_of, wanted_off
from ..recognition.phrases import Interpreter
from .costs import watched
from .listening import RunListener, TakeBegun
from .noticing import Noticing
from .order import planned
from .pace import Pace
from .plan import TakePlan, TakePorts
from .take import Take, build_of

LOG = logging.getLogger(__name__)


@dataclass(frozen=True)
class _Place:
    """One device of the run, and which of that name it is."""

    device: Device
    profile: DeviceProfile
    which: int

    def take(self, row: int) -> TakeName:
        return TakeName(self.profile.name, row, self.which)


def places_of(devices: Sequence[Device]) -> list[TakeName]:
    """The names of the first rows' takes on those devices, in order."""
    return [place.take(1) for place in _places(devices)]


def _places(devices: Sequence[Device]) -> list[_Place]:
    seen: Counter[str] = Counter()
    found = []
    for device in devices:
        assert device.profile is not None
        seen[device.profile.name] += 1
        found.append(_Place(device, device.profile, seen[device.profile.name]))
    return found


class Run:
    """Start with `start`; it ends by itself, once. `cancel` ends every take at its next look.

    `busy` is what to do about devices that another Copione has. Raises ScriptBroken when the script has problems, FileTrouble when no
    archive can be begun.
    """

    def __init__(
        self,
        project: Project,
        loaded: Loaded,
        devices: Sequence[Device],
        listener: RunListener,
        clock: Clock,
        runs: Place | None = None,
        busy: Busy = Busy.TELL,
    ) -> None:
        self._busy = busy
        self.project, self.loaded, self.listener, self.clock = project, loaded, listener, clock
        self.script = loaded.document.sound()
        loaded.teach(project.redactor)
        self._places, self._off = _places(devices), wanted_off(project.folder)
        names = [place.profile.name for place in self._places]
        said = self.script.name, loaded.document.text, self.script.app
        self.writer = RunWriter(runs or project.runs_folder, *said, names, project.redactor)
        self._pace = Pace()
        self._profiles = {place.take(row): place.profile for place in self._places for row in range(1, len(loaded.takes) + 1)}
        self._noticing = Noticing(self._profiles, self._noticed)
        self._cancelled, self._began, self._over = threading.Event(), threading.Event(), threading.Event()
        self._stopped_early = threading.Event()  # something was left undone because the run was cancelled
        self._lock = threading.Lock()
        self._open = len(self._places)
        self._begun: set[TakeName] = set()
        self._troubles: dict[_Place, str] = {}
        self._failure: CopioneError | None = None
        self._costs: dict[TakeName, tuple[list[Cost], list[Stretch]]] = {}  # and when each step was done
        self._since = clock.now()
        LOG.info("a run of %s on %s in %s", slug(self.script.name), ", ".join(names), self.writer.folder)

    @property
    def folder(self) -> Place:
        """Where the run is kept."""
        return self.writer.folder

    @property
    def devices(self) -> tuple[str, ...]:
        """The names of its devices, the lead's first."""
        return tuple(place.profile.name for place in self._places)

    @property
    def end(self) -> RunEnd:
        """How it ended, once it has."""
        if self._stopped_early.is_set():
            return RunEnd.STOPPED
        if self._failure is not None:
            return RunEnd.CUT
        return RunEnd.COMPLETE if self._began.is_set() else RunEnd.NOT_RUN

    @property
    def none_began(self) -> bool:
        """No take got as far as its first step."""
        return not self._began.is_set()

    def costs(self, take: TakeName) -> tuple[Cost, ...]:
        """What the app has cost the device of a take, as far as it was told."""
        return tuple(self._costs[take][0]) if take in self._costs else ()

    def cancel(self) -> None:
        """Stop every take at its next look."""
        self._cancelled.set()

    def start(self) -> None:
        """Give every device its takes. Returns at once."""
        self._since = self.clock.now()
        if not self._places:
            self._end()
        for place in self._places:
            assert place.device.worker is not None
            future = place.device.worker.submit(partial(self._on_device, place))
            future.add_done_callback(partial(self._device_done, place))

    def wait(self) -> None:
        """Until the run has ended. Raises FileTrouble when something of it could not be archived."""
        self._over.wait()
        if self._failure is not None:
            raise self._failure

    # on the devices' threads

    def _on_device(self, place: _Place, link: Link) -> None:
        try:
            with held(link, f"replaying {self.script.name}", self._busy, self._cancelled.is_set), awake(link):
                self._rows(place, link)
        except CopioneError as error:
            self._troubles[place] = error.sentence  # its takes are told of when the device is done

    def _rows(self, place: _Place, link: Link) -> None:
        for row, values in enumerate(self.loaded.takes, 1):
            name = place.take(row)
            self._begun.add(name)
            trouble = ""
            try:
                with hurried(link, self.script.patience):
                    trouble = self._take(link, place.profile, name, values)
            except FileTrouble as error:
                trouble = error.sentence
                self._failure = self._failure or error
            except Exception as error:
                LOG.exception("the take %s could not go on", name)
                trouble = error.sentence if isinstance(error, CopioneError) else f"This is an error in Copione: {type(error).__name__}."
                self._failure = self._failure or CopioneError(f"{place.profile.name}: {trouble}")
            self._noticing.ended(name)
            self._tell(self.listener.take_ended, name, self.project.redactor.words(trouble))

    def _take(self, link: Link, profile: DeviceProfile, name: TakeName, values: dict[str, str]) -> str:
        package, build, trouble = "", "", ""
        try:
            package = self.project.package(self.script.app, profile.platform) if self.script.app else ""
            build = build_of(link, package, self.loaded.library)
        except CopioneError as error:
            trouble = error.sentence
        try:
            archive = self.writer.take(profile, name, values, build, link.configured)
        except FileTrouble as error:  # whoever listens hears of the take all the same
            self._tell(self.listener.take_started, name, TakeBegun(self.folder, profile, build))
            self._not_begun(name, error.sentence, lambda result: None)
            raise
        self._tell(self.listener.take_started, name, TakeBegun(archive.folder, profile, build, link.configured))
        if trouble:
            self._could_not(archive, name, trouble)
            return trouble
        plan = TakePlan.of(self.project, self.loaded, profile, values, package, build)
        told = partial(self._told, name)
        self._began.set()
        interpreter = Interpreter(plan.phrases(profile.locale))
        viewer = Viewer(profile, interpreter.phrases, interpreter.backwards)
        seen = partial(self._noticing.seen, name, viewer)
        ports = TakePorts(archive, told, partial(self._stopped, link), self._pace, seen=seen)
        costs, steps = self._costs.setdefault(name, ([], []))

        def keep(cost: Cost) -> None:
            costs.append(cost)
            archive.cost(cost)

        with watched(link, package, keep):
            done = Take(plan, link, self.clock, ports).run()
        steps += [Stretch(r.address, r.begin, r.end) for r in done if r.outcome is not Outcome.UNREACHED]
        return ""

    def _told(self, name: TakeName, result: Result) -> None:
        if result.why is not None and result.why.cause is Cause.STOPPED:
            self._stopped_early.set()
        self._tell(self.listener.step_done, name, result)

    def _noticed(self, found: Sequence[Remark]) -> None:
        """On the noticing thread: kept, and told."""
        words = self.project.redactor.words
        clean = [
            replace(r, name=words(r.name), here=words(r.here), elsewhere=words(r.elsewhere), key=words(r.key), over=words(r.over))
            for r in found
        ]
        wanted = [r for r in clean if not any(off.fits(r, self._profiles[r.take]) for off in self._off)]
        if wanted:
            self.writer.remarks(lines_of(wanted))
            self._tell(self.listener.noticed, tuple(wanted))

    def _stopped(self, link: Link) -> bool:
        link.claim.check()
        return self._cancelled.is_set()

    def _could_not(self, archive: TakeWriter, name: TakeName, trouble: str) -> None:
        """A take that cannot begin: its first step is stuck with the reason, the rest unreached."""
        try:
            self._not_begun(name, trouble, archive.step)
        finally:
            archive.close()

    def _not_begun(self, name: TakeName, trouble: str, keep: Callable[[Result], None]) -> None:
        for result in planned(self.loaded.library):
            if result.number == 1:
                result = replace(result, outcome=Outcome.STUCK, why=Reason(Cause.DEVICE, self.project.redactor.words(trouble)))
            keep(result)
            self._tell(self.listener.step_done, name, result)

    @staticmethod
    def _tell(tell: Callable[..., None], *what: object) -> None:
        """A listener that fails (a terminal that is closed, say) ends no take."""
        try:
            tell(*what)
        except Exception:
            LOG.exception("a listener of the run failed")

    def _device_done(self, place: _Place, _done: Future[None]) -> None:
        """One device has no more to do: its takes are over, or its worker was closed before they began."""
        trouble = self._troubles.get(place, "The device was disconnected before its turn.")
        for row, values in enumerate(self.loaded.takes, 1):
            name = place.take(row)
            if name in self._begun:
                continue
            if self._cancelled.is_set():
                self._stopped_early.set()
            with self._failing():
                archive = self.writer.take(place.profile, name, values, "")
                self._tell(self.listener.take_started, name, TakeBegun(archive.folder, place.profile, ""))
                self._could_not(archive, name, trouble)
            self._tell(self.listener.take_ended, name, trouble)
        with self._lock:
            self._open -= 1
            last = self._open == 0
        if last:
            self._end()

    def _end(self) -> None:
        with self._failing():
            self._noticing.close()
        with self._failing():
            known = [TakeCosts(name, self._profiles[name], *told) for name, told in list(self._costs.items())]
            self._noticed(cost_remarks(known))
        with self._failing():
            self.writer.finish(self.clock.now() - self._since, self.end)
        words = self._failure.sentence if self._failure is not None else ""
        self._tell(self.listener.run_ended, words)
        self._over.set()

    @contextlib.contextmanager
    def _failing(self) -> Iterator[None]:
        """Whatever goes wrong meanwhile is told when the run has ended, and keeps it from nothing else."""
        try:
            yield
        except CopioneError as error:
            self._failure = self._failure or error
        except Exception as error:
            LOG.exception("the run met an error of its own")
            self._failure = self._failure or CopioneError(f"This is an error in Copione: {type(error).__name__}.")
