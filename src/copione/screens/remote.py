"""What a remote end gives as its source, of whichever platform, into a `Screen`."""

from __future__ import annotations

from ..model.device import DeviceProfile
from ..model.screen import Screen
from . import android, native


def is_android(source: bytes) -> bool:
    """Does a source tell boxes as Android does?"""
    return b' bounds="[' in source


def read_source(source: bytes, device: DeviceProfile) -> Screen:
    """The screen of a source. Raises TreeUnreadable."""
    if is_android(source):
        return android.read_android_source(source, device.width_px, device.height_px, device.dpi, locale=device.locale)
    return native.read_native(source, device.width, device.height, device.locale)


def keepable_source(source: bytes) -> bytes:
    """A source without what password fields hold."""
    return android.keepable(source) if is_android(source) else native.keepable(source)
