"""Checks that span devices: what most devices show is right, not what the lead shows; a tie is two camps. Pure."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..model.action import Check
from ..model.outcome import Cause, Outcome, Reason, Result
from ..model.reading import Looked
from ..model.relation import LooksAsRecorded, SameEverywhere
from .measures import same_measure

Alike = Callable[[str, str], bool]


@dataclass(frozen=True)
class DeviceReading:
    """What one device read: its place among the lanes, its name, and its own result."""

    place: int
    device: str
    own: Result


def spans_devices(result: Result) -> bool:
    """Is what became of it decided by the other devices too?"""
    return isinstance(result.action, Check) and isinstance(result.action.relation, SameEverywhere | LooksAsRecorded)


def judged(told: Sequence[DeviceReading], alike: Alike) -> dict[int, Result]:
    """Results that the other devices make another, by place; the lead's stands first. `alike` holds two pictures' fingerprints together."""
    if told and isinstance(told[0].own.action, Check) and isinstance(told[0].own.action.relation, LooksAsRecorded):
        return _pictures(told, alike)
    return _readings([each for each in told if each.own.outcome.good])


def _camps(told: Sequence[DeviceReading], same: Callable[[DeviceReading, DeviceReading], bool]) -> list[list[DeviceReading]]:
    """Those who say the same together; the largest camp first, of those as large the one that stands first."""
    camps: list[list[DeviceReading]] = []
    for each in told:
        camp = next((camp for camp in camps if same(camp[0], each)), None)
        if camp is None:
            camps.append([each])
        else:
            camp.append(each)
    return sorted(camps, key=lambda camp: -len(camp))


def _said(own: Result) -> str:
    return own.meant or own.read


def _readings(told: Sequence[DeviceReading]) -> dict[int, Result]:
    camps = _camps(told, lambda one, other: same_measure(_said(one.own), _said(other.own)))
    if len(camps) < 2:
        return {}
    right, *odd = camps
    tie = len(odd[0]) == len(right)
    found = {}
    for camp in odd:
        for each in camp:
            words = f"reads “{each.own.read}” here, “{right[0].own.read}” on {_where(right)}"
            if tie and len(camp) == len(right) and len(right) > 1:
                words += f": two camps of {len(right)}"
            about = f"reads {_said(each.own)}"
            found[each.place] = replace(each.own, outcome=Outcome.DIFFERS, why=Reason(Cause.NOT_THE_SAME, words, about))
    return found


def _where(camp: Sequence[DeviceReading]) -> str:
    others = len(camp) - 1
    return camp[0].device if not others else f"{camp[0].device} and {others} other{'s' if others > 1 else ''}"


def _pictures(told: Sequence[DeviceReading], alike: Alike) -> dict[int, Result]:
    """A recorded picture that most devices do not show, and they all show the same other one, is the odd one itself."""
    held = [each for each in told if each.own.outcome.good]
    other = [each for each in told if each.own.outcome is Outcome.DIFFERS and _print(each.own)]
    camps = _camps(other, lambda one, another: alike(_print(one.own), _print(another.own)))
    if not held or not camps or 2 * len(camps[0]) <= len(held) + len(other):
        return {}
    camp = camps[0]
    found = {}
    for each in camp:
        why = Reason(Cause.OTHER_WAY, f"unlike the recorded picture, as on most devices ({len(camp)} of {len(held) + len(other)})")
        found[each.place] = replace(each.own, outcome=Outcome.ADAPTED, why=why)
    for each in held:
        words = f"looks as recorded; on {_where(camp)} it looks otherwise, and alike"
        found[each.place] = replace(each.own, outcome=Outcome.DIFFERS, why=Reason(Cause.LOOKS_OTHERWISE, words, "as recorded"))
    return found


def _print(own: Result) -> str:
    return own.reading.fingerprint if isinstance(own.reading, Looked) else ""
