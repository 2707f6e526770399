"""One replay of one script with one data row on one device."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..language.printer import step_words
from ..language.words import KEYS
from ..links.link import Link
from ..model.clock import Clock
from ..model.errors import CopioneError, FileTrouble
from ..model.geometry import Box
from ..model.outcome import Outcome, Result
from ..model.portrait import Portrait, Sighting
from ..model.screen import Element, Flag, Moment
from ..model.step import Scene, Script, Step, Target
from ..project.archive import TakeWriter
from ..recognition.evidence import visible
from ..recognition.phrases import Interpreter
from ..recognition.reach import Reach, reach
from ..screens.reading import reads
from ..touch.making import hold, swipe, tap
from . import checking, slider
from .looking import Eye, Found, Lost
from .pace import Pace

SMALL = 24.0  # dp: WCAG 2.2, success criterion 2.5.8, asks for targets of at least 24 CSS pixels
CHECK_S = 3.0  # how long a check waits for the expected value where the script gives no time


@dataclass
class _Act:
    """What a step did, gathered while it does it."""

    outcome: Outcome = Outcome.HELD
    by: tuple[str, ...] = ()
    notes: list[str] = field(default_factory=list)
    reason: str = ""
    read: str = ""
    box: Box | None = None
    mark: tuple[tuple[float, float], ...] = ()
    before: str = ""

    def found(self, found: Found) -> None:
        self.by = found.sighting.by
        self.box = visible(found.element)
        for note in (found.sighting.weaker, found.route):
            if note:
                self.notes.append(note)

    def stuck(self, lost: Lost) -> None:
        self.outcome, self.reason = Outcome.STUCK, lost.reason
        self.box = visible(lost.element) if lost.element is not None else None


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
    ) -> None:
        self.pace = pace or Pace()
        self.interpreter = Interpreter(phrases or {})
        self.link, self.script, self.values, self.portraits, self.package = link, script, values, portraits, package
        self.clock, self.archive, self.listener = clock, archive, listener
        self.eye = Eye(link, clock, self._keep, cancelled)
        self._stem = ""
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
        self._stem = self.archive.moment(moment)

    def _unreached(self, number: int, scene: Scene, step: Step, why: str) -> Result:
        return Result(number, step.line, scene.name, step_words(step), step.verb, step.key(), Outcome.UNREACHED, reason=why)

    def _step(self, number: int, scene: Scene, step: Step) -> Result:
        begin, since = self.clock.wall(), self.clock.now()
        act = _Act()
        words, key = step_words(step), step.key()
        try:
            filled = step.filled(self.values)
            words = step_words(filled)
            if self._stem == "" and step.verb != "launch":
                self.eye.look()
            act.before = self._stem
            _VERBS[step.verb](self, self.interpreter.step(filled), act, scene.name)
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
            after=f"{self._stem}.png" if self._stem else "",
            tree=f"{act.before}.xml" if act.before else "",
            begin=begin,
            end=self.clock.wall(),
            mark=act.mark,
        )
        slow = self.pace.remark(result)
        return replace(result, reason=", ".join(filter(None, (result.reason, slow)))) if slow else result

    # finding

    def _portraits(self, target: Target, scene: str) -> tuple[Portrait, ...]:
        """The target's portraits, those recorded in this scene first. A target filled from data is kept under its template."""
        found = self.portraits.get(target.words(), ())
        return tuple(self.interpreter.portrait(p) for p in sorted(found, key=lambda p: p.scene != scene))

    def _find(
        self,
        step: Step,
        act: _Act,
        scene: str,
        *,
        eager: bool = False,
        patience: float | None = None,
        at: Callable[[Element], Reach] = reach,
    ) -> Found | None:
        target = step.target
        assert target is not None
        template = self._template(step)
        found = self.eye.find(
            target,
            self._portraits(template, scene),
            patience if patience is not None else step.within if step.within is not None else self.script.patience,
            inside_portraits=self._portraits(template.inside, scene) if template.inside else (),
            eager=eager,
            reachable=at,
        )
        act.before = self._stem
        if isinstance(found, Lost):
            act.stuck(found)
            return None
        act.found(found)
        small = _shrunk(found.element, self._portraits(template, scene))
        if small:
            act.notes.append(small)
        return found

    def _template(self, step: Step) -> Target:
        """The target as the script's text has it, before the data row was filled in."""
        for _, each in self.script.steps():
            if each.line == step.line and each.target is not None:
                return each.target
        assert step.target is not None
        return step.target

    def _touch_and_look(self, act: _Act, point: tuple[float, float]) -> None:
        act.mark = (point,)
        self.link.touch([tap(*point)])
        self.eye.look()

    # verbs

    def launch(self, step: Step, act: _Act, _scene: str) -> None:
        self.link.launch(self.package, afresh=step.value == "afresh")
        deadline = self.clock.now() + self.script.patience
        while True:
            moment = self.eye.look()
            if moment.screen is not None and moment.screen.app == self.package:
                return
            if self.clock.now() >= deadline:
                act.stuck(Lost(moment.trouble or f"{self.package} did not come to the front"))
                return
            self.eye.pause()

    def quit(self, _step: Step, _act: _Act, _scene: str) -> None:
        self.link.stop(self.package)
        self.eye.look()

    def tap(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if found:
            self._touch_and_look(act, found.point)

    def hold(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if found:
            act.mark = (found.point,)
            self.link.touch([hold(*found.point)])
            self.eye.look()

    def swipe(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if not found:
            return
        area = visible(found.element)
        dx, dy = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}[step.value]
        x, y = found.point
        reach_x, reach_y = area.width * 0.35 * dx, area.height * 0.35 * dy
        act.mark = ((x - reach_x, y - reach_y), (x + reach_x, y + reach_y))
        self.link.touch([swipe(*act.mark[0], *act.mark[1])])
        self.eye.look()

    def find(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene, eager=True)
        if found and found.route:
            act.notes.remove(found.route)  # scrolling is what the step says

    def press(self, step: Step, _act: _Act, _scene: str) -> None:
        self.link.press(KEYS[step.value])
        self.eye.look()

    def note(self, _step: Step, _act: _Act, _scene: str) -> None:
        """Words for people."""

    def type(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if not found:
            return
        if not found.element.has(Flag.FOCUSED):
            self._touch_and_look(act, found.point)
        if found.element.text:
            self.link.press("Backspace", len(found.element.text) + 4)
        self.link.type_text(step.value)
        self.eye.look()
        if found.element.has(Flag.PASSWORD):
            return
        again = self._again(step, scene)
        act.read = again.text if again else ""
        if again and checking.plain(act.read) != checking.plain(step.value):
            act.outcome, act.reason = Outcome.STUCK, f"the field reads “{act.read}” after typing"

    def clear(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if found:
            if not found.element.has(Flag.FOCUSED):
                self._touch_and_look(act, found.point)
            self.link.press("Backspace", len(found.element.text) + 4)
            self.eye.look()

    def switch(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if not found:
            return
        if reads(found.element) != step.value:
            self._touch_and_look(act, found.point)
        again = self._again(step, scene)
        act.read = reads(again) if again else ""
        if act.read != step.value:
            act.outcome, act.reason = Outcome.STUCK, f"it is still {act.read or 'unreadable'} after the tap"

    def choose(self, step: Step, act: _Act, scene: str) -> None:
        group = self._find(step, act, scene, at=lambda element: Reach(element.box.centre))
        if not group or step.target is None:
            return
        act.by, act.notes = (), []
        option = Target("", step.value, step.target)
        found = self.eye.find(option, (), self.script.patience, inside_portraits=self._portraits(self._template(step), scene))
        if isinstance(found, Lost):
            act.stuck(Lost(f"“{step.value}”: {found.reason}", found.element))
            return
        act.found(found)
        act.before = self._stem
        if not found.element.has(Flag.CHECKED):
            self._touch_and_look(act, found.point)
        again = self._again(step, scene)
        act.read = reads(again) if again else ""
        if again and act.read != step.value:
            act.outcome, act.reason = Outcome.STUCK, f"“{act.read or 'nothing'}” is chosen after the tap"

    def set(self, step: Step, act: _Act, scene: str) -> None:
        found = self._find(step, act, scene)
        if not found:
            return
        try:
            wanted = float(step.value)
        except ValueError:
            act.stuck(Lost(f"{step.value} is not a number"))
            return
        known = [
            (p.share, float(p.value))
            for p in self._portraits(self._template(step), scene)
            if p.share >= 0 and p.value.replace(".", "", 1).isdigit()
        ]
        element = found.element
        now = _number(reads(element))
        if now == wanted:
            act.read = reads(element)
            return
        here = slider.aim(now, known) if now is not None else 0.5

        def slide(share: float) -> float | None:
            nonlocal here
            box = visible(element)
            y = (box.top + box.bottom) / 2
            act.mark = ((box.left + here * box.width, y), (box.left + share * box.width, y))
            self.link.touch([swipe(*act.mark[0], *act.mark[1], 0.35)])
            here = share
            self.eye.look()
            again = self._again(step, scene)
            return _number(reads(again)) if again else None

        read, tries = slider.settle(wanted, known, slide)
        act.read = "" if read is None else f"{read:g}"
        if read is None:
            act.stuck(Lost("its value cannot be read"))
        elif read != wanted:
            act.outcome, act.reason = Outcome.STUCK, f"it reads {read:g} after {tries} tries"

    def _again(self, step: Step, scene: str) -> Element | None:
        """The step's target on the newest screen."""
        assert step.target is not None
        template = self._template(step)
        inside = self._portraits(template.inside, scene) if template.inside else ()
        found = self.eye.sight_now(step.target, self._portraits(template, scene), inside)
        return found.element if isinstance(found, Sighting) else None

    # checks

    def check(self, step: Step, act: _Act, scene: str) -> None:
        if step.relation == "is not shown":
            self._check_absent(step, act, scene)
            return
        patience = step.within if step.within is not None else min(CHECK_S, self.script.patience)
        found = self._find(step, act, scene, patience=patience, at=_looked_at)
        if not found:
            if step.relation == "is shown":
                act.outcome, act.reason = Outcome.DIFFERS, f"not shown: {act.reason}"
            return
        if step.relation == "is shown":
            return
        deadline = self.clock.now() + patience
        element: Element | None = found.element
        while True:
            act.read = checking.reading(step, element) if element is not None else ""
            if element is not None and checking.satisfied(step, act.read):
                return
            if self.clock.now() >= deadline:
                act.outcome, act.reason = Outcome.DIFFERS, f"reads “{act.read}”, expected {step.relation} “{step.value}”".replace(" “”", "")
                return
            self.eye.pause()
            self.eye.look()
            act.before = self._stem
            element = self._again(step, scene)

    def _check_absent(self, step: Step, act: _Act, scene: str) -> None:
        deadline = self.clock.now() + (step.within if step.within is not None else min(CHECK_S, self.script.patience))
        while True:
            element = self._again(step, scene)
            act.before = self._stem
            if element is None and self.eye.moment.screen is not None:
                return
            if self.clock.now() >= deadline:
                act.box = visible(element) if element is not None else None
                act.outcome = Outcome.DIFFERS if element is not None else Outcome.STUCK
                act.reason = "it is shown" if element is not None else self.eye.moment.trouble
                return
            self.eye.pause()
            self.eye.look()


def _shrunk(element: Element, portraits: Sequence[Portrait]) -> str:
    """A control that was large enough for a finger where it was recorded, and is not here."""
    shown = visible(element)
    least = min(shown.width, shown.height)
    known = min((min(p.element.box.width, p.element.box.height) for p in portraits[:1]), default=0.0)
    return f"only {least:.0f} dp small, {known:.0f} dp as recorded" if least < SMALL <= known * 2 / 3 else ""


def _looked_at(element: Element) -> Reach:
    """For a check it is enough that the element can be seen; a disabled one can."""
    there = reach(element)
    if there.point is None and there.reason == "disabled":
        return Reach(element.box.centre)
    return there


def _number(words: str) -> float | None:
    try:
        return float(words)
    except ValueError:
        return None


_VERBS: dict[str, Callable[[Take, Step, _Act, str], None]] = {
    name: getattr(Take, name)
    for name in ("launch", "quit", "tap", "hold", "swipe", "type", "clear", "set", "choose", "switch", "find", "press", "note", "check")
}


def planned(script: Script) -> Iterator[Result]:
    """Every step as unreached: what a take shows before it starts."""
    for number, (scene, step) in enumerate(script.steps(), 1):
        yield Result(number, step.line, scene.name, step_words(step), step.verb, step.key(), Outcome.UNREACHED)
