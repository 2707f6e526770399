"""One explained difference: what it is, on which devices, and who else did the step. Pure."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from ..model.address import Address
from ..model.geometry import Box
from ..model.outcome import Outcome, Result
from ..model.remark import Remark
from ..model.take import TakeName
from .apart import Discriminator, apart
from .causes import FindingKind
from .lanes import Cell, Lane, Lanes
from .traits import TraitSubject, facts_of, likely_traits


@dataclass(frozen=True)
class Sides:
    """Who failed, who did not, and who cannot tell: as takes, and with what is known of them."""

    failing: tuple[TakeName, ...]
    passing: tuple[TakeName, ...]
    unknown: tuple[TakeName, ...]
    subjects: tuple[tuple[TraitSubject, ...], tuple[TraitSubject, ...], tuple[TraitSubject, ...]] = field(repr=False, compare=False)
    about: str = ""  # the kind of cause

    @cached_property
    def apart(self) -> Discriminator:
        """What sets the failing ones apart; found out when it is first asked for."""
        return apart(*self.subjects, likely=likely_traits(self.about))


@dataclass(frozen=True)
class Finding:
    """One explained difference. `title` and `detail` are sentences, `reason` is the first take's.

    `about` is the kind of its cause or of its remark. `address` and `number` are of the step at which it was met first, `follows` are later
    outcomes that come of it, `untried` counts the steps that were never tried because of it. `names` are those of what it is about;
    `key` tells the same finding of another run: the kind of cause, what it is about, in which way.
    """

    kind: FindingKind
    about: str
    address: Address
    number: int
    scene: str
    step: str
    title: str
    detail: str
    reason: str
    sides: Sides
    follows: tuple[Cell, ...] = ()
    untried: int = 0
    names: tuple[str, ...] = ()
    remarks: tuple[Remark, ...] = ()
    key: tuple[str, str, str] = ("", "", "")

    @property
    def takes(self) -> tuple[TakeName, ...]:
        """Those that it is about."""
        return self.sides.failing

    @property
    def passing(self) -> tuple[TakeName, ...]:
        """Those that did it."""
        return self.sides.passing

    @property
    def apart(self) -> str:
        """What sets its devices apart, as a sentence; empty where there is nothing to compare with."""
        return self.sides.apart.sentence

    @property
    def outcome(self) -> Outcome:
        """The outcome in whose ink it is drawn."""
        return self.kind.outcome

    def place_on(self, take: TakeName, result: Result | None) -> tuple[str, Box | None]:
        """The file of the picture that shows it on a take, and where on it (dp): for a remark its element, else the step's target."""
        for remark in self.remarks:
            if remark.take == take and remark.shot:
                return remark.shot, remark.box
            if remark.fine and remark.fine[0] == take and remark.example_shot:
                return remark.example_shot, remark.example_box
        return (result.before or result.after, result.box) if result is not None else ("", None)

    @property
    def flag(self) -> str:
        """Its kind in a word or two."""
        return self.kind.value if self.kind is not FindingKind.REMARK else self.about

    @property
    def devices(self) -> tuple[str, ...]:
        """Names of the devices that it is about."""
        return names_of(self.takes)


def names_of(takes: Iterable[TakeName]) -> tuple[str, ...]:
    """The names of their devices, each once."""
    return tuple(dict.fromkeys(take.device for take in takes))


def device_of(take: TakeName) -> tuple[str, int]:
    """The device of a take: its name, and which of that name."""
    return take.device, take.which


def sides_of(lanes: Lanes, address: Address, failing: Sequence[TakeName], about: str) -> Sides:
    """Who did a step, beside those that failed; the others cannot tell, but for those that were not meant to do it."""
    bad = set(failing)
    parts: tuple[list[Lane], list[Lane], list[Lane]] = ([], [], [])
    for lane in lanes.lanes:
        result = lane.result(address)
        if lane.name in bad:
            parts[0].append(lane)
        elif result is not None and result.outcome.good:
            parts[1].append(lane)
        elif result is None or result.outcome is not Outcome.SKIPPED:
            parts[2].append(lane)
    names = [tuple(lane.name for lane in part) for part in parts]
    by_row = {device_of(name) for name in names[0]} & {device_of(name) for name in names[1]}
    subjects = [subjects_of(part, address, bool(by_row)) for part in parts]
    known = {subject.name for subject in (*subjects[0], *subjects[1])}
    unknown = tuple(subject for subject in subjects[2] if subject.name not in known)
    return Sides(names[0], names[1], names[2], (subjects[0], subjects[1], unknown), about)


def subjects_of(lanes: Iterable[Lane], address: Address, by_row: bool) -> tuple[TraitSubject, ...]:
    """The devices, or, where a device did it with one data row and not with another, the takes."""
    found: dict[str, TraitSubject] = {}
    for lane in lanes:
        result = lane.result(address)
        name = lane.device.name + (f" {lane.name.which}" if lane.name.which > 1 else "") + (f", data row {lane.row}" if by_row else "")
        if name not in found:
            held = (result.turned, result.keyboard) if result is not None else (False, 0.0)
            facts = facts_of(lane.device, lane.build, *held)
            found[name] = TraitSubject(name, {**facts, "data row": str(lane.row)} if by_row else facts)
    return tuple(found.values())
