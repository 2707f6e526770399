"""Whose a device is, of the Copiones on this computer: one at a time acts on it.

A claim is a file that is locked as long as its process lives (`flock`), so one that was killed leaves no claim behind. In it stands who has
the device and what for. Whoever wants it can leave a wish beside it; the owner sees the wish when it next looks at the device, and lets go.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

from ..model.errors import DeviceTaken

ASK_S, YIELD_S = 0.3, 15.0  # between two tries; how long an owner has to let go
LOOK_S = 0.5  # between two looks for a wish, at least


class Busy(Enum):
    """What to do about a device that another Copione has."""

    TELL = "tell"
    WAIT = "wait"
    TAKE = "take"


def claims_folder() -> Path:
    """Where claims are kept: gone when the user logs out."""
    from platformdirs import user_cache_path

    given = os.environ.get("XDG_RUNTIME_DIR", "")
    return (Path(given) if given and os.access(given, os.W_OK) else user_cache_path("copione")) / "copione-devices"


@dataclass
class _Held:
    file: int | None
    count: int = 1


_held: dict[Path, _Held] = {}  # what this process has: the system's locks are the process's too
_lock = threading.Lock()


class Claim:
    """The claim on one device. It may be held several times over by the same process; used by any thread."""

    def __init__(self, device: str, name: str = "", folder: Path | None = None) -> None:
        """`device`: what tells it from every other, an address and where that is reached; `name`: what a person calls it."""
        self.name = name or device
        self._device, self._folder = device, folder
        self._looked = 0.0

    @property
    def _path(self) -> Path:
        return (self._folder or claims_folder()) / f"{hashlib.sha256(self._device.encode()).hexdigest()[:24]}.json"

    @property
    def _wish(self) -> Path:
        return self._path.with_suffix(".wanted")

    @contextlib.contextmanager
    def held(self, doing: str, busy: Busy = Busy.TELL, cancelled: Callable[[], bool] = lambda: False) -> Iterator[None]:
        """Have the device meanwhile. Raises DeviceTaken where another Copione has it, and does not let go where it was asked to."""
        self._get(doing, busy, cancelled)
        try:
            yield
        finally:
            self._let_go()

    def _get(self, doing: str, busy: Busy, cancelled: Callable[[], bool]) -> None:
        asked = time.monotonic()
        while not self._try(doing):
            if busy is Busy.TELL or cancelled():
                raise DeviceTaken(f"{self.name} is used by {self.owner()}. Wait for it, or take it over.")
            if busy is Busy.TAKE:
                with contextlib.suppress(OSError):
                    self._wish.write_text(str(os.getpid()), "utf-8")
                if time.monotonic() - asked > YIELD_S:
                    with contextlib.suppress(OSError):
                        self._wish.unlink()
                    raise DeviceTaken(f"{self.name} is used by {self.owner()}, which does not let go. End it, and try again.")
            time.sleep(ASK_S)

    def _try(self, doing: str) -> bool:
        with _lock:
            mine = _held.get(self._path)
            if mine is not None:
                mine.count += 1
                return True
            try:
                self._path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
                file = os.open(self._path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600)
            except OSError:
                _held[self._path] = _Held(None)  # a computer without a place for claims has none
                return True
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                os.close(file)
                return False
            os.ftruncate(file, 0)
            os.write(file, json.dumps({"process": os.getpid(), "doing": doing, "since": time.time()}).encode())
            with contextlib.suppress(OSError):
                self._wish.unlink()
            _held[self._path] = _Held(file)
            return True

    def _let_go(self) -> None:
        with _lock:
            mine = _held[self._path]
            mine.count -= 1
            if mine.count == 0:
                del _held[self._path]
                if mine.file is not None:
                    os.close(mine.file)  # and with it goes the lock

    def must_be_free(self) -> None:
        """Raises DeviceTaken where another Copione has the device."""
        with self.held("looking whether it is free"):
            pass

    def owner(self) -> str:
        """Who has it, in words."""
        try:
            facts = json.loads(self._path.read_text("utf-8"))
            since = time.strftime("%H:%M", time.localtime(float(facts["since"])))
            return f"another Copione ({str(facts['doing'])[:80]}, process {int(facts['process'])}, since {since})"
        except (OSError, ValueError, KeyError, TypeError, OverflowError):
            return "another Copione"

    def check(self) -> None:
        """Go on, unless another Copione has asked for the device. Raises DeviceTaken; looked for twice a second at most."""
        now = time.monotonic()
        if now - self._looked < LOOK_S:
            return
        self._looked = now
        if self._path in _held and self._wish.exists():
            raise DeviceTaken(f"{self.name} was taken over by another Copione.")
