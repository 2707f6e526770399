"""The devices that are connected, kept up to date by the server's own tracking."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

from ..model.clock import Clock, SystemClock
from ..model.device import DeviceProfile, ListedDevice, Readiness
from ..model.errors import CopioneError, NoServer
from .adb.server import AdbServer
from .adb.source import AdbSource
from .browser.kept import BrowserSpec
from .browser.source import BrowserSource
from .endpoints import source_of
from .link import Link
from .source import DeviceSource
from .worker import CLOSE_S, DeviceWorker

LOG = logging.getLogger(__name__)
RETRY_S = 2.0
OPEN_AT_ONCE = 8  # devices that are asked for their profile at the same time


@dataclass(frozen=True)
class Device:
    """One connected device: as listed, and, once ready, its profile and the worker that owns its link. `source` lists it."""

    listed: ListedDevice
    source: DeviceSource
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


def _told_by(source: DeviceSource) -> list[ListedDevice]:
    """What a source lists; nothing where it fails, so that the others go on."""
    try:
        found = [replace(each, stand_in=True) if source.stand_ins else each for each in source.listed()]
    except Exception as error:
        LOG.exception("a source of devices failed")
        source.trouble = f"The list of devices was lost: {type(error).__name__}."
        return []
    if not source.watches:
        source.trouble = ""
    return found


def _died(device: Device) -> bool:
    """Has what was started for it ended? It is started anew."""
    return device.worker is not None and not device.source.alive(device.worker.link)


def _leave(link: Link | None) -> None:
    """Whatever a link had started for a device that cannot be used is ended."""
    if link is not None:
        with contextlib.suppress(CopioneError):
            link.close()


class Bench:
    """Opens a link and a worker for every ready device. `changed` is called from the bench's own thread with all devices.

    `stand_ins`: what is found are stand-in phones, started for this: nobody's data is on them.
    """

    def __init__(self, server: AdbServer, clock: Clock | None = None, endpoints: Sequence[str] = (), *, stand_ins: bool = False) -> None:
        self.server = server
        self._sources: list[DeviceSource] = []
        self._watching = False
        self._seeing = threading.Lock()
        self._threads: list[threading.Thread] = []
        self.clock = clock or SystemClock()
        self.changed: Callable[[list[Device], str], None] = lambda devices, trouble: None
        self._devices: dict[str, Device] = {}
        self._lock = threading.Lock()
        self._stop = threading.Event()
        self.add_place(server, endpoints, stand_ins=stand_ins)

    def devices(self) -> list[Device]:
        """What is connected, as last seen."""
        with self._lock:
            return list(self._devices.values())

    def look(self) -> list[Device]:
        """List once, now. Raises NoServer, unless there are endpoints or browsers besides."""
        for source in self._sources:
            try:
                source.look()
            except NoServer:
                if all(each.watches for each in self._sources):
                    raise
        self._look()
        return self.devices()

    def add_source(self, *sources: DeviceSource) -> None:
        """List what these list too, from now on. See `look`."""
        self._sources += sources
        if self._watching:
            for source in sources:
                self._follow_aside(source)

    def add_place(self, server: AdbServer, endpoints: Sequence[str] = (), *, stand_ins: bool = False) -> None:
        """Look for devices there too, from now on."""
        found = (source_of(endpoint, stand_ins=stand_ins) for endpoint in endpoints)
        self.add_source(AdbSource(server, stand_ins=stand_ins), *found)

    def add_endpoint(self, endpoint: str) -> None:
        """Look for a device there too, at once. Whoever gives an address means a device of their own, whatever else is on the bench."""
        if all(endpoint != each.endpoint for each in self._sources):
            self.add_source(source_of(endpoint))
        self._look()

    def add_browsers(self, browsers: Sequence[BrowserSpec]) -> None:
        """Have these browsers too, from now on: each is started as a device of its own, with nobody's data in it."""
        have = {each.browser.name for each in self._sources if isinstance(each, BrowserSource)}
        self.add_source(*(BrowserSource(each) for each in browsers if each.name not in have))
        if self._watching:
            self._look()

    def remove_browser(self, name: str) -> None:
        """End one of them."""
        self._sources = [each for each in self._sources if not (isinstance(each, BrowserSource) and each.browser.name == name)]
        self._look()

    def watch(self) -> None:
        """Keep looking until closed; a server that is away is tried again."""
        self._watching = True
        for source in self._sources:
            self._follow_aside(source)
        self._aside("sources", self._ask_sources)

    def _follow_aside(self, source: DeviceSource) -> None:
        if source.watches:
            self._aside("bench", lambda: self._follow(source))

    def _aside(self, name: str, target: Callable[[], None]) -> None:
        self._threads.append(threading.Thread(target=target, name=name, daemon=True))
        self._threads[-1].start()

    def close(self) -> None:
        """Let go of every device, of all at once; waits some seconds at most for what they are doing.

        A device that is being opened meanwhile is let go of as soon as it is open.
        """
        with self._lock:
            self._stop.set()
            workers = [device.worker for device in self._devices.values() if device.worker]
        for worker in workers:
            worker.stop()
        until = time.monotonic() + CLOSE_S
        for thread in self._threads:
            thread.join(max(0.0, until - time.monotonic()))
        for worker in workers:
            worker.close(max(0.0, until - time.monotonic()))

    def _follow(self, source: DeviceSource) -> None:
        while not self._stop.is_set():
            try:
                source.watch(self._look, self._stop.is_set)
            except Exception as error:
                if not isinstance(error, CopioneError):
                    LOG.exception("the bench met an error of its own")
                source.trouble = (
                    error.sentence if isinstance(error, CopioneError) else f"The list of devices was lost: {type(error).__name__}."
                )
                self._look_safely()
                self._stop.wait(RETRY_S)

    def _look_safely(self) -> None:
        try:
            self._look()
        except Exception:
            LOG.exception("whoever hears of the bench failed")

    def _ask_sources(self) -> None:
        """Those that do not watch are asked now and then."""
        while not self._stop.wait(RETRY_S):
            try:
                before = {device.listed.address: device for device in self.devices()}
                found = [(before.get(each.address), each) for source in self._sources if not source.watches for each in _told_by(source)]
                if any(device is None or device.listed != listed for device, listed in found) or any(map(_died, before.values())):
                    self._look()
            except Exception:
                LOG.exception("the endpoints could not be asked")

    def _look(self) -> None:
        with self._seeing:
            there: dict[str, tuple[ListedDevice, DeviceSource]] = {}
            for source in self._sources:
                for listed in _told_by(source):
                    there.setdefault(listed.address, (listed, source))
            self._sort(list(there.values()), next((source.trouble for source in self._sources if source.trouble), ""))

    def _sort(self, there: list[tuple[ListedDevice, DeviceSource]], trouble: str) -> None:
        gone = []
        with self._lock:
            before = self._devices
        now: dict[str, Device] = {}
        with ThreadPoolExecutor(OPEN_AT_ONCE, "open") as pool:
            for device in pool.map(lambda each: self._kept(before, *each), there):
                now[device.listed.address] = device
        for address, device in before.items():
            if device.worker and (address not in now or now[address].worker is not device.worker):
                gone.append(device.worker)
        with self._lock:
            closed = self._stop.is_set()
            if not closed:
                self._devices = now
        if closed:
            for device in now.values():
                if device.worker and before.get(device.listed.address) is not device:
                    device.worker.close(0.0)
            return
        if [d.name for d in now.values() if d.ready] != [d.name for d in before.values() if d.ready]:
            LOG.info("on the bench: %s", ", ".join(d.name for d in now.values() if d.ready) or "no device that is ready")
        for worker in gone:
            worker.close(0.0)
        self.changed(self.devices(), trouble)

    def _kept(self, before: dict[str, Device], listed: ListedDevice, source: DeviceSource) -> Device:
        held = before.get(listed.address)
        same = held is not None and held.listed == listed and not held.trouble and not _died(held)
        return held if held is not None and same else self._open(listed, source)

    def _open(self, listed: ListedDevice, source: DeviceSource) -> Device:
        if listed.readiness is not Readiness.READY:
            return Device(listed, source)
        link: Link | None = None
        try:
            link = source.open(listed, self.clock)
            profile = link.profile()
            return Device(listed, source, profile, DeviceWorker(profile.name, link))
        except CopioneError as error:
            _leave(link)
            return Device(listed, source, trouble=error.sentence)
        except Exception as error:
            LOG.exception("the device %s could not be opened", listed.address)
            _leave(link)
            return Device(listed, source, trouble=f"This is an error in Copione, not on the device: {type(error).__name__}.")
