"""The device at a WebDriver endpoint."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ...model.clock import Clock
from ...model.device import ListedDevice
from ..source import DeviceSource, serves
from .link import WebDriverLink, look_up
from .spec import EndpointSpec


@serves("http", "https")
class EndpointSource(DeviceSource):
    """One endpoint, by its address. `configured` gives what is known of it: asked each time, for the user may change it."""

    def __init__(self, endpoint: str, stand_ins: bool = False) -> None:
        self.endpoint, self.stand_ins = endpoint, stand_ins
        self.configured: Callable[[], EndpointSpec] = lambda: EndpointSpec(endpoint)

    def listed(self) -> Sequence[ListedDevice]:
        return (look_up(self.endpoint, self.configured()),)

    def open(self, listed: ListedDevice, clock: Clock) -> WebDriverLink:
        return WebDriverLink(listed.address, clock, self.configured())
