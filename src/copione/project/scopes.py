"""Devices by name or by trait, as project files say them."""

from __future__ import annotations

import msgspec

from ..comparison.standing import DeviceScope


class ScopeEntry(msgspec.Struct, forbid_unknown_fields=True):
    """What an entry of a file says of the devices that it is about; what is left out is not asked."""

    devices: list[str] = []
    platform: str = ""
    language: str = ""
    form: str = ""
    width_to: float = 0.0
    text_from: float = 0.0

    @property
    def scope(self) -> DeviceScope:
        """As it is meant."""
        return DeviceScope(tuple(self.devices), self.platform, self.language, self.form, self.width_to, self.text_from)
