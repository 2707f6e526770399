"""The devices that are connected, kept up to date by the server's own tracking."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

from ..model.clock import Clock, SystemClock
from ..model.device import DeviceProfile, Listed, Readiness
from ..model.errors import CopioneError, NoServer
from .adb.link import AdbLink
from .adb.server import AdbServer
from .link import Link
from .webdriver.link import WebDriverLink, look_up
from .worker import CLOSE_S, DeviceWorker

LOG = logging.getLogger(__name__)
RETRY_S = 2.0
OPEN_AT_ONCE = 8  # devices that are asked for their profile at the same time


@dataclass(frozen=True)
class Device:
    """One connected device: as listed, and, once ready, its profile and the worker that owns its link."""

    listed: Listed
    profile: DeviceProfile | None = None
    worker: DeviceWorker | None = None
    trouble: str = ""

    @property
    def name(self) -> str:
        """What a person calls it."""
        return self.profile.name if self.profile else self.listed.name

    @property
    def ready(self) -> bool:
        """Can it be used?"""
        return self.profile is not None and self.worker is not None


class Bench:
    """Opens a link and a worker for every ready device. `changed` is called from the bench's own thread with all devices."""

    def __init__(self, server: AdbServer, clock: Clock | None = None, endpoints: Sequence[str] = ()) -> None:
        self.server = server
        self.endpoints = tuple(endpoints)
        self._adb: tuple[list[Listed], str] = ([], "")
        self._seeing = threading.Lock()
        self._threads: list[threading.Thread] = []
        self.clock = clock or SystemClock()
        self.changed: Callable[[list[Device], str], None] = lambda devices, trouble: None
        self._devices: dict[str, Device] = {}
        self._lock = threading.Lock()
        self._stop = threading.Event()

    def devices(self) -> list[Device]:
        """What is connected, as last seen."""
        with self._lock:
            return list(self._devices.values())

    def look(self) -> list[Device]:
        """List once, now. Raises NoServer, unless there are endpoints besides."""
        listing, trouble = [], ""
        try:
            listing = self.server.devices()
        except NoServer as error:
            if not self.endpoints:
                raise
            trouble = error.sentence
        self._take_listing(listing, trouble)
        return self.devices()

    def watch(self) -> None:
        """Keep looking until closed; a server that is away is tried again."""
        for name, target in (("bench", self._follow), ("endpoints", self._ask_endpoints)):
            if name == "bench" or self.endpoints:
                self._threads.append(threading.Thread(target=target, name=name, daemon=True))
                self._threads[-1].start()

    def close(self) -> None:
        """Let go of every device, of all at once; waits some seconds at most for what they are doing."""
        self._stop.set()
        workers = [device.worker for device in self.devices() if device.worker]
        for worker in workers:
            worker.stop()
        until = time.monotonic() + CLOSE_S
        for thread in self._threads:
            thread.join(max(0.0, until - time.monotonic()))
        for worker in workers:
            worker.close(max(0.0, until - time.monotonic()))

    def _follow(self) -> None:
        while not self._stop.is_set():
            try:
                self.server.track(self._take_listing, self._stop.is_set)
            except Exception as error:
                if not isinstance(error, CopioneError):
                    LOG.exception("the bench met an error of its own")
                self._nothing_listed(
                    error.sentence if isinstance(error, CopioneError) else f"The list of devices was lost: {type(error).__name__}."
                )
                self._stop.wait(RETRY_S)

    def _nothing_listed(self, trouble: str) -> None:
        try:
            self._take_listing([], trouble)
        except Exception:
            LOG.exception("whoever hears of the bench failed")

    def _ask_endpoints(self) -> None:
        while not self._stop.wait(RETRY_S):
            try:
                before = {a: d.listed for a, d in self._devices.items()}
                if any(before.get(each.address) != each for each in map(look_up, self.endpoints)):
                    self._take_listing(*self._adb)
            except Exception:
                LOG.exception("the endpoints could not be asked")

    def _take_listing(self, listing: list[Listed], trouble: str = "") -> None:
        with self._seeing:
            self._adb = listing, trouble
            self._sort([*listing, *map(look_up, self.endpoints)], trouble)

    def _sort(self, listing: list[Listed], trouble: str) -> None:
        gone = []
        with self._lock:
            before = self._devices
        now: dict[str, Device] = {}
        with ThreadPoolExecutor(OPEN_AT_ONCE, "open") as pool:
            for listed, device in zip(listing, pool.map(lambda each: self._kept(before, each), listing), strict=True):
                now[listed.address] = device
        for address, device in before.items():
            if device.worker and (address not in now or now[address].worker is not device.worker):
                gone.append(device.worker)
        with self._lock:
            self._devices = now
        for worker in gone:
            worker.close(0.0)
        self.changed(self.devices(), trouble)

    def _kept(self, before: dict[str, Device], listed: Listed) -> Device:
        held = before.get(listed.address)
        return held if held is not None and held.listed == listed and not held.trouble else self._open(listed)

    def _open(self, listed: Listed) -> Device:
        if listed.readiness is not Readiness.READY:
            return Device(listed)
        try:
            link: Link
            if listed.driver:
                link = WebDriverLink(listed.address, self.clock)
            else:
                link = AdbLink(self.server, listed.address, self.clock)
            profile = link.profile()
            return Device(listed, profile, DeviceWorker(profile.name, link))
        except CopioneError as error:
            return Device(listed, trouble=error.sentence)
        except Exception as error:
            LOG.exception("the device %s could not be opened", listed.address)
            return Device(listed, trouble=f"Copione met an error of its own with this device: {type(error).__name__}.")
