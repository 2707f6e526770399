"""One replay of one script with one data row on one device: its blocks, loops and performed scenes gone through."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from ..links.link import KeepsLog, Link, RunsApps
from ..model.action import Opening, Perform
from ..model.blocks import Block, Node, nested
from ..model.clock import Clock
from ..model.errors import AppMissing, CopioneError
from ..model.library import Library
from ..model.outcome import Cause, Outcome, Reason, Result
from ..model.reading import BranchTaken
from ..model.step import Step
from ..project.secrets import masked, without_secrets
from .doing import Bindings, StepOutcome, StepRunner
from .order import Position, listed, not_done
from .plan import TakePlan, TakePorts

LOG_S = 1.0


MOST_RESULTS = 50_000  # of a take: steps, each turn of a loop counted
TOO_MANY = f"A take keeps at most {MOST_RESULTS:,} steps, each turn of a loop counted: make less of it."


def build_of(link: Link, package: str, library: Library) -> str:
    """Version of the app before a take begins; empty where it is not there yet, and the script installs it.

    Raises AppMissing, LinkError.
    """
    if not package:
        return ""
    try:
        return link.able(RunsApps).version(package)
    except AppMissing:
        if not library.installs:
            raise
        return ""


@dataclass
class _Course:
    """How far a take is: the values that stand, beside those of the blocks and scenes it is in, and why the rest is not come to."""

    values: dict[str, str]
    number: int = 0
    after: Reason | None = None
    results: list[Result] = field(default_factory=list)


class Take:
    """Goes through the steps in order and hands each result on as it is there.

    A stuck step ends the take and the rest is unreached; a check that is stuck or differs does not: it changed nothing.
    """

    def __init__(self, plan: TakePlan, link: Link, clock: Clock, ports: TakePorts) -> None:
        self.plan, self.ports, self.clock = plan, ports, clock
        self.doer = StepRunner(plan, link, clock, ports)
        self._course = _Course(dict(plan.values))

    def run(self) -> list[Result]:
        """Every step's result. Only FileTrouble is raised: whatever else goes wrong becomes an outcome."""
        started = self.clock.wall()
        try:
            for scene in self.plan.library.run():
                self._nodes(nested(scene.steps), Position(scene), Bindings())
            self.ports.archive.log(self._device_log(started))
        finally:
            try:
                self.doer.put_back()  # also where the disk is full, or the program has an error
            finally:
                self.ports.archive.close()
        return self._course.results

    @property
    def values(self) -> dict[str, str]:
        """What stands in the variables that were kept or given; no secrets."""
        return dict(self._course.values)

    def _device_log(self, started: float) -> str:
        """What the device logged, or why it could not be had; one that has failed is not waited for long."""
        link = self.doer.watch.link
        if self.doer.broken:
            link.patience = min(link.patience, LOG_S)
        try:
            return link.able(KeepsLog).log(started)
        except CopioneError as error:
            return error.sentence + "\n"

    # going through

    def _nodes(self, nodes: tuple[Node, ...], where: Position, bound: Bindings) -> None:
        """`bound`: values of the scene and the loops that this is within."""
        for node in nodes:
            if self._course.after is not None:
                self._leave((node,), where, Outcome.UNREACHED, self._course.after)
            elif self._course.number >= MOST_RESULTS:
                self._too_many(node.head if isinstance(node, Block) else node, where)
            elif isinstance(node, Block):
                self._block(node, where, bound)
            else:
                done = self._one(node, where, bound)
                if isinstance(node.action, Perform) and done.outcome.good:
                    self._perform(node, where, bound, done)

    def _too_many(self, step: Step, where: Position) -> None:
        """Nothing more is done: what is kept of a take has to be read again."""
        why = Reason(Cause.TOO_MANY, TOO_MANY)
        self._keep(not_done(0, where, step, Outcome.STUCK, why), step)
        self._course.after = Reason(Cause.AFTER, f"after step {self._course.number} was stuck", str(where.address(step)))

    def _leave(self, nodes: tuple[Node, ...], where: Position, outcome: Outcome, why: Reason) -> None:
        """Steps that are not come to, each once."""
        for there, step in listed(self.plan.library, nodes, where):
            self._course.number += 1
            self._tell(not_done(self._course.number, there, step, outcome, why))

    def _perform(self, step: Step, where: Position, bound: Bindings, done: StepOutcome) -> None:
        assert isinstance(step.action, Perform)
        there = where.performing(step, self.plan.library, step.action.scene)
        if there is not None:
            names = there.scene.values
            inner = bound.also(dict(zip(names, done.values, strict=True)), dict(zip(names, done.shown, strict=True)))
            self._nodes(nested(there.scene.steps), there, inner)

    def _block(self, block: Block, where: Position, bound: Bindings) -> None:
        action = block.head.action
        assert isinstance(action, Opening)
        if action.asked_again:
            self._until(block, where, bound, action.most)
            return
        done = self._one(block.head, where, bound)
        if not done.outcome.good:
            if self._course.after is None:  # cannot be: what is not good ends the take
                return
            self._leave((*block.body, *block.instead), where.turn(block.head, int(action.loops)), Outcome.UNREACHED, self._course.after)
        elif action.loops:
            for turn, row in enumerate(done.turns, 1):
                self._turn(block, where, bound.also(row, row), turn)
            if not done.turns:
                self._skip(block.body, where.turn(block.head, 1), done.said)
        else:
            taken, left = (block.body, block.instead) if done.entered else (block.instead, block.body)
            here = where.turn(block.head, 0)
            if done.entered:
                self._nodes(taken, here, bound)
                self._skip(left, here, done.said)
            else:
                self._skip(left, here, done.said)
                self._nodes(taken, here, bound)

    def _turn(self, block: Block, where: Position, bound: Bindings, turn: int) -> None:
        if self._course.after is None or turn == 1:
            self._nodes(block.body, where.turn(block.head, turn), bound)

    def _skip(self, nodes: tuple[Node, ...], where: Position, said: str) -> None:
        if self._course.after is not None:
            self._leave(nodes, where, Outcome.UNREACHED, self._course.after)
        else:
            self._leave(nodes, where, Outcome.SKIPPED, Reason(Cause.NOT_ENTERED, said, said))

    def _until(self, block: Block, where: Position, bound: Bindings, most: int) -> None:
        """Look, and if it does not hold yet, another turn: what became of the loop is told when it is over."""
        begin, since = self.clock.wall(), self.clock.now()
        turn = 0
        while True:
            done = self._did(block.head, where, bound)
            if done.result.outcome.good and not done.entered and turn < most:
                turn += 1
                self._nodes(block.body, where.turn(block.head, turn), bound)
                if self._course.after is None:
                    continue
                done = replace(done, result=replace(done.result, outcome=Outcome.UNREACHED, why=self._course.after))
            elif done.result.outcome.good:
                done = _after_turns(done, turn)
            break
        self._keep(replace(done.result, begin=begin, seconds=self.clock.now() - since), block.head)
        if not turn:
            inner = where.turn(block.head, 1)
            if self._course.after is None:
                self._skip(block.body, inner, done.said)
            else:
                self._leave(block.body, inner, Outcome.UNREACHED, self._course.after)

    # one step

    def _one(self, step: Step, where: Position, bound: Bindings) -> StepOutcome:
        done = self._did(step, where, bound)
        self._keep(done.result, step)
        return done

    def _did(self, step: Step, where: Position, bound: Bindings) -> StepOutcome:
        values = Bindings(self._course.values, self._course.values).also(bound.real, bound.shown)
        self.ports.before(where, step, masked(values.shown, self.plan.secrets))
        return self.doer.do(step, where, values, self._course.values)

    def _keep(self, result: Result, step: Step) -> None:
        self._course.number += 1
        result = replace(result, number=self._course.number)
        self._tell(result)
        if result.outcome is Outcome.STUCK and self._course.after is None and (self.doer.broken or not step.is_check):
            self._course.after = Reason(Cause.AFTER, f"after step {result.number} was stuck", str(result.address))

    def _tell(self, result: Result) -> None:
        result = without_secrets(result, self.plan.redactor)
        self._course.results.append(result)
        self.ports.archive.step(result)
        self.ports.told(result)


def _after_turns(done: StepOutcome, turn: int) -> StepOutcome:
    """A loop that is over: it holds, or the turns are used up."""
    times = f"{turn} turn{'' if turn == 1 else 's'}"
    if done.entered:
        said = done.said if not turn else f"{done.said}, after {times}"
        return replace(done, result=replace(done.result, reading=BranchTaken(said)))
    why = Reason(Cause.NEVER_CAME, f"{done.said}, after {times}", done.said)
    return replace(done, result=replace(done.result, outcome=Outcome.STUCK, why=why))
