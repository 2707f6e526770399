"""Somebody's data: before what an app has stored on a device is deleted, its owner is asked, once in a session."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..links.bench import Device


class Clearing:
    """`ask`: may what these apps have stored be deleted on these devices? Where nobody answers, it may not."""

    def __init__(self) -> None:
        self.ask: Callable[[Sequence[str], Sequence[str]], bool] = lambda devices, apps: False
        self._agreed: set[tuple[str, str, str]] = set()  # device by address and name, app

    def may(self, devices: Iterable[Device], apps_on: Callable[[Device], Iterable[str]]) -> bool:
        """May the data of these apps be deleted on all of them? Asks where it is somebody's, and was not agreed to before."""
        own = [device for device in devices if not device.listed.stand_in]
        asked = {_key(device, app): device.name for device in own for app in apps_on(device)}
        open_ = {key: name for key, name in asked.items() if key not in self._agreed}
        if not open_:
            return True
        if not self.ask(list(dict.fromkeys(open_.values())), list(dict.fromkeys(app for *_, app in open_))):
            return False
        self._agreed |= set(open_)
        return True

    def agree(self, device: Device, app: str) -> None:
        """The user has chosen it, for that app on that device."""
        if not device.listed.stand_in:
            self._agreed.add(_key(device, app))


def _key(device: Device, app: str) -> tuple[str, str, str]:
    return device.listed.address, device.name, app
