"""Can a window be shown here? Asked before Qt starts: Qt ends the program where it cannot, without a word that helps. Knows no Qt."""

from __future__ import annotations

import ctypes
import os
import subprocess
import sys
from collections.abc import Iterable, Mapping
from importlib.util import find_spec
from pathlib import Path

from ..model.errors import CopioneError

#: Debian's packages of the libraries that Qt's platform plugins and widgets need.
PACKAGES = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libGLX.so.0": "libglx0",
    "libOpenGL.so.0": "libopengl0",
    "libX11-xcb.so.1": "libx11-xcb1",
    "libX11.so.6": "libx11-6",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libglib-2.0.so.0": "libglib2.0-0",
    "libgthread-2.0.so.0": "libglib2.0-0",
    "libwayland-client.so.0": "libwayland-client0",
    "libwayland-cursor.so.0": "libwayland-cursor0",
    "libwayland-egl.so.1": "libwayland-egl1",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-render.so.0": "libxcb-render0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-shm.so.0": "libxcb-shm0",
    "libxcb-sync.so.1": "libxcb-sync1",
    "libxcb-util.so.1": "libxcb-util1",
    "libxcb-xfixes.so.0": "libxcb-xfixes0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxcb.so.1": "libxcb1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libxkbcommon.so.0": "libxkbcommon0",
}
LDD_S = 20.0


def choose_platform(environment: Mapping[str, str] = os.environ) -> str:
    """The platform plugin that Qt is to use here: one that was asked for, or the first whose libraries and display are there.

    Raises CopioneError with the one thing to do where no window can be shown.
    """
    qt = _qt_folder()
    asked = environment.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0]
    wanted = [asked] if asked else [name for name, sign in (("wayland", "WAYLAND_DISPLAY"), ("xcb", "DISPLAY")) if environment.get(sign)]
    if not wanted:
        raise CopioneError(
            "There is no display here: neither DISPLAY nor WAYLAND_DISPLAY is set. Start Copione on a desktop, or use `copione replay`."
        )
    troubles = []
    for name in wanted:
        trouble = _needs(qt, name) or _no_display(name)
        if not trouble:
            return name
        troubles.append(trouble)
    raise CopioneError(troubles[-1])


def _qt_folder() -> Path:
    spec = find_spec("PySide6")
    if spec is None or spec.origin is None:
        raise CopioneError("The window needs PySide6, which is not installed. Install it with `pip install 'copione[app]'`.")
    return Path(spec.origin).parent


def _needs(qt: Path, platform: str) -> str:
    """The sentence about the libraries of the system that this plugin misses; empty where there are all."""
    plugin = qt / "Qt" / "plugins" / "platforms" / f"libq{platform}.so"
    if not plugin.exists():
        return ""  # Qt tells what it has
    try:
        ctypes.CDLL(str(plugin))  # quicker than asking for each of its libraries, and Qt loads it anyway
    except OSError as error:
        missing = sorted(missing_libraries(plugin))
        return (
            needs_sentence(platform, missing) if missing else f"Qt's plugin for {PLATFORMS.get(platform, platform)} does not load: {error}"
        )
    return ""


def missing_libraries(library: Path) -> list[str]:
    """The names of the shared libraries that the loader would not find for this one; none where it cannot be asked."""
    try:
        told = subprocess.run(["ldd", str(library)], capture_output=True, text=True, timeout=LDD_S, check=False, errors="replace").stdout
    except (OSError, subprocess.TimeoutExpired):
        return []
    return [line.split()[0] for line in told.splitlines() if line.strip().endswith("=> not found")]


def needs_sentence(platform: str, missing: Iterable[str]) -> str:
    """What to install, in one sentence."""
    libraries = list(missing)
    packages = sorted({PACKAGES[each] for each in libraries if each in PACKAGES})
    others = [each for each in libraries if each not in PACKAGES]
    also = f" (and what holds {', '.join(others)})" if others and packages else ""
    what = f"apt-get install {' '.join(packages)}" if packages else f"install what holds {', '.join(others)}"
    return f"The window cannot be shown yet, libraries that Qt needs for {PLATFORMS.get(platform, platform)} are missing: {what}{also}"


PLATFORMS = {"xcb": "X11", "wayland": "Wayland", "offscreen": "tests without a display"}


def _no_display(platform: str) -> str:
    """The sentence about a display that does not answer; empty where it does, or nothing needs to be asked."""
    if platform == "xcb":
        xcb = ctypes.CDLL("libxcb.so.1")
        xcb.xcb_connect.restype = ctypes.c_void_p
        xcb.xcb_connection_has_error.argtypes = xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
        connection = xcb.xcb_connect(None, None)
        broken = xcb.xcb_connection_has_error(connection)
        xcb.xcb_disconnect(connection)
        display = os.environ.get("DISPLAY", "")
        return f"The display {display} does not let Copione in. Is its X server running, and may this user use it?" if broken else ""
    if platform == "wayland":
        wayland = ctypes.CDLL("libwayland-client.so.0")
        wayland.wl_display_connect.restype = ctypes.c_void_p
        wayland.wl_display_disconnect.argtypes = [ctypes.c_void_p]
        connection = wayland.wl_display_connect(None)
        if connection is None:
            return f"The Wayland display {os.environ.get('WAYLAND_DISPLAY', '')} does not answer."
        wayland.wl_display_disconnect(connection)
    return ""


def main() -> int:
    """`python -m copione.app.display`: what Qt misses for this display, or for none; for whoever sets a machine up."""
    wanted = [name for name, sign in (("wayland", "WAYLAND_DISPLAY"), ("xcb", "DISPLAY")) if os.environ.get(sign)] or ["offscreen"]
    troubles = [trouble for name in wanted if (trouble := _needs(_qt_folder(), name))]
    if len(troubles) == len(wanted):
        print(troubles[-1])
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
