"""Starting this computer's own adb server, where none runs."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from ...model.errors import LinkError
from ..limits import one_line

START_S = 20.0
PACKAGE = "adb"  # of Debian
LOCAL = frozenset({"127.0.0.1", "localhost", "::1"})


def adb_program() -> str | None:
    """The adb that is installed: on the path, or where the platform's own tools are put; None where there is none."""
    homes = [os.environ.get("ANDROID_HOME", ""), os.environ.get("ANDROID_SDK_ROOT", ""), str(Path.home() / "Android" / "Sdk")]
    found = [shutil.which("adb"), *(shutil.which("adb", path=str(Path(home) / "platform-tools")) for home in homes if home)]
    return next((program for program in found if program), None)


def start_server(port: int) -> None:
    """Start it on that port of this computer. Raises LinkError with what keeps it from starting."""
    program = adb_program()
    if program is None:
        raise LinkError(f"adb is not installed: apt-get install {PACKAGE}")
    try:
        ran = subprocess.run(
            [program, "-P", str(port), "start-server"], stdin=subprocess.DEVNULL, capture_output=True, timeout=START_S, check=False
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise LinkError(f"The adb server did not start: {one_line(error, 200)}") from error
    if ran.returncode != 0:
        raise LinkError(f"The adb server did not start: {one_line(ran.stderr.decode('utf-8', 'replace'), 200)}")
