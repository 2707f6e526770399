"""Differences explained: one finding a cause, on which devices, and what sets those apart."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from statistics import median

from ..model.address import Address
from ..model.outcome import Result
from ..model.remark import Remark
from ..model.take import TakeName
from .causes import CauseKey, Chain, FindingKind, Lines, chains, target_of
from .finding import Finding, Sides, device_of, names_of, sides_of, subjects_of
from .lanes import Cell, Lane, LaneColumn, Lanes
from .slow import MOST_STRAIN, QUIET_S, least_more, slow_ones
from .wording import detail, device_names, remark_title, remark_words, title

Group = tuple[str, str, Lines]  # kind of cause, what it is about, its step's lines
Noticed = tuple[str, str, int, str]  # kind of remark, the element, its page; in other words what it says
#: Kinds of which two are two where two devices say another thing.


NEAR = 15  # steps before and after that tell how alike devices answer


@dataclass(frozen=True)
class Findings:
    """The findings of a run, so kept that a result brings only what it is about up to date.

    `chains` are the causes in each take, `members` the takes of each group of causes, `made` their findings, `slow` by step.
    """

    chains: Mapping[TakeName, tuple[Chain, ...]] = field(default_factory=dict)
    members: Mapping[Group, tuple[TakeName, ...]] = field(default_factory=dict)
    made: Mapping[Group, tuple[Finding, ...]] = field(default_factory=dict)
    slow: Mapping[Address, Finding] = field(default_factory=dict)
    noticed: Mapping[Noticed, tuple[Remark, ...]] = field(default_factory=dict)
    remarked: Mapping[Noticed, Finding] = field(default_factory=dict)
    lanes: Lanes = field(default_factory=Lanes, repr=False)
    at: Mapping[Address, frozenset[Group]] = field(default_factory=dict, repr=False)  # the groups whose findings stand at a step

    @classmethod
    def of(cls, lanes: Lanes, remarks: Iterable[Remark] = ()) -> Findings:
        """Those of a run as it stands."""
        cells = [Cell(lane.name, address) for lane in lanes.lanes for address in lane.own]
        return cls().updated(lanes, cells).with_remarks(lanes, remarks)

    def with_remarks(self, lanes: Lanes, remarks: Iterable[Remark]) -> Findings:
        """The same with what was noticed besides: one finding for each kind and element."""
        noticed, made = dict(self.noticed), dict(self.remarked)
        for remark in remarks:
            key = remark.kind.value, remark.key, remark.page, fold_case(remark.here) if remark.kind.by_words else ""
            noticed[key] = (*noticed.get(key, ()), remark)
            found = remark_finding(lanes, noticed[key])
            if found is not None:
                made[key] = found
        return replace(self, noticed=noticed, remarked=made, lanes=lanes)

    def updated(self, lanes: Lanes, cells: Iterable[Cell]) -> Findings:
        """The same where nothing but those cells has changed; columns may have been counted anew."""
        cells = tuple(cells)
        touched, steps = {cell.take for cell in cells}, {cell.address for cell in cells}
        known, members = dict(self.chains), dict(self.members)
        stale: set[Group] = set()
        for name in touched:
            lane = lanes.lane(name)
            if lane is not None and not _concerned(lane, known.get(name, ()), [c.address for c in cells if c.take == name]):
                continue
            now = chains(sorted(lane.results(), key=lambda r: r.address)) if lane is not None else ()
            before = known.get(name, ())
            if now == before:
                continue
            known[name] = now
            groups = {_group(chain.key) for chain in (*before, *now)}
            stale |= groups
            for group in groups:
                others = tuple(each for each in members.get(group, ()) if each != name)
                here = any(_group(chain.key) == group for chain in now)
                members[group] = (*others, name) if here else others
        made, slow = dict(self.made), dict(self.slow)
        renumbered = lanes.numbers is not self.lanes.numbers
        for address in steps:
            stale |= self.at.get(address, frozenset())
        if renumbered:
            stale |= {group for group, found in made.items() if any(_moved(f, lanes) for f in found)}
        at = dict(self.at)
        for group in stale:
            there = sorted(members.get(group, ()), key=lambda name: lanes.places[name])
            found = _findings(lanes, group, {name: known[name] for name in there})
            for finding in made.get(group, ()):
                at[finding.address] = at.get(finding.address, frozenset()) - {group}
            for finding in found:
                at[finding.address] = at.get(finding.address, frozenset()) | {group}
            made[group] = found
            if not found:
                made.pop(group, None)
                members.pop(group, None)
        for address in steps | ({address for address, finding in slow.items() if _moved(finding, lanes)} if renumbered else set()):
            column = lanes.column(address)
            late = _slow(lanes, column) if column is not None else None
            if late is not None:
                slow[address] = late
            else:
                slow.pop(address, None)
        remarked = dict(self.remarked)
        for key, finding in self.remarked.items() if renumbered else ():
            if _moved(finding, lanes):
                again = remark_finding(lanes, self.noticed[key])
                if again is not None:
                    remarked[key] = again
        return Findings(known, members, made, slow, self.noticed, remarked, lanes, at)

    def ordered(self) -> tuple[Finding, ...]:
        """Worst first, then by step, then by how many takes."""
        explained = [finding for several in self.made.values() for finding in several]
        by_device: dict[str, list[Finding]] = {}
        for cause in explained:
            for name in cause.devices:
                by_device.setdefault(name, []).append(cause)
        remarks = [finding for key, whole in self.remarked.items() if (finding := self._unexplained(key, whole, by_device)) is not None]
        every = [*explained, *_of_loops(self.slow), *remarks]
        ranks = {kind: rank for rank, kind in enumerate(FindingKind)}
        return tuple(sorted(every, key=lambda f: (ranks[f.kind], f.number, -len(f.takes), f.about, f.title)))

    def _unexplained(self, key: Noticed, whole: Finding, explained: Mapping[str, Sequence[Finding]]) -> Finding | None:
        """What was noticed, where no finding of a cause says the same of the device."""
        left = [remark for remark in self.noticed[key] if not _explained(remark, explained.get(remark.take.device, ()), self.lanes)]
        if len(left) == len(self.noticed[key]):
            return whole
        return remark_finding(self.lanes, left) if left else None


def findings(lanes: Lanes, remarks: Iterable[Remark] = ()) -> tuple[Finding, ...]:
    """What was stuck, differed, was slow or was noticed, gathered over devices, rows and steps: worst first, then by step."""
    return Findings.of(lanes, remarks).ordered()


def _concerned(lane: Lane, before: Sequence[Chain], addresses: Sequence[Address]) -> bool:
    """Is one of the results bad, or was it, so that the take's causes may be others now?"""
    if any(result.outcome.bad for address in addresses if (result := lane.result(address)) is not None):
        return True
    old = {result.address for chain in before for result in (chain.first, *chain.follows)} if before else set()
    return any(address in old for address in addresses)


