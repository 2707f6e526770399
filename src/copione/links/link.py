"""What every way to reach a device offers, and what some of them do: asked for by its type.

`link.able(RunsApps).launch(package)` has a device that runs apps launch one, and raises CannotDo on any other.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import ClassVar, Protocol, TypeVar, cast

from ..model.action import Start
from ..model.condition import Condition
from ..model.cost import Cost
from ..model.device import DeviceProfile
from ..model.errors import CannotDo
from ..model.gesture import Contact
from ..model.key import Key
from ..model.screen import Element, Moment
from .claims import Claim


@dataclass(frozen=True)
class InstalledApp:
    """An app on a device: its package, its version where that is known, what it is called, and whether it came with the device."""

    package: str
    version: str
    name: str = ""
    own: bool = False


class Capability(ABC):
    """What only some links do. Each of its methods raises `LinkError` when the device does not do it, `DeviceGone` when it went away."""

    without: ClassVar[str]  # what is said of a device that cannot do it, behind the name for it


C = TypeVar("C", bound=Capability)


class Link(Protocol):
    """One device, reached: what it is, what it shows, and fingers on its glass.

    Every method raises `LinkError` when the device does not do it, `DeviceGone` when it went away. A link is used by one thread at a time.
    """

    patience: float  # seconds that any one command may take, but for what its own gestures last
    files: Path | None = None  # the folder of which a page may be given files

    @property
    def claim(self) -> Claim:
        """The claim on the device, among the Copiones of this computer; the same for every way to it. Once `profile` was asked."""
        ...

    @property
    def address(self) -> str:
        """Where the device is reached: a serial number or a URL."""
        ...

    @property
    def called(self) -> str:
        """What a sentence about the device begins with."""
        ...

    @property
    def configured(self) -> str:
        """By which of the user's configurations it is reached; empty where there is none."""
        return ""

    def has(self, kind: type[Capability]) -> bool:
        """Can this be asked of the device now?"""
        return isinstance(self, kind)

    def able(self, kind: type[C]) -> C:
        """The link as one that does this. Raises CannotDo where it does not."""
        if not self.has(kind):
            raise CannotDo(f"{self.called} {kind.without}")
        return cast(C, self)

    def step_begins(self) -> None:
        """A step of a script begins: what was lost before may be found again, and not in its middle."""
        return

    def close(self) -> None:
        """Give back what the link holds on the device."""
        ...

    def profile(self) -> DeviceProfile:
        """What the device is; asked for once."""
        ...

    def picture(self) -> bytes:
        """The screen now, as the PNG the device sends."""
        ...

    def moment(self) -> Moment:
        """Tree and picture, taken together once the screen rests. A tree that fails leaves `Moment.trouble`."""
        ...

    def glimpse(self) -> Moment:
        """The tree alone, as fresh as can be; no picture."""
        ...

    def hit(self, x: float, y: float) -> Element | None:
        """What a finger at a point (dp) would touch now, on a fresh screen; None where the device does not tell."""
        return None

    def held_up(self) -> float:
        """Seconds that the device has waited for a processor of this computer so far; 0 for a device with processors of its own."""
        return 0.0

    def touch(self, contacts: Sequence[Contact]) -> None:
        """Put fingers on the glass: dp of the screen as it is held, times relative to each other."""
        ...


class HoldsFinger(Capability):
    """One finger can be put down now, and moved and lifted later."""

    without = "takes a gesture only as a whole."

    @abstractmethod
    def finger(self, phase: str, x: float, y: float) -> None:
        """Put one finger down, move it or lift it (`down`, `move`, `up`), dp."""


class TellsTouches(Capability):
    """Tells what the user's own fingers do on its glass."""

    without = "does not tell what fingers do on its glass: use it on the screen here."

    @abstractmethod
    def panel(self) -> tuple[int, int]:
        """Width and height of the touch panel in its own units, upright."""

    @abstractmethod
    def touch_stream(self, taken: Callable[[bytes], bool]) -> None:
        """Hand on what the panel tells, as `getevent -lt` prints it, until `taken` says False.

        It is called now and then with nothing too. May run on a thread of its own beside everything else.
        """


