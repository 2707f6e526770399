"""One step done on one device, and what became of it."""

from __future__ import annotations

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..comparison.viewing import Showing
from ..comparison.views import Aim
from ..language.printer import step_words
from ..links.link import Link
from ..model.action import Find, Perform, Turn, Whenever, WhenValue
from ..model.clock import Clock, today
from ..model.errors import Cancelled, CannotDo, CopioneError, FileTrouble
from ..model.formula import BASE, TODAY
from ..model.outcome import Cause, Outcome, Reason, Result
from ..model.portrait import Sighting
from ..model.reading import BranchTaken
from ..model.roles import role_word
from ..model.screen import Moment, Screen
from ..model.step import Step
from ..model.words import InvalidValue, NoSum, UnknownVariable
from ..project.secrets import masked
from ..recognition.phrases import Interpreter
from ..recognition.pictures import Picture
from ..recognition.reach import reach
from ..screens.dates import day_words
from ..touch.making import tap
from .conditions import Conditions
from .context import StepContext
from .evidence import Here, RecordedEvidence
from .explaining import Explainer, held_across, keyboard_height, meant_by
from .finder import TargetFinder
from .found import sight_on
from .order import Position, following
from .performers import perform
from .plan import ScriptAssets, TakePlan, TakePorts
from .watch import ScreenWatch

LOG = logging.getLogger(__name__)


@dataclass(frozen=True)
class Bindings:
    """Values by name: as they are, and as they may be shown: what a secret was handed on as is still a secret."""

    real: Mapping[str, str] = field(default_factory=dict)
    shown: Mapping[str, str] = field(default_factory=dict)

    def also(self, real: Mapping[str, str], shown: Mapping[str, str]) -> Bindings:
        """The same with others, which hide those of their names."""
        return Bindings({**self.real, **real}, {**self.shown, **shown})

    @property
    def hidden(self) -> set[str]:
        """Names of those that are not shown."""
        return {name for name, value in self.real.items() if self.shown.get(name) != value}


@dataclass(frozen=True)
class StepOutcome:
    """What became of a step, and what the way goes on by: was the block entered and what was so, the values of each turn, those of a
    scene that is performed, and as what they may be shown."""

    result: Result
    turns: Sequence[Mapping[str, str]] = ()
    values: tuple[str, ...] = ()
    shown: tuple[str, ...] = ()

    @property
    def outcome(self) -> Outcome:
        """What became of it."""
        return self.result.outcome

    @property
    def entered(self) -> bool:
        """Does it hold, what the head of a block asks?"""
        return isinstance(self.result.reading, BranchTaken) and self.result.reading.entered

    @property
    def said(self) -> str:
        """What was so, in words."""
        return self.result.read


