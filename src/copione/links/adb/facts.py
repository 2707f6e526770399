"""Facts out of what a phone's tools print. Pure functions of text that may be anything: patterns are bounded, numbers within reason."""

from __future__ import annotations

import re

from ...model.geometry import Box
from ..limits import DPI, SIDE_PX

_SIZE = re.compile(r"(Override|Physical) size: (\d{1,5})x(\d{1,5})\b", re.A)
_DENSITY = re.compile(r"(Override|Physical) density: (\d{1,4})\b", re.A)
_DPI = re.compile(r"\b(\d{1,4}(?:\.\d{1,6})?) x (\d{1,4}(?:\.\d{1,6})?) dpi", re.A)
_FOCUS = re.compile(r"mCurrentFocus=Window\{\S{1,40} \S{1,40} ([\w.]{1,200})/([\w.$]{1,300})\}")
_FOCUSED_APP = re.compile(r"mFocusedApp=\S{0,60}?\{\S{1,40} \S{1,40} ([\w.]{1,200})/([\w.$]{1,300})")
_PLACE = r"(-?\d{1,6})"
_IME_SOURCE = re.compile(
    rf"type=(?:ITYPE_IME|ime)\s{{1,4}}frame=\[{_PLACE},{_PLACE}\]\[{_PLACE},{_PLACE}\]\s{{1,4}}visible=(true|false)", re.A
)
_WINDOW = re.compile(r"Window #\d{1,4} ", re.A)
_IME_WINDOW = re.compile(r"Window\{[^}\n]{0,200}InputMethod\}:")
_REGION = re.compile(rf"touchable region=SkRegion\(\({_PLACE},{_PLACE},{_PLACE},{_PLACE}", re.A)
_SCALE = re.compile(r"\d(\.\d{1,6})?", re.A)


def _preferred(pattern: re.Pattern[str], words: str) -> tuple[str, ...] | None:
    """An override beats what is physical."""
    found = {match.group(1): match.groups()[1:] for match in pattern.finditer(words)}
    return found.get("Override") or found.get("Physical")


def size(words: str) -> tuple[int, int] | None:
    """Width and height in pixels from `wm size`."""
    found = _preferred(_SIZE, words)
    if found is None or not all(0 < int(side) <= SIDE_PX for side in found):
        return None
    return int(found[0]), int(found[1])


def density(words: str) -> int | None:
    """Dots per inch from `wm density`."""
    found = _preferred(_DENSITY, words)
    return int(found[0]) if found and DPI[0] <= int(found[0]) <= DPI[1] else None


def text_scale(words: str) -> float:
    """How much larger than ordinary text is, from `settings get system font_scale`; ordinary where it does not say."""
    match = _SCALE.fullmatch(words.strip())
    found = float(match.group()) if match is not None else 1.0
    return found if found >= 0.1 else 1.0


def glass_dpi(words: str) -> tuple[float, float] | None:
    """True pixels an inch, horizontally and vertically, from `dumpsys display`."""
    match = _DPI.search(words)
    found = (float(match.group(1)), float(match.group(2))) if match is not None else (0.0, 0.0)
    return found if all(DPI[0] / 2 <= each <= DPI[1] for each in found) else None


def rotation(words: str) -> int:
    """Quarter turns of the screen from `dumpsys window`; 0 where it does not say."""
    match = _ROTATION.search(words)
    turns = int(match.group(1)) if match else 0
    return (turns // 90 if turns >= 90 else turns) % 4


_ROTATION = re.compile(r"mRotation=(?:ROTATION_)?(\d{1,3})", re.A)
_AXIS = re.compile(r"ABS_MT_POSITION_([XY])\s{0,8}:[^\n]{0,120}?max (\d{1,7})\b", re.A)


_LOCKED = re.compile(r"(?:mDreamingLockscreen|mShowingLockscreen|isKeyguardShowing|KeyguardShowing)=(true|false)")


def locked(words: str) -> bool:
    """Is a lock screen in front, by `dumpsys window`?"""
    return any(said == "true" for said in _LOCKED.findall(words))


def asleep(words: str) -> bool:
    """Is the screen off, by `dumpsys power`?"""
    said = re.search(r"mWakefulness=(\w{1,20})", words)
    return said is not None and said.group(1) in ("Asleep", "Dozing")


def panel(words: str) -> tuple[int, int] | None:
    """Width and height of the touch panel in its own units from `getevent -lp`: of the device that has both axes."""
    for device in re.split(r"^add device", words, flags=re.M):
        found = {axis: int(most) + 1 for axis, most in _AXIS.findall(device)}
        if {"X", "Y"} <= set(found) and min(found.values()) > 1:
            return found["X"], found["Y"]
    return None


def front(words: str) -> tuple[str, str]:
    """Package and activity in front from `dumpsys window`; empty where nothing has the focus."""
    match = _FOCUS.search(words) or _FOCUSED_APP.search(words)
    if match is None:
        return "", ""
    package, activity = match.groups()
    return package, activity.removeprefix(package)


def keyboard(words: str) -> Box | None:
    """The on-screen keyboard's box in pixels from `dumpsys window`: the insets source on newer releases, its window on older."""
    source = _IME_SOURCE.search(words)
    if source is not None:
        return _box(source.groups()[:4]) if source.group(5) == "true" else None
    window = next((part for part in _WINDOW.split(words) if _IME_WINDOW.match(part)), None)
    if window is None or "isReadyForDisplay()=true" not in window:
        return None
    region = _REGION.search(window)
    return _box(region.groups()) if region else None


def _box(words: tuple[str, ...]) -> Box | None:
    box = Box(*(float(word) for word in words))
    return None if box.empty else box


def version(words: str) -> str | None:
    """versionName from `dumpsys package NAME`."""
    match = re.search(r"versionName=(\S{1,80})", words)
    return match.group(1) if match else None


def code_path(words: str) -> str:
    """Where an app is kept, from `dumpsys package NAME`: a folder of its own for each installation; empty where it does not say."""
    match = re.search(r"codePath=(\S{1,300})", words)
    return match.group(1) if match else ""


def components(words: str) -> list[str]:
    """Each package/activity of `cmd package resolve-activity --brief` and `query-activities --brief`."""
    return [line.strip() for line in words.splitlines() if _COMPONENT.fullmatch(line.strip())]


_COMPONENT = re.compile(r"[\w.]{1,200}/[\w.$]{1,300}")