class HasKeys(Capability):
    """Types, and presses keys."""

    without = "has no keys that can be pressed from here."

    @property
    @abstractmethod
    def back_closes_keyboard(self) -> bool:
        """Does going back close a keyboard that is up, and nothing else? If not, it would leave the page."""

    @abstractmethod
    def press(self, key: Key, times: int = ...) -> None:
        """Press a key `times` times. Raises CannotDo where the device has no such key."""

    def hide_keyboard(self) -> None:
        """Close the keyboard on the screen. Raises CannotDo where it can only be closed by hand."""
        if not self.back_closes_keyboard:
            raise CannotDo("The keyboard of this device can only be closed by a key of its own: tap that.")
        self.press(Key.BACK)

    @abstractmethod
    def type_text(self, words: str) -> None:
        """Type into whatever has the focus."""


class RunsApps(Capability):
    """Tells its apps, starts and stops them."""

    without = "does not offer to start and stop apps."

    @abstractmethod
    def front(self) -> tuple[str, str]:
        """Package and activity of the app in front."""

    def outside(self) -> frozenset[str]:
        """Packages of what apps are started from, and go behind: the home screen and the list of those that run, as far as it is told."""
        return frozenset()

    @abstractmethod
    def packages(self) -> list[str]:
        """Packages of the apps that can be started: those that were installed, then the phone's own."""

    @abstractmethod
    def apps(self) -> list[InstalledApp]:
        """The same with what is known of each, which takes a question for each that was installed."""

    @abstractmethod
    def version(self, package: str) -> str:
        """Version of an installed app; raises AppMissing."""

    @abstractmethod
    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        """Bring an app to the front. Nothing but `Start.AFRESH` clears data. Raises AppMissing."""

    @abstractmethod
    def stop(self, package: str) -> None:
        """End an app. Raises AppMissing where the platform tells."""

    @abstractmethod
    def clear(self, package: str) -> None:
        """End an app, and delete what it has stored. Raises AppMissing where it is not there."""


class InstallsApps(Capability):
    """Takes apps from package files."""

    without = "takes no package files: there, an app is an address."

    @abstractmethod
    def install(self, package: bytes) -> None:
        """Install an app from the bytes of its package file; one that is there is replaced and keeps its data.

        Raises LinkError in the device's own words, with what can be done.
        """

    def installation(self, package: str) -> str:
        """What is another once an app was installed anew; empty where it is not there, or the device does not tell."""
        return ""

    @abstractmethod
    def uninstall(self, package: str) -> None:
        """Remove an app and its data. Raises AppMissing where it is not there."""


class OpensAddresses(Capability):
    """Goes to an address: in a browser, or with what opens it on a phone."""

    without = "opens no addresses: only browsers, and phones over adb, do."

    @abstractmethod
    def open(self, address: str) -> None:
        """Go there. Raises LinkError where nothing opens it."""


class Sleeps(Capability):
    """Has a screen that goes dark by itself, and perhaps locks."""

    without = "does not tell whether its screen is on."

    @abstractmethod
    def wake(self) -> None:
        """Turn the screen on, and put aside a lock that asks for nothing. Raises DeviceNotReady where somebody has to unlock it."""


class ReloadsPages(Capability):
    """Shows a page that can be loaded anew."""

    without = "has no page to reload: only browsers have."

    @abstractmethod
    def reload(self) -> None:
        """The page anew."""


class HasConditions(Capability):
    """Can be held otherwise, and had in another condition."""

    without = "is not turned from here: turn it by hand."

    @abstractmethod
    def turn(self, orientation: str) -> None:
        """Hold the screen as `portrait` or `landscape`."""

    @abstractmethod
    def condition(self, condition: Condition, package: str) -> str:
        """How the device is, in a way that `have` takes: what to put back. `package`: the app whose language is meant."""

    @abstractmethod
    def have(self, condition: Condition, value: str, package: str) -> None:
        """Have the device in another condition. Raises CannotDo where it cannot be told to."""


class TakesCalls(Capability):
    """Can be called from here."""

    without = "cannot be called from here."

    @abstractmethod
    def ring(self, caller: str) -> None:
        """A call comes in; an empty caller ends it. Raises CannotDo on what is no stand-in."""


class TellsCosts(Capability):
    """Tells what an app costs it."""

    without = "does not tell what an app costs it."

    @abstractmethod
    def cost(self, package: str) -> Cost | None:
        """What the app has cost by now; None while it does not run. May run on a thread of its own beside everything else."""


class KeepsLog(Capability):
    """Keeps a log of what its apps say."""

    without = "keeps no log."

    @abstractmethod
    def log(self, since: float) -> str:
        """The log from `since`, seconds since the epoch."""
