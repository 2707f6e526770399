"""Conditions of a phone, read and changed by its own shell's tools."""

from __future__ import annotations

import re
import shlex
from collections.abc import Callable

from ...model.condition import Condition
from ...model.errors import CannotDo

Shell = Callable[[str], str]
LOCALES_SINCE = 13  # the release from which the shell may give an app another language
_LOCALES = re.compile(r"\[([A-Za-z0-9,-]{0,200})\]")
_NIGHT = re.compile(r"(?:yes|no|auto|custom)\b")
NETWORKS = {"wifi": "wifi_on", "data": "mobile_data"}  # ways to the network, each with the setting that tells of it
WHILE_PLUGGED = "7"  # into a wall, a computer, or onto a pad: the sum of Android's three flags
_PLAIN = re.compile(r"[\w.-]{1,100}")


def read(shell: Shell, condition: Condition, package: str, release: int) -> str:
    """How the phone is; what `put` takes. Raises LinkError where it does not tell, CannotDo where it cannot be told to be otherwise."""
    if condition is Condition.NETWORK:
        ways = (way for way, name in NETWORKS.items() if _setting(shell, f"global {name}") == "1")
        return " ".join(ways) or "off"
    if condition is Condition.DARK:
        night = _NIGHT.search(shell("cmd uimode night").lower())
        return night.group() if night is not None else "no"
    if condition is Condition.SAVER:
        return "on" if _setting(shell, "global low_power") == "1" else "off"
    if condition is Condition.AWAKE:
        return _setting(shell, "global stay_on_while_plugged_in", "0")
    if condition is Condition.TEXT_SIZE:
        return _setting(shell, "system font_scale", "1.0")
    if condition is Condition.LANGUAGE:
        _has_own_languages(release)
        found = _LOCALES.search(shell(f"cmd locale get-app-locales {shlex.quote(package)}"))
        return found.group(1) if found is not None else ""
    free, turned = _setting(shell, "system accelerometer_rotation", "0"), _setting(shell, "system user_rotation", "0")
    return f"{free} {turned}"


def put(shell: Shell, condition: Condition, value: str, package: str, release: int) -> None:
    """Have it so. Raises LinkError where the phone cannot be told to."""
    if condition is Condition.NETWORK:
        if value == "slow":
            raise CannotDo("A phone cannot be given a slow network from here: turn it off, or slow down what it is connected to.")
        for way in NETWORKS:
            shell(f"svc {way} {'enable' if value == 'on' or way in value.split() else 'disable'}")
    elif condition is Condition.DARK:
        night = {"on": "yes", "off": "no"}.get(value, value)
        shell(f"cmd uimode night {shlex.quote(night)}")
    elif condition is Condition.SAVER:
        shell(f"settings put global low_power {int(value == 'on')}")
    elif condition is Condition.AWAKE:
        shell(f"settings put global stay_on_while_plugged_in {shlex.quote(WHILE_PLUGGED if value == 'on' else value)}")
    elif condition is Condition.TEXT_SIZE:
        shell(f"settings put system font_scale {shlex.quote(value)}")
    elif condition is Condition.LANGUAGE:
        _has_own_languages(release)
        shell(f"cmd locale set-app-locales {shlex.quote(package)} --locales {shlex.quote(value)}")
    else:
        free, _, turned = value.partition(" ")
        shell(f"settings put system user_rotation {shlex.quote(turned or '0')}")
        shell(f"settings put system accelerometer_rotation {shlex.quote(free)}")


def _has_own_languages(release: int) -> None:
    """May an app have a language of its own? Raises CannotDo."""
    if release < LOCALES_SINCE:
        raise CannotDo(f"The language can be changed from here on Android {LOCALES_SINCE} and later; this phone runs {release}.")


def _setting(shell: Shell, name: str, otherwise: str = "") -> str:
    said = shell(f"settings get {name}").strip()
    return said if _PLAIN.fullmatch(said) and said != "null" else otherwise
