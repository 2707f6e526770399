"""Facts out of what a phone's tools print. Pure functions of text."""

from __future__ import annotations

import re

from ...model.geometry import Box

_SIZE = re.compile(r"(Override|Physical) size: (\d+)x(\d+)")
_DENSITY = re.compile(r"(Override|Physical) density: (\d+)")
_DPI = re.compile(r"([\d.]+) x ([\d.]+) dpi")
_FOCUS = re.compile(r"mCurrentFocus=Window\{\S+ \S+ ([\w.]+)/([\w.$]+)\}")
_FOCUSED_APP = re.compile(r"mFocusedApp=\S*\{\S+ \S+ ([\w.]+)/([\w.$]+)")
_IME_SOURCE = re.compile(r"type=(?:ITYPE_IME|ime)\s+frame=\[(-?\d+),(-?\d+)\]\[(-?\d+),(-?\d+)\]\s+visible=(true|false)")
_IME_WINDOW = re.compile(r"Window #\d+ Window\{[^}]*InputMethod\}:(.*?)(?=Window #\d+|\Z)", re.S)
_REGION = re.compile(r"touchable region=SkRegion\(\((-?\d+),(-?\d+),(-?\d+),(-?\d+)")


def _preferred(pattern: re.Pattern[str], words: str) -> tuple[str, ...] | None:
    """An override beats what is physical."""
    found = {match.group(1): match.groups()[1:] for match in pattern.finditer(words)}
    return found.get("Override") or found.get("Physical")


def size(words: str) -> tuple[int, int] | None:
    """Width and height in pixels from `wm size`."""
    found = _preferred(_SIZE, words)
    return (int(found[0]), int(found[1])) if found else None


def density(words: str) -> int | None:
    """Dots per inch from `wm density`."""
    found = _preferred(_DENSITY, words)
    return int(found[0]) if found else None


def glass_dpi(words: str) -> tuple[float, float] | None:
    """True pixels an inch, horizontally and vertically, from `dumpsys display`."""
    match = _DPI.search(words)
    if match is None or float(match.group(1)) <= 0 or float(match.group(2)) <= 0:
        return None
    return float(match.group(1)), float(match.group(2))


def rotation(words: str) -> int:
    """Quarter turns of the screen from `dumpsys window`; 0 where it does not say."""
    match = re.search(r"mRotation=(?:ROTATION_)?(\d+)", words)
    turns = int(match.group(1)) if match else 0
    return turns // 90 if turns >= 90 else turns


_AXIS = re.compile(r"ABS_MT_POSITION_([XY])\s*:.*?max (\d+)")


def panel(words: str) -> tuple[int, int] | None:
    """Width and height of the touch panel in its own units from `getevent -lp`: of the device that has both axes."""
    for device in re.split(r"^add device", words, flags=re.M):
        found = {axis: int(most) + 1 for axis, most in _AXIS.findall(device)}
        if {"X", "Y"} <= set(found):
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
    window = _IME_WINDOW.search(words)
    if window is None or "isReadyForDisplay()=true" not in window.group(1):
        return None
    region = _REGION.search(window.group(1))
    return _box(region.groups()) if region else None


def _box(words: tuple[str, ...]) -> Box | None:
    box = Box(*(float(word) for word in words))
    return None if box.empty else box


def version(words: str) -> str | None:
    """versionName from `dumpsys package NAME`."""
    match = re.search(r"versionName=(\S+)", words)
    return match.group(1) if match else None


def component(words: str) -> str | None:
    """package/activity from `cmd package resolve-activity --brief`."""
    lines = [line.strip() for line in words.splitlines() if "/" in line and " " not in line.strip()]
    return lines[-1] if lines else None
