"""The device at a WebDriver endpoint."""

from __future__ import annotations

from collections.abc import Sequence

from ...model.clock import Clock
from ...model.device import ListedDevice
from ..source import DeviceSource, serves
from .link import WebDriverLink, look_up


@serves("http", "https")
class EndpointSource(DeviceSource):
    """One endpoint, by its address."""

    def __init__(self, endpoint: str, stand_ins: bool = False) -> None:
        self.endpoint, self.stand_ins = endpoint, stand_ins

    def listed(self) -> Sequence[ListedDevice]:
        return (look_up(self.endpoint),)

    def open(self, listed: ListedDevice, clock: Clock) -> WebDriverLink:
        return WebDriverLink(listed.address, clock)
