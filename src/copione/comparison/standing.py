"""How findings stand beside what is known: what is expected on some devices, what is new since an earlier run, what is gone. Pure."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date

from ..model.choices import is_tablet
from ..model.device import DeviceProfile
from .finding import Finding
from .lanes import Lanes
from .traits import parts_of

Key = tuple[str, str, str]


@dataclass(frozen=True)
class DeviceScope:
    """Devices by name or by trait; what is empty is not asked."""

    devices: tuple[str, ...] = ()
    platform: str = ""
    language: str = ""
    form: str = ""
    width_to: float = 0.0
    text_from: float = 0.0

    def fits(self, device: DeviceProfile) -> bool:
        """Is the device one of them?"""
        asked = (
            (self.devices, device.name in self.devices),
            (self.platform, device.platform == self.platform),
            (self.language, device.locale.partition("-")[0].casefold() == self.language.casefold()),
            (self.form, self.form == ("tablet" if is_tablet(device) else "phone")),
            (self.width_to, device.width <= self.width_to),
            (self.text_from, device.text_scale >= self.text_from),
        )
        return all(so for wanted, so in asked if wanted)

    @property
    def words(self) -> str:
        """For people."""
        parts = [
            ", ".join(self.devices),
            self.platform,
            self.language,
            f"{self.form}s" if self.form else "",
            f"up to {self.width_to:g} dp wide" if self.width_to else "",
            f"text from {self.text_from:.0%}" if self.text_from else "",
        ]
        return ", ".join(filter(None, parts)) or "every device"


@dataclass(frozen=True)
class Allowance:
    """A difference that is expected: of which script, what it is about, on which devices, who said so, when and why.

    It ends after the day `until`, or with the build `until_build` (both may be left out).
    """

    script: str
    about: str
    what: str
    scope: DeviceScope = field(default_factory=DeviceScope)
    variant: str = ""
    who: str = ""
    when: str = ""
    why: str = ""
    until: str = ""
    until_build: str = ""

    def lasts(self, today: date, build: str) -> bool:
        """Does it still hold?"""
        if self.until and today.isoformat() > self.until:
            return False
        return not (self.until_build and build and parts_of(build) >= parts_of(self.until_build))

    def about_this(self, finding: Finding) -> bool:
        """Is it about the same thing?"""
        about, what, variant = finding.key
        return (self.about, self.what) == (about, what) and self.variant in ("", variant)

    @property
    def words(self) -> str:
        """Why it is expected, by whom."""
        return ", ".join(filter(None, (self.why or "expected", self.who, self.when)))


@dataclass(frozen=True)
class FindingStanding:
    """A finding with what is known of it. `expected` is why, in words, where it is allowed on each of its devices; `new` since the
    baseline, where there is one."""

    finding: Finding
    expected: str = ""
    new: bool = False


@dataclass(frozen=True)
class Assessed:
    """All findings of a run as they stand; `gone` were there in the baseline, `stale` are allowances that nothing matches any more."""

    standing: tuple[FindingStanding, ...] = ()
    gone: tuple[Finding, ...] = ()
    stale: tuple[Allowance, ...] = ()
    since: str = ""  # what the baseline is called; empty for none

    @property
    def open(self) -> tuple[Finding, ...]:
        """Those that nobody expects."""
        return tuple(each.finding for each in self.standing if not each.expected)


def assess(
    found: Sequence[Finding],
    lanes: Lanes,
    script: str,
    allowances: Iterable[Allowance],
    today: date,
    before: tuple[Sequence[Finding], Lanes] | None = None,
    since: str = "",
) -> Assessed:
    """Hold the findings against the allowances and against an earlier run."""
    profiles = {lane.name: lane for lane in lanes.lanes}
    own = [allowance for allowance in allowances if allowance.script in ("", script)]

    def allowed(finding: Finding) -> str:
        told: dict[str, None] = {}
        for take in finding.takes:
            lane = profiles.get(take)
            fits = lane and next(
                (a for a in own if a.about_this(finding) and a.scope.fits(lane.device) and a.lasts(today, lane.build)), None
            )
            if not fits:
                return ""
            told[fits.words] = None
        return "; ".join(told)

    known = _pairs(before[0]) if before is not None else set()

    def is_new(finding: Finding) -> bool:
        fresh = [name for name in finding.devices if (finding.key, name) not in known]
        return before is not None and any(not _unreached(finding, name, before[1]) for name in fresh)

    standing = tuple(FindingStanding(f, allowed(f), is_new(f)) for f in found)
    now = _pairs(found)
    gone = tuple(f for f in before[0] if _is_gone(f, now, lanes)) if before is not None else ()
    stale = tuple(a for a in own if not any(a.about_this(f) for f in found) and _tried(a, lanes))
    return Assessed(standing, gone, stale, since)


def _pairs(found: Iterable[Finding]) -> set[tuple[Key, str]]:
    return {(finding.key, name) for finding in found for name in finding.devices}


def _unreached(finding: Finding, device: str, lanes: Lanes) -> bool:
    """Did a device not come to the finding's step, so that nothing is known of it there?"""
    there = [r for lane in lanes.lanes if lane.device.name == device for r in lane.results() if r.step == finding.step]
    return bool(there) and not any(r.outcome.tried for r in there)


def _is_gone(finding: Finding, now: set[tuple[Key, str]], lanes: Lanes) -> bool:
    """Was it there, and is it on none of its devices that came to the step again?"""
    again = {lane.device.name for lane in lanes.lanes if any(r.step == finding.step and r.outcome.tried for r in lane.results())}
    there = [name for name in finding.devices if name in again]
    return bool(there) and not any((finding.key, name) in now for name in there)


def _tried(allowance: Allowance, lanes: Lanes) -> bool:
    """Did a device that it is about take part?"""
    return any(allowance.scope.fits(lane.device) and lane.own for lane in lanes.lanes)


def allowance_for(finding: Finding, script: str, who: str, when: str, why: str, until: str = "") -> Allowance:
    """What says that a finding is expected on the devices that it is about."""
    about, what, variant = finding.key
    return Allowance(script, about, what, DeviceScope(devices=finding.devices), variant, who, when, why, until)
