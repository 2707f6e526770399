"""One cause, not one red cell: what each bad outcome of a take comes from, and which of them follow from an earlier one. Pure."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import Enum

from ..model.action import Check, ClearData, Have, Install, Launch, Quit, Reload, Ring, Start, SwitchTo, Turn, Uninstall
from ..model.deviation import Deviation
from ..model.outcome import Cause, ObstacleKind, Outcome, Result


class FindingKind(Enum):
    """What a finding is, the worst first; the value is how it is said."""

    STUCK = "stuck"
    DIFFERS = "differs"
    LIMIT = "limit"
    SLOW = "slow"
    REMARK = "remark"

    @property
    def outcome(self) -> Outcome:
        """The outcome in whose ink it is drawn."""
        inks = {FindingKind.STUCK: Outcome.STUCK, FindingKind.DIFFERS: Outcome.DIFFERS, FindingKind.LIMIT: Outcome.UNREACHED}
        return inks.get(self, Outcome.HELD)


#: What causes are called where nothing stood in the way.
ABOUT = {
    Cause.NOT_HERE: "missing",
    Cause.NOT_SHOWN: "missing",
    Cause.READS_OTHERWISE: "reads otherwise",
    Cause.NOT_THE_SAME: "reads otherwise",
    Cause.LOOKS_OTHERWISE: "looks otherwise",
    Cause.AMBIGUOUS: "ambiguous",
    Cause.OFF_SCREEN: "edge",
    Cause.UNDER_KEYBOARD: "keyboard",
    Cause.COVERED: "cover",
    Cause.CANNOT: "limit",
    Cause.NO_TREE: "unreadable",
    Cause.TOUCHED: "touched",
}
#: What stands in the way of whatever step comes: one cause at whichever step it is met.
ANYWHERE = frozenset({ObstacleKind.DIALOG, ObstacleKind.SYSTEM, ObstacleKind.GONE})
#: What stands in the way of all that follows in a take, whatever its target.
LASTING = frozenset({*ANYWHERE, ObstacleKind.PAGE, ObstacleKind.ELSEWHERE, ObstacleKind.SILENT})


#: What an app has to come through with all that was entered.
INTERRUPTING = (Turn, Have, Ring, Reload, Launch, SwitchTo, Install, Quit)
#: Ways of reading otherwise that no interruption brings about.
OF_WRITING = frozenset({Deviation.LANGUAGE.value, Deviation.FORMAT.value, Deviation.CUT.value})

Lines = tuple[int, ...]


@dataclass(frozen=True)
class CauseKey:
    """What two outcomes with the same cause have in common. `about` is the kind of cause, `what` names what it is about.

    `place` are the lines of the step, where the same thing at another step is another cause; whichever turn of a loop it was. `variant`
    is in which way something reads otherwise.
    """

    about: str
    what: str = ""
    place: Lines = ()
    variant: str = ""


@dataclass(frozen=True)
class Chain:
    """A cause in one take: the first outcome that comes of it, those that follow, and the steps that were not tried because of it."""

    key: CauseKey
    kind: FindingKind
    first: Result
    follows: tuple[Result, ...] = ()
    untried: int = 0


def target_of(result: Result) -> str:
    """What a step is about, as the script says it; its own words where it has no target."""
    targets = result.action.targets() if result.action is not None else ()
    return targets[0].words() if targets else result.step


def key_of(result: Result) -> CauseKey | None:
    """The cause of a bad outcome; None where it is none of the device's: the user stopped it, or it only follows."""
    why = result.why
    if result.outcome not in (Outcome.STUCK, Outcome.DIFFERS):
        return None
    address = tuple(place.line for place in result.address)
    if why is None:
        return CauseKey(result.outcome.value, target_of(result), address)
    if why.cause in (Cause.STOPPED, Cause.AFTER):
        return None
    if why.cause is Cause.CANNOT:
        return CauseKey("limit", result.verb, address)
    obstacle = result.obstacle
    if obstacle is not None:
        about = obstacle.way.name.lower()
        if obstacle.way in ANYWHERE and obstacle.name:
            return CauseKey(about, obstacle.name)
        if obstacle.way in LASTING:
            return CauseKey(about, obstacle.name, address)
        return CauseKey(about, f"{target_of(result)} {obstacle.name}", address)
    about = ABOUT.get(why.cause, why.cause.name.lower().replace("_", " "))
    what = target_of(result)
    return CauseKey(about, what, address, why.about if about == "reads otherwise" else "")


class _Entered:
    """What was right in a take, by target, and what has interrupted the app since."""

    def __init__(self) -> None:
        self._since: dict[str, Result | None] = {}

    def add(self, result: Result) -> None:
        """Take in a step that was done."""
        emptied = isinstance(result.action, ClearData | Uninstall)
        if emptied or (isinstance(result.action, Launch) and result.action.start is Start.AFRESH):
            self._since = {}
        elif isinstance(result.action, INTERRUPTING):
            self._since = {target: since or result for target, since in self._since.items()}
        else:
            if result.action is None or result.action.touches:  # it may be the reason, too
                self._since = {target: since for target, since in self._since.items() if since is None}
            self._since[target_of(result)] = None

    def lost(self, result: Result) -> CauseKey | None:
        """The cause, if a check shows that a value was right before an interruption and is wrong after it."""
        since = self._since.get(target_of(result))
        why = result.why
        if since is None or why is None or why.cause is not Cause.READS_OTHERWISE or why.about in OF_WRITING:
            return None
        return CauseKey("lost", since.step, tuple(place.line for place in since.address)) if isinstance(result.action, Check) else None


def chains(results: Iterable[Result]) -> tuple[Chain, ...]:
    """The causes in one take, in the order in which they were met. `results` are all of it, in the order of the script."""
    found: list[Chain] = []
    entered = _Entered()
    ended: dict[str, int] = {}  # by the address of the step that ended the take, the chain that it belongs to
    for result in results:
        if result.outcome is Outcome.UNREACHED:
            place = ended.get(result.why.about, -1) if result.why is not None else -1
            if place >= 0:
                found[place] = replace(found[place], untried=found[place].untried + 1)
            continue
        if result.outcome.good:
            entered.add(result)
            continue
        key = entered.lost(result) or key_of(result)
        if key is None:
            continue
        place = next((i for i, chain in enumerate(found) if _follows(chain, key, result)), -1)
        if place < 0:
            place = len(found)
            found.append(Chain(key, _kind(key, result), result))
        else:
            before = found[place]
            worst = min(before.kind, _kind(before.key, result), key=list(FindingKind).index)
            found[place] = replace(before, kind=worst, follows=(*before.follows, result))
        ended[str(result.address)] = place
    return tuple(found)


def _kind(key: CauseKey, result: Result) -> FindingKind:
    if key.about == "limit":
        return FindingKind.LIMIT
    return FindingKind.STUCK if result.outcome is Outcome.STUCK else FindingKind.DIFFERS


def _follows(chain: Chain, key: CauseKey, result: Result) -> bool:
    """Does an outcome come of the same cause as an earlier one of the same take?"""
    obstacle = result.obstacle
    if obstacle is not None and obstacle.way in LASTING:
        return (chain.key.about, _name(chain.first)) == (key.about, obstacle.name)
    if chain.key.about != key.about or obstacle is not None:
        return False
    if key.about == "lost":
        return chain.key == key
    same = target_of(chain.first) == target_of(result)
    if key.about != "reads otherwise":
        return same
    return same and (chain.key.variant == key.variant or chain.first.read == result.read)


def _name(result: Result) -> str:
    return result.obstacle.name if result.obstacle is not None else ""
