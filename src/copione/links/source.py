"""Where devices are found and how they are reached: one class for each protocol, beside its link."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from typing import TypeVar

from ..model.clock import Clock
from ..model.device import ListedDevice
from .link import Link

S = TypeVar("S", bound="type[DeviceSource]")


class DeviceSource(ABC):
    """Lists devices and opens links to them. Its methods are called on the bench's threads, one at a time but for `watch`.

    `stand_ins`: it lists stand-ins, with nobody's data on them. `endpoint`: the address that the user gave for it; empty where none was
    given. `trouble`: a sentence that says why the devices cannot be listed now; empty if they can. `watches`: whether it reports by
    itself when devices come and go; if not, it is asked every few seconds.
    """

    stand_ins: bool = False
    endpoint: str = ""
    trouble: str = ""
    watches: bool = False

    @abstractmethod
    def listed(self) -> Sequence[ListedDevice]:
        """The devices as last known, within a few seconds. One that cannot be reached is listed as not ready."""

    @abstractmethod
    def open(self, listed: ListedDevice, clock: Clock) -> Link:
        """A link to a device that is ready. Raises CopioneError."""

    def alive(self, link: Link) -> bool:
        """Whether what was started for this link still runs. If not, the device is opened again. Any thread may ask."""
        return True

    def look(self) -> None:
        """List again, now. Raises NoServer if the server that lists the devices does not answer."""
        self.trouble = ""

    def watch(self, changed: Callable[[], None], stopped: Callable[[], bool]) -> None:
        """If `watches`: call `changed` whenever devices come or go, until `stopped()`. Raises CopioneError if it cannot go on."""
        raise NotImplementedError


#: For each scheme of an endpoint's address, what makes a source from the address and `stand_ins`.
SCHEMES: dict[str, Callable[[str, bool], DeviceSource]] = {}


def serves(*schemes: str) -> Callable[[S], S]:
    """Register a source for addresses with these schemes, as in `@serves("http", "https")`. It is made from an address and `stand_ins`."""

    def registered(source: S) -> S:
        SCHEMES.update(dict.fromkeys(schemes, source))
        return source

    return registered
