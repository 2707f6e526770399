"""The devices that are connected, kept up to date by the server's own tracking."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace

from ..model.clock import Clock, SystemClock
from ..model.device import DeviceProfile, ListedDevice, Readiness
from ..model.errors import CopioneError, NoServer
from .adb.link import AdbLink
from .adb.server import AdbServer
from .browser.kept import BrowserSpec
from .link import Link
from .webdriver.link import WebDriverLink, look_up
from .worker import CLOSE_S, DeviceWorker

LOG = logging.getLogger(__name__)
RETRY_S = 2.0
OPEN_AT_ONCE = 8  # devices that are asked for their profile at the same time


@dataclass(frozen=True)
class Device:
    """One connected device: as listed, and, once ready, its profile and the worker that owns its link."""

    listed: ListedDevice
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


def _offered(browser: BrowserSpec) -> ListedDevice:
    """A browser is always there: it is started when it is opened."""
    return ListedDevice(f"browser:{browser.name}", browser.name, Readiness.READY, browser=True)


def _died(device: Device) -> bool:
    """Is it a browser whose driver has ended? It is started anew."""
    from .browser.link import BrowserLink

    link = device.worker.link if device.worker is not None else None
    return isinstance(link, BrowserLink) and not link.alive()


def _leave(link: Link | None) -> None:
    """Whatever a link had started for a device that cannot be used is ended."""
    if link is not None:
        with contextlib.suppress(CopioneError):
            link.close()


@dataclass(eq=False)
class _Place:
    """Where devices are looked for: an adb server, WebDriver endpoints, browsers to start; and what was found there last."""

    server: AdbServer | None
    endpoints: tuple[str, ...]
    stand_ins: bool
    browsers: tuple[BrowserSpec, ...] = ()
    listing: list[ListedDevice] = field(default_factory=list)
    trouble: str = ""

    def found(self) -> list[ListedDevice]:
        """Everything that is there now; the endpoints are asked."""
        found = [*self.listing, *map(look_up, self.endpoints), *map(_offered, self.browsers)]
        return [replace(each, stand_in=True) for each in found] if self.stand_ins else found


class Bench:
    """Opens a link and a worker for every ready device. `changed` is called from the bench's own thread with all devices.

    `stand_ins`: what is found are stand-in phones, started for this: nobody's data is on them.
    """

    def __init__(self, server: AdbServer, clock: Clock | None = None, endpoints: Sequence[str] = (), *, stand_ins: bool = False) -> None:
        self.server = server
        self._places = [_Place(server, tuple(endpoints), stand_ins)]
        self._watching = False
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
        for place in self._places:
            if place.server is None:
                continue
            try:
                place.listing, place.trouble = place.server.devices(), ""
            except NoServer as error:
                if not any(each.endpoints or each.browsers for each in self._places):
                    raise
                place.listing, place.trouble = [], error.sentence
        self._look()
        return self.devices()

    def add_place(self, server: AdbServer, endpoints: Sequence[str] = (), *, stand_ins: bool = False) -> None:
        """Look for devices there too, from now on."""
        place = _Place(server, tuple(endpoints), stand_ins)
        self._places.append(place)
        if self._watching:
            self._follow_aside(place)

    def add_endpoint(self, endpoint: str) -> None:
        """Look for a device there too, at once. Whoever gives an address means a device of their own, whatever else is on the bench."""
        if all(endpoint not in place.endpoints for place in self._places):
            self._places.append(_Place(None, (endpoint,), stand_ins=False))
        self._look()

    def add_browsers(self, browsers: Sequence[BrowserSpec]) -> None:
        """Have these browsers too, from now on: each is started as a device of its own, with nobody's data in it."""
        have = {each.name for place in self._places for each in place.browsers}
        self._places.append(_Place(None, (), stand_ins=True, browsers=tuple(each for each in browsers if each.name not in have)))
        if self._watching:
            self._look()

    def remove_browser(self, name: str) -> None:
        """End one of them."""
        for place in self._places:
            place.browsers = tuple(each for each in place.browsers if each.name != name)
        self._look()

    def watch(self) -> None:
        """Keep looking until closed; a server that is away is tried again."""
        self._watching = True
        for place in [each for each in self._places if each.server is not None]:
            self._follow_aside(place)
        self._aside("endpoints", self._ask_endpoints)

    def _follow_aside(self, place: _Place) -> None:
        self._aside("bench", lambda: self._follow(place))

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

    def _follow(self, place: _Place) -> None:
        assert place.server is not None
        while not self._stop.is_set():
            try:
                place.server.track(lambda listing: self._take_listing(place, listing), self._stop.is_set)
            except Exception as error:
                if not isinstance(error, CopioneError):
                    LOG.exception("the bench met an error of its own")
                self._nothing_listed(
                    place,
                    error.sentence if isinstance(error, CopioneError) else f"The list of devices was lost: {type(error).__name__}.",
                )
                self._stop.wait(RETRY_S)

    def _nothing_listed(self, place: _Place, trouble: str) -> None:
        try:
            self._take_listing(place, [], trouble)
        except Exception:
            LOG.exception("whoever hears of the bench failed")

    def _ask_endpoints(self) -> None:
        while not self._stop.wait(RETRY_S):
            try:
                before = {a: replace(d.listed, stand_in=False) for a, d in self._devices.items()}
                endpoints = [each for place in self._places for each in place.endpoints]
                if any(before.get(each.address) != each for each in map(look_up, endpoints)) or any(map(_died, self.devices())):
                    self._look()
            except Exception:
                LOG.exception("the endpoints could not be asked")

    def _take_listing(self, place: _Place, listing: list[ListedDevice], trouble: str = "") -> None:
        place.listing, place.trouble = listing, trouble
        self._look()

    def _look(self) -> None:
        with self._seeing:
            there: dict[str, tuple[ListedDevice, AdbServer | None]] = {}
            for place in self._places:
                for listed in place.found():
                    there.setdefault(listed.address, (listed, place.server))
            self._sort(list(there.values()), next((place.trouble for place in self._places if place.trouble), ""))

    def _sort(self, there: list[tuple[ListedDevice, AdbServer | None]], trouble: str) -> None:
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

    def _kept(self, before: dict[str, Device], listed: ListedDevice, server: AdbServer | None) -> Device:
        held = before.get(listed.address)
        same = held is not None and held.listed == listed and not held.trouble and not _died(held)
        return held if held is not None and same else self._open(listed, server)

    def _open(self, listed: ListedDevice, server: AdbServer | None) -> Device:
        if listed.readiness is not Readiness.READY:
            return Device(listed)
        link: Link | None = None
        try:
            if listed.browser:
                from .browser.link import BrowserLink

                link = BrowserLink(next(each for p in self._places for each in p.browsers if each.name == listed.name), self.clock)
            elif listed.driver or server is None:
                link = WebDriverLink(listed.address, self.clock)
            else:
                link = AdbLink(server, listed.address, self.clock)
            profile = link.profile()
            return Device(listed, profile, DeviceWorker(profile.name, link))
        except CopioneError as error:
            _leave(link)
            return Device(listed, trouble=error.sentence)
        except Exception as error:
            LOG.exception("the device %s could not be opened", listed.address)
            _leave(link)
            return Device(listed, trouble=f"This is an error in Copione, not on the device: {type(error).__name__}.")
