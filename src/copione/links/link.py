"""What every way to reach a device offers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from ..model.action import Start
from ..model.condition import Condition
from ..model.device import DeviceProfile
from ..model.gesture import Contact
from ..model.screen import Element, Moment
from .claims import Claim

#: W3C UI Events `key` values that a link can press. `End` moves the caret to the end of the whole text.
KEYS = ("GoBack", "GoHome", "Enter", "Backspace", "Delete", "End")


@dataclass(frozen=True)
class InstalledApp:
    """An app on a device: its package and its version."""

    package: str
    version: str


class Link(Protocol):
    """One device, reached. Every method raises `LinkError` when the device does not do it, `DeviceGone` when it went away.

    A link is used by one thread at a time.
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

    @property
    def back_closes_keyboard(self) -> bool:
        """Does going back close a keyboard that is up, and nothing else? If not, it would leave the page."""
        ...

    @property
    def holds_finger(self) -> bool:
        """Can a finger be put down now, and moved and lifted later?"""
        ...

    def finger(self, phase: str, x: float, y: float) -> None:
        """Put one finger down, move it or lift it (`down`, `move`, `up`), dp; where `holds_finger`."""
        ...

    def panel(self) -> tuple[int, int]:
        """Width and height of the touch panel in its own units, upright."""
        ...

    def touch_stream(self, taken: Callable[[bytes], bool]) -> None:
        """Hand on what the panel tells of the user's own fingers, as `getevent -lt` prints it, until `taken` says False.

        It is called now and then with nothing too. May run on a thread of its own beside everything else.
        """
        ...

    def turn(self, orientation: str) -> None:
        """Hold the screen as `portrait` or `landscape`."""
        ...

    def condition(self, condition: Condition, package: str) -> str:
        """How the device is, in a way that `have` takes: what to put back. `package`: the app whose language is meant."""
        ...

    def have(self, condition: Condition, value: str, package: str) -> None:
        """Have the device in another condition. Raises LinkError where it cannot be told to."""
        ...

    def ring(self, caller: str) -> None:
        """A call comes in; an empty caller ends it. Raises LinkError on what is no stand-in."""
        ...

    def install(self, package: bytes) -> None:
        """Install an app from the bytes of its package file; one that is there is replaced and keeps its data."""
        ...

    def type_text(self, words: str) -> None:
        """Type into whatever has the focus."""
        ...

    def press(self, key: str, times: int = ...) -> None:
        """Press a key of `KEYS`."""
        ...

    def front(self) -> tuple[str, str]:
        """Package and activity of the app in front."""
        ...

    def packages(self) -> list[str]:
        """Packages of the apps that were installed besides the phone's own."""
        ...

    def apps(self) -> list[InstalledApp]:
        """The same with their versions, which takes a question for each."""
        ...

    def version(self, package: str) -> str:
        """Version of an installed app; raises AppMissing."""
        ...

    def launch(self, package: str, start: Start = Start.FRONT) -> None:
        """Bring an app to the front. Nothing but `Start.AFRESH` clears data. Raises AppMissing."""
        ...

    def open(self, address: str) -> None:
        """Go to an address: in a browser, or with what opens it on a phone. Raises LinkError where nothing does."""
        ...

    def reload(self) -> None:
        """The page anew, in a browser. Raises LinkError on what is none."""
        ...

    def stop(self, package: str) -> None:
        """End an app. Raises AppMissing where the platform tells."""
        ...

    def log(self, since: float) -> str:
        """The device's log from `since`, seconds since the epoch."""
        ...
