"""What a take is given: what to do, and to whom it tells what became of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Protocol

from ..comparison.viewing import Showing
from ..model.address import Address
from ..model.device import DeviceProfile
from ..model.library import OWN, Library
from ..model.outcome import Result
from ..model.screen import Moment
from ..model.secrecy import Redactor
from ..model.step import Script, Step
from ..project.loaded import Loaded
from ..project.naming import frames_folder
from ..project.portraits import Portraits
from ..project.project import Project, phrases_in
from .order import Position
from .pace import Pace


def _no_phrases(_locale: str) -> Mapping[str, str]:
    """An empty phrasebook."""
    return {}


@dataclass(frozen=True)
class ScriptAssets:
    """What is kept beside one file of scripts: its portraits, and the folder of its recorded pictures."""

    portraits: Portraits = field(default_factory=dict)
    frames: Path | None = None


@dataclass(frozen=True)
class TakePlan:
    """What is replayed: a script, and those it uses, with one data row, on a device that has the app as
    `package`, in the given build. `packages` are those of all its apps that the device's platform has, by their words;
    `languages` are those of apps that do not speak the device's, by their packages.
    `phrases` gives the phrasebook for a locale; `builds` is the folder of package files.

    `secrets` are values that are typed and never written: `redactor` takes them out of whatever is told. `kept` is what stands beside
    each file of the library, `tables` are the rows that loops go through. Pages are given files of the folder `files`, and no others.
    """

    library: Library
    device: DeviceProfile
    package: str = ""
    build: str = ""
    packages: Mapping[str, str] = field(default_factory=dict)
    languages: Mapping[str, str] = field(default_factory=dict)
    values: Mapping[str, str] = field(default_factory=dict)
    secrets: Mapping[str, str] = field(default_factory=dict)
    kept: Mapping[str, ScriptAssets] = field(default_factory=dict)
    tables: Mapping[str, tuple[Mapping[str, str], ...]] = field(default_factory=dict)
    phrases: Callable[[str], Mapping[str, str]] = _no_phrases
    redactor: Redactor = field(default_factory=Redactor)
    files: Path | None = None
    builds: Path | None = None

    @property
    def script(self) -> Script:
        """The script itself."""
        return self.library.script

    @classmethod
    def of(
        cls, project: Project, loaded: Loaded, device: DeviceProfile, values: Mapping[str, str], package: str, build: str = ""
    ) -> TakePlan:
        """A loaded script on a device, with one take's values."""
        kept = {OWN: ScriptAssets(loaded.portraits, frames_folder(loaded.path))}
        kept |= {name: ScriptAssets(used.portraits, frames_folder(used.path)) for name, used in loaded.used.items()}
        return cls(
            library=loaded.library,
            device=device,
            package=package,
            build=build,
            packages=project.packages(loaded.document.script.apps, device.platform),
            languages=project.languages(loaded.document.script.apps, device.platform),
            values=values,
            secrets=loaded.secrets,
            kept=kept,
            tables=loaded.tables,
            phrases=partial(phrases_in, project.phrasebook),
            redactor=project.redactor,
            files=project.data_folder,
            builds=project.builds_folder,
        )


class TakeArchive(Protocol):
    """Where a take is kept."""

    def moment(self, moment: Moment) -> str:
        """Keep what the device showed; returns the stem of its files."""
        ...

    def picture_name(self, stem: str) -> str:
        """The file of a moment's picture; empty where there is none."""
        ...

    def secret_typed(self) -> None:
        """A secret has been typed: later pictures may show it."""
        ...

    def step(self, result: Result) -> None:
        """Keep a result; it is safe when this returns. Raises FileTrouble."""
        ...

    def log(self, words: str) -> None:
        """Keep what the device logged. Raises FileTrouble."""
        ...

    def close(self) -> None:
        """No more comes."""
        ...


@dataclass(frozen=True)
class TakePorts:
    """Where results go: the archive first, then whoever listens; `cancelled` is asked at every look.

    `before` is told of each step that is about to be done, with the values as they stand, secrets left out; it may keep the take
    waiting. `seen` is told on which screen a step was done; None where that says nothing of the app.
    """

    archive: TakeArchive
    told: Callable[[Result], None] = lambda result: None
    cancelled: Callable[[], bool] = lambda: False
    pace: Pace = field(default_factory=Pace)
    before: Callable[[Position, Step, Mapping[str, str]], None] = lambda where, step, values: None
    seen: Callable[[Address, Showing | None], None] = lambda address, showing: None
