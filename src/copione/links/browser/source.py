"""A browser of this computer as a device: it is always there, and started when it is opened."""

from __future__ import annotations

from collections.abc import Sequence

from ...model.clock import Clock
from ...model.device import ListedDevice, Readiness
from ..link import Link
from ..source import DeviceSource
from .kept import BrowserSpec


class BrowserSource(DeviceSource):
    """One browser, with nobody's data in it."""

    stand_ins = True

    def __init__(self, browser: BrowserSpec) -> None:
        self.browser = browser

    def listed(self) -> Sequence[ListedDevice]:
        return (ListedDevice(f"browser:{self.browser.name}", self.browser.name, Readiness.READY),)

    def open(self, listed: ListedDevice, clock: Clock) -> Link:
        from .link import BrowserLink  # Pillow and the rest are loaded for those who use a browser

        return BrowserLink(self.browser, clock)

    def alive(self, link: Link) -> bool:
        from .link import BrowserLink

        return not isinstance(link, BrowserLink) or link.alive()
