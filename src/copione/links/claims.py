"""Whose a device is, of all Copiones on this computer: one at a time acts on it.

A claim is a file that is locked as long as its process lives (`flock`), so a process that is killed leaves no claim behind. In the file
stands who has the device, what for, and how the device was before something of it was changed: whoever claims it next reads that, and
puts it back. Whoever wants a device that is claimed leaves a locked wish beside it; the owner sees the wish when it next looks at the
device, and lets go. These are files of the user; another lock, without any words, holds off the computer's other users.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import logging
import os
import pwd
import stat
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

import msgspec

from ..files.reading import DAMAGED, FileKind, read_bytes
from ..files.writing import write_whole
from ..model.errors import DeviceTaken, FileTrouble, LinkError

LOG = logging.getLogger(__name__)

ASK_S, YIELD_S = 0.3, 15.0  # between two tries; how long an owner has to let go
LOOK_S = 0.5  # between two looks for a wish, at least
MOST_BYTES = 64 << 10  # of a claim's file
FOR_ALL = Path("/run/lock"), Path("/tmp")  # folders of all users of the computer


class NoClaim(LinkError):
    """There is no place where it could be noted whose a device is: it is not used."""


class Busy(Enum):
    """What to do about a device that another Copione has."""

    TELL = "tell"
    WAIT = "wait"
    TAKE = "take"


@dataclass(frozen=True)
class Changed:
    """Something of a device that is changed for a while: `what` by the name of a `Condition`, for which app, and how it was before."""

    what: str
    package: str
    before: str


def claims_folder() -> Path:
    """Where claims are kept: the same place whatever the environment says, and one that outlives the session and the computer's power.

    Raises NoClaim where none can be made.
    """
    user = pwd.getpwuid(os.getuid())
    troubles = []
    for place in (Path(user.pw_dir) / ".local" / "state" / "copione" / "devices", Path("/var/tmp") / f"copione-{user.pw_uid}" / "devices"):
        try:
            place.mkdir(parents=True, exist_ok=True, mode=0o700)
            facts = place.lstat()
            if stat.S_ISDIR(facts.st_mode) and facts.st_uid == user.pw_uid and os.access(place, os.W_OK):
                return place
            troubles.append(f"{place} is not a folder of yours")
        except OSError as error:
            troubles.append(f"{place}: {error.strerror}")
    raise NoClaim(f"It cannot be noted whose the device is ({'; '.join(troubles)}), so it is not used.")


@dataclass
class _Held:
    file: int
    for_all: int | None  # the lock that other users see
    left: tuple[Changed, ...]  # by an earlier owner, and not put back yet
    changed: tuple[Changed, ...]  # of the device, all that is not as it was
    count: int = 1


_held: dict[Path, _Held] = {}  # what this process has: the system's locks are the process's too
_lock = threading.Lock()


class Claim:
    """The claim on one device. It may be held several times over by the same process; used by any thread."""

    def __init__(self, device: str, name: str = "", folder: Path | None = None) -> None:
        """`device`: what tells it from every other device, however it is reached; `name`: what a person calls it."""
        self.name = name or device
        self._device, self._folder = device, folder
        self._looked = 0.0

    @property
    def _path(self) -> Path:
        return (self._folder or claims_folder()) / f"{hashlib.sha256(self._device.encode()).hexdigest()[:24]}.json"

    @contextlib.contextmanager
    def held(self, doing: str, busy: Busy = Busy.TELL, cancelled: Callable[[], bool] = lambda: False) -> Iterator[None]:
        """Have the device meanwhile. Raises DeviceTaken where another Copione has it, and does not let go where it was asked to; NoClaim.

        Whoever acts uses `holding.held`, which also puts back what an earlier owner left changed.
        """
        self._get(doing, busy, cancelled)
        try:
            yield
        finally:
            self._let_go()

    def must_be_free(self) -> None:
        """Raises DeviceTaken where another Copione has the device; NoClaim."""
        with self.held("looking whether it is free"):
            pass

    def owner(self) -> str:
        """Who has it, in words."""
        try:
            facts = json.loads(read_bytes(self._path, FileKind.SETTINGS)[:MOST_BYTES])
            since = time.strftime("%H:%M", time.localtime(float(facts["since"])))
            doing = "".join(c for c in str(facts["doing"])[:80] if c.isprintable())
            return f"another Copione ({doing}, process {int(facts['process'])}, since {since})"
        except (FileTrouble, *DAMAGED):
            return "another Copione"

    def check(self) -> None:
        """Go on, unless another Copione wants the device. Raises DeviceTaken; looked for twice a second at most."""
        now = time.monotonic()
        if now - self._looked < LOOK_S:
            return
        self._looked = now
        if self._path in _held and self._is_wanted():
            raise DeviceTaken(f"{self.name} was taken over by another Copione.")

    # what is changed for a while

    @property
    def changed(self) -> tuple[Changed, ...]:
        """What of the device is not as it was, the first change first; nothing while it is not held."""
        mine = _held.get(self._path)
        return mine.changed if mine is not None else ()

    @property
    def left(self) -> tuple[Changed, ...]:
        """The part of it that an earlier owner left so: it was killed, or could not put it back."""
        mine = _held.get(self._path)
        return mine.left if mine is not None else ()

    def note(self, changed: Changed) -> None:
        """Note how something is that will be changed now; it is on the disk when this returns. Raises NoClaim where it cannot be noted."""
        mine = self._mine()
        _write_changed(self._path, (*mine.changed, changed), self.name)
        mine.changed = (*mine.changed, changed)

    def strike(self, changed: Changed) -> None:
        """Something is as it was again. Raises NoClaim where that cannot be noted."""
        mine = self._mine()
        rest = tuple(each for each in mine.changed if each != changed)
        _write_changed(self._path, rest, self.name)
        mine.changed, mine.left = rest, tuple(each for each in mine.left if each != changed)

    def _mine(self) -> _Held:
        mine = _held.get(self._path)
        if mine is None:
            raise NoClaim(f"{self.name} is not claimed, so nothing of it is changed.")
        return mine

    # having it

    def _get(self, doing: str, busy: Busy, cancelled: Callable[[], bool]) -> None:
        if self._try(doing):
            return
        if busy is Busy.TELL:
            raise self._taken()
        until = time.monotonic() + YIELD_S
        with self._wished() if busy is Busy.TAKE else contextlib.nullcontext():
            while not self._try(doing):
                if cancelled():
                    raise self._taken()
                if busy is Busy.TAKE and time.monotonic() > until:
                    raise DeviceTaken(f"{self.name} is used by {self.owner()}, which does not let go. End it, and try again.")
                time.sleep(ASK_S)

    def _taken(self) -> DeviceTaken:
        return DeviceTaken(f"{self.name} is used by {self.owner()}. Wait for it, or take it over.")

    def _try(self, doing: str) -> bool:
        with _lock:
            path = self._path
            mine = _held.get(path)
            if mine is not None:
                mine.count += 1
                return True
            there, for_all = _locked_for_all(self._folder, path.stem)
            if not there:
                return False
            file = None
            try:
                file = _locked(path)
                if file is not None:
                    os.ftruncate(file, 0)
                    os.write(file, json.dumps({"process": os.getpid(), "doing": doing, "since": time.time()}).encode())
                    left = _read_changed(path)
                    _held[path] = _Held(file, for_all, left, left)
            except OSError as error:
                raise NoClaim(f"It cannot be noted whose {self.name} is ({error.strerror}: {path}), so it is not used.") from error
            finally:
                if path not in _held:
                    _close(file, for_all)
            return path in _held

    def _let_go(self) -> None:
        with _lock:
            path = self._path
            mine = _held[path]
            mine.count -= 1
            if mine.count == 0:
                del _held[path]
                if not mine.changed:
                    with contextlib.suppress(OSError):
                        path.unlink()  # whoever locks it just now sees that it is another file: see `_locked`
                _close(mine.file, mine.for_all)

    # wishes

    @property
    def _wish(self) -> Path:
        return self._path.with_suffix(".wanted")

    @contextlib.contextmanager
    def _wished(self) -> Iterator[None]:
        """Want the device meanwhile; whoever gives up wanting it, or is killed, wants it no more."""
        try:
            file = os.open(self._wish, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600)
        except OSError as error:
            raise NoClaim(f"{self.name} cannot be asked for ({error.strerror}: {self._wish}).") from error
        try:
            fcntl.flock(file, fcntl.LOCK_SH)
            yield
        finally:
            os.close(file)

    def _is_wanted(self) -> bool:
        try:
            file = os.open(self._wish, os.O_RDONLY | os.O_CLOEXEC | os.O_NOFOLLOW)
        except OSError:
            return False
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
        except OSError:
            return False
        finally:
            os.close(file)
        return False


def _close(*files: int | None) -> None:
    """And with each goes its lock."""
    for file in files:
        if file is not None:
            os.close(file)


def _locked(path: Path) -> int | None:
    """The file, open and locked; None where another process has it. Raises OSError where it cannot be made."""
    while True:
        file = os.open(path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600)
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            there, mine = path.stat(), os.fstat(file)
            if (there.st_dev, there.st_ino) == (mine.st_dev, mine.st_ino):
                return file
        except BlockingIOError:
            os.close(file)
            return None
        except FileNotFoundError:
            pass  # its owner has just taken it away
        except OSError:
            os.close(file)
            raise
        os.close(file)


def _locked_for_all(folder: Path | None, name: str) -> tuple[bool, int | None]:
    """Is no other user of the computer in the way? And the file that holds them off from now on, where one can be made.

    Somebody else's file that cannot be opened, or is none, holds up nobody: it is no claim of a Copione.
    """
    shared = folder or next((place for place in FOR_ALL if os.access(place, os.W_OK)), None)
    if shared is None:
        return True, None
    path, flags = shared / f"copione-{name}.lock", os.O_RDONLY | os.O_CLOEXEC | os.O_NOFOLLOW | os.O_NONBLOCK
    try:
        try:
            file = os.open(path, flags)
        except FileNotFoundError:
            file = os.open(path, flags | os.O_CREAT, 0o644)
            with contextlib.suppress(PermissionError):
                os.fchmod(file, 0o644)  # whatever the user's mask: others only look at it
    except OSError:
        return True, None
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(file)
        return False, None
    except OSError:
        os.close(file)
        return True, None
    return True, file


def _changed_path(claim: Path) -> Path:
    return claim.with_suffix(".changed")


def _read_changed(claim: Path) -> tuple[Changed, ...]:
    path = _changed_path(claim)
    if not path.exists():
        return ()
    try:
        return tuple(msgspec.json.decode(read_bytes(path, FileKind.SETTINGS), type=list[Changed]))
    except (FileTrouble, *DAMAGED) as error:
        LOG.warning("how a device was before is not known: %s", error)
        return ()


def _write_changed(claim: Path, changed: tuple[Changed, ...], name: str) -> None:
    path = _changed_path(claim)
    try:
        if changed:
            write_whole(path, msgspec.json.encode(changed))
        else:
            path.unlink(missing_ok=True)
    except (FileTrouble, OSError) as error:
        raise NoClaim(f"How {name} was cannot be noted, so nothing of it is changed: {error}") from error
