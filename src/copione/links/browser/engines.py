"""The engines that can be a device, and what of each is installed on this computer."""

from __future__ import annotations

import os
import shutil
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Engine:
    """One engine: its word in `browsers.toml`, its name, the programs it needs (any of several names each), what installs them.

    `touch`: does its driver put fingers on the page? Else a mouse does what one finger would. `devtools`: does it take commands of
    Chromium's own protocol, and tell its log? `sessions`: can one session of its driver follow another?
    """

    word: str
    name: str
    drivers: tuple[str, ...]
    browsers: tuple[str, ...]
    packages: str
    touch: bool
    needs_display: bool
    devtools: bool
    sessions: bool


ENGINES = {
    engine.word: engine
    for engine in (
        Engine(
            "chromium",
            "Chromium",
            ("chromedriver", "chromium.chromedriver"),
            ("chromium", "chromium-browser"),
            "chromium chromium-driver",
            touch=True,
            needs_display=False,
            devtools=True,
            sessions=True,
        ),
        Engine(
            "webkit",
            "WebKit",
            ("WebKitWebDriver",),
            ("/usr/lib/*/webkit2gtk-4*/MiniBrowser", "/usr/libexec/webkit2gtk-4*/MiniBrowser"),
            "webkit2gtk-driver",
            touch=False,
            needs_display=True,
            devtools=False,
            sessions=False,
        ),
    )
}


@dataclass(frozen=True)
class Installed:
    """An engine as this computer has it: the paths of its driver and its browser; what is missing, and what to do about that."""

    engine: Engine
    driver: str = ""
    browser: str = ""
    missing: str = ""

    @property
    def advice(self) -> str:
        """What to install; empty where nothing is missing."""
        if not self.missing:
            return ""
        if self.driver and self.browser:
            return "Install it (Debian: sudo apt install xvfb), or start Copione on a desktop."
        return f"Install it (Debian: sudo apt install {self.engine.packages})."


def installed(engine: Engine, path: str | None = None) -> Installed:
    """What there is of an engine. `path`: where programs are looked for, the environment's as a rule."""
    driver = next((found for name in engine.drivers if (found := shutil.which(name, path=path))), "")
    browser = next((found for name in engine.browsers if (found := _program(name, path))), "")
    missing = [what for what, found in (("its driver", driver), ("the browser itself", browser)) if not found]
    if not missing and engine.needs_display and not has_display() and not shutil.which("Xvfb", path=path):
        missing = ["a display, or Xvfb to make one,"]
    return Installed(engine, driver, browser, f"{' and '.join(missing)} is not installed" if missing else "")


def _program(name: str, path: str | None) -> str:
    if not name.startswith("/"):
        return shutil.which(name, path=path) or ""
    if path is not None:
        return shutil.which(name.rpartition("/")[2], path=path) or ""
    return next((str(found) for found in sorted(Path("/").glob(name[1:]), reverse=True) if os.access(found, os.X_OK)), "")


def has_display() -> bool:
    """Is there an X or Wayland display to show a window on?"""
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
