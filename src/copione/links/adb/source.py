"""The devices that an adb server lists."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ...model.clock import Clock
from ...model.device import ListedDevice
from ...model.errors import NoServer
from ..source import DeviceSource
from .link import AdbLink
from .server import AdbServer


class AdbSource(DeviceSource):
    """Follows the listing of one server."""

    watches = True

    def __init__(self, server: AdbServer, *, stand_ins: bool = False) -> None:
        self.server, self.stand_ins = server, stand_ins
        self._listing: list[ListedDevice] = []

    def listed(self) -> Sequence[ListedDevice]:
        return self._listing

    def open(self, listed: ListedDevice, clock: Clock) -> AdbLink:
        return AdbLink(self.server, listed.address, clock)

    def look(self) -> None:
        try:
            self._listing, self.trouble = self.server.devices(), ""
        except NoServer as error:
            self._listing, self.trouble = [], error.sentence
            raise

    def watch(self, changed: Callable[[], None], stopped: Callable[[], bool]) -> None:
        def take(listing: list[ListedDevice]) -> None:
            self._listing, self.trouble = listing, ""
            changed()

        try:
            self.server.track(take, stopped)
        finally:
            self._listing = []
