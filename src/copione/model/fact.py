"""What a script may ask of the device that it runs on."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum

from .choices import is_tablet
from .device import SYSTEMS, DeviceProfile
from .words import InvalidValue

_RELEASE = re.compile(r"\d{1,4}(\.\d{1,4}){0,2}")
_LOCALE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*")


@dataclass(frozen=True)
class Fact:
    """Something that is so or not so. `width` is the screen's in dp as the device is held now."""

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """Is it so?"""
        raise NotImplementedError

    def said(self, device: DeviceProfile, width: float) -> str:
        """What is so instead, or as well: a part of a sentence."""
        raise NotImplementedError


class Side(Enum):
    """Below or above a bound; the value is the script's word."""

    NARROWER, WIDER = "narrower", "wider"


@dataclass(frozen=True)
class Width(Fact):
    """Narrower or wider than so many dp, as it is held now."""

    side: Side
    dp: float

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """Compare the width."""
        return width < self.dp if self.side is Side.NARROWER else width > self.dp

    def said(self, device: DeviceProfile, width: float) -> str:
        """The width."""
        return f"the device is {width:.0f} dp wide"


class Build(Enum):
    """How large a device is; the value is the script's words."""

    TABLET, PHONE = "a tablet", "a phone"


@dataclass(frozen=True)
class Size(Fact):
    """A tablet, or a phone."""

    build: Build

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """By its shortest side."""
        return is_tablet(device) == (self.build is Build.TABLET)

    def said(self, device: DeviceProfile, width: float) -> str:
        """Which it is."""
        return f"the device is {(Build.TABLET if is_tablet(device) else Build.PHONE).value}"


class Since(Enum):
    """On which side of a release; the value is the script's word."""

    ANY, BEFORE, FROM = "", "before", "from"


@dataclass(frozen=True)
class RunsPlatform(Fact):
    """Of a platform, perhaps before a release or from it on. Raises InvalidValue for what is no release."""

    platform: str
    since: Since = Since.ANY
    release: str = ""

    def __post_init__(self) -> None:
        if (self.since is Since.ANY and self.release) or (self.since is not Since.ANY and not _RELEASE.fullmatch(self.release)):
            raise InvalidValue(f"{self.release} is not a release.", self.release, "a release such as 12")

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """Releases are compared part by part."""
        if device.platform != self.platform:
            return False
        return self.since is Since.ANY or (_release(device.release) < _release(self.release)) == (self.since is Since.BEFORE)

    def said(self, device: DeviceProfile, width: float) -> str:
        """Its system."""
        return f"the device runs {SYSTEMS.get(device.platform, device.platform.capitalize())} {device.release}"


@dataclass(frozen=True)
class Speaks(Fact):
    """A language, or a language as a region has it (BCP 47). Raises InvalidValue for what is none."""

    locale: str

    def __post_init__(self) -> None:
        if not _LOCALE.fullmatch(self.locale):
            raise InvalidValue(f"{self.locale} is not a language.", self.locale, "a language such as de or pt-BR")

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """`de` is every German."""
        return device.locale.casefold() == self.locale.casefold() or device.locale.casefold().startswith(self.locale.casefold() + "-")

    def said(self, device: DeviceProfile, width: float) -> str:
        """Its language."""
        return f"the device speaks {device.locale or 'a language it does not tell'}"


@dataclass(frozen=True)
class LargeText(Fact):
    """Text larger than so many times the ordinary size."""

    scale: float

    def holds(self, device: DeviceProfile, width: float) -> bool:
        """Compare the scale."""
        return device.text_scale > self.scale

    def said(self, device: DeviceProfile, width: float) -> str:
        """The scale."""
        return f"the device's text is {device.text_scale:g} times as large as ordinary"


def _release(words: str) -> tuple[int, ...]:
    parts = tuple(int(part) for part in re.findall(r"\d{1,9}", words)[:3])
    return (*parts, *(0,) * (3 - len(parts)))
