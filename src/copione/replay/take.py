"""One replay of one script with one data row on one device."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from ..language.printer import step_words
from ..links.link import Link
from ..model.action import Launch, Whenever
from ..model.address import Address
from ..model.clock import Clock
from ..model.errors import Cancelled, CopioneError, FileTrouble
from ..model.outcome import Cause, Outcome, Reason, Result
from ..model.portrait import Sighting
from ..model.screen import Moment, Screen
from ..model.step import Scene, Script, Step
from ..model.words import Meaningless, UnknownVariable
from ..project.secrets import masked, without_secrets
from ..recognition.phrases import Interpreter
from ..recognition.reach import reach
from ..touch.making import tap
from .context import StepContext
from .evidence import Recorded
from .finder import TargetFinder
from .found import sight_on
from .performers import perform
from .plan import TakePlan, TakePorts
from .watch import ScreenWatch

LOG = logging.getLogger(__name__)
LOG_S = 1.0


class Take:
    """Runs the steps in order and hands each result on as it is there.

    A stuck step ends the take and the rest is unreached; a check that is stuck or differs does not: it changed nothing.
    """

    def __init__(self, plan: TakePlan, link: Link, clock: Clock, ports: TakePorts) -> None:
        self.plan, self.ports, self.clock = plan, ports, clock
        self.interpreter = Interpreter(plan.phrases)
        self.watch = ScreenWatch(link, clock, ports.archive.moment, ports.cancelled)
        self.finder = TargetFinder(self.watch, Recorded(plan.portraits, self.interpreter, plan.frames))
        self._values = dict(plan.values)
        self._steps = list(plan.script.steps())
        self._standing = [(scene, step) for scene, step in self._steps if isinstance(step.action, Whenever)]
        if self._standing:
            self.watch.answer = self._answer
        self._broken = False  # the device or the user ended it: not even checks go on

    def run(self) -> list[Result]:
        """Every step's result. Only FileTrouble is raised: whatever else goes wrong becomes an outcome."""
        started = self.clock.wall()
        results: list[Result] = []
        after: Reason | None = None
        try:
            for number, (scene, step) in enumerate(self._steps, 1):
                result = replace(_unreached(number, scene, step), why=after) if after else self._step(number, scene, step)
                result = without_secrets(result, self.plan.redactor)
                results.append(result)
                self.ports.archive.step(result)
                self.ports.told(result)
                if result.outcome is Outcome.STUCK and after is None and (self._broken or not step.is_check):
                    after = Reason(Cause.AFTER, f"after step {number} was stuck", str(result.address))
            self.ports.archive.log(self._device_log(started))
        finally:
            self.ports.archive.close()
        return results

    def _device_log(self, started: float) -> str:
        """What the device logged, or why it could not be had; one that has failed is not waited for long."""
        if self._broken:
            self.watch.link.patience = min(self.watch.link.patience, LOG_S)
        try:
            return self.watch.link.log(started)
        except CopioneError as error:
            return error.sentence + "\n"

    def _step(self, number: int, scene: Scene, asked: Step) -> Result:
        begin, since = self.clock.wall(), self.clock.now()
        patience, after = self.plan.script.patience, partial(self._recorded_after, number)
        context = StepContext(asked, asked, scene.name, self.finder, self.plan.package, patience, self._keep, after)
        said = asked
        try:
            filled = asked.filled({**self._values, **self.plan.secrets})
            said = asked.filled(masked(self._values, self.plan.secrets))
            context.step = self.interpreter.step(filled)
            if not self.watch.stem and not isinstance(asked.action, Launch):
                self.watch.look()
            context.note_moment()
            if asked.action.variables() & self.plan.secrets.keys():
                self.ports.archive.secret_typed()
                context.secret = True
            perform(context)
            if context.secret:
                self.ports.archive.secret_typed()
        except FileTrouble:
            raise
        except Cancelled as error:
            context.stuck(Cause.STOPPED, error.sentence)
            self._broken = True
        except (UnknownVariable, Meaningless) as error:
            context.stuck(Cause.VALUE, error.sentence)
        except CopioneError as error:
            context.stuck(Cause.DEVICE, error.sentence)
            self._broken = True
        except Exception as error:
            LOG.exception("step %d (%s) met an error of the program", number, said.verb)
            context.stuck(Cause.BROKEN, f"Copione met an error of its own here: {type(error).__name__}.")
        if context.outcome is Outcome.HELD and context.notes:
            context.outcome = Outcome.ADAPTED
        if context.notes and context.why is None:
            context.why = Reason(Cause.OTHER_WAY, ", ".join(context.notes))
        result = Result(
            number=number,
            address=Address.of(asked.line),
            scene=scene.name,
            step=step_words(said),
            target=asked.key(),
            outcome=context.outcome,
            action=said.action,
            evidence=context.evidence,
            seconds=self.clock.now() - since,
            why=context.why,
            reading=context.reading,
            box=context.box,
            before=self.ports.archive.picture_name(context.before),
            after=self.ports.archive.picture_name(self.watch.stem),
            tree=f"{context.before}.xml" if context.before else "",
            begin=begin,
            end=self.clock.wall(),
            mark=context.mark,
        )
        return replace(result, usual=self.ports.pace.usual(result))

    def _recorded_after(self, number: int) -> Screen | None:
        """The screen on which the next step's target was recorded: what came of the step before it."""
        follow = self._steps[number] if number < len(self._steps) else None
        targets = follow[1].action.targets() if follow is not None else ()
        found = self.finder.recorded.of(targets[0], follow[0].name) if follow is not None and targets else ()
        return found[0].screen if found else None

    def _keep(self, name: str, value: str) -> None:
        self._values[name] = value

    # standing answers

    def _answer(self, moment: Moment) -> bool:
        """Tap what a `whenever` says when its target is on the screen; was there one?"""
        if moment.screen is None:
            return False
        recorded = self.finder.recorded
        for scene, asked in self._standing:
            told = self.interpreter.step(asked.filled(self._values)).action
            assert isinstance(told, Whenever) and isinstance(asked.action, Whenever)
            dialog = recorded.wanted(told.target, asked.action.target, scene.name)
            answer = recorded.wanted(told.answer, asked.action.answer, scene.name)
            found = sight_on(moment.screen, answer) if isinstance(sight_on(moment.screen, dialog), Sighting) else None
            point = reach(found.element).point if isinstance(found, Sighting) else None
            if point is not None and isinstance(found, Sighting) and self.watch.confirmed(found.element):
                self.watch.touch([tap(*point)])
                return True
        return False


def _unreached(number: int, scene: Scene, step: Step) -> Result:
    return Result(number, Address.of(step.line), scene.name, step_words(step), step.key(), Outcome.UNREACHED, step.action)


def planned(script: Script) -> Iterator[Result]:
    """Every step as unreached: what a take shows before it starts."""
    for number, (scene, step) in enumerate(script.steps(), 1):
        yield _unreached(number, scene, step)