class StepRunner:
    """Does the steps of one take on its device. `broken`: the device or the user ended it, and not even checks go on."""

    def __init__(self, plan: TakePlan, link: Link, clock: Clock, ports: TakePorts) -> None:
        self.plan, self.ports, self.clock = plan, ports, clock
        self.broken = False
        self.context: StepContext | None = None  # of the newest step
        self._locales = dict(plan.languages)  # of each app that speaks another language than the device
        self._locale = self._locales.get(plan.package, plan.device.locale)
        self.interpreter = Interpreter(plan.phrases(self._locale))
        link.files = plan.files
        self.watch = ScreenWatch(link, clock, ports.archive.moment, ports.cancelled)
        self.conditions = Conditions(link, plan.package)
        self._front = plan.package  # the app that the script is in
        self._here = Here(plan.device.name, plan.build, plan.device.locale)
        self._since = clock.wall()  # when the newest step began
        self._explainer = Explainer()
        self._turned = 0  # how often the take has turned the device
        self._unmoved: dict[str, Picture] = {}
        self._finders: dict[str, TargetFinder] = {}
        self._following = following(plan.library)
        self._days = day_words(self._locale)
        self._always = {TODAY: today(clock).isoformat(), BASE: plan.package.rstrip("/") if plan.device.platform == "web" else ""}
        self._standing = [(place, step) for place, step in plan.library.steps() if isinstance(step.action, Whenever)]
        if self._standing:
            self.watch.answer = self._answer

    def _finder(self, file: str) -> TargetFinder:
        """What finds the targets of a file of scripts."""
        if file not in self._finders:
            kept = self.plan.kept.get(file, ScriptAssets())
            self._finders[file] = TargetFinder(self.watch, RecordedEvidence(kept.portraits, self.interpreter, kept.frames, self._here))
        return self._finders[file]

    def do(self, asked: Step, where: Position, values: Bindings, kept: dict[str, str]) -> StepOutcome:
        """Do a step with those values; what it keeps goes into `kept`. Only FileTrouble is raised."""
        begin, since = self.clock.wall(), self.clock.now()
        context = StepContext(asked, asked, where.scene.name, self._finder(where.file), self.plan, self.conditions, kept.__setitem__)
        self.context = context
        context.since, self._since = self._since, begin
        self.watch.begin(context.limit())
        context.spoken, context.speak, context.unmoved = self._locale, self._speak, self._unmoved
        context.package = self._front
        context.recorded_after = lambda: self._recorded_after(asked, where)
        said = asked
        try:
            known = {**self._always, **self.plan.secrets, **values.real}
            filled = asked.filled(known, self._days)
            said = asked.filled({**self._always, BASE: "{base}", **masked({}, self.plan.secrets), **values.shown}, self._days)
            if isinstance(asked.action, WhenValue) and isinstance(said.action, WhenValue):  # its value is told beside it
                said = replace(said, action=replace(said.action, value=asked.action.value))
            context.step = self.interpreter.step(filled)
            if not self.watch.stem and asked.action.of_page:
                self.watch.look()
            context.note_moment()
            if asked.used & (self.plan.secrets.keys() | values.hidden):
                self.ports.archive.secret_typed()
                context.secret = True
            perform(context)
            self._come_to(context.package)
            if context.secret:
                self.ports.archive.secret_typed()
        except FileTrouble:
            raise
        except Cancelled as error:
            context.stuck(Cause.STOPPED, error.sentence)
            self.broken = True
        except (UnknownVariable, NoSum, InvalidValue) as error:
            context.stuck(Cause.VALUE, error.sentence)
        except CannotDo as error:
            context.stuck(Cause.CANNOT, error.sentence)
        except CopioneError as error:
            context.stuck(Cause.DEVICE, error.sentence)
            self.broken = True
        except Exception as error:
            LOG.exception("%s in line %d met an error of the program", said.verb, asked.line)
            context.stuck(Cause.BROKEN, f"This is an error in Copione: {type(error).__name__}.")
        obstacle = self._explainer.explain(context, self.interpreter, begin)
        self._explainer.tell_of_touches(context, where.address(asked))
        another_way = context.scrolled and not isinstance(asked.action, Find) and not context.scrolled_as_recorded()
        notes = [*context.notes, *(["scrolled to it"] if another_way else [])]
        notes += ["the keyboard was closed first"] if self.watch.made_room else []
        if context.outcome is Outcome.HELD and notes:
            context.outcome = Outcome.ADAPTED
        if notes and context.why is None:
            context.why = Reason(Cause.OTHER_WAY, ", ".join(notes))
        result = Result(
            number=0,
            address=where.address(asked),
            scene=where.scene.name,
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
            file=where.file,
            own=where.own,
            scrolled=context.scrolled,
            obstacle=obstacle,
            meant=meant_by(context, self.interpreter),
            turned=held_across(context),
            keyboard=keyboard_height(context),
            answer=self.watch.took + context.waited,
        )
        self._show(context, result)
        shown = said.action.values if isinstance(said.action, Perform) else ()
        return StepOutcome(replace(result, usual=self.ports.pace.usual(result)), context.turns, context.values, shown)

    def _show(self, context: StepContext, result: Result) -> None:
        """Tell on which screen the step was done, where it was the right one."""
        differs = result.outcome is Outcome.DIFFERS and result.obstacle is None
        told = context.moment if (result.outcome.good or differs) and context.step.action.of_page else None
        aim = Aim(result.target, self._aimed_at(context), result.box, self.interpreter.back(context.covered), context.hidden)
        showing = Showing(told, result.before, self._turned, aim if result.box is not None else None) if told is not None else None
        self.ports.seen(result.address, showing)
        self._turned += isinstance(context.step.action, Turn)

    @staticmethod
    def _aimed_at(context: StepContext) -> str:
        targets = context.asked.action.targets()
        return targets[0].name or role_word(targets[0].role) if targets else ""

    def _come_to(self, package: str) -> None:
        """The script is in that app now, which may speak another language than the one before."""
        if package != self._front:
            self._front = package
            self._say_in(self._locales.get(package, self.plan.device.locale))

    def _speak(self, locale: str) -> None:
        """The app speaks another language from now on."""
        self._locales[self._front] = locale
        self._say_in(locale)

    def _say_in(self, locale: str) -> None:
        self.interpreter.learn(self.plan.phrases(locale))
        self._locale, self._days = locale, day_words(locale)

    def _recorded_after(self, asked: Step, where: Position) -> Screen | None:
        """The screen on which the next step's target was recorded: what came of the step before it."""
        follow = self._following.get((where.file, asked.line))
        targets = follow[1].action.targets() if follow is not None else ()
        found = self._finder(where.file).recorded.of(targets[0], follow[0].name) if follow is not None and targets else ()
        return found[0].screen if found else None

    def put_back(self) -> None:
        """The device as it was before the take turned its conditions; what cannot be put back is in the log."""
        for trouble in self.conditions.put_back():
            LOG.warning("%s: %s", self.plan.device.name, trouble)

    # standing answers

    def _always_filled(self, asked: Step) -> Step:
        """A standing answer with the values that stand all through the take."""
        try:
            return asked.filled({**self._always, **self.plan.secrets, **self.plan.values}, self._days)
        except (UnknownVariable, NoSum, InvalidValue) as error:
            raise InvalidValue(f"The standing answer of line {asked.line} cannot be looked for: {error.sentence}") from error

    def _answer(self, moment: Moment) -> bool:
        """Tap what a `whenever` says when its target is on the screen; was there one?"""
        if moment.screen is None:
            return False
        for place, asked in self._standing:
            recorded = self._finder(place.file).recorded
            told = self.interpreter.step(self._always_filled(asked)).action
            assert isinstance(told, Whenever) and isinstance(asked.action, Whenever)
            dialog = recorded.wanted(told.target, asked.action.target, place.scene.name)
            answer = recorded.wanted(told.answer, asked.action.answer, place.scene.name)
            found = sight_on(moment.screen, answer) if isinstance(sight_on(moment.screen, dialog), Sighting) else None
            point = reach(found.element).point if isinstance(found, Sighting) else None
            if point is not None and isinstance(found, Sighting) and self.watch.confirmed(found.element):
                self.watch.touch([tap(*point)])
                return True
        return False