def _group(key: CauseKey) -> Group:
    return key.about, key.what, key.place


def _moved(finding: Finding, lanes: Lanes) -> bool:
    column = lanes.column(finding.address)
    return column is None or column.number != finding.number


def _findings(lanes: Lanes, group: Group, known: Mapping[TakeName, Sequence[Chain]]) -> tuple[Finding, ...]:
    """Those of a group of causes: one, or one for each way in which something reads otherwise on other devices."""
    variants: dict[str, list[tuple[TakeName, Chain]]] = {}
    for name, several in known.items():
        for chain in several:
            if _group(chain.key) == group:
                variants.setdefault(chain.key.variant, []).append((name, chain))
    merged: dict[frozenset[str], list[tuple[TakeName, Chain]]] = {}
    for found in variants.values():
        merged.setdefault(frozenset(name.device for name, _ in found), []).extend(found)
    return tuple(_finding(lanes, found) for found in merged.values())


def _finding(lanes: Lanes, found: Sequence[tuple[TakeName, Chain]]) -> Finding:
    _, lead = min(found, key=lambda pair: pair[1].first.address)
    first = lead.first
    column = lanes.column(first.address)
    assert column is not None
    failing = tuple(dict.fromkeys(name for name, _ in found))
    sides = sides_of(lanes, first.address, failing, lead.key.variant or lead.key.about)
    kind = min((chain.kind for _, chain in found), key=list(FindingKind).index)
    untried = sum(chain.untried for _, chain in found)
    tried = {take[0] for take in map(device_of, (*failing, *sides.passing))}
    rows = {lane.row for lane in lanes.lanes}
    stopped = {device_of(name) for name, chain in found if chain.untried}
    many = len({device_of(name) for name in failing})
    return Finding(
        kind=kind,
        about=lead.key.about,
        address=first.address,
        number=column.number,
        scene=first.scene,
        step=first.step,
        title=title(lead.key, first, names_of(failing), _others(lead)),
        detail=detail(
            column.number,
            many,
            max(many, len(tried)),
            (len({name.row for name in failing}), len(rows)),
            (untried, len(stopped)),
            first.reason,
        ),
        reason=first.reason,
        sides=sides,
        follows=tuple(Cell(name, result.address) for name, chain in found for result in chain.follows),
        untried=untried,
        key=(lead.key.about, lead.key.what, lead.key.variant),
        names=tuple(filter(None, (*_about(found), first.obstacle.name if first.obstacle is not None else ""))),
    )


