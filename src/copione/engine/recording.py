"""Recording on one device: how a session begins, and what is written of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from ..links.claims import Busy
from ..links.holding import held
from ..links.link import KeepsLog, Link, RunsApps
from ..model.action import Start
from ..model.clock import SystemClock
from ..model.errors import CopioneError
from ..model.screen import Moment
from ..project.journal import Unfinished
from ..project.loaded import Loaded
from ..project.project import Project
from ..recording.insertion import Insertion
from ..recording.recording import RecordingState
from ..recording.session import Session
from ..replay.approach import replay_up_to
from ..report.defect import Defect, write_up


@dataclass(frozen=True)
class AppStart:
    """The app that is recorded, by its package, and how it is started; None leaves it as it is."""

    package: str
    start: Start | None


@dataclass(frozen=True)
class RecordingPlan:
    """What is recorded: an app from its start, or what is in front.

    `recovered` is a recording to go on with; `script` and `line` the place that the new steps go behind, once the script has been
    replayed up to there; `busy` what to do about a device that another Copione uses.
    """

    app: AppStart | None = None
    recovered: Unfinished | None = None
    script: Loaded | None = None
    line: int = 0
    busy: Busy = Busy.TELL


@dataclass(frozen=True)
class RecordingListener:
    """Called on the device's thread with each look at the screen, with the steps recorded so far, and, while the script is replayed up to
    a line, with the number of steps done and in all.
    """

    looked: Callable[[Moment], None] = lambda moment: None
    recorded: Callable[[RecordingState], None] = lambda state: None
    approached: Callable[[int, int], None] = lambda done, total: None


def begin_recording(
    link: Link, project: Project, plan: RecordingPlan, listener: RecordingListener, cancelled: Callable[[], bool]
) -> Session:
    """Begin to record on a device, on its thread.

    Raises DeviceTaken where another Copione uses it, NotThere where it could not be brought to the line, and CopioneError where no app
    that could be tested is in front.
    """
    into = Insertion.behind(plan.script, plan.line) if plan.script is not None else None
    with held(link, "about to record", plan.busy, cancelled):
        if plan.script is not None:
            replay_up_to(link, project, plan.script, plan.line, SystemClock(), listener.approached, cancelled)
        package = plan.app.package if plan.app is not None else _in_front(link, project, plan.recovered)
        session = Session(link, project, package, listener.looked, listener.recorded, plan.recovered, into)
        if plan.app is not None and plan.app.start is not None:
            session.launch(plan.app.start)
        elif plan.app is not None:
            session.begin_as_it_is()
        return session


def _in_front(link: Link, project: Project, recovered: Unfinished | None) -> str:
    """The package of the app that is in front; that of the recording to go on with, which is launched, where none is."""
    package = link.able(RunsApps).front()[0]
    if package in link.able(RunsApps).packages():
        return package
    if recovered is None or not recovered.app:
        raise CopioneError("No app that can be tested is open on the device: open it there first.")
    package = project.package(recovered.app, link.profile().platform)
    link.able(RunsApps).launch(package)  # where it was, as far as the phone still has it there
    return package


def write_defect(link: Link, session: Session, defect: Defect, uids: list[int] | None) -> Path:
    """Write up a stretch of a recording (None: all of it) as a defect, with the device's log. Returns the folder. Raises FileTrouble."""
    steps = session.recording.stretch(uids)
    build = link.able(RunsApps).version(session.package) if session.package else ""
    told = link.able(KeepsLog).log(session.since) if link.has(KeepsLog) else ""
    folder, log = session.project.folder / "defects", session.project.redactor.words(told)
    return write_up(folder, defect, steps, session.folder, link.profile(), session.recording.app, build, log)
