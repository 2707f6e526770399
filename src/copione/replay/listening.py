"""What a run tells of itself while it goes on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from ..files.places import Place
from ..model.device import DeviceProfile
from ..model.outcome import Result
from ..model.remark import Remark
from ..model.take import TakeName


@dataclass(frozen=True)
class TakeBegun:
    """Where a take is kept, on what device it is, which build of the app that has (empty when unknown), and by which of the user's
    configurations it is reached (empty where there is none)."""

    folder: Place
    profile: DeviceProfile
    build: str
    configured: str = ""


class RunListener(Protocol):
    """Told of everything as it happens, from the devices' threads. `run_ended` comes once, after everything else."""

    def take_started(self, take: TakeName, begun: TakeBegun) -> None:
        """A take begins."""
        ...

    def step_done(self, take: TakeName, result: Result) -> None:
        """One step has its outcome."""
        ...

    def take_ended(self, take: TakeName, trouble: str) -> None:
        """A take is over; `trouble` is a sentence where it could not be begun or archived."""
        ...

    def noticed(self, remarks: tuple[Remark, ...]) -> None:
        """Something differs that no check asked about."""
        ...

    def run_ended(self, trouble: str) -> None:
        """Every take is over, and the archive is whole; or a sentence that says why it is not."""
        ...
