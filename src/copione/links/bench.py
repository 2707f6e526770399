"""The devices that are connected, kept up to date by the server's own tracking."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass

from ..model.clock import Clock, SystemClock
from ..model.device import DeviceProfile, Listed, Readiness
from ..model.errors import CopioneError, NoServer
from .adb.link import AdbLink
from .adb.server import AdbServer
from .worker import DeviceWorker

RETRY_S = 2.0


@dataclass(frozen=True)
class Device:
    """One connected device: as listed, and, once ready, its profile and the worker that owns its link."""

    listed: Listed
    profile: DeviceProfile | None = None
    worker: DeviceWorker | None = None
    trouble: str = ""

    @property
    def name(self) -> str:
        return self.profile.name if self.profile else self.listed.name

    @property
    def ready(self) -> bool:
        return self.profile is not None and self.worker is not None


class Bench:
    """Opens a link and a worker for every ready device. `changed` is called from the bench's own thread with all devices."""

    def __init__(self, server: AdbServer, clock: Clock | None = None) -> None:
        self.server = server
        self.clock = clock or SystemClock()
        self.changed: Callable[[list[Device], str], None] = lambda devices, trouble: None
        self._devices: dict[str, Device] = {}
        self._lock = threading.Lock()
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None

    def devices(self) -> list[Device]:
        with self._lock:
            return list(self._devices.values())

    def look(self) -> list[Device]:
        """List once, now. Raises NoServer."""
        self._seen(self.server.devices())
        return self.devices()

    def watch(self) -> None:
        """Keep looking until closed; a server that is away is tried again."""
        self._thread = threading.Thread(target=self._follow, name="bench", daemon=True)
        self._thread.start()

    def close(self) -> None:
        self._stop.set()
        if self._thread is not None:
            self._thread.join(5)
        for device in self.devices():
            if device.worker:
                device.worker.close()

    def _follow(self) -> None:
        while not self._stop.is_set():
            try:
                self.server.track(self._seen, self._stop.is_set)
            except NoServer as error:
                self._seen([], error.sentence)
                self._stop.wait(RETRY_S)
            except CopioneError as error:
                self._seen([], error.sentence)
                self._stop.wait(RETRY_S)

    def _seen(self, listing: list[Listed], trouble: str = "") -> None:
        gone = []
        with self._lock:
            before = self._devices
        now: dict[str, Device] = {}
        for listed in listing:
            held = before.get(listed.address)
            now[listed.address] = held if held is not None and held.listed == listed and not held.trouble else self._open(listed)
        for address, device in before.items():
            if device.worker and (address not in now or now[address].worker is not device.worker):
                gone.append(device.worker)
        with self._lock:
            self._devices = now
        for worker in gone:
            worker.close(0.0)
        self.changed(self.devices(), trouble)

    def _open(self, listed: Listed) -> Device:
        if listed.readiness is not Readiness.READY:
            return Device(listed)
        try:
            link = AdbLink(self.server, listed.address, self.clock)
            profile = link.profile()
            return Device(listed, profile, DeviceWorker(profile.name, link))
        except CopioneError as error:
            return Device(listed, trouble=error.sentence)
