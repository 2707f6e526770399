"""One replay of one script with one data row on one device."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from pathlib import Path

from ..language.printer import step_words
from ..links.link import Link
from ..model.clock import Clock
from ..model.errors import CopioneError, FileTrouble
from ..model.gesture import Contact
from ..model.outcome import Outcome, Result
from ..model.portrait import Portrait, Sighting, Unseen
from ..model.screen import Element, Moment
from ..model.step import Scene, Script, Step, Target
from ..project.archive import TakeWriter
from ..project.secrets import masked
from ..recognition.evidence import visible
from ..recognition.phrases import Interpreter
from ..recognition.pictures import Picture, decode
from ..recognition.reach import Reach, reach
from ..touch.making import tap
from .act import Act
from .looking import Eye, Found, Lost
from .pace import Pace
from .pictured import AREA, at_place, find_area, look_unaided
from .verbs import VERBS

SMALL = 24.0  # dp: WCAG 2.2, success criterion 2.5.8, asks for targets of at least 24 CSS pixels


class Take:
    """Runs the steps in order, writes each result as it happens, and tells `listener`.

    A stuck step ends the take and the rest is unreached; a check that is stuck or differs does not: it changed nothing.
    """

    def __init__(
        self,
        link: Link,
        script: Script,
        values: Mapping[str, str],
        portraits: Mapping[str, tuple[Portrait, ...]],
        package: str,
        clock: Clock,
        archive: TakeWriter,
        listener: Callable[[Result], None],
        cancelled: Callable[[], bool] = lambda: False,
        phrases: Mapping[str, str] | None = None,
        pace: Pace | None = None,
        secrets: Mapping[str, str] | None = None,
        frames: Path | None = None,
    ) -> None:
        self._frames = frames
        self.secrets = secrets or {}
        self.pace = pace or Pace()
        self.interpreter = Interpreter(phrases or {})
        self.link, self.script, self.values, self.portraits, self.package = link, script, dict(values), portraits, package
        self.clock, self.archive, self.listener = clock, archive, listener
        self.eye = Eye(link, clock, self._keep, cancelled)
        if any(step.verb == "whenever" for _, step in script.steps()):
            self.eye.answer = self._answer
        self.eye.unaided = lambda target, portraits, read: look_unaided(self.eye, target, portraits, self.frame, read=read)
        self.stem = ""
        self._broken = False  # the device or the user ended it: not even checks go on

    def run(self) -> list[Result]:
        """Every step's result. Only FileTrouble is raised: what the device does wrong becomes an outcome."""
        started = self.clock.wall()
        results: list[Result] = []
        ended = ""
        try:
            for number, (scene, step) in enumerate(self.script.steps(), 1):
                result = self._unreached(number, scene, step, ended) if ended else self._step(number, scene, step)
                results.append(result)
                self.archive.step(result)
                self.listener(result)
                if result.outcome is Outcome.STUCK and not ended and (self._broken or not step.is_check):
                    ended = f"after step {number} was stuck"
            self.archive.log(self._device_log(started))
        finally:
            self.archive.close()
        return results

    def _device_log(self, started: float) -> str:
        """What the device logged, or why it could not be had."""
        try:
            return self.link.log(started)
        except CopioneError as error:
            return error.sentence + "\n"

    def _keep(self, moment: Moment) -> None:
        self.stem = self.archive.moment(moment)

    def _unreached(self, number: int, scene: Scene, step: Step, why: str) -> Result:
        return Result(number, step.line, scene.name, step_words(step), step.verb, step.key(), Outcome.UNREACHED, reason=why)

    def _step(self, number: int, scene: Scene, step: Step) -> Result:
        begin, since = self.clock.wall(), self.clock.now()
        act = Act()
        words, key = step_words(step), step.key()
        try:
            filled = step.filled({**self.values, **self.secrets})
            words = step_words(step.filled(masked(self.values, self.secrets)))
            if self.stem == "" and step.verb != "launch":
                self.eye.look()
            act.before = self.stem
            VERBS[step.verb](self, self.interpreter.step(filled), act, scene.name)
        except FileTrouble:
            raise
        except CopioneError as error:
            act.outcome, act.reason, self._broken = Outcome.STUCK, error.sentence, True
        if act.outcome is Outcome.HELD and act.notes:
            act.outcome = Outcome.ADAPTED
        result = Result(
            number=number,
            line=step.line,
            scene=scene.name,
            step=words,
            verb=step.verb,
            target=key,
            outcome=act.outcome,
            by=" and ".join(act.by),
            seconds=self.clock.now() - since,
            reason=act.reason or ", ".join(act.notes),
            read=act.read,
            box=act.box,
            before=f"{act.before}.png" if act.before else "",
            after=f"{self.stem}.png" if self.stem else "",
            tree=f"{act.before}.xml" if act.before else "",
            begin=begin,
            end=self.clock.wall(),
            mark=act.mark,
        )
        slow = self.pace.remark(result)
        return replace(result, reason=", ".join(filter(None, (result.reason, slow)))) if slow else result

    # finding

    def portraits_of(self, target: Target, scene: str) -> tuple[Portrait, ...]:
        """The target's portraits, those recorded in this scene first. A target filled from data is kept under its template."""
        found = self.portraits.get(target.words(), ())
        return tuple(self.interpreter.portrait(p) for p in sorted(found, key=lambda p: p.scene != scene))

    def find_target(
        self,
        step: Step,
        act: Act,
        scene: str,
        *,
        eager: bool = False,
        patience: float | None = None,
        at: Callable[[Element], Reach] = reach,
    ) -> Found | None:
        target = step.target
        assert target is not None
        template = self.template(step)
        portraits = self.portraits_of(template, scene)
        limit = patience if patience is not None else step.within if step.within is not None else self.script.patience
        if target.role == AREA:
            found = find_area(self.eye, target, portraits, limit, self.frame, read=not step.place)
        else:
            found = self.eye.find(
                target,
                portraits,
                limit,
                inside_portraits=self.portraits_of(template.inside, scene) if template.inside else (),
                eager=eager,
                reachable=at,
            )
        if isinstance(found, Lost) and step.place:
            placed = at_place(self.eye, portraits)
            found = placed if isinstance(placed, Found) else found
        act.before = self.stem
        if isinstance(found, Lost):
            act.stuck(found)
            return None
        act.found(found)
        small = _shrunk(found.element, portraits)
        if small and target.role != AREA:
            act.notes.append(small)
        return found

    def frame(self, portrait: Portrait) -> Picture | None:
        """The recorded picture of a portrait; None where there is none."""
        if self._frames is None or not portrait.picture:
            return None
        try:
            return decode((self._frames / portrait.picture).read_bytes(), portrait.screen.width)
        except OSError:
            return None

    def template(self, step: Step) -> Target:
        """The target as the script's text has it, before the data row was filled in."""
        for _, each in self.script.steps():
            if each.line == step.line and each.target is not None:
                return each.target
        assert step.target is not None
        return step.target

    def touch(self, act: Act, point: tuple[float, float]) -> None:
        act.mark = (point,)
        self.gesture_tap(point)

    def gesture_tap(self, point: tuple[float, float]) -> None:
        self.gesture([tap(*point)])

    def gesture(self, contacts: Sequence[Contact]) -> None:
        """Put fingers on the glass, and look."""
        self.link.touch(contacts)
        self.eye.look()

    @staticmethod
    def reach(element: Element) -> Reach:
        return reach(element)

    def find_other(self, step: Step, act: Act, scene: str) -> Element | None:
        """The second target of a step, on the newest screen; None, and the step is stuck, where it is not in sight."""
        found = self._sight_other(step, scene)
        if isinstance(found, Unseen):
            assert step.onto is not None
            act.stuck(Lost(f"{step.onto.words()}: {found.reason}"))
            return None
        return found.element

    def other_again(self, step: Step, scene: str) -> Element | None:
        found = self._sight_other(step, scene)
        return found.element if isinstance(found, Sighting) else None

    def _sight_other(self, step: Step, scene: str) -> Sighting | Unseen:
        template = next((s.onto for _, s in self.script.steps() if s.line == step.line and s.onto is not None), step.onto)
        assert step.onto is not None and template is not None
        inside = self.portraits_of(template.inside, scene) if template.inside else ()
        return self.eye.sight_now(step.onto, self.portraits_of(template, scene), inside)

    def handle_of(self, step: Step, scene: str) -> Element | None:
        """The recorded part by which a step's target was carried."""
        found = self.portraits.get(f"{self.template(step).words()} handle", ())
        return next((p.element for p in sorted(found, key=lambda p: p.scene != scene)), None)

    # standing answers

    def _answer(self, moment: Moment) -> bool:
        """Tap what a `whenever` says when its target is on the screen; was there one?"""
        if moment.screen is None:
            return False
        for scene, step in self.script.steps():
            if step.verb == "whenever" and step.target is not None and step.onto is not None:
                told = self.interpreter.step(step.filled(self.values))
                assert told.target is not None
                asked = self.eye.sight_in(moment.screen, told.target, self.portraits_of(step.target, scene.name))
                there = self._sight_other(told, scene.name) if isinstance(asked, Sighting) else None
                point = reach(there.element).point if isinstance(there, Sighting) else None
                if point is not None:
                    self.link.touch([tap(*point)])
                    return True
        return False

    def again(self, step: Step, scene: str) -> Element | None:
        """The step's target on the newest screen."""
        assert step.target is not None
        template = self.template(step)
        inside = self.portraits_of(template.inside, scene) if template.inside else ()
        found = self.eye.sight_now(step.target, self.portraits_of(template, scene), inside)
        return found.element if isinstance(found, Sighting) else None


def _shrunk(element: Element, portraits: Sequence[Portrait]) -> str:
    """A control that was large enough for a finger where it was recorded, and is not here."""
    shown = visible(element)
    least = min(shown.width, shown.height)
    known = min((min(p.element.box.width, p.element.box.height) for p in portraits[:1]), default=0.0)
    return f"only {least:.0f} dp small, {known:.0f} dp as recorded" if least < SMALL <= known * 2 / 3 else ""


def planned(script: Script) -> Iterator[Result]:
    """Every step as unreached: what a take shows before it starts."""
    for number, (scene, step) in enumerate(script.steps(), 1):
        yield Result(number, step.line, scene.name, step_words(step), step.verb, step.key(), Outcome.UNREACHED)
