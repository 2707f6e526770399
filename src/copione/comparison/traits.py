"""What devices may be told apart by: numbers, releases in order, and words. Pure."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache

from ..model import remark_kinds as kinds
from ..model.choices import is_tablet
from ..model.deviation import Deviation
from ..model.device import SYSTEMS, DeviceProfile
from ..model.direction import from_right

Value = float | str | tuple[str, tuple[int, ...]]


class Scale(Enum):
    """How values of a trait relate: a number has thresholds, an order has them within each group, a word has none."""

    NUMBER, ORDER, WORD = range(3)


@dataclass(frozen=True)
class Trait:
    """One thing that may differ between devices. `said` words a value; `having` words it as what a device has or is, behind `a device`.

    The placeholder of `having` is for the value in words, with `or less` or the like behind it.
    """

    key: str
    title: str
    scale: Scale
    said: Callable[[Value], str]
    having: str = "{}"


def _number(unit: str) -> Callable[[Value], str]:
    return lambda value: f"{value:.0f}{unit}" if isinstance(value, float) else str(value)


def _percent(value: Value) -> str:
    return f"{value * 100:.0f} %" if isinstance(value, float) else str(value)


def _release(value: Value) -> str:
    if not isinstance(value, tuple):
        return str(value)
    group, parts = value
    return f"{SYSTEMS.get(group, group.capitalize())} {'.'.join(map(str, parts))}".strip()


def _plain(value: Value) -> str:
    return str(value)


#: The plainest first: where several would do, the first one is named first.
TRAITS = (
    Trait("text size", "Text size", Scale.NUMBER, _percent, "with text at {}"),
    Trait("width", "Width", Scale.NUMBER, _number(" dp"), "with a width of {}"),
    Trait("height", "Height", Scale.NUMBER, _number(" dp"), "with a height of {}"),
    Trait("shortest side", "Shortest side", Scale.NUMBER, _number(" dp"), "with a shortest side of {}"),
    Trait("density", "Density", Scale.NUMBER, _number(" dpi"), "with a density of {}"),
    Trait("keyboard", "Height of the keyboard", Scale.NUMBER, _number(" dp"), "with a keyboard of {}"),
    Trait("language", "Language", Scale.WORD, _plain, "set to {}"),
    Trait("direction", "Writing", Scale.WORD, _plain, "written {}"),
    Trait("region", "Region", Scale.WORD, _plain, "of the region {}"),
    Trait("form", "Kind", Scale.WORD, _plain, "that is a {}"),
    Trait("held", "Held", Scale.WORD, _plain, "held {}"),
    Trait("release", "Release", Scale.ORDER, _release, "running {}"),
    Trait("platform", "Platform", Scale.WORD, lambda value: SYSTEMS.get(str(value), str(value).capitalize()), "running {}"),
    Trait("build", "Build", Scale.ORDER, _release, "with build {}"),
    Trait("data row", "Data row", Scale.WORD, _plain, "with data row {}"),
)
#: Traits that a kind of cause has most often to do with: where several would do, these are named first.
LIKELY: dict[str, tuple[str, ...]] = {
    Deviation.LANGUAGE.value: ("language", "region", "direction"),
    Deviation.FORMAT.value: ("language", "region"),
    "limit": ("release", "platform"),
    "gone": ("release", "platform", "build"),
    "system": ("release", "platform"),
    "keyboard": ("text size", "height", "keyboard", "held"),
    "edge": ("width", "height", "text size"),
}


def likely_traits(about: str) -> tuple[str, ...]:
    """The same for the kind of a cause or of a remark."""
    return LIKELY.get(about) or next((kind.likely for kind in kinds.kinds() if kind.value == about), ())


BY_KEY = {trait.key: trait for trait in TRAITS}


def parts_of(release: str) -> tuple[int, ...]:
    """A release or version as numbers, in order: `17.4` is (17, 4)."""
    return tuple(int(part) for part in re.findall(r"\d{1,9}", release)[:4])


@dataclass(frozen=True)
class TraitSubject:
    """A device, or a take of one, with its value of each trait that is known."""

    name: str
    facts: Mapping[str, Value]


@lru_cache(maxsize=512)
def facts_of(device: DeviceProfile, build: str = "", turned: bool = False, keyboard: float = 0.0) -> Mapping[str, Value]:
    """Its value of each trait, sides as it is held. `keyboard`: its height in dp where it is up."""
    width, height = (device.height, device.width) if turned else (device.width, device.height)
    language, _, rest = device.locale.partition("-")
    region = next((part.upper() for part in rest.split("-") if re.fullmatch(r"[A-Za-z]{2}|\d{3}", part)), "")
    facts: dict[str, Value] = {
        "platform": device.platform,
        "width": round(width, 1),
        "height": round(height, 1),
        "shortest side": round(min(width, height), 1),
        "density": float(device.dpi),
        "text size": round(device.text_scale, 3),
        "form": "tablet" if is_tablet(device) else "phone",
        "held": "across" if width > height else "upright",
    }
    if parts_of(device.release):
        facts["release"] = (device.platform, parts_of(device.release))
    if language:
        facts["language"] = language.casefold()
        facts["direction"] = "from right to left" if from_right(device.locale) else "from left to right"
    if region:
        facts["region"] = region
    if parts_of(build):
        facts["build"] = ("", parts_of(build))
    if keyboard:
        facts["keyboard"] = round(keyboard, 1)
    return facts
