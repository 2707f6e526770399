"""Where devices are found, and how each is reached: one class for each protocol. A protocol is added by one more, with its link."""

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

    `stand_ins`: what it lists are stand-ins, started for this: nobody's data is on them. `endpoint`: the address that the user gave for
    it, empty where none was given. `trouble`: why nothing can be listed now, in a sentence; empty where all is well. `watches`: does it
    find out by itself when other devices are there? If not, it is asked every few seconds.
    """

    stand_ins: bool = False
    endpoint: str = ""
    trouble: str = ""
    watches: bool = False

    @abstractmethod
    def listed(self) -> Sequence[ListedDevice]:
        """What is there, as far as is known now; takes some seconds at most. What cannot be reached is listed as not ready."""

    @abstractmethod
    def open(self, listed: ListedDevice, clock: Clock) -> Link:
        """A link to a device that is ready. Raises CopioneError."""

    def alive(self, link: Link) -> bool:
        """Does what was started for this link still run? If not, it is opened anew. Any thread may ask."""
        return True

    def look(self) -> None:
        """List anew. Raises NoServer where whoever lists the devices does not answer."""
        self.trouble = ""

    def watch(self, changed: Callable[[], None], stopped: Callable[[], bool]) -> None:
        """Where `watches`: call `changed` whenever other devices are there, until `stopped()`. Raises CopioneError when it cannot go on."""
        raise NotImplementedError


#: Of each scheme that an endpoint's address may have, what makes a source of the address and `stand_ins`.
SCHEMES: dict[str, Callable[[str, bool], DeviceSource]] = {}


def serves(*schemes: str) -> Callable[[S], S]:
    """Register a source, made of an endpoint's address and `stand_ins`, for addresses with these schemes: `@serves("http", "https")`."""

    def registered(source: S) -> S:
        SCHEMES.update(dict.fromkeys(schemes, source))
        return source

    return registered