def _about(found: Iterable[tuple[TakeName, Chain]]) -> Iterable[str]:
    """The names of what the outcomes are about: of the first ones, and of all that was lost."""
    for _, chain in found:
        for result in (chain.first, *(chain.follows if chain.key.about == "lost" else ())):
            yield from _target_names(result)


def _others(chain: Chain) -> int:
    """How many other targets have the same cause."""
    return len({target_of(result) for result in chain.follows} - {target_of(chain.first)})


def _target_names(result: Result) -> Iterable[str]:
    return (target.name for target in (result.action.targets() if result.action is not None else ()))


# remarks


def _explained(remark: Remark, explained: Sequence[Finding], lanes: Lanes) -> bool:
    """Does one of its device's findings say the same already: at an earlier step, in the same scene, or before anything else is touched?"""
    names = {fold_case(remark.name), fold_case(remark.key)}
    column = lanes.column(remark.address)
    return any(
        f.about in remark.kind.said_by
        and not names.isdisjoint(map(fold_case, f.names))
        and (f.address <= remark.address or (column is not None and column.scene == f.scene) or _untouched(lanes, remark, f.address))
        for f in explained
    )


def _untouched(lanes: Lanes, remark: Remark, later: Address) -> bool:
    """Did its device touch nothing from the remark's step until a later one, so that the same is shown there?"""
    lane = lanes.lane(remark.take)
    between = [r for r in lane.results() if remark.address <= r.address < later] if lane is not None else []
    return bool(between) and not any(r.action is None or r.action.touches for r in between)


def fold_case(words: str) -> str:
    """As names are compared: without case, spaces and the customs of ids."""
    return "".join(c for c in words.casefold() if c.isalnum())


def remark_finding(lanes: Lanes, noticed: Sequence[Remark]) -> Finding | None:
    """What was noticed of one element, as one finding; None before the lanes know its step."""
    first = min(noticed, key=lambda remark: remark.address)
    column = lanes.column(first.address)
    if column is None:
        return None
    failing = tuple(dict.fromkeys(remark.take for remark in noticed))
    fine = tuple(dict.fromkeys(take for remark in noticed for take in remark.fine if take not in failing))
    rest = tuple(lane.name for lane in lanes.lanes if lane.name not in failing and lane.name not in fine)
    by_take = {lane.name: lane for lane in lanes.lanes}
    sides = [[by_take[name] for name in names if name in by_take] for names in (failing, fine, rest)]
    subjects = [subjects_of(part, first.address, False) for part in sides]
    known = {subject.name for part in subjects[:2] for subject in part}
    unknown = tuple(subject for subject in subjects[2] if subject.name not in known)
    names = names_of(failing)
    many = len(names)
    told = f"Step {column.number}, {many} of {many + len(set(names_of(fine)) - set(names))} devices that show it. {remark_words(first)}"
    return Finding(
        kind=FindingKind.REMARK,
        about=first.kind.value,
        address=first.address,
        number=column.number,
        scene=column.scene,
        step=column.words,
        title=remark_title(first, names),
        detail=told,
        reason=remark_words(first),
        sides=Sides(failing, fine, rest, (subjects[0], subjects[1], unknown), first.kind.value),
        follows=tuple(Cell(remark.take, remark.address) for remark in noticed if remark.address != first.address),
        names=(first.name, first.key),
        key=(first.kind.value, first.key, ""),
        remarks=tuple(noticed),
    )


