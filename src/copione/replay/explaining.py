"""Why a step was not done, as far as the screen and the device's log of that moment tell; and what was read, in the script's words."""

from __future__ import annotations

import re
from dataclasses import replace

from ..comparison.meaning import deviation, meant
from ..links.link import KeepsLog
from ..model.action import Check, Launch, SwitchTo, Wait
from ..model.address import Address
from ..model.errors import CopioneError
from ..model.outcome import Cause, Obstacle, ObstacleKind, Outcome, Reason
from ..model.reading import Said
from ..model.relation import Reads
from ..model.screen import Screen
from ..model.wording import listed
from ..recognition.obstacles import obstacle, worded
from ..recognition.phrases import Interpreter
from .context import StepContext

#: Causes that a screen may explain: the target was not there, or could not be reached.
SEARCHED = frozenset(
    {
        Cause.NOT_HERE,
        Cause.NOT_SHOWN,
        Cause.AMBIGUOUS,
        Cause.OFF_SCREEN,
        Cause.SCROLLED_AWAY,
        Cause.UNDER_KEYBOARD,
        Cause.COVERED,
        Cause.CUT,
    }
)
LEADING = frozenset(
    {ObstacleKind.DIALOG, ObstacleKind.SYSTEM, ObstacleKind.PAGE, ObstacleKind.GONE, ObstacleKind.ELSEWHERE}
)  # these come before what was said of the target
#: How a platform's log tells that an app has ended of itself: an uncaught exception, a signal, no answer to the user.
CRASHES = (
    re.compile(r"FATAL EXCEPTION.*?(?:Process: \S+ )?(?P<what>(?:[\w$]+\.)*[\w$]+(?:Exception|Error)\b.*)"),
    re.compile(r"(?P<what>Fatal signal \d+.*)"),
    re.compile(r"(?P<what>ANR in \S+)"),
    re.compile(r"Terminating app due to (?P<what>uncaught exception.*)"),
)
LINE = 160  # characters of a crash's line


class Explainer:
    """Explains the steps of one take."""

    def __init__(self) -> None:
        self._gone: Obstacle | None = None  # the app has ended by itself, and was not started since
        self._doubtful = ""  # what the newest step that touched anything touched, where that was found by weaker evidence

    def explain(self, context: StepContext, interpreter: Interpreter, began: float) -> Obstacle | None:
        """What stood in the way of a step that was not done; the reason is worded by it. `began` is seconds since the epoch."""
        found = _explained(context, interpreter, began, self._gone)
        if found is not None and found.way is ObstacleKind.GONE:
            self._gone = found
        elif isinstance(context.step.action, Launch | SwitchTo):
            self._gone = None
        return found

    def tell_of_touches(self, context: StepContext, address: Address) -> None:
        """Say in the reason what Copione itself touched: for this step, or, where its target is not there, for one before."""
        bad = context.outcome in (Outcome.STUCK, Outcome.DIFFERS)
        named = list(dict.fromkeys(words for words in context.touched if context.why is None or words not in context.why.words))
        if bad and context.why is not None:
            told = f"; {listed(named)} {'was' if len(named) == 1 else 'were'} touched for it" if named else ""
            if not told and context.why.cause in SEARCHED and self._doubtful:
                told = f"; {self._doubtful}"
            said = context.why.words
            context.why = replace(context.why, words=f"{said.removesuffix('.')}{told}{'.' * said.endswith('.')}" if told else said)
        if context.touched:
            told = f"before, line {address.line} touched {listed(context.touched)} for what it took for its target"
            self._doubtful = told if context.weak else ""


def _explained(context: StepContext, interpreter: Interpreter, began: float, gone: Obstacle | None) -> Obstacle | None:
    why = context.why
    if why is None or context.outcome not in (Outcome.STUCK, Outcome.DIFFERS):
        return None
    if why.cause is Cause.READS_OTHERWISE:
        context.why = replace(why, about=why.about or _deviation(context, interpreter))
        return None
    if why.cause is Cause.DEVICE:
        return Obstacle(ObstacleKind.SILENT)
    screen = context.watch.moment.screen if context.watch.stem else None
    if screen is None or why.cause not in SEARCHED:
        return None
    found = obstacle(screen, why, _recorded(context), context.package, interpreter.back)
    if found is not None and found.way is ObstacleKind.ELSEWHERE:
        crash = _crash(context, began) if gone is None else ""
        found = Obstacle(ObstacleKind.GONE, crash) if crash else gone or found
    if found is not None and found.way in LEADING:
        context.why = Reason(why.cause, f"{worded(found)}; {why.words}", why.about)
    return found


def _recorded(context: StepContext) -> Screen | None:
    portraits = context.portraits() if context.step.action.targets() else ()
    return portraits[0].screen if portraits else None


def _crash(context: StepContext, began: float) -> str:
    """The line of the device's log that tells why the app has ended, of the time since the step before began; empty for none."""
    try:
        log = context.link.able(KeepsLog).log(min(began, context.since))
    except CopioneError:
        return ""
    return crash_in(log)


def crash_in(log: str) -> str:
    """The last crash that a log tells of, in a line."""
    for line in reversed(log.splitlines()):
        for pattern in CRASHES:
            found = pattern.search(line)
            if found is not None:
                return " ".join(found["what"].split())[:LINE]
    return ""


def _deviation(context: StepContext, interpreter: Interpreter) -> str:
    asked, told = _expected(context.asked), _expected(context.step)
    if not isinstance(context.reading, Said) or asked is None or told is None:
        return ""
    return deviation(context.reading.words, asked, told, context.locale, interpreter.backwards)


def _expected(step: object) -> str | None:
    action = getattr(step, "action", None)
    if isinstance(action, Check | Wait) and isinstance(action.relation, Reads):
        return action.relation.text
    return None


def meant_by(context: StepContext, interpreter: Interpreter) -> str:
    """What was read in the script's language and plain figures, where that is another."""
    if not isinstance(context.reading, Said):
        return ""
    words = meant(context.reading.words, context.locale, interpreter.backwards)
    return words if words != context.reading.words else ""


def held_across(context: StepContext) -> bool:
    """Is the device held across, other than its upright screen is?"""
    screen = context.watch.moment.screen if context.watch.stem else None
    device = context.plan.device
    return screen is not None and (screen.width > screen.height) != (device.width > device.height)


def keyboard_height(context: StepContext) -> float:
    """How high the keyboard is, dp; 0 where it is not up."""
    screen = context.watch.moment.screen if context.watch.stem else None
    return screen.keyboard.height if screen is not None and screen.keyboard is not None else 0.0
