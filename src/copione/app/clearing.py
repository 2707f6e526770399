"""Somebody's data: before what an app has stored on a device is deleted, its owner is asked, once in a session."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..links.bench import Device


class Clearing:
    """`ask`: may it be deleted on these devices? Where nobody answers, it may not."""

    def __init__(self) -> None:
        self.ask: Callable[[Sequence[str]], bool] = lambda devices: False
        self._agreed: set[tuple[str, str, str]] = set()  # device by address and name, app

    def may(self, devices: Iterable[Device], app_on: Callable[[Device], str]) -> bool:
        """May the data of an app be deleted on all of them? Asks where it is somebody's, and was not agreed to before."""
        asked = {_key(device, app_on(device)): device.name for device in devices if not device.listed.stand_in}
        open_ = {key: name for key, name in asked.items() if key not in self._agreed}
        if not open_:
            return True
        if not self.ask(list(open_.values())):
            return False
        self._agreed |= set(open_)
        return True

    def agree(self, device: Device, app: str) -> None:
        """The user has chosen it, for that app on that device."""
        if not device.listed.stand_in:
            self._agreed.add(_key(device, app))


def _key(device: Device, app: str) -> tuple[str, str, str]:
    return device.listed.address, device.name, app