# slow


def _slow(lanes: Lanes, column: LaneColumn) -> Finding | None:
    """A step that was done, and for which the app took some devices much longer than the others."""
    timed = [(lane, result) for lane, result in lanes.cells(column.address) if result.outcome.good]
    samples: dict[tuple[str, int], list[float]] = {}
    for lane, result in timed:
        samples.setdefault(device_of(lane.name), []).append(result.answer)
    if not slow_ones(list(samples.values()), once=QUIET_S)[0]:
        return None
    places, usual = slow_ones(list(samples.values()), _strain(lanes, list(samples)), least_more(_answers_near(lanes, column)))
    if not places:
        return None
    devices = list(samples)
    late = {devices[place] for place in places}
    failing = [lane.name for lane, _ in timed if device_of(lane.name) in late]
    longest = max(seconds for device in late for seconds in samples[device])
    told = f"Step {column.number}: the app took {longest:.1f} s to show what came of it, {usual:.1f} s elsewhere."
    first = next(result for lane, result in timed if lane.name in failing)
    return Finding(
        kind=FindingKind.SLOW,
        about="slow",
        address=column.address,
        number=column.number,
        scene=column.scene,
        step=column.words,
        title=f"Slow on {device_names(names_of(failing))}: {column.words}",
        detail=told,
        reason=first.reason or told,
        key=("slow", column.words, ""),
        sides=sides_of(lanes, column.address, failing, "slow"),
    )


def _of_loops(slow: Mapping[Address, Finding]) -> Iterable[Finding]:
    """One for each line and the devices on which it is slow, whichever turns of a loop it was."""
    found: dict[tuple[tuple[int, ...], tuple[str, ...]], Finding] = {}
    for address, finding in sorted(slow.items()):
        key = tuple(place.line for place in address), finding.devices
        first = found.setdefault(key, finding)
        if first is not finding:
            follows = tuple(Cell(take, address) for take in finding.takes)
            found[key] = replace(first, follows=(*first.follows, *follows))
    return found.values()


def _answers_near(lanes: Lanes, column: LaneColumn) -> list[list[float]]:
    """What the takes answered in, seconds, at each of the steps before and after."""
    begin = max(0, column.number - 1 - NEAR)
    near = [c for c in lanes.columns[begin : column.number + NEAR] if c.address != column.address]
    found = ([result.answer for _, result in lanes.cells(each.address) if result.outcome.good] for each in near)
    return [answers for answers in found if answers]


def _strain(lanes: Lanes, devices: Sequence[tuple[str, int]]) -> list[float]:
    """How many times slower than usual each device is at everything, the app's own time apart: it, its link, or this computer meanwhile."""
    times: dict[tuple[str, int], list[tuple[int, float]]] = {}
    for lane in lanes.lanes:
        times.setdefault(device_of(lane.name), []).append(lane.own_s)
    steps = {device: sum(many for many, _ in own) for device, own in times.items()}
    means = {device: sum(seconds for _, seconds in own) / steps[device] for device, own in times.items() if steps[device] > 3}
    usual = median(means.values()) if means else 0.0
    return [min(MOST_STRAIN, max(1.0, means.get(device, usual) / usual)) if usual else 1.0 for device in devices]
