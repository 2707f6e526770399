"""A real window on an X server of its own, and a hand that has nothing but its mouse and its keys (xdotool)."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from copione.project.demo import copy_demo

NEEDED = ("Xvfb", "openbox", "xdotool")
LIMIT_S = 90.0
LOOK_S = 0.05


class XServer:
    """Xvfb with a window manager."""

    def __init__(self, size: str) -> None:
        missing = [each for each in NEEDED if shutil.which(each) is None]
        if missing:
            raise AssertionError(f"Journeys need {', '.join(missing)}: apt-get install xvfb openbox xdotool")
        read, write = os.pipe()
        command = ["Xvfb", "-displayfd", str(write), "-screen", "0", f"{size}x24", "-nolisten", "tcp"]
        self._server = subprocess.Popen(command, pass_fds=[write], stderr=subprocess.DEVNULL)
        os.close(write)
        with os.fdopen(read) as told:
            self.display = f":{told.readline().strip()}"
        self._manager = subprocess.Popen(["openbox"], env={**os.environ, "DISPLAY": self.display}, stderr=subprocess.DEVNULL)

    def close(self) -> None:
        for process in (self._server, self._manager):
            process.terminate()
            process.wait(10)


class Journey(unittest.TestCase):
    """`start` opens Copione; `home` is its user's, with the demo project in `project`."""

    size = "1280x800"
    scale = ""
    server_port = ""  # of an adb server; empty for a port at which there is none

    def setUp(self) -> None:
        self.scratch = Path(tempfile.mkdtemp(prefix="journey-"))
        self.addCleanup(shutil.rmtree, self.scratch, ignore_errors=True)
        self.home = self.scratch / "home"
        (self.home / "run").mkdir(parents=True, mode=0o700)
        self.project = self.home / "hive-diary"
        self.x = XServer(self.size)
        self.addCleanup(self.x.close)
        self.child: subprocess.Popen[str] | None = None
        self.addCleanup(self.end)
        places = {name: str(self.home / name) for name in ("config", "state", "data", "cache")}
        self.environment = {
            "HOME": str(self.home),
            "PATH": os.environ["PATH"],
            "DISPLAY": self.x.display,
            "LANG": "C.UTF-8",
            "ANDROID_ADB_SERVER_PORT": self.server_port or str(free_port()),
            "XDG_RUNTIME_DIR": str(self.home / "run"),
            **{f"XDG_{name.upper()}_HOME": place for name, place in places.items()},
            **({"QT_SCALE_FACTOR": self.scale} if self.scale else {}),
        }

    def demo(self) -> None:
        """With the stand-in phones, on the demo project, the lead's screen in sight."""
        copy_demo(self.project)
        self.start("demo", "--project", str(self.project))
        self.until("len([d for d in workspace().devices if d.ready]) == 13 and idle() and workspace().loaded is not None")

    def start(self, *arguments: str) -> None:
        """Copione, as a user starts it, once its window is there."""
        command = [sys.executable, "-m", "tests.journeys.child", *arguments]
        self.child = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=self.environment)
        self.until("ready()")

    def end(self) -> None:
        """However it is just now."""
        if self.child is not None:
            self.child.kill()
            self._gone()

    def _gone(self) -> int:
        child, self.child = self.child, None
        assert child is not None
        code = child.wait(LIMIT_S)
        for pipe in (child.stdin, child.stdout):
            with contextlib.suppress(OSError):
                pipe.close()
        return code

    def quit(self) -> int:
        """By its key; the exit code."""
        self.key("ctrl+q")
        return self._gone()

    def kill(self, how: signal.Signals = signal.SIGKILL) -> int:
        """As nobody should, or as a system does that goes down; the exit code."""
        self.child.send_signal(how)
        return self._gone()

    def pull_the_plug(self) -> None:
        """The end of the X server."""
        self.x.close()
        self._gone()

    # what is seen

    def ask(self, words: str) -> Any:
        """Of the child: see `seeing`."""
        self.child.stdin.write(words + "\n")
        self.child.stdin.flush()
        line = self.child.stdout.readline()
        self.assertTrue(line, "Copione ended")
        told = json.loads(line)
        if "error" in told:
            raise LookupError(told["error"])
        return told["value"]

    def until(self, words: str) -> Any:
        """Until that holds; its value."""
        limit = time.monotonic() + LIMIT_S
        while True:
            said = ""
            try:
                if value := self.ask(words):
                    return value
            except LookupError as error:
                said = str(error)
            if time.monotonic() > limit:
                picture = os.environ.get("JOURNEY_PICTURES", "")
                if picture:
                    self.picture(Path(picture) / f"{self.id()}.png")
                self.fail(f"it did not come to this: {words} {said}")
            time.sleep(LOOK_S)

    def picture(self, path: Path) -> None:
        """The whole screen as it is (ImageMagick)."""
        subprocess.run(["import", "-window", "root", str(path)], env=self.environment, check=False)

    # the hand

    def _x(self, *words: object) -> None:
        subprocess.run(["xdotool", *map(str, words)], env=self.environment, check=True, stdout=subprocess.DEVNULL)

    def at(self, place: Sequence[int]) -> None:
        self._x("mousemove", *place)

    def click(self, name: str, *, part: bool = False, button: int = 1) -> None:
        """What is called so, once it is there."""
        self.at(self.until(f"where({name!r}, {part})"))
        self._x("click", button)

    def tap(self, role: str, name: str) -> None:
        """An element on the lead."""
        self.until("idle()")
        self.at(self.until(f"element({role!r}, {name!r})"))
        self._x("click", 1)
        time.sleep(0.4)  # a second click would have made it a double tap
        self.until("idle()")

    def drag(self, places: Sequence[Sequence[int]], pause: float = 0.05) -> None:
        """Press, go there, lift."""
        self.at(places[0])
        self._x("mousedown", 1)
        for place in places[1:]:
            self.at(place)
            time.sleep(pause)
        self._x("mouseup", 1)

    def key(self, *keys: str) -> None:
        for each in keys:
            self._x("key", each)

    def type(self, words: str) -> None:
        self._x("type", "--delay", 15, words)

    def hold(self, key: str) -> None:
        self._x("keydown", key)

    def let_go(self, key: str) -> None:
        self._x("keyup", key)

    def record(self) -> None:
        """On the lead, as the sheet proposes."""
        self.key("ctrl+r")
        self.until("sheet()")
        self.key("Return")
        self.until("workspace().recorder.active and idle()")

    def save(self, name: str) -> None:
        """The recording, under that name."""
        self.key("ctrl+shift+r")
        self.until("sheet()")
        self.key("ctrl+a")
        self.type(name)
        self.key("Return")
        self.until("not workspace().recorder.active and page() == 'Script'")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
