"""Devices chosen together by what they have in common. Pure."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from .device import SYSTEMS, DeviceProfile

TABLET_DP = 600.0  # shortest side from which the platforms lay pages out for tablets


@dataclass(frozen=True)
class TraitChoice:
    """A trait in words, and whether a device has it."""

    words: str
    fits: Callable[[DeviceProfile], bool]


def is_tablet(profile: DeviceProfile) -> bool:
    """By its shortest side, as the platforms see it."""
    return min(profile.width, profile.height) >= TABLET_DP


def choices(profiles: Iterable[DeviceProfile]) -> tuple[TraitChoice, ...]:
    """Every trait that some of the devices have and others do not, in the order in which people ask for them."""
    devices = list(profiles)
    found = [TraitChoice("Phones", lambda p: not is_tablet(p)), TraitChoice("Tablets", is_tablet)]
    for platform in dict.fromkeys(p.platform for p in devices):
        name = SYSTEMS.get(platform, platform.capitalize())
        found.append(TraitChoice(name, _of(lambda p: p.platform, platform)))
        releases = sorted({_major(p.release) for p in devices if p.platform == platform})
        found += [TraitChoice(f"{name} {release} and before", _until(platform, release)) for release in releases[:-1]]
    found.append(TraitChoice("Text larger than ordinary", lambda p: p.text_scale > 1.0))
    found += [TraitChoice(f"Language {each}", _of(_language, each)) for each in sorted({_language(p) for p in devices if p.locale})]
    return tuple(choice for choice in found if 0 < sum(map(choice.fits, devices)) < len(devices))


def _of(fact: Callable[[DeviceProfile], str], value: str) -> Callable[[DeviceProfile], bool]:
    return lambda profile: fact(profile) == value


def _until(platform: str, release: int) -> Callable[[DeviceProfile], bool]:
    return lambda profile: profile.platform == platform and _major(profile.release) <= release


def _language(profile: DeviceProfile) -> str:
    return profile.locale.partition("-")[0]


def _major(release: str) -> int:
    match = re.match(r"\d{1,4}", release)
    return int(match.group()) if match is not None else 0
