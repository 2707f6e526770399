"""A driver's process, and what it needs around it: started on a free port of this computer, ended with everything it started."""

from __future__ import annotations

import contextlib
import fcntl
import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import IO

from ...model.errors import LinkError
from .engines import Installed, has_display

START_S, END_S = 20.0, 3.0
WINDOW_S = 5.0  # what a browser's window may take to come, once its driver has answered
ASK_S = 0.05
YOUNG_S = 60.0  # a folder this young may not be locked yet
PREFIX, LOCK = "copione-browser-", "in-use"  # of folders that hold a browser's files, and what is locked in each
SCREEN = "1600x2200x24"  # of a display that nobody sees
#: Ends all that was started when the program ends, and when this process does, however: then the pipe it reads comes to its end.
_GUARD = '("$@"; kill -TERM 0) & read -r _; kill -TERM 0'


#: A browser window's own bar must not be what says how narrow a page can be.
_NARROW = "button, entry { min-width: 0; padding: 0; margin: 0; border-width: 0; }\n"


class DriverProcess:
    """Runs from its making until `close`. Its files are in a folder of its own, which goes with it."""

    def __init__(self, found: Installed, shown: bool = False) -> None:
        """Start it, and wait until it answers. `shown`: on this desktop, else where nobody sees it. Raises LinkError when it does not."""
        if found.missing:
            raise LinkError(f"{found.engine.name}: {found.missing}. {found.advice}")
        self.found = found
        self._shown = shown
        _sweep()
        self.folder = Path(tempfile.mkdtemp(prefix=PREFIX))
        self._lock = _held(self.folder)
        self._display = ""  # of its own, where nobody sees it
        self._running: list[subprocess.Popen[bytes]] = []
        try:
            self._start()
        except BaseException:
            self.close()
            raise

    def _start(self) -> None:
        narrow = self.folder / ".config" / "gtk-3.0" / "gtk.css"
        narrow.parent.mkdir(parents=True)
        narrow.write_text(_NARROW, "utf-8")
        environment = {k: v for k, v in os.environ.items() if "proxy" not in k.lower()}
        environment |= {"HOME": str(self.folder), "XDG_RUNTIME_DIR": str(self.folder), "TMPDIR": str(self.folder), "NO_AT_BRIDGE": "1"}
        for name in ("XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME", "DBUS_SESSION_BUS_ADDRESS"):
            environment.pop(name, None)
        if self.found.engine.needs_display and not (has_display() and (self._shown or not shutil.which("Xvfb"))):
            environment["DISPLAY"] = self._display = self._new_display(environment)
        port = _free_port()
        self._spawn([self.found.driver, f"--port={port}"], environment)
        self.endpoint = f"http://127.0.0.1:{port}"
        self._wait(lambda: _answers(port), f"{self.found.engine.name}'s driver does not answer")

    def _new_display(self, environment: dict[str, str]) -> str:
        """A display that nobody sees."""
        program = shutil.which("Xvfb")
        assert program is not None
        reading, writing = os.pipe()
        try:
            self._spawn([program, "-displayfd", str(writing), "-screen", "0", SCREEN, "-nolisten", "tcp"], environment, (writing,))
            os.close(writing)
            writing = -1
            os.set_blocking(reading, False)
            told = b""

            def number() -> bool:
                nonlocal told
                with contextlib.suppress(BlockingIOError):
                    told += os.read(reading, 20)
                return told.endswith(b"\n")

            self._wait(number, "Xvfb does not start")
            return f":{int(told)}"
        finally:
            os.close(reading)
            if writing >= 0:
                os.close(writing)

    def _spawn(self, words: list[str], environment: dict[str, str], files: tuple[int, ...] = ()) -> None:
        with (self.folder / "driver.log").open("ab") as log:
            process = subprocess.Popen(
                ["/bin/sh", "-c", _GUARD, "guard", *words],
                stdin=subprocess.PIPE,
                stdout=log,
                stderr=log,
                env=environment,
                pass_fds=files,
                start_new_session=True,
            )
        self._running.append(process)

    def _wait(self, ready: Callable[[], bool], trouble: str) -> None:
        until = time.monotonic() + START_S
        while not ready():
            ended = next((p for p in self._running if p.poll() is not None), None)
            if ended is not None or time.monotonic() > until:
                raise LinkError(f"{trouble}: {self.said() or 'it says nothing'}.")
            time.sleep(ASK_S)

    def focus(self) -> None:
        """Give the browser's window the keyboard's focus on a display of its own, where no window manager does; waits until there is one.

        No page of a window without it has it: see `Tab.ready_for_touch`.
        """
        if not self._display:
            return
        from Xlib import X, display, error

        with contextlib.suppress(error.DisplayError, error.ConnectionClosedError, error.XError, OSError):
            screen = display.Display(self._display)
            try:
                until = time.monotonic() + WINDOW_S
                while time.monotonic() < until:
                    windows = screen.screen().root.query_tree().children
                    shown = [window for window in windows if window.get_attributes().map_state == X.IsViewable]
                    if shown:
                        shown[-1].set_input_focus(X.RevertToParent, X.CurrentTime)
                        screen.sync()
                        break
                    time.sleep(ASK_S)
            finally:
                screen.close()

    def alive(self) -> bool:
        """Does everything that was started still run?"""
        return bool(self._running) and all(process.poll() is None for process in self._running)

    def held_up(self) -> float:
        """Seconds that its processes together have waited for a processor so far (Linux, Documentation/scheduler/sched-stats.rst)."""
        sessions, waited = {process.pid for process in self._running}, 0
        for place in Path("/proc").iterdir():
            with contextlib.suppress(OSError, ValueError, IndexError):
                if place.name.isdigit() and os.getsid(int(place.name)) in sessions:
                    waited += int((place / "schedstat").read_text().split()[1])
        return waited / 1e9

    def said(self) -> str:
        """The last line that it printed."""
        with contextlib.suppress(OSError):
            lines = (self.folder / "driver.log").read_bytes()[-4000:].decode("utf-8", "replace").split("\n")
            return next((line.strip()[:200] for line in reversed(lines) if line.strip()), "")
        return ""

    def close(self) -> None:
        """End the driver, its browsers and its display, and delete their files."""
        for process in reversed(self._running):
            for way in (signal.SIGTERM, signal.SIGKILL):
                with contextlib.suppress(ProcessLookupError, PermissionError):
                    os.killpg(process.pid, way)
                with contextlib.suppress(subprocess.TimeoutExpired):
                    process.wait(END_S)
            if process.stdin is not None:
                process.stdin.close()
        self._running = []
        shutil.rmtree(self.folder, ignore_errors=True)
        if self._lock is not None:
            self._lock.close()
            self._lock = None


def _held(folder: Path, wait: bool = True) -> IO[bytes] | None:
    """Lock a browser's folder for as long as its driver runs. The system lets go of it however we end. None if someone else holds it."""
    try:
        lock = (folder / LOCK).open("ab")
    except OSError:
        return None
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | (0 if wait else fcntl.LOCK_NB))
    except OSError:
        lock.close()
        return None
    return lock


def _sweep() -> None:
    """Delete the folders of browsers that were in use by a program that was killed."""
    for folder in Path(tempfile.gettempdir()).glob(f"{PREFIX}*"):
        with contextlib.suppress(OSError):
            made = (folder / LOCK).stat()
            if folder.is_symlink() or made.st_uid != os.getuid() or time.time() - made.st_mtime < YOUNG_S:
                continue  # another program may just be about to lock it
            lock = _held(folder, wait=False)
            if lock is not None:
                shutil.rmtree(folder, ignore_errors=True)
                lock.close()


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _answers(port: int) -> bool:
    with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), 0.5):
        return True
    return False
