"""What a device is, and how ready it is."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

MOST_PIXELS = 40_000_000  # of a screen's picture: the largest screens of phones and tablets have 17 million


@dataclass(frozen=True)
class DeviceProfile:
    """Read from the device; nobody types any of it.

    `width_px`, `height_px`: the upright screen. `dpi`: the platform's density (160 is one pixel a dp). `text_scale`: 1.0 is ordinary.
    `locale`: BCP 47. `width_mm`, `height_mm`: the glass, as far as the device tells.
    `pointer`: what stands for a finger where there are none; empty where there are.
    """

    name: str
    platform: str
    release: str
    width_px: int
    height_px: int
    dpi: int
    text_scale: float = 1.0
    locale: str = ""
    width_mm: float = 0.0
    height_mm: float = 0.0
    pointer: str = ""

    @property
    def system(self) -> str:
        """Platform and release as a person says them."""
        known = f"{SYSTEMS.get(self.platform, self.platform.capitalize())} {self.release}".strip()
        return f"{known}, {self.pointer}" if self.pointer else known

    @property
    def density(self) -> float:
        """Pixels a dp."""
        return self.dpi / 160.0

    @property
    def width(self) -> float:
        """Width in dp."""
        return self.width_px / self.density

    @property
    def height(self) -> float:
        """Height in dp."""
        return self.height_px / self.density


SYSTEMS = {"ios": "iOS", "web": ""}


class Readiness(Enum):
    """How a listed device stands; the value is what the bench says of it."""

    READY = "ready"
    UNAPPROVED = "not approved on the phone"
    SIGN_IN = "somebody must sign in"
    OFFLINE = "offline"
    NO_PERMISSION = "no permission on the USB port"
    BUSY = "starting"
    UNKNOWN = "not ready"


@dataclass(frozen=True)
class ListedDevice:
    """One line of what is connected: where to reach it, what it calls itself, and how ready it is.

    `stand_in`: nobody's phone, but started for this; whoever started it says so, not the device. `connection` changes each time the device
    is connected; empty where the server does not say.
    """

    address: str
    name: str
    readiness: Readiness
    stand_in: bool = False
    connection: str = ""

    @property
    def advice(self) -> str:
        """What to do about a device that is not ready; empty for one that is."""
        return {
            Readiness.UNAPPROVED: "Unlock the phone and approve this computer in the dialog it shows.",
            Readiness.SIGN_IN: "Say who signs in, and the password: `copione endpoints sign-in NAME`.",
            Readiness.OFFLINE: "Unplug the cable and plug it in again, or turn debugging off and on.",
            Readiness.NO_PERMISSION: "Give your user access to the USB device (a udev rule), then plug it in again.",
            Readiness.BUSY: "Wait until the phone has started.",
            Readiness.UNKNOWN: "Unplug it, check that debugging is on, and plug it in again.",
        }.get(self.readiness, "")
